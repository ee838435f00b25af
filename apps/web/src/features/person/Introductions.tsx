import type { FaceAnswer, Introduction } from '@gemmel/contract';
import { saySpan, sayDay } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useEffect, useState } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { useWide } from '@/state/wide';
import { Button } from '@/ui/Button';
import { Cameo } from '@/ui/Cameo';
import { isForPage } from '@/ui/keys';
import { count } from '@/ui/say';
import { Empty, Failed, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { answerFaces } from './answer';
import { NameInput } from './NameInput';

const FIRST = 8;

/** One likely person at a time: who is it? The next one is ready as soon as this one is answered. */
export function Introductions() {
  const router = useRouter();
  const wide = useWide();
  const { data, error, refetch } = useAnswer('introductions', {});
  const [answered, setAnswered] = useState<ReadonlySet<number>>(new Set());
  const groups = (data?.groups ?? []).filter((group) => !answered.has(group.key));
  const group = groups[0];
  const total = answered.size + groups.length;
  const answer = async (of: Introduction, odd: readonly number[], is: FaceAnswer['is']) => {
    // The next group is shown at once; a refused answer brings this one back.
    setAnswered((old) => new Set(old).add(of.key));
    const back = () => setAnswered((old) => new Set([...old].filter((key) => key !== of.key)));
    if (
      !(await answerFaces(
        of.faces.map((f) => f.id),
        odd,
        is,
        back,
      ))
    )
      back();
  };
  return (
    <View style={{ flex: 1 }}>
      <View
        className={`w-full max-w-[720px] flex-row items-center justify-between ${wide ? 'px-[26px] pt-4' : 'px-4 pt-1'}`}
      >
        <Pressable
          role="button"
          onPress={() => (router.canGoBack() ? router.back() : router.navigate('/browse/who'))}
          className="min-h-[44px] flex-row items-center"
        >
          <Words className="text-[14.5px] text-soft">‹ Introductions</Words>
        </Pressable>
        {group ? <Words kind="small" className="text-[14.5px]">{`${answered.size + 1} of ${total}`}</Words> : null}
      </View>
      {error ? (
        <Failed error={error} again={() => void refetch()} />
      ) : !data ? (
        <Waiting text="Looking through the faces …" />
      ) : null}
      {data && !group ? (
        <Empty title="Everybody is introduced" text="New faces are gathered here as pictures come in.">
          <Button label="See who is who" weight="second" onPress={() => router.navigate('/browse/who')} />
        </Empty>
      ) : null}
      {group ? <OneGroup key={group.key} group={group} onAnswer={(odd, is) => void answer(group, odd, is)} /> : null}
    </View>
  );
}

function OneGroup({
  group,
  onAnswer,
}: {
  group: Introduction;
  onAnswer: (odd: readonly number[], is: FaceAnswer['is']) => void;
}) {
  const wide = useWide();
  const [odd, setOdd] = useState<ReadonlySet<number>>(new Set());
  const [all, setAll] = useState(false);
  const [typed, setTyped] = useState('');
  const [naming, setNaming] = useState(false);
  const shown = all ? group.faces : group.faces.slice(0, FIRST);
  const best = group.candidates[0];
  const answer = (is: FaceAnswer['is']) => onAnswer([...odd], is);
  const flip = (id: number) =>
    setOdd((old) => {
      const next = new Set(old);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  const none = odd.size === group.faces.length;
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (!isForPage(event)) return;
      if (event.key === 'Enter' && best && event.target === document.body) answer({ person: best.person });
      else if (event.key === 'x') answer('passer-by');
      else if (event.key === 'l') answer('later');
      else return;
      event.preventDefault();
    };
    document.addEventListener('keydown', keys);
    return () => document.removeEventListener('keydown', keys);
  });
  const acts = (
    <View className="gap-0.5">
      <View className="flex-row gap-2.5">
        {best ? (
          <Button
            className="flex-1"
            disabled={none}
            label={`It’s ${best.name.split(' ')[0]}`}
            onPress={() => answer({ person: best.person })}
          />
        ) : null}
        <Button
          className="flex-1"
          weight="second"
          disabled={none}
          label={typed.trim() ? `Somebody new: ${typed.trim()}` : 'Somebody new'}
          onPress={() => {
            if (typed.trim()) answer({ newPerson: typed.trim() });
            else {
              setNaming(true);
              setTimeout(
                () => document.querySelector<HTMLInputElement>('input[aria-label="The name of somebody new"]')?.focus(),
                30,
              );
            }
          }}
        />
      </View>
      <View className="flex-row flex-wrap justify-center gap-1">
        <Button label="A passer-by" weight="quiet" onPress={() => answer('passer-by')} />
        <Button label="Not a face" weight="quiet" onPress={() => answer('not a face')} />
        <Button label="Later" weight="quiet" onPress={() => answer('later')} />
      </View>
    </View>
  );
  const span =
    group.from && group.to ? (group.from === group.to ? sayDay(group.from) : saySpan(group.from, group.to)) : '';

  return (
    <>
      <ScrollView
        style={{ flex: 1 }}
        contentContainerStyle={{
          paddingHorizontal: wide ? 26 : 16,
          paddingBottom: wide ? 130 : 20,
          gap: 14,
          maxWidth: 720,
          width: '100%',
        }}
      >
        <View>
          <Words kind="title" className="text-[27px] leading-[33px]">
            Somebody you know?
          </Words>
          <Words
            kind="small"
            className="mt-1 text-[14px]"
          >{`${[count(group.pictures, 'picture'), span].filter(Boolean).join(', ')}.${group.faces.length > 1 ? ' Tap any that is somebody else.' : ''}`}</Words>
        </View>
        <div
          style={{
            display: 'grid',
            gridTemplateColumns: `repeat(auto-fill, minmax(${wide ? 96 : 74}px, 1fr))`,
            gap: wide ? 14 : 10,
            justifyItems: 'center',
          }}
        >
          {shown.map((face, i) => {
            const off = odd.has(face.id);
            const label = `Face ${i + 1} of ${group.faces.length}${off ? ', not them' : ''}`;
            const body = (
              <>
                <Cameo face={face.id} width={wide ? 84 : 70} faded={off} />
                {off ? (
                  <View className="absolute bottom-1 left-0 right-0 items-center">
                    <Words kind="tiny" className="rounded-full bg-paper px-1.5 font-bold text-brick">
                      not them
                    </Words>
                  </View>
                ) : null}
              </>
            );
            return group.faces.length > 1 ? (
              <Pressable
                key={face.id}
                role="checkbox"
                aria-checked={!off}
                aria-label={label}
                onPress={() => flip(face.id)}
              >
                {body}
              </Pressable>
            ) : (
              <View key={face.id}>{body}</View>
            );
          })}
        </div>
        {group.faces.length > FIRST && !all ? (
          <Button
            label={`Show all ${group.faces.length}`}
            weight="quiet"
            className="min-h-[44px] self-start px-0"
            onPress={() => setAll(true)}
          />
        ) : null}
        <NameInput
          key={naming ? 'naming' : 'name'}
          label={naming ? 'The name of somebody new' : 'Type a name'}
          onName={answer}
          onTyped={setTyped}
        />
        {group.candidates.length && !typed ? (
          <View>
            <Words kind="small" className="mb-1 text-[14px]">
              Looks most like
            </Words>
            {group.candidates.map((c) => (
              <Pressable
                key={c.person}
                role="button"
                onPress={() => answer({ person: c.person })}
                disabled={none}
                className="min-h-[66px] flex-row items-center gap-3.5 border-t border-line py-1.5 active:bg-mist"
              >
                <Cameo face={c.portrait} width={38} />
                <View className="min-w-0 flex-1">
                  <Words kind="strong" className="text-[15.5px]">
                    {c.name}
                  </Words>
                  <Words kind="small">{c.why}</Words>
                </View>
                <Words kind="small" className="font-bold text-juniper">
                  {c.closeness}
                </Words>
              </Pressable>
            ))}
          </View>
        ) : null}
        {wide ? acts : null}
      </ScrollView>
      {wide ? null : <View className="border-t border-line bg-paper px-4 pt-2.5">{acts}</View>}
    </>
  );
}
