import { randomBytes, randomInt } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, rm } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import type { App } from '../context';
import { addressOf, startMariadb } from '../db/mariadb';
import { openDb, type Db } from '../db/open';
import { ask } from '../jobs/jobs';
import { defineJob, type Job } from '../jobs/kind';
import { Refused, refused } from '../problem';
import { hashFile } from '../vault/vault';
import { loadDump } from './load';
import { houseOnly, openPlace, placeRow } from './places';
import { countBelow, readBack, type Below } from './prove';
import { bringBack, tidyFolder, ResticError, snapshotsOf, type Way } from './restic';
import { beginRun, endRun, stepTo, type RunId } from './runs';
import { DUMP } from './still';
import { whyOf } from './backup';

/** How much is brought back at once, in files and bytes. */
const FILES = 3000;
const BYTES = 1e9;
/** So many pictures are also opened. */
const OPENED = 50;
/** A database that is only asked a few things needs little. */
const SMALL = ['innodb_buffer_pool_size=48M'];

/** A file that a state's database speaks of. */
interface Stored {
  n: number;
  path: string;
  sha256: Buffer;
  bytes: number;
  still: number;
}

/** Starts a database of its own on a state's dump, and hands it over. */
async function withRestored<T>(
  folder: string,
  dump: string,
  signal: AbortSignal,
  act: (db: Db) => Promise<T>,
): Promise<T> {
  const password = randomBytes(18).toString('base64url');
  const base = path.join(folder, 'db');
  const mariadb = await startMariadb(base, password, () => undefined, SMALL);
  const address = addressOf(base, password);
  try {
    await loadDump(address, dump, signal);
    const db = openDb(address, 2);
    try {
      return await act(db);
    } finally {
      await db.destroy();
    }
  } finally {
    await mariadb.stop();
  }
}

/** Ends a database that a sudden end left running. */
export async function endDatabase(base: string): Promise<void> {
  if (!existsSync(path.join(base, 'db.pid'))) return;
  const left = await startMariadb(base, randomBytes(18).toString('base64url'), () => undefined, SMALL).catch(
    () => null,
  );
  await left?.stop();
}

/** Ends what an earlier rehearsal left running, and removes what it left. */
export async function clearAway(folder: string): Promise<void> {
  await endDatabase(path.join(folder, 'db'));
  await rm(folder, { recursive: true, force: true, maxRetries: 3 });
}

const STORED = ['pictures', 'picture_files', 'binned_files']
  .map(
    (table) =>
      `SELECT CONCAT(l.slug, '/', t.vault_path) AS path, t.sha256, t.bytes, ${table === 'pictures' ? "t.kind = 'photo'" : '0'} AS still
       FROM ${table} t JOIN libraries l ON l.id = t.library_id WHERE t.broken_at IS NULL`,
  )
  .join(' UNION ALL ');

/** What came of a rehearsal. */
interface Rehearsed {
  files: number;
  right: number;
  opened: number;
  unopened: number;
}

async function restoreOnTrial(
  way: Way,
  snapshot: string,
  { signal, report }: Pick<Job, 'signal' | 'report'>,
  step: (to: 'originals') => Promise<void>,
): Promise<Rehearsed> {
  const folder = path.join(way.folder, 'trial');
  await clearAway(folder);
  await mkdir(folder, { recursive: true, mode: 0o700 });
  try {
    await bringBack(way, snapshot, [`/${DUMP}`], folder, { signal });
    return await withRestored(folder, path.join(folder, DUMP), signal, async (db) => {
      await step('originals');
      await db.raw(`CREATE TABLE trial_files (n INT UNSIGNED AUTO_INCREMENT PRIMARY KEY) ${STORED} ORDER BY path`);
      const [[{ n }]] = (await db.raw('SELECT COUNT(*) AS n FROM trial_files')) as [[{ n: number }]];
      const files = Number(n);
      const all: Below = new Map();
      for (const { path: at } of (await db('trial_files' as never).select('path')) as { path: string }[])
        countBelow(all, `/vault/${at}`);
      const sum: Rehearsed = { files, right: 0, opened: 0, unopened: 0 };
      let done = 0;
      for (let after = 0; ;) {
        signal.throwIfAborted();
        const [rows] = (await db.raw('SELECT * FROM trial_files WHERE n > ? ORDER BY n LIMIT ?', [after, FILES])) as [
          Stored[],
        ];
        if (rows.length === 0) return sum;
        let bytes = 0;
        const some = rows.filter((one, i) => (bytes += Number(one.bytes)) <= BYTES || i === 0);
        const byPath = new Map(some.map((one) => [`/vault/${one.path}`, one]));
        const { right } = await readBack({ way, snapshot, signal }, [...byPath.keys()], all, async (at, file) => {
          const one = byPath.get(at)!;
          const same = (await hashFile(file).catch(() => null))?.equals(one.sha256) ?? false;
          // Some are opened, too: each with the same chance, as many as there are to be.
          if (same && one.still && randomInt(files) < OPENED * 2 && sum.opened + sum.unopened < OPENED)
            await sharp(file)
              .resize(64)
              .toBuffer()
              .then(
                () => sum.opened++,
                () => sum.unopened++,
              );
          return same;
        });
        sum.right += right;
        report((done += some.length), files);
        after = some.at(-1)!.n;
      }
    });
  } finally {
    await clearAway(folder);
  }
}

/** Restores a place's latest state on trial: its database is started, and every file it speaks of is brought back and compared. */
export async function rehearse(
  app: App,
  { library, about: place, signal, report }: Pick<Job, 'library' | 'about' | 'signal' | 'report'>,
): Promise<void> {
  const row = await placeRow(app, place).catch(() => null);
  if (!row) return;
  const run: RunId = await beginRun(app, row, 'rehearsal');
  try {
    const way = await openPlace(app, row, signal);
    await tidyFolder(way.folder);
    const last = (await snapshotsOf(way, { signal })).at(-1);
    if (!last) throw refused('safe-empty');
    await stepTo(app, run, 'words', {
      snapshot: last.id,
      still_at: last.time.slice(0, 23).replace('T', ' ').replace('Z', ''),
    });
    const { files, right } = await restoreOnTrial(way, last.id, { signal, report }, (to) => stepTo(app, run, to));
    await endRun(app, run, 'done', null, { files, proven: right, wrong: files - right });
  } catch (error) {
    await endRun(app, run, signal.aborted ? 'stopped' : 'failed', signal.aborted ? null : whyOf(error));
    if (!signal.aborted && !(error instanceof Refused) && !(error instanceof ResticError)) throw error;
  } finally {
    app.changed(library, 'safe');
  }
}

declare module '../jobs/kind' {
  interface JobPayloads {
    rehearse: null;
  }
}

/** Restoring on trial. */
export const rehearseJob = defineJob({ kind: 'rehearse', priority: 8, topic: 'safe', run: rehearse });

/** Has a place's latest state restored on trial now. */
export async function askRehearsal(app: App, library: number, place: number): Promise<void> {
  await houseOnly(app, library);
  await placeRow(app, place);
  await ask(app.db, library, 'rehearse', place);
  app.changed(library, 'safe');
}
