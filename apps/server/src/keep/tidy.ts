import type { TidyResult } from '@gemmel/contract';
import { readdir, rm, rmdir, stat } from 'node:fs/promises';
import path from 'node:path';
import { chunks, type App } from '../context';
import { defineJob, type Job } from '../jobs/kind';
import { withFiles } from '../vault/lock';
import { piecesFolder } from '../piece/folder';
import { discard, libraryFolder } from '../vault/vault';

/** What lies about for so long is nobody's, in ms. */
const OLD = 7 * 24 * 3_600_000;
/** A table is put together again when so much of it is empty, in bytes. */
const EMPTY = 32e6;

type Sum = { files: number; bytes: number };

/** Removes a file and counts it. */
async function remove(file: string, sum: Sum): Promise<void> {
  const info = await stat(file).catch(() => null);
  if (!info?.isFile()) return;
  await discard(file);
  sum.files++;
  sum.bytes += info.size;
}

/** Pictures of frames are kept so long after they were last shown. */
const FRAME_DAYS = 30;

/** Removes a folder with all that is in it, and counts its files. */
async function removeAll(folder: string, sum: Sum): Promise<void> {
  for (const entry of await readdir(folder, { recursive: true, withFileTypes: true }))
    if (entry.isFile()) await remove(path.join(entry.parentPath, entry.name), sum);
  await rm(folder, { recursive: true, force: true });
}

/** Derived files of originals and looks that no library has any longer, and portraits of faces that are gone. */
async function tidyDerived(app: App, sum: Sum, signal: AbortSignal): Promise<void> {
  const { db, paths } = app;
  for (const shelf of await readdir(paths.derived).catch(() => [])) {
    signal.throwIfAborted();
    if (!/^[0-9a-f]{2}$/.test(shelf)) continue;
    const folder = path.join(paths.derived, shelf);
    const by = new Map<string, string[]>();
    for (const name of await readdir(folder)) {
      const key = /^[0-9a-f]{64}/.exec(name)?.[0];
      if (key) by.set(key, [...(by.get(key) ?? []), name]);
    }
    const known = new Set<string>();
    for (const some of chunks([...by.keys()], 500)) {
      const keys = some.map((key) => Buffer.from(key, 'hex'));
      for (const [table, columns] of [
        ['pictures', ['sha256', 'view', 'thumb_view']],
        ['binned', ['sha256', 'view']],
        ['picture_files', ['sha256']],
        ['binned_files', ['sha256']],
      ] as const)
        for (const column of columns)
          for (const row of (await db(table as string)
            .whereIn(column, keys)
            .select(`${column} as key`)) as {
            key: Buffer;
          }[])
            known.add(row.key.toString('hex'));
    }
    for (const [key, names] of by)
      if (!known.has(key))
        for (const name of names) {
          const info = await stat(path.join(folder, name)).catch(() => null);
          // One that is being made has no row yet.
          if (info && Date.now() - info.mtimeMs > OLD) await remove(path.join(folder, name), sum);
        }
  }
  // What was made of pieces that are gone, and what frames have not been shown for long.
  const pieces = await readdir(piecesFolder(app)).catch(() => []);
  const kept = new Set((await db('pieces').whereNull('removed_at').select('id')).map(({ id }) => String(id)));
  for (const name of pieces) if (!kept.has(name)) await removeAll(path.join(piecesFolder(app), name), sum);
  const frames = path.join(paths.derived, 'frames');
  for (const shelf of await readdir(frames).catch(() => []))
    for (const name of await readdir(path.join(frames, shelf)).catch(() => [])) {
      signal.throwIfAborted();
      const info = await stat(path.join(frames, shelf, name)).catch(() => null);
      if (info && Date.now() - Math.max(info.atimeMs, info.mtimeMs) > FRAME_DAYS * 86_400_000)
        await remove(path.join(frames, shelf, name), sum);
    }
  const portraits = path.join(paths.derived, 'portraits');
  for (const shelf of await readdir(portraits).catch(() => [])) {
    signal.throwIfAborted();
    const names = await readdir(path.join(portraits, shelf)).catch(() => []);
    const ids = names.map((name) => Number.parseInt(name, 10)).filter((id) => id > 0);
    const there = new Set<number>();
    for (const some of chunks(ids, 1000))
      for (const { id } of await db('faces').whereIn('id', some).select('id')) there.add(id);
    for (const name of names) {
      const id = Number.parseInt(name, 10);
      // A face in the bin keeps its number; its portrait is made again when it comes back.
      if (id > 0 && !there.has(id)) await remove(path.join(portraits, shelf, name), sum);
    }
  }
}

/** What was left on its way in: bytes of files that nobody announced, and uploads that were given up. */
async function tidyIncoming(app: App, sum: Sum): Promise<void> {
  const { db, paths } = app;
  for (const folder of [paths.uploads, paths.incoming])
    for (const name of await readdir(folder).catch(() => [])) {
      const file = path.join(folder, name);
      const info = await stat(file).catch(() => null);
      if (!info || Date.now() - info.mtimeMs < OLD) continue;
      const item = Number(/^(\d+)(\.json)?$/.exec(name)?.[1] ?? 0);
      const waits =
        item && (await db('batch_items').where('id', item).whereIn('state', ['waiting', 'received']).first('id'));
      if (waits) continue;
      if (info.isFile()) await remove(file, sum);
      else if (/^(mend|seek|restic|\d)/.test(name)) await rm(file, { recursive: true, force: true });
    }
}

/** What a piece of work left in the vault that has ended: a library that was coming, or going. */
async function tidyVault({ db, paths }: App): Promise<void> {
  for (const name of await readdir(paths.vault).catch(() => [])) {
    const [, kind, id] = /^\.(coming|state|going)-(\d+)$/.exec(name) ?? [];
    if (!kind) continue;
    const live =
      kind === 'going'
        ? await db('libraries').where('id', Number(id)).first('id')
        : await db('jobs').where('id', Number(id)).whereIn('state', ['ready', 'running']).first('id');
    const info = await stat(path.join(paths.vault, name)).catch(() => null);
    if (!live && info && Date.now() - info.mtimeMs > OLD)
      await rm(path.join(paths.vault, name), { recursive: true, force: true });
  }
}

/** Empty folders of a library, from the innermost out. */
async function tidyFolders(root: string, at = ''): Promise<number> {
  let gone = 0;
  for (const entry of await readdir(path.join(root, at), { withFileTypes: true }).catch(() => []))
    if (entry.isDirectory()) gone += await tidyFolders(root, path.join(at, entry.name));
  if (at && (await readdir(path.join(root, at)).catch(() => ['?'])).length === 0)
    gone += await rmdir(path.join(root, at)).then(
      () => 1,
      () => 0,
    );
  return gone;
}

/** Half-written files that a sudden end left in a library. */
async function tidyHalf(root: string, sum: Sum, at = ''): Promise<void> {
  for (const entry of await readdir(path.join(root, at), { withFileTypes: true }).catch(() => [])) {
    const file = path.join(at, entry.name);
    if (entry.isDirectory()) await tidyHalf(root, sum, file);
    else if (/\.(xmp|json)\.part$|\.\d+\.part$/.test(entry.name)) {
      const info = await stat(path.join(root, file)).catch(() => null);
      if (info && Date.now() - info.mtimeMs > OLD) await remove(path.join(root, file), sum);
    }
  }
}

/** Has the database put tables together again of which much is empty; what they hold stays. Answers with what that freed. */
async function tidyDatabase(app: App): Promise<number> {
  const sizes = async () => {
    const [rows] = (await app.db.raw(
      `SELECT TABLE_NAME AS name, DATA_LENGTH + INDEX_LENGTH + DATA_FREE AS bytes, DATA_FREE AS empty
       FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE()`,
    )) as [{ name: string; bytes: number; empty: number }[]];
    return rows.map((row) => ({ name: row.name, bytes: Number(row.bytes), empty: Number(row.empty) }));
  };
  let freed = 0;
  for (const { name, bytes, empty } of await sizes()) {
    if (empty < EMPTY) continue;
    await app.db.raw('OPTIMIZE TABLE ??', [name]);
    freed += Math.max(0, bytes - ((await sizes()).find((one) => one.name === name)?.bytes ?? bytes));
  }
  return freed;
}

/** Removes what is nobody's and says what that freed: never an original, nor anything somebody said. */
export async function tidyHouse(app: App, { signal, report }: Pick<Job, 'signal' | 'report'>): Promise<TidyResult> {
  const derived: Sum = { files: 0, bytes: 0 };
  const left: Sum = { files: 0, bytes: 0 };
  let folders = 0;
  const libraries = await app.db('libraries').select('id', 'slug');
  await tidyVault(app);
  await tidyDerived(app, derived, signal);
  report(1, libraries.length + 3);
  await tidyIncoming(app, left);
  report(2, libraries.length + 3);
  for (const [i, { id, slug }] of libraries.entries()) {
    signal.throwIfAborted();
    await withFiles(app, id, async () => {
      const root = libraryFolder(app, slug);
      await tidyHalf(root, left);
      folders += await tidyFolders(root);
    });
    report(i + 3, libraries.length + 3);
  }
  const database = await tidyDatabase(app);
  report(libraries.length + 3, libraries.length + 3);
  return { derived, left, folders, database, at: new Date().toISOString() };
}

declare module '../jobs/kind' {
  interface JobPayloads {
    tidy: null;
  }
}

/** Removing what is nobody's. */
export const tidyJob = defineJob({
  kind: 'tidy',
  priority: 9,
  alone: true,
  topic: 'library',
  keeps: true,
  // Somebody began it and is told at once.
  tries: 1,
  run: (app, job) => tidyHouse(app, job),
});
