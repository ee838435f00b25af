import { i18n } from '@lingui/core';
import { plural, t } from '@lingui/core/macro';
import type { Event } from '@gemmel/contract';
import { type Block } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, TextInput, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { join, nameIt, remove } from '@/features/event/acts';
import { useMe } from '@/features/account/session';
import { useBegin } from '@/state/useBegin';
import { usePile } from '@/state/pile';
import { jumpTo } from '@/state/jump';
import { useWide } from '@/state/wide';
import { makeSomething } from '@/state/making';
import { Button, IconButton } from '@/ui/Button';
import { DoubleBar } from '@/ui/DoubleBar';
import { capital, sayList, sayLongDay, sayNumber, sayShortDay } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { saveZip } from '../pile/zip';
import { sayEventPlace, saySpan } from '@/words/said';
import { lazily } from '@/ui/lazily';

const EventSheet = lazily(async () => (await import('@/features/event/EventSheet')).EventSheet);
const NamesSheet = lazily(async () => (await import('../gather/NamesSheet')).NamesSheet);
const IntoAlbum = lazily(async () => (await import('../filing/IntoAlbum')).IntoAlbum);
const Show = lazily(async () => (await import('../show/Show')).Show);

/** How many pictures of an event are shown, and of how many where there is room to say so. */
export const countedOf = (shown: number, total: number): string =>
  shown < total
    ? plural(total, {
        one: `${sayNumber(shown)} of # picture`,
        other: `${sayNumber(shown)} of # pictures`,
      })
    : plural(shown, { one: '# picture', other: '# pictures' });

/** What stands beside the name of an event: its days when it has a name, where it was, who is in it, how many pictures. */
export const besideWords = (event: Event | null, when: string, counted: string): string[] => [
  ...(event?.title ? [when] : []),
  ...(event && sayEventPlace(event) ? [sayEventPlace(event)!] : []),
  ...(event?.people.length ? [sayList(event.people)] : []),
  counted,
];

/**
 * How many letters that takes, without saying it: a page reckons with all its events. What a list puts between names is taken as a comma and
 * a space, and once as a word. `counted` is how many letters the last of it takes.
 */
export function besideLength(event: Event | null, counted: number): number {
  const when = event?.title ? daysLength(event.start, event.end) : 0;
  const where = event ? (sayEventPlace(event)?.length ?? 0) : 0;
  const who = event?.people.length ? event.people.reduce((sum, name) => sum + name.length + 2, 3) : 0;
  return [when, where, who].reduce((sum, one) => (one ? sum + one + BETWEEN : sum), counted);
}

/** How many letters days take at most in any language: one day or days of one month, of one year, of two. */
const daysLength = (start: string, end: string): number =>
  start.slice(0, 7) === end.slice(0, 7) ? 30 : start.slice(0, 4) === end.slice(0, 4) ? 35 : 41;
/** How many letters stand between what stands beside a name. */
const BETWEEN = 3;

/** How wide letters of names and of small words are on average, in CSS pixels, and how high their lines. */
export const LETTER = { name: 9.6, small: 7.1 };
export const LINE = { name: 25, small: 19, act: 44 };

/** The longest words that may stand in a heading without a name, and how many letters stand around the numbers of pictures. */
interface Longest {
  day: string;
  shortDay: string;
  some: number;
  of: number;
}
let longest: (Longest & { spoken: string }) | null = null;
function longestWords(): Longest {
  const spoken = `${i18n.locales ?? i18n.locale}`;
  if (longest?.spoken !== spoken) {
    const day = '2026-09-30';
    const [some, of] = [countedOf(9, 9).length - 1, countedOf(8, 9).length - 2];
    longest = { spoken, day: sayLongDay(day), shortDay: sayShortDay(day), some, of };
  }
  return longest;
}

/** How many letters a number takes at most, with what stands between its thousands. */
const digits = (n: number): number => {
  const { length } = String(n);
  return length + Math.floor((length - 1) / 3);
};

/** How many letters it takes at most to say how many pictures of an event there are. */
export function countedLength(event: Event | null, wide: boolean): number {
  const { some, of } = longestWords();
  const n = digits(event?.pictures ?? 1000);
  return wide ? of + 2 * n : some + n;
}

/** Heights of headings that were reckoned, by event: a page is laid out again whenever its width changes, or one event of thousands. */
const reckoned = new WeakMap<Event, { of: string; height: number }>();

/** How high the heading of an event has to be, so that nothing of it is cut off. `width` is that of the pictures' page. */
export function headingHeight(event: Event | null, width: number, wide: boolean): number {
  if (!event) return reckonHeight(event, width, wide);
  const of = `${i18n.locales ?? i18n.locale} ${width} ${wide}`;
  const known = reckoned.get(event);
  if (known?.of === of) return known.height;
  const height = reckonHeight(event, width, wide);
  reckoned.set(event, { of, height });
  return height;
}

function reckonHeight(event: Event | null, width: number, wide: boolean): number {
  // The double bar, the dots, and the spaces between.
  const room = Math.max(120, width - 18 - 44 - 20);
  const { day, shortDay } = longestWords();
  // One day alone is said without its year where there is little room.
  const title = event?.title ?? (wide || (event && event.start !== event.end) ? day : shortDay);
  const beside = besideLength(event, countedLength(event, wide)) * LETTER.small;
  const named = Boolean(!event || event.title);
  if (wide) {
    const all = title.length * LETTER.name + beside + (named ? 0 : 230);
    return all <= room ? 48 : Math.max(LINE.name, named ? 0 : LINE.act) + LINE.small * Math.ceil(beside / room) + 12;
  }
  const names = Math.min(2, Math.ceil((title.length * LETTER.name) / room));
  return LINE.name * names + LINE.small * Math.ceil(beside / room) + (named ? 0 : LINE.act) + 12;
}

/** Over an event, or over a day that belongs to none: its name or the offer to give it one, its days, who is in it. */
export function EventHeading({
  block,
  event,
  ids,
}: {
  block: Extract<Block, { kind: 'event' }>;
  event: Event | null;
  ids: Int32Array;
}) {
  const go = useBegin();
  const wide = useWide();
  const router = useRouter();
  const [filing, setFiling] = useState(false);
  const [typed, setTyped] = useState('');
  const [more, setMore] = useState(false);
  const [naming, setNaming] = useState(false);
  const [shaping, setShaping] = useState(false);
  const [putting, setPutting] = useState(false);
  const helps = useMe().data?.member?.part !== 'relative';
  const [playing, setPlaying] = useState(false);
  const when = !block.day
    ? t`Day not known`
    : block.until && block.until !== block.day
      ? saySpan(...([block.until, block.day].sort() as [string, string]))
      : wide || event?.title
        ? capital(sayLongDay(block.day))
        : capital(sayShortDay(block.day));
  const shown = block.to - block.from;
  const total = event?.pictures ?? shown;
  const counted = countedOf(shown, total);
  const begin = () => {
    setTyped(event?.title ?? '');
    setNaming(true);
    setMore(false);
  };
  const finish = () => {
    setNaming(false);
    const title = typed.trim() || null;
    if (event && title !== event.title) void nameIt(event, title);
  };
  const events = useAnswer('events', {}, { enabled: more }).data?.events ?? [];
  const place = event ? events.findIndex((e) => e.id === event.id) : -1;
  // Newest first: what comes after in the list came before in time.
  const neighbours = place < 0 ? [] : [events[place + 1], events[place - 1]].filter((e) => e !== undefined);
  const mine = () => Array.from(ids.subarray(block.from, block.to));
  const title = event?.title ?? when;
  const beside = besideWords(event, when, wide ? counted : plural(shown, { one: '# picture', other: '# pictures' }));
  return (
    <View style={{ height: block.height }} className="flex-row items-center gap-2.5">
      <DoubleBar tone={event && !event.title ? 'waiting' : 'settled'} />
      <View className={`min-w-0 flex-1 ${wide ? 'flex-row flex-wrap items-baseline gap-x-3' : ''}`}>
        {naming ? (
          <TextInput
            autoFocus
            aria-label={t`Name of the event on ${when}`}
            placeholder={t`Kite day, first snow …`}
            value={typed}
            onChangeText={setTyped}
            onSubmitEditing={finish}
            onBlur={finish}
            onKeyPress={(e) => {
              if (e.nativeEvent.key !== 'Escape') return;
              setTyped(event?.title ?? '');
              setNaming(false);
            }}
            maxLength={160}
            className="min-h-touch flex-1 border-b-2 border-juniper font-serif text-lead text-ink"
            style={{ outlineStyle: 'none' } as object}
          />
        ) : (
          <>
            <Words kind="heading" aria-level={3} className="shrink text-lead" numberOfLines={2}>
              {title}
            </Words>
            {beside.length ? (
              <Words kind="small" className="min-w-0 shrink">
                {beside.join(' · ')}
              </Words>
            ) : null}
            {event && !event.title ? (
              <Pressable
                role="button"
                onPress={begin}
                className={`min-h-touch shrink-0 justify-center ${wide ? '' : 'self-start'}`}
              >
                <Words kind="small" className="font-semi text-marigold">{t`No name yet. Give it one?`}</Words>
              </Pressable>
            ) : null}
          </>
        )}
      </View>
      <IconButton name="more" label={t`More for ${title}`} onPress={() => setMore(true)} />
      {filing ? (
        <NamesSheet of={event ? { event: event.id } : { ids: mine() }} onClose={() => setFiling(false)} />
      ) : null}
      {more ? (
        <Sheet title={title} onClose={() => setMore(false)}>
          <Words className="text-soft">{`${event?.title ? `${when} · ` : ''}${counted}`}</Words>
          {event ? (
            <Button label={event.title ? t`Rename` : t`Name it`} weight="second" icon="edit" onPress={begin} />
          ) : null}
          {event
            ? neighbours.map((other) => {
                const name = other.title ?? sayLongDay(other.start);
                return (
                  <Button
                    key={other.id}
                    label={t`Join with ${name}`}
                    weight="second"
                    icon="link"
                    onPress={() => {
                      setMore(false);
                      void join(event.id, other.id, name);
                    }}
                  />
                );
              })
            : null}
          {event ? (
            <Button
              label={t`Days, place and cover`}
              weight="second"
              icon="date"
              onPress={() => {
                setMore(false);
                setShaping(true);
              }}
            />
          ) : null}
          <Button
            label={t`Play`}
            weight="second"
            icon="play"
            onPress={() => {
              setMore(false);
              setPlaying(true);
            }}
          />
          <Button
            label={t`One after another`}
            weight="second"
            icon="right"
            onPress={() => {
              setMore(false);
              void go({
                key: event ? `event ${event.id}` : `day ${when}`,
                title,
                from: '/browse',
                ...(event ? { question: { event: event.id } } : { ids: [...mine()].reverse() }),
              });
            }}
          />
          <Button
            label={t`Put all into an album`}
            weight="second"
            icon="album"
            onPress={() => {
              setMore(false);
              setPutting(true);
            }}
          />
          {event ? (
            <Button
              label={t`Propose the best of it`}
              weight="second"
              icon="star"
              onPress={() => {
                setMore(false);
                router.push({ pathname: '/albums/best', params: { event: event.id } });
              }}
            />
          ) : null}
          <Button
            label={t`Names of the files`}
            weight="second"
            icon="numbers"
            onPress={() => {
              setMore(false);
              setFiling(true);
            }}
          />
          <Button
            label={t`Save as ZIP`}
            weight="second"
            icon="download"
            onPress={() => {
              setMore(false);
              void saveZip(event ? { event: event.id } : { ids: mine() });
            }}
          />
          {shown > 12 ? (
            <View className="flex-row gap-2">
              <Button
                className="flex-1"
                label={t`To the last`}
                weight="second"
                icon="up"
                onPress={() => (setMore(false), jumpTo(ids[block.from]!))}
              />
              <Button
                className="flex-1"
                label={t`To the first`}
                weight="second"
                icon="down"
                onPress={() => (setMore(false), jumpTo(ids[block.to - 1]!))}
              />
            </View>
          ) : null}
          <Button
            label={t`Put all ${sayNumber(shown)} on the pile`}
            weight="second"
            icon="pile"
            onPress={() => {
              usePile.getState().add(mine());
              setMore(false);
            }}
          />
          {helps ? (
            <Button
              label={t`Make something`}
              weight="second"
              icon="chapter"
              onPress={() => {
                setMore(false);
                makeSomething({ source: event ? { event: event.id } : { ids: mine().reverse() }, title });
              }}
            />
          ) : null}
          {event ? (
            <Button
              label={t`Remove the event, keep its pictures`}
              weight="quiet"
              onPress={() => {
                setMore(false);
                void remove(event.id, title);
              }}
            />
          ) : null}
        </Sheet>
      ) : null}
      {playing ? (
        <Show
          source={event ? { event: event.id } : { ids: mine().reverse() }}
          title={title}
          onClose={() => setPlaying(false)}
        />
      ) : null}
      {putting ? (
        <IntoAlbum
          from={event ? { event: event.id } : { ids: mine().reverse() }}
          count={event?.pictures ?? shown}
          name={title}
          onClose={() => setPutting(false)}
        />
      ) : null}
      {shaping && event ? <EventSheet id={event.id} onClose={() => setShaping(false)} /> : null}
    </View>
  );
}
