import type { BookMap } from '@gemmel/contract';
import {
  isSame,
  saySpan,
  WORDS,
  type BookChapter,
  type BookEdits,
  type BookOf,
  type BookPicture,
  type BookSettings,
  type Language,
  type Words,
} from '@gemmel/core';
import { msg } from '@lingui/core/macro';
import type { App } from '../../context';
import { speechIn } from '../../words/speech';
import type { PieceOf, PiecePicture } from '../pictures';
import { toldOf } from '../told';
import { isJourney, MAP_RATIO, mapOf } from './map';

/** A book's content, with what its keeper is shown beside it. */
export interface BookContent {
  of: BookOf;
  maps: ReadonlyMap<string, BookMap>;
  /** Pictures that show nearly the same as one that is in the book. */
  doubles: PiecePicture[];
  /** Pictures that somebody left out. */
  out: PiecePicture[];
}

/** An event with fewer pictures than this is told with its month. */
const FEW = 4;
/** So many pictures before it, in time, a picture is compared with. */
const NEAR = 16;
/** At most so many people have their years shown, each with so many pictures in the book at least. */
const PEOPLE = 12;
const OFTEN = 2;

const byTime = (a: PiecePicture, b: PiecePicture): number =>
  (a.taken ?? '~').localeCompare(b.taken ?? '~') || a.id - b.id;

/** Of pictures that show nearly the same the best: neighbours in time, and those of one run. */
function onceEach(
  pictures: readonly PiecePicture[],
  also: ReadonlySet<number>,
): { once: PiecePicture[]; doubles: PiecePicture[] } {
  const out = new Set<number>();
  const sorted = [...pictures].sort(byTime);
  const runs = new Map<number, PiecePicture>();
  for (const [i, one] of sorted.entries()) {
    if (also.has(one.id)) continue;
    const { run } = one.like;
    const near = sorted.slice(Math.max(0, i - NEAR), i);
    const first = run === null ? undefined : runs.get(run);
    for (const other of first && !near.includes(first) ? [first, ...near] : near) {
      if (out.has(other.id) || also.has(other.id) || !isSame(other.like, one.like)) continue;
      const worse =
        one.good > other.good || (one.good === other.good && one.like.runBest && !other.like.runBest) ? other : one;
      out.add(worse.id);
      if (worse === one) break;
    }
    if (run !== null && !out.has(one.id)) runs.set(run, one);
  }
  return { once: pictures.filter(({ id }) => !out.has(id)), doubles: pictures.filter(({ id }) => out.has(id)) };
}

interface Group {
  key: string;
  title: string | null;
  words: string | null;
  place: string | null;
  pictures: PiecePicture[];
}

const isMonth = ({ key }: Group): boolean => /^month-\d/.test(key);

/** Months of a few pictures that follow each other, told as one: "July to December 2025". */
function joined(groups: readonly Group[], words: Words): Group[] {
  const out: Group[] = [];
  for (const group of groups) {
    const last = out.at(-1);
    if (last && isMonth(last) && isMonth(group) && last.pictures.length < FEW && group.pictures.length < FEW) {
      const [from, to] = [last.key.slice(6), group.key.slice(6)];
      out[out.length - 1] = {
        ...last,
        title: saySpan(`${from}-01`, lastDayOf(to), words),
        pictures: [...last.pictures, ...group.pictures],
      };
    } else out.push(group);
  }
  return out;
}

/** The last day of a month, `YYYY-MM`. */
const lastDayOf = (month: string): string =>
  `${month}-${new Date(Date.UTC(Number(month.slice(0, 4)), Number(month.slice(5)), 0)).getUTCDate()}`;

/** What a book is made of, in the words of a language. */
export async function bookContent(
  app: App,
  library: number,
  piece: PieceOf,
  name: string,
  settings: BookSettings,
  edits: BookEdits,
  language: Language,
): Promise<BookContent> {
  const { db } = app;
  const words = WORDS[language];
  const speech = speechIn(language);
  const outOf = new Set(edits.out);
  const stills = piece.pictures.filter(({ kind }) => kind === 'photo');
  const { once, doubles } = onceEach(
    stills.filter(({ id }) => !outOf.has(id)),
    new Set(edits.also),
  );
  const monthOf = ({ day }: PiecePicture) => day?.slice(0, 7) ?? null;
  const sayMonth = (month: string) => saySpan(`${month}-01`, lastDayOf(month), words);
  const groups: Group[] = [];
  const grouped = new Map<string, Group>();
  const put = (key: string, picture: PiecePicture, rest: () => Omit<Group, 'key' | 'pictures'>) => {
    let group = grouped.get(key);
    if (!group) {
      groups.push((group = { key, pictures: [], ...rest() }));
      grouped.set(key, group);
    }
    group.pictures.push(picture);
  };
  if (settings.chapters === 'album' && piece.chapters.length) {
    const at = new Map(piece.pictures.map(({ id }, i) => [id, i]));
    for (const picture of once) {
      const chapter = piece.chapters.filter((one) => one.at <= at.get(picture.id)!).at(-1);
      put(`album-${chapter?.id ?? 0}`, picture, () => ({
        title: chapter?.heading ?? null,
        words: chapter?.note ?? null,
        place: null,
      }));
    }
  } else if (settings.chapters === 'none' || settings.chapters === 'album') {
    for (const picture of once) put('all', picture, () => ({ title: null, words: null, place: null }));
  } else {
    const events = new Map(
      settings.chapters === 'events'
        ? (
            await db('events')
              .where('library_id', library)
              .whereIn('id', [...new Set(once.flatMap(({ event }) => event ?? []))])
              .select('id', 'title', 'place')
          ).map((row) => [row.id, row])
        : [],
    );
    const counts = new Map<number, number>();
    for (const { event } of once) if (event !== null) counts.set(event, (counts.get(event) ?? 0) + 1);
    for (const picture of [...once].sort(byTime)) {
      const event = picture.event === null ? undefined : events.get(picture.event);
      const month = monthOf(picture);
      // An event without a name is its month’s; so is one of a few pictures.
      if (event?.title && counts.get(event.id)! >= FEW)
        put(`event-${event.id}`, picture, () => ({ title: event.title, words: null, place: event.place }));
      else
        put(`month-${month ?? 'none'}`, picture, () => ({
          title: month ? sayMonth(month) : speech._(msg`Without a date`),
          words: null,
          place: null,
        }));
    }
  }
  const chaptersOf = settings.chapters === 'events' || settings.chapters === 'months' ? joined(groups, words) : groups;
  const captions = new Map<number, string>();
  const names = new Map<number, string[]>();
  for (const picture of once) {
    names.set(picture.id, picture.names);
    const said = toldOf(picture, settings.tells, language, edits.words[`picture:${picture.id}`]);
    if (said) captions.set(picture.id, said);
  }
  const maps = new Map<string, BookMap>();
  const chapters: BookChapter[] = [];
  for (const group of chaptersOf) {
    const title = edits.words[`title:${group.key}`] ?? group.title;
    const days = group.pictures.flatMap(({ day }) => day ?? []).sort();
    const span = days.length ? saySpan(days[0]!, days.at(-1)!, words) : null;
    const spots = [...group.pictures]
      .sort(byTime)
      .flatMap(({ spot, place }) =>
        spot ? [{ spot: [spot.lon, spot.lat] as const, place: place?.name ?? null }] : [],
      );
    const map = settings.maps && title && isJourney(spots.map(({ spot }) => spot)) ? await mapOf(app, spots) : null;
    if (map) maps.set(group.key, map);
    const note = edits.words[`words:${group.key}`] ?? group.words;
    chapters.push({
      key: group.key,
      title: title || null,
      days: [group.place, span === title ? null : span].filter(Boolean).join(', ') || null,
      words: note || null,
      map: map && MAP_RATIO,
      pictures: group.pictures.map(toBook),
    });
  }
  const days = once.flatMap(({ day }) => day ?? []).sort();
  return {
    of: {
      title: edits.words['title'] || name,
      subtitle: (edits.words['subtitle'] ?? (days.length ? saySpan(days[0]!, days.at(-1)!, words) : null)) || null,
      chapters,
      captions,
      names,
      people: settings.people ? await peopleOf(app, library, once, words) : [],
      says: { people: speech._(msg`People and years`), index: speech._(msg`Who is where`) },
    },
    maps,
    doubles,
    out: stills.filter(({ id }) => outOf.has(id)),
  };
}

const toBook = (picture: PiecePicture): BookPicture => ({
  id: picture.id,
  ratio: picture.width / Math.max(1, picture.height),
  pixels: picture.width,
  rows: picture.height,
  good: picture.good,
  below: 0,
  faces: picture.faces,
  day: picture.day,
});

/** Those seen most in the book, each with their best likeness of every year, or of every month where it is of one year. */
async function peopleOf(
  { db }: App,
  library: number,
  pictures: readonly PiecePicture[],
  words: Words,
): Promise<BookOf['people']> {
  const by = new Map(pictures.map((picture) => [picture.id, picture]));
  const rows = (await db('faces as f')
    .join('people as n', 'n.id', 'f.person_id')
    .where({ 'f.library_id': library, 'n.hidden': false, 'f.state': 'named' })
    .whereIn('f.picture_id', [...by.keys()])
    .select('f.picture_id', 'f.person_id', 'n.name', 'f.x', 'f.y', 'f.w', 'f.h', 'f.quality')) as {
    picture_id: number;
    person_id: number;
    name: string;
    quality: number;
    x: number;
    y: number;
    w: number;
    h: number;
  }[];
  const years = new Set(pictures.flatMap(({ day }) => day?.slice(0, 4) ?? []));
  const people = new Map<
    number,
    {
      name: string;
      n: number;
      of: Map<string, { picture: PiecePicture; quality: number; face: (typeof rows)[number] }>;
    }
  >();
  for (const row of rows) {
    const picture = by.get(row.picture_id)!;
    const person = people.get(row.person_id) ?? { name: row.name, n: 0, of: new Map() };
    people.set(row.person_id, person);
    person.n++;
    const when = picture.day?.slice(0, years.size > 1 ? 4 : 7);
    if (!when) continue;
    const known = person.of.get(when);
    // A touched-up picture shows its faces elsewhere: the box is looked up where it is shown.
    if (!known || row.quality > known.quality) person.of.set(when, { picture, quality: row.quality, face: row });
  }
  return [...people]
    .filter(([, { n, of }]) => n >= OFTEN && of.size > 0)
    .sort(([a, one], [b, two]) => two.n - one.n || a - b)
    .slice(0, PEOPLE)
    .map(([id, { name, of }]) => ({
      id,
      name,
      years: [...of]
        .sort(([a], [b]) => (a < b ? -1 : 1))
        .map(([when, { picture, face }]) => ({
          label: when.length > 4 ? words.months[Number(when.slice(5)) - 1]! : when,
          picture: picture.id,
          part: likenessIn(picture, face),
        })),
    }));
}

/** An upright part of a picture around a face, head and some neck, in the oval's shape of 26 to 33. */
function likenessIn(picture: PiecePicture, { x, y, w, h }: { x: number; y: number; w: number; h: number }) {
  // The face where it is shown: the one whose middle is nearest.
  const near = picture.faces.toSorted((a, b) => away(a) - away(b))[0];
  function away(face: { x: number; y: number; w: number; h: number }): number {
    return Math.hypot(face.x + face.w / 2 - x - w / 2, face.y + face.h / 2 - y - h / 2);
  }
  const face = near ?? { x, y, w, h };
  const tall = Math.min(1, face.h * 1.9, (picture.width / picture.height) * (33 / 26));
  const wide = (tall * (26 / 33) * picture.height) / picture.width;
  return {
    x: Math.max(0, Math.min(1 - wide, face.x + face.w / 2 - wide / 2)),
    y: Math.max(0, Math.min(1 - tall, face.y + face.h * 0.48 - tall / 2)),
    w: Math.min(1, wide),
    h: tall,
  };
}
