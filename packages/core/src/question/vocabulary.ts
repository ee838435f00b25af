import type { Observed } from '../observe/kinds';
import { fold } from '../text/fold';
import { searchWords } from '../text/search';
import { cameraWords } from './cameraWords';
import type { Condition, Question, Where } from './question';

/** The kinds of things typing can end in, in the order in which one word that is several of them is understood. */
export const WORD_KINDS = [
  'person',
  'tag',
  'own',
  'place',
  'event',
  'album',
  'mark',
  'folder',
  'device',
  'batch',
  'camera',
  'lens',
  'member',
] as const;
export type WordKind = (typeof WORD_KINDS)[number];

/** A thing with a number and a name; nicknames and other spellings are further entries with the same number. */
export interface Word {
  id: number;
  name: string;
}
/** A town, a region or a country by its name. */
export type PlaceWord = { name: string; country: string; region?: string | undefined; place?: string | undefined };

/** The names typing can end in. */
export interface Vocabulary {
  people?: readonly Word[];
  /** A tag's own name, and its whole path as “outdoors › lake”. */
  tags?: readonly Word[];
  own?: readonly Word[];
  places?: readonly PlaceWord[];
  events?: readonly Word[];
  albums?: readonly Word[];
  marks?: readonly Word[];
  folders?: readonly Word[];
  devices?: readonly Word[];
  batches?: readonly Word[];
  members?: readonly Word[];
  /** What the machine has noticed in some picture here. */
  observed?: readonly Observed[];
  cameras?: readonly string[];
  lenses?: readonly string[];
}

/** A name as typing is held against it, and what it asks for. */
export interface Entry {
  kind: WordKind;
  name: string;
  folded: string;
  question: Condition | { any: Condition[] };
  /** A first name, which is read but not offered: the whole name is. */
  first?: true;
}

/** Every name of a vocabulary by its first word, the longest first. */
export interface Index {
  entries: readonly Entry[];
  byWord: ReadonlyMap<string, readonly Entry[]>;
}

const place = ({ country, region, place: town }: PlaceWord): Where => ({
  country,
  ...(region !== undefined && town === undefined ? { region } : {}),
  ...(town !== undefined ? { place: town } : {}),
});

/** First names: of one person, or of several, who then are any of them. Names somebody bears already are left alone. */
function firstNames(people: readonly Word[]): Entry[] {
  const taken = new Set(people.map(({ name }) => fold(name)));
  const by = new Map<string, { name: string; ids: Set<number> }>();
  for (const { id, name } of people) {
    const [first, ...more] = name.trim().split(/\s+/);
    const folded = fold(first ?? '');
    if (more.length === 0 || folded.length < 2 || taken.has(folded)) continue;
    const known = by.get(folded) ?? { name: first!, ids: new Set<number>() };
    known.ids.add(id);
    by.set(folded, known);
  }
  return [...by].map(([folded, { name, ids }]) => ({
    kind: 'person',
    name,
    folded,
    first: true,
    question: { who: { people: [...ids].sort((a, b) => a - b), mode: ids.size > 1 ? 'any' : 'all' } },
  }));
}

const built = new WeakMap<Vocabulary, Index>();

/** The names of a vocabulary, made ready for typing; worked out once for each vocabulary. */
export function indexOf(names: Vocabulary): Index {
  const known = built.get(names);
  if (known) return known;
  const entry = (kind: WordKind, name: string, question: Entry['question']): Entry => ({
    kind,
    name,
    folded: fold(name),
    question,
  });
  const ids = (kind: WordKind, words: readonly Word[] | undefined, ask: (id: number) => Condition) =>
    (words ?? []).map(({ id, name }) => entry(kind, name, ask(id)));
  const entries = [
    ...ids('person', names.people, (id) => ({ who: { people: [id], mode: 'all' } })),
    ...firstNames(names.people ?? []),
    ...ids('tag', names.tags, (tag) => ({ tag })),
    ...ids('own', names.own, (own) => ({ where: { own } })),
    ...(names.places ?? []).map((word) => entry('place', word.name, { where: place(word) })),
    ...ids('event', names.events, (event) => ({ event })),
    ...ids('album', names.albums, (album) => ({ album })),
    ...ids('mark', names.marks, (mark) => ({ mark })),
    ...ids('folder', names.folders, (id) => ({ folder: { id } })),
    ...ids('device', names.devices, (device) => ({ device })),
    ...ids('batch', names.batches, (batch) => ({ batch })),
    ...(names.cameras ?? []).map((camera) => entry('camera', cameraWords(camera), { camera })),
    ...(names.lenses ?? []).map((lens) => entry('lens', lens, { lens })),
    ...ids('member', names.members, (saidBy) => ({ saidBy })),
  ].filter((one) => one.folded !== '');
  const byWord = new Map<string, Entry[]>();
  for (const one of entries) {
    const first = searchWords(one.name)[0] ?? one.folded;
    const there = byWord.get(first);
    if (there) there.push(one);
    else byWord.set(first, [one]);
  }
  for (const some of byWord.values()) some.sort((a, b) => b.folded.length - a.folded.length);
  const index = { entries, byWord };
  built.set(names, index);
  return index;
}

const begins = (rest: string, name: string) =>
  rest.startsWith(name) && !(/[\p{L}\p{N}]$/u.test(name) && /^[\p{L}\p{N}]/u.test(rest.slice(name.length)));

/** The longest name that typed text, folded, begins with; of some kinds only. Of one word that is several things, all. */
export function namedAt(rest: string, index: Index, kinds?: ReadonlySet<WordKind>): Entry[] {
  const some = index.byWord.get(searchWords(rest.slice(0, 200))[0] ?? rest) ?? [];
  const found = some.filter((one) => (!kinds || kinds.has(one.kind)) && begins(rest, one.folded));
  return found.filter((one) => one.folded.length === found[0]!.folded.length);
}

/** What one name asks for when it is several things: the first kind, and of several of that kind any of them. */
export function meantBy(found: readonly Entry[]): Question {
  const kind = WORD_KINDS.find((one) => found.some((entry) => entry.kind === one));
  const asked = [...new Map(found.filter((e) => e.kind === kind).map((e) => [JSON.stringify(e.question), e])).values()];
  return asked.length === 1
    ? asked[0]!.question
    : { any: asked.flatMap(({ question: q }) => ('any' in q ? q.any : [q])) };
}
