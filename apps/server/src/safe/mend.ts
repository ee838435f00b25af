import { randomBytes } from 'node:crypto';
import { copyFile, rm } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import { defineJob, type Job } from '../jobs/kind';
import { hashFile, libraryFolder } from '../vault/vault';
import { needDisk } from '../keep/home';
import { withFiles } from '../vault/lock';
import { mendWith } from '../vault/whole';
import { ask } from '../jobs/jobs';
import { openPlace, placeRow } from './places';
import { bringBack, ownFolder } from './restic';

/** An original is read back again once it has not been for so many days; all are then read within {@link ROUNDS} rounds. */
const STALE_DAYS = 20;
/** A round is begun every hour and reads this part of all bytes: with {@link STALE_DAYS}, everything within 30 days of running. */
const ROUNDS = 200;
const LEAST_BYTES = 200e6;
/** Bytes that are read in a second at most: people at work come first. */
const SPEED = 40e6;
const AT_ONCE = 100;

const TABLES = ['pictures', 'picture_files', 'binned_files'] as const;

interface Stored {
  id: number;
  vault_path: string;
  bytes: number;
  sha256: Buffer;
}

/**
 * Fetches an original, or a file beside one, from the first place that holds a copy of it, and puts it where it belongs. Only a copy
 * whose fingerprint is right is taken. Answers with the name of the place; null when no place could help.
 */
export async function mendFromPlaces(
  app: App,
  library: number,
  sha256: Buffer,
  signal?: AbortSignal,
): Promise<string | null> {
  const { db } = app;
  const copies = await db('safe_copies as c')
    .join('safe_runs as r', 'r.id', 'c.run_id')
    .where({ 'c.library_id': library, 'c.sha256': sha256 })
    .whereNotNull('r.snapshot')
    .orderByRaw('c.read_at IS NULL, c.place_id')
    .select('c.place_id', 'c.path', 'r.snapshot');
  for (const { place_id, path: at, snapshot } of copies) {
    const row = await placeRow(app, place_id);
    // Two may mend the same file at once: each with a copy of its own.
    const copy = path.join(app.paths.incoming, `mend-${process.pid}-${randomBytes(6).toString('hex')}`);
    try {
      const way = await openPlace(app, row, signal);
      const target = await ownFolder(way);
      try {
        await bringBack(way, snapshot!, [`/vault/${at}`], target, { ...(signal ? { signal } : {}), gentle: false });
        const file = path.join(target, 'vault', at);
        if (!(await hashFile(file).catch(() => null))?.equals(sha256)) continue;
        await copyFile(file, copy);
      } finally {
        await rm(target, { recursive: true, force: true });
      }
      await mendWith(app, library, sha256, copy);
      return row.name;
    } catch (error) {
      if (signal?.aborted) throw error;
      console.error(`mending from “${row.name}”:`, error instanceof Error ? error.message : error);
    } finally {
      await rm(copy, { force: true });
    }
  }
  return null;
}

/** Notes that a stored file is not as it was, and mends it where a place holds a copy. Answers whether it is whole again. */
export async function damaged(
  app: App,
  library: number,
  table: (typeof TABLES)[number],
  one: Stored,
  signal?: AbortSignal,
): Promise<boolean> {
  const { db } = app;
  // While it was read, somebody may have put it right: nobody does in this moment, and it is read once more.
  const still = await withFiles(app, library, async () => {
    const [{ slug }, now] = await Promise.all([
      db('libraries').where('id', library).first('slug') as Promise<{ slug: string }>,
      db(table).where('id', one.id).first('vault_path') as Promise<{ vault_path: string } | undefined>,
    ]);
    if (!now) return false;
    const found = await hashFile(path.join(libraryFolder(app, slug), now.vault_path)).catch(() => null);
    if (found?.equals(one.sha256)) return false;
    await db(table)
      .where('id', one.id)
      .update({ verified_at: null, broken_at: db.raw('COALESCE(broken_at, UTC_TIMESTAMP(3))') });
    return true;
  });
  if (!still) return true;
  const open = { library_id: library, sha256: one.sha256, mended_at: null };
  if (!(await db('safe_mends').where(open).first('id')))
    await db('safe_mends').insert({ library_id: library, sha256: one.sha256, path: one.vault_path });
  app.changed(library, 'safe', 'library', 'sources');
  const from = await mendFromPlaces(app, library, one.sha256, signal);
  if (from === null) return false;
  await db('safe_mends')
    .where(open)
    .update({ mended_at: db.raw('UTC_TIMESTAMP(3)'), place: from });
  app.changed(library, 'safe', 'library', 'sources', 'pictures');
  return true;
}

/** What is said of mends, by fingerprint, when a stored file was put right in another way. */
export async function forgetMended({ db }: App, library: number): Promise<void> {
  for (const table of TABLES)
    await db.raw(
      `UPDATE safe_mends m JOIN ${table} t ON t.library_id = m.library_id AND t.sha256 = m.sha256
       SET m.mended_at = UTC_TIMESTAMP(3) WHERE m.library_id = ? AND m.mended_at IS NULL AND t.broken_at IS NULL AND t.verified_at IS NOT NULL`,
      [library],
    );
}

/** Reads the originals back that were not read for longest, as many as a round takes, and mends what is not as it was stored. */
export async function readRound(
  app: App,
  { library, report, signal }: Pick<Job, 'library' | 'report' | 'signal'>,
  { everything = false } = {},
): Promise<void> {
  const { db } = app;
  const { slug } = (await db('libraries').where('id', library).first('slug'))!;
  await needDisk(app, slug);
  const root = libraryFolder(app, slug);
  const due = (table: (typeof TABLES)[number]) =>
    db(table)
      .where('library_id', library)
      .whereRaw(
        everything ? 'TRUE' : '(broken_at IS NOT NULL OR verified_at < UTC_TIMESTAMP(3) - INTERVAL ? DAY)',
        everything ? [] : [STALE_DAYS],
      );
  let [all, of] = [0, 0];
  for (const table of TABLES) {
    const [{ bytes }] = (await db(table)
      .where('library_id', library)
      .select(db.raw('COALESCE(SUM(bytes), 0) AS bytes'))) as unknown as [{ bytes: number }];
    const [{ n }] = (await due(table).count('* as n')) as unknown as [{ n: number }];
    all += Number(bytes);
    of += Number(n);
  }
  let [left, done] = [everything ? Infinity : Math.max(LEAST_BYTES, all / ROUNDS), 0];
  const began = Date.now();
  let read = 0;
  for (const table of TABLES)
    for (let after = 0; left > 0;) {
      const rows = (await due(table)
        .where('id', '>', after)
        .orderBy('id')
        .limit(AT_ONCE)
        .select('id', 'vault_path', 'bytes', 'sha256')) as Stored[];
      if (rows.length === 0) break;
      for (const one of rows) {
        if (signal.aborted || left <= 0) return;
        after = one.id;
        const found = await hashFile(path.join(root, one.vault_path)).catch(() => null);
        const now = (await db(table).where('id', one.id).first('vault_path')) as { vault_path: string } | undefined;
        if (found?.equals(one.sha256))
          await db(table)
            .where('id', one.id)
            .update({ verified_at: db.raw('UTC_TIMESTAMP(3)'), broken_at: null });
        else if (now?.vault_path === one.vault_path) await damaged(app, library, table, one, signal);
        // It moved meanwhile: it is looked at another time.
        left -= Number(one.bytes);
        read += Number(one.bytes);
        report(++done, of);
        const early = (read / SPEED) * 1000 - (Date.now() - began);
        if (early > 20 && !everything) await new Promise((resolve) => setTimeout(resolve, Math.min(early, 5000)));
      }
    }
  await forgetMended(app, library);
  app.changed(library, 'safe');
}

declare module '../jobs/kind' {
  interface JobPayloads {
    readBack: { everything: boolean } | null;
  }
}

/** Reading originals back on a timetable, or all of them when somebody asks. */
export const readBackJob = defineJob({
  kind: 'readBack',
  priority: 8,
  topic: 'safe',
  run: (app, job) => readRound(app, job, job.payload ?? {}),
});

/** Has every original of a library read back now. */
export const askReadAll = (app: App, library: number): Promise<void> =>
  ask(app.db, library, 'readBack', 0, 0, { everything: true });
