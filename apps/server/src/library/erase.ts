import { readdir, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { derivedBase, type App } from '../context';
import { ask } from '../jobs/jobs';
import { defineJob, type Job } from '../jobs/kind';
import { bookFolder } from '../keep/book';
import { KEEPING } from '../keep/tables';
import { manifestFolder } from '../album/manifest';
import { pieceFolder } from '../piece/folder';
import { musicFolder } from '../show/music';
import { withFiles } from '../vault/lock';
import { discard, libraryFolder } from '../vault/vault';
import { REMOVED_DAYS } from './libraries';

const AT_ONCE = 5000;

/** The folder of the vault that a library's files go to before they go for good: no library can be called so. */
const goingFolder = (app: App, library: number): string => path.join(app.paths.vault, `.going-${library}`);

/** Removes what was made of the originals of a library, unless another library shows the same. */
async function removeDerived(app: App, library: number, signal: AbortSignal): Promise<void> {
  const { db } = app;
  for (let after = 0; ;) {
    const rows = await db('pictures')
      .where('library_id', library)
      .where('id', '>', after)
      .orderBy('id')
      .limit(500)
      .select('id', 'sha256', 'view');
    if (rows.length === 0) return;
    for (const key of rows.flatMap(({ sha256, view }) => (view ? [sha256, view] : [sha256]))) {
      signal.throwIfAborted();
      const others = await db('pictures')
        .whereNot('library_id', library)
        .where((q) => void q.where({ sha256: key }).orWhere({ view: key }))
        .first('id');
      if (others) continue;
      const base = derivedBase(app, key.toString('hex'));
      for (const name of await readdir(path.dirname(base)).catch(() => []))
        if (name.startsWith(path.basename(base))) await discard(path.join(path.dirname(base), name));
    }
    after = rows.at(-1)!.id;
  }
}

/**
 * Removes a library for good: its files first, then every row of it, so that a sudden end in between is repeated and leaves no file that nobody knows
 * of. Its own row goes last, and this work with it.
 */
async function erase(app: App, { library, signal, report }: Job): Promise<void> {
  const { db, config } = app;
  const row = await db('libraries').where('id', library).whereNotNull('erased_at').first('slug', 'home');
  if (!row) return;
  const { slug } = row;
  await removeDerived(app, library, signal);
  // What was made of its pictures: books, films; and what frames were shown, which is made again for those of other libraries.
  for (const { id } of await db('pieces').where('library_id', library).select('id'))
    await rm(pieceFolder(app, id), { recursive: true, force: true });
  await rm(path.join(app.paths.derived, 'frames'), { recursive: true, force: true });
  const going = goingFolder(app, library);
  await withFiles(app, library, async () => {
    // On a disk of its own it is no more than a way there.
    if (row.home) await rm(row.home, { recursive: true, force: true, maxRetries: 3 });
    await rename(libraryFolder(app, slug), going).catch((error: NodeJS.ErrnoException) => {
      // It is on its way already; or nothing ever came in.
      if (error.code !== 'ENOENT' && error.code !== 'ENOTEMPTY' && error.code !== 'EEXIST') throw error;
    });
  });
  for (const folder of [
    going,
    libraryFolder(app, slug),
    bookFolder(config.data, slug),
    manifestFolder(app, slug),
    musicFolder(app, slug),
    path.join(app.paths.aside, slug),
  ])
    await rm(folder, { recursive: true, force: true, maxRetries: 3 });
  const tables = Object.keys(KEEPING).filter((table) => table !== 'libraries' && table !== 'jobs');
  for (const [i, table] of tables.entries()) {
    if (!(await db.schema.hasColumn(table, 'library_id'))) continue;
    for (let gone = AT_ONCE; gone === AT_ONCE;) {
      signal.throwIfAborted();
      gone = await db.transaction(async (trx) => {
        // Everything of it goes: in whatever order.
        await trx.raw('SET SESSION foreign_key_checks = 0');
        try {
          const [{ affectedRows }] = (await trx.raw('DELETE FROM ?? WHERE library_id = ? LIMIT ?', [
            table,
            library,
            AT_ONCE,
          ])) as [{ affectedRows: number }];
          return affectedRows;
        } finally {
          await trx.raw('SET SESSION foreign_key_checks = 1');
        }
      });
    }
    report(i + 1, tables.length);
  }
  await db.transaction(async (trx) => {
    await trx('jobs').where('library_id', library).delete();
    await trx('libraries').where('id', library).delete();
  });
}

declare module '../jobs/kind' {
  interface JobPayloads {
    erase: null;
  }
}

/** Removing a library for good. */
export const eraseJob = defineJob({ kind: 'erase', priority: 9, alone: true, run: erase });

/** Has libraries go for good that were removed long enough ago, or whose end has begun. Any number of processes may ask. */
export async function askErase({ db }: App): Promise<void> {
  await db('libraries')
    .whereNull('erased_at')
    .whereRaw('removed_at < UTC_TIMESTAMP(3) - INTERVAL ? DAY', [REMOVED_DAYS])
    .update({ erased_at: db.raw('UTC_TIMESTAMP(3)') });
  for (const { id } of await db('libraries').whereNotNull('erased_at').select('id')) await ask(db, id, 'erase');
}
