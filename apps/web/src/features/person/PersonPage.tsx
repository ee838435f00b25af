import type { Person } from '@gemmel/contract';
import type { Question } from '@gemmel/core';
import { sayDay } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { Above } from '@/features/browse/Above';
import { PictureGrid } from '@/features/browse/Grid';
import { useStrip } from '@/features/browse/useStrip';
import { useAsk } from '@/state/ask';
import { usePile } from '@/state/pile';
import { say, trouble } from '@/state/toast';
import { useWide } from '@/state/wide';
import { Button, Chip, IconButton } from '@/ui/Button';
import { Cameo } from '@/ui/Cameo';
import { DayField, Field } from '@/ui/Field';
import { Heading } from '@/ui/DoubleBar';
import { count } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Empty, Failed, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { answerFaces } from './answer';

/** A named person: portrait, who else may be them, and their pictures. */
export function PersonPage({ id }: { id: number }) {
  const router = useRouter();
  const { data, error, refetch } = useAnswer('people', {});
  const question = useMemo<Question>(() => ({ who: { people: [id], mode: 'all' } }), [id]);
  const { strip } = useStrip(question);
  const person = data?.people.find((p) => p.id === id);
  if (error) return <Failed error={error} again={() => void refetch()} />;
  if (!data || !strip) return <Waiting />;
  if (!person)
    return (
      <Empty
        title="Nobody of this name is here"
        text="The person may have been joined with another, or the naming taken back."
      >
        <Button label="See who is who" onPress={() => router.replace('/browse/who')} />
      </Empty>
    );
  return (
    <PictureGrid
      strip={strip}
      from={`/person/${id}`}
      ribbon
      header={<About person={person} ids={strip.ids} />}
      Heading={Above}
    />
  );
}

function About({ person, ids }: { person: Person; ids: Int32Array }) {
  const router = useRouter();
  const wide = useWide();
  const set = useAsk((ask) => ask.set);
  const [editing, setEditing] = useState(false);
  const asking = { who: { people: [person.id], mode: 'all' as const } };
  return (
    <View className="gap-4 pb-2 pt-3">
      <Pressable
        role="button"
        onPress={() => router.navigate('/browse/who')}
        className="min-h-[44px] justify-center self-start"
      >
        <Words className="text-[14.5px] text-soft">‹ Who</Words>
      </Pressable>
      <View className="flex-row items-center gap-5">
        <Cameo face={person.portrait} width={wide ? 104 : 84} label={`Portrait of ${person.name}`} />
        <View className="min-w-0 flex-1">
          <Words kind="title" className="text-[26px] leading-[31px]">
            {person.name}
          </Words>
          <Words kind="small" className="text-[14px]">
            {[
              person.nickname && !person.name.startsWith(person.nickname) ? `“${person.nickname}”` : null,
              person.circle,
              person.born ? `born ${sayDay(person.born)}` : null,
            ]
              .filter(Boolean)
              .join(' · ')}
          </Words>
          <Words className="mt-0.5">{count(person.pictures, 'picture')}</Words>
        </View>
        <IconButton name="edit" label={`Change what is known of ${person.name}`} onPress={() => setEditing(true)} />
      </View>
      <View className="flex-row flex-wrap gap-2">
        <Chip
          label="Ask further"
          icon="search"
          onPress={() => {
            set(asking);
            router.push('/browse');
          }}
        />
        <Chip
          label="Smart album"
          icon="plus"
          tone="plum"
          onPress={() => {
            set(asking);
            router.push('/albums/new');
          }}
        />
        <Chip
          label={`All ${ids.length} on the pile`}
          icon="pile"
          onPress={() => usePile.getState().add(Array.from(ids))}
        />
      </View>
      {person.likely ? <MayBe person={person} /> : null}
      {editing ? <EditSheet person={person} onClose={() => setEditing(false)} /> : null}
    </View>
  );
}

/** Faces that may be this person, each with a yes and a no. */
function MayBe({ person }: { person: Person }) {
  const router = useRouter();
  const { data } = useAnswer('likelyFaces', { params: { id: person.id } });
  const [answered, setAnswered] = useState<ReadonlySet<number>>(new Set());
  const faces = (data?.faces ?? []).filter((f) => !answered.has(f.id));
  if (!faces.length) return null;
  const answer = async (face: number, yes: boolean) => {
    setAnswered((old) => new Set(old).add(face));
    const back = () => setAnswered((old) => new Set([...old].filter((id) => id !== face)));
    if (!(await answerFaces([face], [], yes ? { person: person.id } : 'unnamed', back))) back();
  };
  return (
    <View>
      <Heading tone="waiting" right={faces.length}>{`May also be ${person.nickname ?? person.name}`}</Heading>
      <div
        style={{ display: 'flex', gap: 14, overflowX: 'auto', paddingBottom: 8 }}
        tabIndex={0}
        role="group"
        aria-label="Faces to say yes or no to"
      >
        {faces.slice(0, 30).map((face, i) => (
          <View key={face.id} className="items-center gap-1" style={{ width: 104 }}>
            <Pressable
              role="button"
              aria-label={`See the picture of face ${i + 1}`}
              onPress={() => router.push({ pathname: '/picture/[id]', params: { id: face.picture } })}
            >
              <Cameo face={face.id} width={76} />
            </Pressable>
            <Words kind="tiny" className="text-center" numberOfLines={2}>
              {face.why}
            </Words>
            <View className="flex-row">
              <Button
                label="Yes"
                weight="quiet"
                className="min-h-[44px] px-3"
                onPress={() => void answer(face.id, true)}
              />
              <Button
                label="No"
                weight="quiet"
                className="min-h-[44px] px-3"
                onPress={() => void answer(face.id, false)}
              />
            </View>
          </View>
        ))}
      </div>
    </View>
  );
}

function EditSheet({ person, onClose }: { person: Person; onClose: () => void }) {
  const [values, setValues] = useState({
    name: person.name,
    nickname: person.nickname ?? '',
    circle: person.circle ?? '',
    born: person.born,
  });
  const keep = async () => {
    const body = {
      name: values.name.trim(),
      nickname: values.nickname.trim() || null,
      circle: values.circle.trim() || null,
      born: values.born,
    };
    const before = { name: person.name, nickname: person.nickname, circle: person.circle, born: person.born };
    try {
      await call('changePerson', { params: { id: person.id }, body });
      refresh('people', 'introductions', 'picture', 'albums');
      onClose();
      say('What is known is changed', () => call('changePerson', { params: { id: person.id }, body: before }));
    } catch (error) {
      trouble(error);
    }
  };
  const put = (key: 'name' | 'nickname' | 'circle') => (text: string) => setValues((v) => ({ ...v, [key]: text }));
  return (
    <Sheet title={person.name} onClose={onClose}>
      <Field label="Name" value={values.name} onChangeText={put('name')} maxLength={160} />
      <Field label="Nickname" value={values.nickname} onChangeText={put('nickname')} maxLength={160} />
      <Field
        label="Circle"
        value={values.circle}
        onChangeText={put('circle')}
        placeholder="Household, cousins, friends …"
        maxLength={160}
      />
      <DayField label="Born" value={values.born} onChange={(born) => setValues((v) => ({ ...v, born }))} />
      <Button label="Keep" onPress={() => void keep()} disabled={!values.name.trim()} />
    </Sheet>
  );
}
