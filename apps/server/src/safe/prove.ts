import { rm, stat } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import type { SafePlacesRow } from '../db/tables';
import { hashFile } from '../vault/vault';
import { bringBack, ownFolder, type Way } from './restic';

/** How much is brought back at once, in files and in bytes. One larger file comes alone. */
const FILES = 3000;
const BYTES = 1e9;

interface Proving {
  app: App;
  row: Pick<SafePlacesRow, 'id'>;
  way: Way;
  snapshot: string;
  signal: AbortSignal;
  paused?: () => Promise<boolean>;
}

/** How many files were read back and right, and how many were not. */
export interface Proven {
  right: number;
  wrong: number;
}

/** How many originals lie below each folder of a state, however deep; folders with a slash before, the state itself `/`. */
export type Below = Map<string, number>;

/** Counts a file with every folder above it. */
export function countBelow(below: Below, at: string): void {
  for (let folder = path.posix.dirname(at); ; folder = path.posix.dirname(folder)) {
    below.set(folder, (below.get(folder) ?? 0) + 1);
    if (folder === '/') return;
  }
}

/**
 * What restic is asked for so that some files come back: folders of which at least half is wanted, else the files. It compares every file
 * it holds with every pattern, so that few patterns are worth some files too many.
 */
export function patternsFor(paths: readonly string[], all: Below): string[] {
  const wanted: Below = new Map();
  for (const at of paths) countBelow(wanted, at);
  const whole = new Set<string>();
  for (const [folder, n] of wanted) if (folder !== '/' && n > 1 && n * 2 >= (all.get(folder) ?? 0)) whole.add(folder);
  const patterns = new Set<string>();
  for (const at of paths) {
    let pattern = at;
    for (let folder = path.posix.dirname(at); folder !== '/'; folder = path.posix.dirname(folder))
      if (whole.has(folder)) pattern = folder;
    patterns.add(pattern);
  }
  return [...patterns];
}

/**
 * Brings files of a state back into a folder of their own, hands each to whoever judges it, and removes them.
 * @returns of how many the judge said yes.
 */
export async function readBack(
  { way, snapshot, signal, paused }: Omit<Proving, 'app' | 'row'>,
  paths: readonly string[],
  all: Below,
  judge: (at: string, file: string) => Promise<boolean>,
): Promise<Proven> {
  const target = await ownFolder(way);
  try {
    await bringBack(way, snapshot, patternsFor(paths, all), target, { signal, ...(paused ? { paused } : {}) });
    let right = 0;
    for (const at of paths) if (await judge(at, path.join(target, at))) right++;
    return { right, wrong: paths.length - right };
  } finally {
    await rm(target, { recursive: true, force: true });
  }
}

/** A file that is to be read back: what it must be, and what is noted when it is. */
interface Item {
  at: string;
  bytes: number;
  expected: () => Promise<Buffer | null>;
  original?: { library: number; sha256: Buffer };
}

/** Originals of which no copy at a place was ever read back, in the order of their folders. */
async function* unread({ app: { db }, row }: Pick<Proving, 'app' | 'row'>): AsyncGenerator<Item> {
  let [library, after] = [0, ''];
  for (;;) {
    const rows = await db('safe_copies')
      .where('place_id', row.id)
      .whereNull('read_at')
      .where(
        (q) =>
          void q
            .where('library_id', '>', library)
            .orWhere((same) => void same.where({ library_id: library }).where('path', '>', after)),
      )
      .orderBy(['library_id', 'path'])
      .limit(FILES)
      .select('library_id', 'sha256', 'path', 'bytes');
    for (const one of rows)
      yield {
        at: `/vault/${one.path}`,
        bytes: Number(one.bytes),
        expected: async () => one.sha256,
        original: { library: one.library_id, sha256: one.sha256 },
      };
    const last = rows.at(-1);
    if (!last) return;
    [library, after] = [last.library_id, last.path];
  }
}

/** What else was new in a run: compared with the still it was copied from, or with what is known of it. */
export interface Fresh {
  files: readonly string[];
  still: string;
  known: ReadonlyMap<string, Buffer>;
}

async function* others({ files, still, known }: Fresh): AsyncGenerator<Item> {
  for (const at of files) {
    const file = path.join(still, at);
    const { size } = await stat(file).catch(() => ({ size: 0 }));
    yield { at, bytes: size, expected: async () => known.get(at) ?? hashFile(file).catch(() => null) };
  }
}

/**
 * Reads back what a place has new: every original that was never read back from there, against its fingerprint, and whatever else the run
 * copied. What was copied is proven, not believed. Goes on where it was after an end at any point.
 */
export async function prove(
  { report, ...proving }: Proving & { report: (done: number, of: number) => void },
  fresh: Fresh,
): Promise<Proven> {
  const { app, row, signal } = proving;
  const { db } = app;
  const [{ n }] = (await db('safe_copies')
    .where('place_id', row.id)
    .whereNull('read_at')
    .count('* as n')) as unknown as [{ n: number }];
  const of = Number(n) + fresh.files.length;
  const sum: Proven = { right: 0, wrong: 0 };
  const all: Below = new Map();
  if (of)
    for (const { path: at } of await db('safe_copies').where('place_id', row.id).select('path'))
      countBelow(all, `/vault/${at}`);
  let [some, bytes]: [Item[], number] = [[], 0];
  const flush = async () => {
    signal.throwIfAborted();
    const byPath = new Map(some.map((one) => [one.at, one]));
    const right: NonNullable<Item['original']>[] = [];
    const came = await readBack(proving, [...byPath.keys()], all, async (at, file) => {
      const one = byPath.get(at)!;
      const [there, here] = await Promise.all([hashFile(file).catch(() => null), one.expected()]);
      const same = there !== null && here !== null && there.equals(here);
      if (same && one.original) right.push(one.original);
      return same;
    });
    for (const library of new Set(right.map((one) => one.library)))
      await db('safe_copies')
        .where({ place_id: row.id, library_id: library })
        .whereIn(
          'sha256',
          right.filter((one) => one.library === library).map((one) => one.sha256),
        )
        .update({ read_at: db.raw('UTC_TIMESTAMP(3)') });
    sum.right += came.right;
    sum.wrong += came.wrong;
    [some, bytes] = [[], 0];
    report(sum.right + sum.wrong, of);
  };
  for (const items of [unread(proving), others(fresh)])
    for await (const item of items) {
      if (some.length >= FILES || (some.length && bytes + item.bytes > BYTES)) await flush();
      some.push(item);
      bytes += item.bytes;
    }
  if (some.length) await flush();
  return sum;
}
