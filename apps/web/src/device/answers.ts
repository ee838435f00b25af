import type { Answer, Api, CallInput, Tile } from '@gemmel/contract';
import { delMany, get, getMany, set, setMany } from 'idb-keyval';
import { store, whenForgotten } from './stores';
import { whose } from './whose';

/** Answers that are kept as they were seen last: what is looked at, not what is looked after. */
const KEPT: ReadonlySet<keyof Api> = new Set([
  'me',
  'library',
  'skeleton',
  'picture',
  'events',
  'event',
  'people',
  'person',
  'albums',
  'album',
  'tags',
  'places',
  'ownPlaces',
  'folders',
  'marks',
  'pins',
  'pile',
  'batches',
  'shows',
  'music',
  'slides',
  'showOf',
  'introductions',
  'thisDay',
  'parlour',
  'mine',
]);
/** How many answers and tiles are kept at most. */
const MOST = { answers: 400, tiles: 4000 };
/** How long what came is gathered before it is written, in ms. */
const GATHER = 700;

interface Kept {
  at: number;
  answer: unknown;
}

const keyOf = (of: string, name: string, input: object): string => `${of} ${name} ${JSON.stringify(input)}`;

/** What was kept when, the oldest first: whatever is too much goes by it. */
type Order = Map<string, number>;
const orders: Partial<Record<'answers' | 'tiles', Order>> = {};

async function orderOf(what: 'answers' | 'tiles'): Promise<Order> {
  return (orders[what] ??= new Map((await get<[string, number][]>('.order', store(what)!)) ?? []));
}

const coming = { answers: new Map<string, Kept>(), tiles: new Map<string, Tile>() };
let timer: ReturnType<typeof setTimeout> | undefined;

async function write(what: 'answers' | 'tiles'): Promise<void> {
  const on = store(what);
  const some = [...coming[what]];
  coming[what].clear();
  if (!on || some.length === 0 || whose() === null) return;
  const order = await orderOf(what);
  for (const [key] of some) {
    order.delete(key);
    order.set(key, Date.now());
  }
  const going = [...order.keys()].slice(0, Math.max(0, order.size - MOST[what]));
  for (const key of going) order.delete(key);
  await setMany([...some, ['.order', [...order]]], on);
  if (going.length) await delMany(going, on);
}

function writeAll(): void {
  clearTimeout(timer);
  timer = undefined;
  void Promise.all([write('answers'), write('tiles')]).catch(() => undefined);
}

function later(): void {
  timer ??= setTimeout(writeAll, GATHER);
}
// Whoever leaves the page finds what they saw last.
if (typeof window !== 'undefined') window.addEventListener('pagehide', writeAll);

whenForgotten(() => {
  coming.answers.clear();
  coming.tiles.clear();
  opening.asked = [];
  opening.tiles = [];
  delete orders.answers;
  delete orders.tiles;
});

/** Keeps an answer on this device, if it is of those that are kept. */
export function remember<K extends keyof Api>(name: K, input: CallInput<Api[K]>, answer: Answer<Api[K]>): void {
  const of = whose();
  if (of === null || !KEPT.has(name)) return;
  const key = keyOf(of, name, input);
  coming.answers.set(key, { at: Date.now(), answer });
  noteOpening(name, input);
  later();
}

/** An answer as it was seen last; undefined when it is not kept. */
export async function recall<K extends keyof Api>(
  name: K,
  input: CallInput<Api[K]>,
): Promise<Answer<Api[K]> | undefined> {
  const [of, on] = [whose(), store('answers')];
  if (of === null || !on) return undefined;
  const key = keyOf(of, name, input);
  const kept = coming.answers.get(key) ?? (await get<Kept>(key, on));
  return kept?.answer as Answer<Api[K]> | undefined;
}

/** Keeps tiles on this device. */
export function rememberTiles(tiles: readonly Tile[]): void {
  const of = whose();
  if (of === null) return;
  for (const tile of tiles) coming.tiles.set(`${of} ${tile.id}`, tile);
  noteTiles(tiles);
  later();
}

/** Tiles as they were seen last, those that are kept. */
export async function recallTiles(ids: readonly number[]): Promise<Tile[]> {
  const [of, on] = [whose(), store('tiles')];
  if (of === null || !on) return [];
  const keys = ids.map((id) => `${of} ${id}`);
  const kept = await getMany<Tile | undefined>(keys, on);
  return keys.flatMap((key, i) => coming.tiles.get(key) ?? kept[i] ?? []);
}

/** What a page asked for while it opened, so that all of it can be there at once the next time. */
interface Opening {
  asked: [name: keyof Api, input: object][];
  tiles: number[];
}
/** How long a page opens, in ms. */
const OPENS = 4000;
const MOST_TILES = 80;

const page = typeof location === 'undefined' ? '' : location.pathname;
const began = Date.now();
const opening: Opening = { asked: [], tiles: [] };
let noting: ReturnType<typeof setTimeout> | undefined;

function note(): void {
  noting ??= setTimeout(
    () => {
      const [of, on] = [whose(), store('answers')];
      if (of !== null && on) void set(`${of} .opening ${page}`, opening, on).catch(() => undefined);
    },
    Math.max(0, began + OPENS - Date.now()),
  );
}

function noteOpening(name: keyof Api, input: object): void {
  if (Date.now() - began > OPENS) return;
  opening.asked.push([name, input]);
  note();
}

function noteTiles(tiles: readonly Tile[]): void {
  if (Date.now() - began > OPENS || opening.tiles.length >= MOST_TILES) return;
  opening.tiles.push(...tiles.map(({ id }) => id).slice(0, MOST_TILES - opening.tiles.length));
  note();
}

/** Everything this page showed first when it was opened here last: answers with their questions, and tiles. */
export async function openedWith(): Promise<{ answers: [keyof Api, object, unknown][]; tiles: Tile[] }> {
  const [of, on] = [whose(), store('answers')];
  const nothing = { answers: [], tiles: [] };
  if (of === null || !on) return nothing;
  const was = await get<Opening>(`${of} .opening ${page}`, on);
  if (!was) return nothing;
  const [kept, tiles] = await Promise.all([
    getMany<Kept | undefined>(
      was.asked.map(([name, input]) => keyOf(of, name, input)),
      on,
    ),
    recallTiles(was.tiles),
  ]);
  return { answers: was.asked.flatMap(([name, input], i) => (kept[i] ? [[name, input, kept[i].answer]] : [])), tiles };
}
