import type { Api, Picture, SavedShow } from '@gemmel/contract';
import { type Question, unpack } from '@gemmel/core';
import { del, entries, set } from 'idb-keyval';
import { create } from 'zustand';
import { call, largeOf, musicOf, playOf, smallOf, Told } from '@/api/client';
import { dropPictures, keepPictures, keptPictures } from './pictures';
import { CACHES, store, whenForgotten } from './stores';
import { whose } from './whose';

/** What somebody wants on this device: an album, a question at hand, or a show. */
export type Wanted =
  | { kind: 'album'; id: number; name: string }
  | { kind: 'pin'; id: number; name: string; question: Question }
  | { kind: 'show'; id: number; name: string; show: Pick<SavedShow, 'source' | 'settings'> };

export const keyOfWanted = ({ kind, id }: Pick<Wanted, 'kind' | 'id'>): string => `${kind} ${id}`;

/** Something that is kept on this device, or on its way. */
export interface Kept {
  of: string;
  wanted: Wanted;
  /** Its pictures, in order; how many of them are here, and what they take up, in bytes. */
  ids: number[];
  done: number;
  bytes: number;
  state: 'coming' | 'here' | 'stopped' | 'full' | 'failed';
  /** When it was looked through last. */
  at: number;
  /** What it is asked with, and what was answered. */
  answers: [name: string, input: object, answer: unknown][];
}

/** Something on its way onto this device: how far it is, with files that are here and have not been noted yet. */
interface Bringing {
  now: Kept;
  stop: AbortController;
}

/** What is being brought onto this device. */
const running = new Map<string, Bringing>();

/** What is kept on this device, by key. */
export const useKept = create<{ kept: Record<string, Kept>; read: boolean }>()(() => ({ kept: {}, read: false }));

/** How much a device keeps at most, in bytes. */
export const LIMITS = [500e6, 2e9, 8e9] as const;
const LIMIT = 'gemmel-keep-most';
export const limit = (): number => Number(localStorage.getItem(LIMIT) ?? LIMITS[1]);
export const setLimit = (bytes: number): void => localStorage.setItem(LIMIT, String(bytes));

/** Pictures that are asked for at once. */
const PORTION = 40;
/** How old what is kept may be before it is looked through again, in ms. */
const FRESH = 6 * 3600_000;

whenForgotten(() => {
  for (const { stop } of running.values()) stop.abort();
  useKept.setState({ kept: {}, read: false });
});

/** Everything that is kept here of this library. */
export async function keptThings(): Promise<Kept[]> {
  const [of, on] = [whose(), store('kept')];
  if (of === null || !on) return [];
  return (await entries<string, Kept>(on)).map(([, one]) => one).filter((one) => one.of === of);
}

/** Reads what is kept here. */
export async function readKept(): Promise<void> {
  const all = await keptThings().catch(() => []);
  useKept.setState({ kept: Object.fromEntries(all.map((one) => [keyOfWanted(one.wanted), one])), read: true });
}

async function put(one: Kept): Promise<void> {
  // Whoever it was for may have signed out meanwhile.
  if (whose() !== one.of) return;
  const key = keyOfWanted(one.wanted);
  useKept.setState(({ kept }) => ({ kept: { ...kept, [key]: one } }));
  await set(`${one.of} ${key}`, one, store('kept')!);
}

/** What a thing is asked with, and its pictures. */
async function askedWith(wanted: Wanted): Promise<{ ids: number[]; answers: Kept['answers'] }> {
  const answers: Kept['answers'] = [];
  const ask = async <K extends keyof Api>(name: K, input: Parameters<typeof call<K>>[1]) => {
    const answer = await call(name, input);
    answers.push([name, input, answer]);
    return answer;
  };
  if (wanted.kind === 'album') {
    const { ids } = await ask('album', { params: { id: wanted.id } });
    await ask('showOf', { body: { source: { album: wanted.id } } });
    return { ids, answers };
  }
  if (wanted.kind === 'show') {
    const { pictures } = await ask('showOf', { body: { source: wanted.show.source } });
    await ask('music', {});
    return { ids: pictures.map(({ id }) => id), answers };
  }
  const question = wanted.question;
  const skeleton = await ask('skeleton', { body: { question, oldestFirst: false } });
  await ask('count', { body: { question } });
  return { ids: [...unpack(skeleton).ids], answers };
}

/** The files of a picture that are looked at without a line. */
const filesOf = ({ id, sha, kind }: Picture): string[] => [
  smallOf(sha),
  largeOf(sha),
  ...(kind === 'video' ? [playOf(id)] : []),
];

/** @throws when something has been stopped: what was let go may not come back with the next note of how far it is. */
function unlessStopped(signal: AbortSignal): void {
  if (signal.aborted) throw new DOMException('stopped', 'AbortError');
}

/** Brings a file onto this device; answers with its bytes, 0 for one that is here, or that can't be had. */
async function bring(cache: Cache, at: string, signal: AbortSignal): Promise<number> {
  const plain = at.replace(/\?.*$/, '');
  if (await cache.match(plain)) return 0;
  const answer = await fetch(at, { signal });
  if (!answer.ok) return 0;
  const bytes = await answer.clone().blob();
  unlessStopped(signal);
  await cache.put(plain, answer);
  return bytes.size;
}

/** Removes pictures that are no longer among what one thing holds, nor among what any other does; answers with the bytes that frees. */
async function letGoOf(before: readonly number[], now: readonly number[]): Promise<number> {
  const held = new Set([...Object.values(useKept.getState().kept).flatMap(({ ids }) => ids), ...now]);
  const going = before.filter((id) => !held.has(id));
  const cache = await caches.open(CACHES.kept);
  let freed = 0;
  for (let i = 0; i < going.length; i += PORTION)
    for (const { picture } of await keptPictures(going.slice(i, i + PORTION)))
      for (const at of filesOf(picture).map((one) => one.replace(/\?.*$/, ''))) {
        freed += (await (await cache.match(at))?.blob())?.size ?? 0;
        await cache.delete(at);
      }
  await dropPictures(going);
  return freed;
}

/** Whether this browser can keep anything: they do over an encrypted way alone, or on the very machine. */
export const canKeep = (): boolean => typeof caches !== 'undefined' && 'locks' in navigator && store('kept') !== null;

/** Brings everything of something, and notes how far it is after each portion. @throws when it is stopped, and what goes wrong. */
async function fetchAll(bringing: Bringing): Promise<void> {
  const { signal } = bringing.stop;
  const note = (more: Partial<Kept>): Promise<void> => {
    unlessStopped(signal);
    bringing.now = { ...bringing.now, ...more };
    return put(bringing.now);
  };
  const { wanted, ids: before } = bringing.now;
  const { ids, answers } = await askedWith(wanted);
  const cache = await caches.open(CACHES.kept);
  const fetchOne = async (at: string): Promise<void> => {
    const bytes = await bring(cache, at, signal);
    bringing.now = { ...bringing.now, bytes: bringing.now.bytes + bytes };
  };
  const others = Object.values(useKept.getState().kept).reduce(
    (sum, other) => sum + (keyOfWanted(other.wanted) === keyOfWanted(wanted) ? 0 : other.bytes),
    0,
  );
  bringing.now = { ...bringing.now, ids, answers, done: 0 };
  for (const id of wanted.kind === 'show' ? wanted.show.settings.music : []) await fetchOne(musicOf(id));
  await note({});
  for (let i = 0; i < ids.length; i += PORTION) {
    const some = ids.slice(i, i + PORTION);
    const { pictures, tiles } = await call('wholePictures', { body: { ids: some } }, signal);
    const tileOf = new Map(tiles.map((tile) => [tile.id, tile]));
    await keepPictures(
      pictures.flatMap((picture) => {
        const tile = tileOf.get(picture.id);
        return tile ? [{ picture, tile }] : [];
      }),
    );
    for (const picture of pictures)
      for (const at of filesOf(picture)) {
        if (others + bringing.now.bytes > limit()) return note({ state: 'full' });
        await fetchOne(at);
      }
    await note({ done: Math.min(ids.length, i + PORTION) });
  }
  const freed = await letGoOf(before, ids);
  await note({
    bytes: Math.max(0, bringing.now.bytes - freed),
    done: ids.length,
    state: 'here',
    at: Date.now(),
  });
}

/** Keeps something on this device, or brings what is kept up to date; goes on where it was. One page of this browser does it. */
export async function keepHere(wanted: Wanted): Promise<void> {
  const of = whose();
  const key = keyOfWanted(wanted);
  if (of === null || running.has(key) || !canKeep()) return;
  const before = useKept.getState().kept[key];
  const one: Kept = before ?? { of, wanted, ids: [], done: 0, bytes: 0, state: 'coming', at: 0, answers: [] };
  const bringing: Bringing = { now: { ...one, wanted, state: 'coming' }, stop: new AbortController() };
  running.set(key, bringing);
  await put(bringing.now);
  // A browser that is short of room asks first before it throws this away.
  void navigator.storage?.persist?.().catch(() => false);
  try {
    await navigator.locks.request(`gemmel-keep-${of}-${key}`, { ifAvailable: true }, async (lock) => {
      if (lock) await fetchAll(bringing);
    });
  } catch (error) {
    const stopped = bringing.stop.signal.aborted;
    const full = error instanceof DOMException && error.name === 'QuotaExceededError';
    const gone = error instanceof Told && error.status === 404;
    if (gone) await keepNoLonger(wanted);
    // What was let go meanwhile is not noted again.
    else if (useKept.getState().kept[key])
      await put({ ...bringing.now, state: stopped ? 'stopped' : full ? 'full' : 'failed' });
  } finally {
    running.delete(key);
  }
}

/** Stops what is on its way; what is here stays. */
export const stopKeeping = (wanted: Wanted): void => running.get(keyOfWanted(wanted))?.stop.abort();

/** Removes something from this device, with the pictures that nothing else holds. */
export async function keepNoLonger(wanted: Wanted): Promise<void> {
  const key = keyOfWanted(wanted);
  running.get(key)?.stop.abort();
  const { [key]: one, ...rest } = useKept.getState().kept;
  if (!one) return;
  useKept.setState({ kept: rest });
  await del(`${one.of} ${key}`, store('kept')!);
  await letGoOf(one.ids, []);
}

/** Brings up to date what is kept here, when it was not looked through for a while; goes on with what was on its way. */
export async function freshenKept(): Promise<void> {
  await readKept();
  for (const one of Object.values(useKept.getState().kept)) {
    if (one.state === 'stopped' || one.state === 'full') continue;
    if (one.state !== 'here' || Date.now() - one.at > FRESH) await keepHere(one.wanted);
  }
}
