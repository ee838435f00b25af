import { plural, t } from '@lingui/core/macro';
import type { Person, PersonDetail } from '@gemmel/contract';
import type { Question } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Above } from '@/features/browse/Above';
import { PictureGrid } from '@/features/browse/Grid';
import { useMe } from '@/features/account/session';
import { useStrip } from '@/state/useStrip';
import { IntoAlbum } from '@/features/filing/IntoAlbum';
import { ShareSheet } from '@/features/share/ShareSheet';
import { Show } from '@/features/show/Show';
import { useAsk } from '@/state/ask';
import { usePile } from '@/state/pile';
import { useWide } from '@/state/wide';
import { makeSomething } from '@/state/making';
import { Button, Chip, IconButton } from '@/ui/Button';
import { Cameo } from '@/ui/Cameo';
import { Heading } from '@/ui/DoubleBar';
import { Icon } from '@/ui/Icon';
import { Empty, Failed, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { changePerson } from './acts';
import { CloseUps } from './CloseUps';
import { JoinSheet } from './JoinSheet';
import { MayBe } from './MayBe';
import { PersonSheet } from './PersonSheet';
import { Panel, TilesPanel } from '../question/LookPanel';
import { YearStrip } from './YearStrip';
import { SIZE } from '@/ui/tokens';
import { sayDay, sayList, sayNumber } from '@/ui/say';

type Sight = 'pictures' | 'close-ups';

/** A named person: portrait, who else may be them, their years and company, and their pictures, whole or close up. */
export function PersonPage({ id }: { id: number }) {
  const router = useRouter();
  const wide = useWide();
  const { data, error, refetch } = useAnswer('people', {});
  const detail = useAnswer('person', { params: { id } }).data;
  const [year, setYear] = useState<number | null>(null);
  const [view, setView] = useState<Sight>('pictures');
  const question = useMemo<Question>(() => {
    const who: Question = { who: { people: [id], mode: 'all' } };
    return year === null ? who : { all: [who, { taken: { from: `${year}-01-01`, to: `${year}-12-31` } }] };
  }, [id, year]);
  const { strip } = useStrip(question);
  const person = data?.people.find((p) => p.id === id);
  if (error) return <Failed error={error} again={() => void refetch()} />;
  if (!data || !strip) return <Waiting />;
  if (!person)
    return (
      <Empty
        title={t`Nobody by this name here`}
        text={t`They may have been joined with somebody else, or the naming undone.`}
      >
        <Button label={t`See who is who`} onPress={() => router.replace('/browse/who')} />
      </Empty>
    );
  const about = (
    <About
      person={person}
      people={data.people}
      circles={data.circles}
      detail={detail}
      question={question}
      ids={strip.ids}
      year={year}
      onYear={setYear}
      view={view}
      onView={setView}
    />
  );
  if (view === 'close-ups' && detail)
    return (
      <ScrollView contentContainerStyle={{ paddingHorizontal: wide ? SIZE.brim : SIZE.edge, paddingBottom: 120 }}>
        {about}
        <CloseUps person={person} faces={detail.faces} year={year} />
      </ScrollView>
    );
  return <PictureGrid strip={strip} screen="person" from={`/person/${id}`} ribbon header={about} Heading={Above} />;
}

function About({
  person,
  people,
  circles,
  detail,
  question,
  ids,
  year,
  onYear,
  view,
  onView,
}: {
  person: Person;
  people: readonly Person[];
  circles: readonly { id: number; name: string }[];
  detail: PersonDetail | undefined;
  question: Question;
  ids: Int32Array;
  year: number | null;
  onYear: (year: number | null) => void;
  view: Sight;
  onView: (view: Sight) => void;
}) {
  const router = useRouter();
  const wide = useWide();
  const set = useAsk((ask) => ask.set);
  const helps = useMe().data?.member?.part !== 'relative';
  const [open, setOpen] = useState<'edit' | 'join' | 'share' | 'show' | 'album' | null>(null);
  const [sizing, setSizing] = useState(false);
  const close = () => setOpen(null);
  const called = person.nickname ?? person.name.split(' ')[0]!;
  const nameOf = (id: number) => people.find((p) => p.id === id);
  const alike = (detail?.alike ?? []).flatMap((id) => nameOf(id)?.name ?? []);
  const inCircles = person.circles.flatMap((id) => circles.find((c) => c.id === id)?.name ?? []);
  const pictures = year === null ? person.pictures : ids.length;
  return (
    <View className="gap-4 pb-2 pt-3">
      <View className="flex-row items-center justify-between">
        <Pressable
          role="button"
          onPress={() => router.navigate('/browse/who')}
          className="min-h-touch justify-center self-start"
        >
          <Words className="text-small text-soft">{`‹ ${t`Who`}`}</Words>
        </Pressable>
        {view === 'pictures' ? (
          <IconButton
            name="sizes"
            label={t`How pictures are shown`}
            pressed={sizing}
            onPress={() => setSizing(!sizing)}
          />
        ) : null}
      </View>
      {sizing && view === 'pictures' ? (
        <Panel>
          <TilesPanel screen="person" />
        </Panel>
      ) : null}
      <View className={`flex-row items-center ${wide ? 'gap-5' : 'gap-3.5'}`}>
        <Cameo face={person.portrait} width={wide ? 104 : 72} label={t`Portrait of ${person.name}`} />
        <View className="min-w-0 flex-1">
          <Words kind="title" className={wide ? 'text-title' : 'text-title'}>
            {person.name}
          </Words>
          <Words kind="small" className="text-small">
            {[
              person.nickname && !person.name.startsWith(person.nickname) ? t`“${person.nickname}”` : null,
              ...inCircles,
              person.born ? t`born ${sayDay(person.born)}` : null,
            ]
              .filter(Boolean)
              .join(' · ')}
          </Words>
          <Words className="mt-0.5">
            {year === null
              ? plural(pictures, { one: '# picture', other: '# pictures' })
              : plural(pictures, { one: `# picture from ${year}`, other: `# pictures from ${year}` })}
          </Words>
        </View>
        <View>
          <IconButton
            name="heart"
            filled={person.favourite}
            tone={person.favourite ? 'marigold' : 'ink'}
            pressed={person.favourite}
            label={person.favourite ? t`${called} is a favourite` : t`Make ${called} a favourite`}
            onPress={() =>
              void changePerson(
                person.id,
                { favourite: !person.favourite },
                person.favourite ? t`${called} is no longer a favourite` : t`${called} is now a favourite`,
              )
            }
          />
          <IconButton name="edit" label={t`Edit ${person.name}`} onPress={() => setOpen('edit')} />
        </View>
      </View>
      <View className="flex-row flex-wrap gap-2">
        <Chip label={t`Play`} icon="play" onPress={() => setOpen('show')} />
        <Chip
          label={t`Refine`}
          icon="search"
          onPress={() => {
            set(question);
            router.push('/browse');
          }}
        />
        <Chip
          label={t`Smart album`}
          icon="plus"
          tone="plum"
          onPress={() => {
            set(question);
            router.push('/albums/new');
          }}
        />
        <Chip label={t`Into an album`} icon="album" onPress={() => setOpen('album')} />
        <Chip
          label={t`The best of ${called}`}
          icon="star"
          onPress={() => router.push({ pathname: '/albums/best', params: { person: person.id } })}
        />
        <Chip label={t`Share`} icon="send" onPress={() => setOpen('share')} />
        {helps ? (
          <Chip
            label={t`Make something`}
            icon="chapter"
            onPress={() => makeSomething({ source: { person: person.id }, title: person.name })}
          />
        ) : null}
        <Chip
          label={t`Put all ${sayNumber(ids.length)} on the pile`}
          icon="pile"
          onPress={() => usePile.getState().add(Array.from(ids))}
        />
      </View>
      {person.recognised ? null : (
        <Words className="text-soft">{t`${called} isn’t recognised: nothing that describes these faces is kept.`}</Words>
      )}
      {person.likely ? <MayBe person={person} /> : null}
      {detail && detail.years.length > 1 ? (
        <View>
          <Heading
            right={
              year === null ? (
                ''
              ) : (
                <Button label={t`All years`} weight="quiet" className="min-h-touch px-1" onPress={() => onYear(null)} />
              )
            }
          >{t`Across the years`}</Heading>
          <YearStrip years={detail.years} chosen={year} onYear={onYear} />
        </View>
      ) : null}
      {detail?.together.length ? (
        <View>
          <Heading>{t`Often with`}</Heading>
          <div
            style={{ display: 'flex', gap: 12, overflowX: 'auto', paddingBottom: 6 }}
            role="group"
            aria-label={t`Often with`}
          >
            {detail.together.map(({ id, pictures: n }) => {
              const other = nameOf(id);
              if (!other) return null;
              return (
                <Pressable
                  key={id}
                  role="button"
                  aria-label={plural(n, {
                    one: `With ${other.name}: # picture`,
                    other: `With ${other.name}: # pictures`,
                  })}
                  onPress={() => {
                    set({ who: { people: [person.id, id], mode: 'all' } });
                    router.push('/browse');
                  }}
                  className="items-center"
                  style={{ width: 76, flexShrink: 0 }}
                >
                  <Cameo face={other.portrait} width={50} />
                  <Words kind="small" numberOfLines={1} className="max-w-full text-ink">
                    {other.nickname ?? other.name}
                  </Words>
                  <Words kind="tiny">{n}</Words>
                </Pressable>
              );
            })}
          </div>
        </View>
      ) : null}
      {alike.length ? (
        <View className="flex-row items-center gap-2">
          <Icon name="warn" size={16} tone="marigold" />
          <Words kind="small" className="flex-1">
            {t`Easily mistaken for ${sayList(alike, 'or')}. When in doubt, you’ll be asked.`}
          </Words>
        </View>
      ) : null}
      <View className="flex-row flex-wrap gap-2">
        <Chip label={t`Whole pictures`} on={view === 'pictures'} onPress={() => onView('pictures')} />
        <Chip label={t`Close-ups`} on={view === 'close-ups'} onPress={() => onView('close-ups')} />
      </View>
      {open === 'edit' ? <PersonSheet person={person} onClose={close} onJoin={() => setOpen('join')} /> : null}
      {open === 'join' ? <JoinSheet person={person} onClose={close} /> : null}
      {open === 'share' ? <ShareSheet what={{ person: person.id }} title={person.name} onClose={close} /> : null}
      {open === 'album' ? (
        <IntoAlbum
          from={year === null ? { person: person.id } : { question }}
          count={ids.length}
          name={year === null ? person.name : `${person.name} ${year}`}
          onClose={close}
        />
      ) : null}
      {open === 'show' ? <Show source={{ question }} title={person.name} onClose={close} /> : null}
    </View>
  );
}
