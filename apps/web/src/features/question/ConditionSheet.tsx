import type { Place } from '@gemmel/contract';
import type { Condition, Span } from '@gemmel/core';
import { fold, monthName } from '@gemmel/core';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { PeoplePicker } from '@/features/person/PeoplePicker';
import { Button, Chip } from '@/ui/Button';
import { DayField, Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';

const SUBJECTS = [
  ['who', 'Who is in it'],
  ['tag', 'A tag'],
  ['rating', 'Stars'],
  ['taken', 'When it was taken'],
  ['where', 'Where'],
  ['event', 'An event'],
  ['album', 'An album'],
  ['favourite', 'Hearts'],
  ['kind', 'Photographs or clips'],
  ['added', 'When it came in'],
  ['batch', 'What it came in with'],
  ['text', 'Words in title, caption or file name'],
  ['has', 'What it has or lacks'],
] as const;
export type Subject = (typeof SUBJECTS)[number][0];

const THINGS = ['place', 'date', 'day', 'caption', 'names', 'tags', 'event', 'double'] as const;
const HAS: Record<(typeof THINGS)[number], [string, string]> = {
  place: ['Has a place', 'Has no place'],
  date: ['Has a date', 'Has no date'],
  day: ['Its day is known', 'Its day is not known'],
  caption: ['Has a caption', 'Has no caption'],
  names: ['Every face has a name', 'Some face has no name'],
  tags: ['Has tags', 'Has no tags'],
  event: ['Is of an event', 'Is of no event'],
  double: ['Nearly the same as an earlier one', 'Like no earlier one'],
};

/** What a condition is about. */
export const subjectOf = (condition: Condition): Subject =>
  'lacks' in condition || 'inNoAlbum' in condition
    ? 'inNoAlbum' in condition
      ? 'album'
      : 'has'
    : ((SUBJECTS.find(([key]) => key in condition)?.[0] ?? 'text') as Subject);

interface Props {
  condition: Condition | null;
  onTake: (condition: Condition) => void;
  onClose: () => void;
}

/** Makes or changes one condition: first what it is about, then its value. */
export function ConditionSheet({ condition, onTake, onClose }: Props) {
  const [subject, setSubject] = useState<Subject | null>(condition ? subjectOf(condition) : null);
  const take = (made: Condition) => {
    onTake(made);
    onClose();
  };
  if (!subject)
    return (
      <Sheet title="A condition about …" onClose={onClose}>
        <View>
          {SUBJECTS.map(([key, name]) => (
            <Pressable
              key={key}
              role="button"
              onPress={() => setSubject(key)}
              className="min-h-button justify-center border-t border-line"
            >
              <Words>{name}</Words>
            </Pressable>
          ))}
        </View>
      </Sheet>
    );
  return (
    <Sheet title={SUBJECTS.find(([key]) => key === subject)![1]} onClose={onClose}>
      <Value subject={subject} condition={condition} onTake={take} />
    </Sheet>
  );
}

function Value({
  subject,
  condition,
  onTake,
}: {
  subject: Subject;
  condition: Condition | null;
  onTake: (made: Condition) => void;
}) {
  switch (subject) {
    case 'who':
      return <WhoValue before={condition && 'who' in condition ? condition.who : null} onTake={onTake} />;
    case 'tag':
      return <FromList name="tags" onTake={(tag) => onTake({ tag })} />;
    case 'event':
      return <FromList name="events" onTake={(event) => onTake({ event })} />;
    case 'album':
      return (
        <>
          <Button label="In no album" weight="plum" onPress={() => onTake({ inNoAlbum: true })} />
          <FromList name="albums" onTake={(album) => onTake({ album })} />
        </>
      );
    case 'rating':
      return (
        <View className="flex-row flex-wrap gap-2">
          {[1, 2, 3, 4].map((min) => (
            <Chip key={min} tone="plum" label={`${min} or better`} onPress={() => onTake({ rating: { min } })} />
          ))}
          <Chip tone="plum" label="5" onPress={() => onTake({ rating: { min: 5 } })} />
          <Chip tone="plum" label="Not rated" onPress={() => onTake({ rating: { max: 0 } })} />
          <Chip tone="plum" label="2 or less" onPress={() => onTake({ rating: { max: 2 } })} />
        </View>
      );
    case 'favourite':
      return (
        <View className="flex-row flex-wrap gap-2">
          <Chip tone="plum" label="With a heart" onPress={() => onTake({ favourite: true })} />
          <Chip tone="plum" label="Without a heart" onPress={() => onTake({ favourite: false })} />
        </View>
      );
    case 'kind':
      return (
        <View className="flex-row flex-wrap gap-2">
          <Chip tone="plum" label="Photographs" onPress={() => onTake({ kind: 'photo' })} />
          <Chip tone="plum" label="Clips" onPress={() => onTake({ kind: 'video' })} />
        </View>
      );
    case 'batch':
      return <FromList name="batches" onTake={(batch) => onTake({ batch })} />;
    case 'added':
      return (
        <View className="flex-row flex-wrap gap-2">
          {(
            [
              [1, 'Today'],
              [7, 'In the last seven days'],
              [31, 'In the last month'],
            ] as const
          ).map(([lastDays, label]) => (
            <Chip key={lastDays} tone="plum" label={label} onPress={() => onTake({ added: { lastDays } })} />
          ))}
        </View>
      );
    case 'text':
      return (
        <TextValue
          before={condition && 'text' in condition ? condition.text : ''}
          onTake={(text) => onTake({ text })}
        />
      );
    case 'taken':
      return (
        <TakenValue
          before={condition && 'taken' in condition ? condition.taken : null}
          onTake={(taken) => onTake({ taken })}
        />
      );
    case 'where':
      return <WhereValue onTake={onTake} />;
    case 'has':
      return (
        <View className="flex-row flex-wrap gap-2">
          {THINGS.flatMap((thing) => [
            <Chip key={thing} tone="plum" label={HAS[thing][0]} onPress={() => onTake({ has: thing })} />,
            <Chip key={`no ${thing}`} tone="plum" label={HAS[thing][1]} onPress={() => onTake({ lacks: thing })} />,
          ])}
        </View>
      );
  }
}

type WhoPart = Extract<Condition, { who: unknown }>['who'];
const MODES: [WhoPart['mode'], string][] = [
  ['all', 'All of them'],
  ['any', 'Any of them'],
  ['among', 'Nobody but these'],
  ['only', 'All of these, nobody else'],
];

function WhoValue({ before, onTake }: { before: WhoPart | null; onTake: (made: Condition) => void }) {
  const people = useAnswer('people', {}).data?.people ?? [];
  const [chosen, setChosen] = useState<number[]>(before?.people ?? []);
  const [mode, setMode] = useState<WhoPart['mode']>(before?.mode ?? 'all');
  return (
    <>
      <PeoplePicker people={people} chosen={chosen} onChange={setChosen} tone="plum" />
      {people.length === 0 ? <Words className="text-soft">Nobody has a name yet.</Words> : null}
      <View className="flex-row flex-wrap gap-2">
        {MODES.map(([value, name]) => (
          <Chip key={value} tone="plum" on={mode === value} label={name} onPress={() => setMode(value)} />
        ))}
      </View>
      <Button label="Take it" disabled={!chosen.length} onPress={() => onTake({ who: { people: chosen, mode } })} />
    </>
  );
}

function FromList({ name, onTake }: { name: 'tags' | 'events' | 'albums' | 'batches'; onTake: (id: number) => void }) {
  const [typed, setTyped] = useState('');
  const tags = useAnswer('tags', {}, { enabled: name === 'tags' }).data?.tags;
  const events = useAnswer('events', {}, { enabled: name === 'events' }).data?.events;
  const albums = useAnswer('albums', {}, { enabled: name === 'albums' }).data?.albums;
  const batches = useAnswer('batches', {}, { enabled: name === 'batches' }).data?.batches;
  const all: { id: number; name: string; n: number }[] =
    name === 'batches'
      ? (batches ?? []).map((b) => ({ id: b.id, name: b.name, n: b.counts.stored }))
      : name === 'tags'
        ? (tags ?? []).map((t) => ({ id: t.id, name: t.name, n: t.pictures }))
        : name === 'events'
          ? (events ?? []).flatMap((e) => (e.title ? [{ id: e.id, name: e.title, n: e.pictures }] : []))
          : (albums ?? []).flatMap((a) => (a.kind === 'plain' ? [{ id: a.id, name: a.name, n: a.pictures }] : []));
  const hits = all.filter((one) => fold(one.name).includes(fold(typed)));
  return (
    <View>
      {all.length > 8 ? <Field label="Find" value={typed} onChangeText={setTyped} autoCapitalize="none" /> : null}
      {hits.slice(0, 60).map((one) => (
        <Pressable
          key={one.id}
          role="button"
          onPress={() => onTake(one.id)}
          className="min-h-button flex-row items-center justify-between gap-3 border-t border-line"
        >
          <Words className="min-w-0 flex-1">{one.name}</Words>
          <Words kind="small">{one.n}</Words>
        </Pressable>
      ))}
      {all.length === 0 ? <Words className="text-soft">There is none to choose from yet.</Words> : null}
    </View>
  );
}

function TextValue({ before, onTake }: { before: string; onTake: (text: string) => void }) {
  const [text, setText] = useState(before);
  return (
    <>
      <Field
        label="Words"
        value={text}
        onChangeText={setText}
        maxLength={200}
        onSubmitEditing={() => text.trim() && onTake(text.trim())}
      />
      <Button label="Take it" disabled={!text.trim()} onPress={() => onTake(text.trim())} />
    </>
  );
}

function TakenValue({ before, onTake }: { before: Span | null; onTake: (span: Span) => void }) {
  const fixed = before && ('from' in before || 'to' in before) ? before : null;
  const [from, setFrom] = useState<string | null>(fixed?.from ?? null);
  const [to, setTo] = useState<string | null>(fixed?.to ?? null);
  const [days, setDays] = useState('7');
  const n = Number(days);
  const wrong = from && to && from > to;
  return (
    <>
      <DayField label="From (that day too)" value={from} onChange={setFrom} />
      <DayField label="To (that day too)" value={to} onChange={setTo} />
      {wrong ? <Words className="text-brick">The first day comes after the last one.</Words> : null}
      <Button
        label="Between these days"
        disabled={(!from && !to) || Boolean(wrong)}
        onPress={() => onTake({ ...(from ? { from } : {}), ...(to ? { to } : {}) })}
      />
      <View className="flex-row items-end gap-3 border-t border-line pt-3">
        <View className="w-28">
          <Field
            label="The last … days"
            inputMode="numeric"
            value={days}
            onChangeText={(text) => setDays(text.replace(/\D/g, ''))}
          />
        </View>
        <Button
          className="flex-1"
          weight="second"
          label="Always the last days"
          disabled={!(n >= 1 && n <= 36_600)}
          onPress={() => onTake({ lastDays: n })}
        />
      </View>
      <View className="flex-row flex-wrap gap-2 border-t border-line pt-3">
        <Words kind="small" className="w-full">
          Or a month of any year
        </Words>
        {Array.from({ length: 12 }, (_, i) => (
          <Chip key={i} tone="plum" label={monthName(i + 1)} onPress={() => onTake({ month: i + 1 })} />
        ))}
      </View>
    </>
  );
}

/** The towns of a country with their counts, each once, also where some of its pictures lie in a place of the household's own. */
function towns(places: readonly Place[], country: string): [string, number][] {
  const found = new Map<string, number>();
  for (const p of places)
    if (p.country === country && p.place) found.set(p.place, (found.get(p.place) ?? 0) + p.pictures);
  return [...found].sort((a, b) => b[1] - a[1]);
}

function WhereValue({ onTake }: { onTake: (made: Condition) => void }) {
  const places = (useAnswer('places', {}).data?.places ?? []).filter((p) => p.country);
  const own = useAnswer('ownPlaces', {}).data?.places ?? [];
  const countries = [...new Map(places.map((p) => [p.country, p.countryName]))];
  return (
    <View>
      {own.map((place) => (
        <Pressable
          key={place.id}
          role="button"
          onPress={() => onTake({ where: { own: place.id } })}
          className="min-h-button justify-center border-t border-line"
        >
          <Words kind="strong">{place.name}</Words>
        </Pressable>
      ))}
      {countries.map(([country, name]) => (
        <View key={country}>
          <Pressable
            role="button"
            onPress={() => onTake({ where: { country } })}
            className="min-h-button justify-center border-t border-line"
          >
            <Words kind="strong">{`Anywhere in ${name}`}</Words>
          </Pressable>
          {towns(places, country).map(([place, pictures]) => (
            <Pressable
              key={place}
              role="button"
              onPress={() => onTake({ where: { country, place } })}
              className="min-h-touch flex-row items-center justify-between border-t border-line pl-4"
            >
              <Words>{place}</Words>
              <Words kind="small">{pictures}</Words>
            </Pressable>
          ))}
        </View>
      ))}
      {places.length === 0 ? <Words className="text-soft">No picture has a place yet.</Words> : null}
    </View>
  );
}
