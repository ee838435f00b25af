import { rm } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import type { SafePlacesRow } from '../db/tables';
import { hashFile } from '../vault/vault';
import { bringBack, ownFolder, type Way } from './restic';

/** How much is brought back at once, in files and in bytes. One larger file comes alone. */
const FILES = 400;
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

/**
 * Brings files of a state back into a folder of their own, hands each to whoever judges it, and removes them.
 * @returns of how many the judge said yes.
 */
export async function readBack(
  { way, snapshot, signal, paused }: Omit<Proving, 'app' | 'row'>,
  paths: readonly string[],
  judge: (at: string, file: string) => Promise<boolean>,
): Promise<Proven> {
  const target = await ownFolder(way);
  try {
    await bringBack(way, snapshot, paths, target, { signal, ...(paused ? { paused } : {}) });
    let right = 0;
    for (const at of paths) if (await judge(at, path.join(target, at))) right++;
    return { right, wrong: paths.length - right };
  } finally {
    await rm(target, { recursive: true, force: true });
  }
}

/** Reads every original back that was never read back from a place, and compares fingerprints: what was copied is proven, not believed. */
export async function proveOriginals({
  report,
  ...proving
}: Proving & { report: (done: number, of: number) => void }): Promise<Proven> {
  const { app, row, signal } = proving;
  const { db } = app;
  const unread = () => db('safe_copies').where('place_id', row.id).whereNull('read_at');
  const [{ n: of }] = (await unread().count('* as n')) as unknown as [{ n: number }];
  const sum: Proven = { right: 0, wrong: 0 };
  let [library, after] = [0, ''];
  for (;;) {
    signal.throwIfAborted();
    const rows = await unread()
      .where(
        (q) =>
          void q
            .where('library_id', '>', library)
            .orWhere((same) => void same.where({ library_id: library }).where('path', '>', after)),
      )
      .orderBy(['library_id', 'path'])
      .limit(FILES)
      .select('library_id', 'sha256', 'path', 'bytes');
    if (rows.length === 0) return sum;
    let bytes = 0;
    const some = rows.filter((one, i) => (bytes += Number(one.bytes)) <= BYTES || i === 0);
    const byPath = new Map(some.map((one) => [`/vault/${one.path}`, one]));
    const right: typeof some = [];
    const { wrong } = await readBack(proving, [...byPath.keys()], async (at, file) => {
      const one = byPath.get(at)!;
      const same = (await hashFile(file).catch(() => null))?.equals(one.sha256) ?? false;
      if (same) right.push(one);
      return same;
    });
    for (const of of new Set(right.map((one) => one.library_id)))
      await db('safe_copies')
        .where({ place_id: row.id, library_id: of })
        .whereIn(
          'sha256',
          right.filter((one) => one.library_id === of).map((one) => one.sha256),
        )
        .update({ read_at: db.raw('UTC_TIMESTAMP(3)') });
    sum.right += right.length;
    sum.wrong += wrong;
    report(sum.right + sum.wrong, Number(of));
    const last = some.at(-1)!;
    [library, after] = [last.library_id, last.path];
  }
}

/** Reads the other files of a run back, and compares them with the still they were copied from. */
export async function proveFiles({
  files,
  still,
  known,
  ...proving
}: Proving & { files: readonly string[]; still: string; known: ReadonlyMap<string, Buffer> }): Promise<Proven> {
  const sum: Proven = { right: 0, wrong: 0 };
  for (let i = 0; i < files.length; i += FILES) {
    proving.signal.throwIfAborted();
    const { right, wrong } = await readBack(proving, files.slice(i, i + FILES), async (at, file) => {
      const [there, here] = await Promise.all([
        hashFile(file).catch(() => null),
        known.get(at) ?? hashFile(path.join(still, at)).catch(() => null),
      ]);
      return there !== null && here !== null && there.equals(here);
    });
    sum.right += right;
    sum.wrong += wrong;
  }
  return sum;
}
