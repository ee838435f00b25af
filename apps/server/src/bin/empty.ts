import { readdir } from 'node:fs/promises';
import path from 'node:path';
import { perform } from '../act/perform';
import { derivedBase, type App } from '../context';
import type { Db } from '../db/open';
import { ask } from '../jobs/jobs';
import { defineJob, type Job } from '../jobs/kind';
import { withFiles } from '../vault/lock';
import { replayMoves } from '../vault/moves';
import { discard, libraryFolder, pruneFolders } from '../vault/vault';
import { unpack, type Packed } from './hanging';

/** How many pictures are removed before others may move or write files in between. */
const AT_ONCE = 50;

/** Has what has been in the bin for as long as it may be go. */
async function lateOnes(app: App, library: number): Promise<void> {
  const late = (db: Db) =>
    db('binned')
      .where({ library_id: library, state: 'in' })
      .whereRaw('at < UTC_TIMESTAMP(3) - INTERVAL (SELECT bin_days FROM libraries WHERE id = ?) DAY', [library]);
  if (!(await late(app.db).first('id'))) return;
  await perform(app, { library, member: null }, 'empty bin', async ({ trx, words, final }) => {
    const rows = await late(trx).forUpdate().select('id', 'bytes');
    await trx('binned')
      .whereIn(
        'id',
        rows.map((row) => row.id),
      )
      .update({ state: 'going' });
    words({ n: rows.length, bytes: rows.reduce((sum, row) => sum + Number(row.bytes), 0) });
    if (rows.length) final();
  });
}

/** Removes what was made of an original, or of how it was shown, unless something else shows the same. */
async function removeDerived(app: App, sha256: Buffer, faces: readonly number[]): Promise<void> {
  for (const face of faces)
    await discard(path.join(app.paths.derived, 'portraits', String(face % 100), `${face}.webp`));
  for (const table of ['pictures', 'binned'] as const)
    if (
      await app
        .db(table)
        .where((q) => void q.where({ sha256 }).orWhere({ view: sha256 }).orWhere({ of_sha: sha256 }))
        .where((q) => void (table === 'binned' && q.where({ state: 'in' })))
        .first('id')
    )
      return;
  const base = derivedBase(app, sha256.toString('hex'));
  for (const name of await readdir(path.dirname(base)).catch(() => []))
    if (name.startsWith(path.basename(base))) await discard(path.join(path.dirname(base), name));
}

/** Whether somebody has a look at an original that is another picture's, or may bring one back. */
const lookAt = async ({ db }: App, of_sha: Buffer): Promise<boolean> =>
  ((await db('pictures').where({ of_sha }).first('id')) ??
    (await db('binned').where({ of_sha }).whereIn('state', ['in', 'going']).first('id'))) !== undefined;

/**
 * Removes one picture for good: its files first, then what is known of them, so that a sudden end in between is repeated and leaves
 * no file that nobody knows of. That it was here is remembered, so that it is not taken in again unasked.
 */
async function remove(app: App, root: string, id: number): Promise<void> {
  const { db } = app;
  const row = await db('binned').where({ id, state: 'going' }).first('sha256', 'kept');
  // An original stays as long as there is a look at it; it goes with the last of them.
  if (!row || (await lookAt(app, row.sha256))) return;
  const files = await db('binned_files').where('picture_id', id).select('file_id', 'vault_path');
  for (const { file_id, vault_path } of files) {
    const file = path.join(root, vault_path);
    await discard(file);
    if (file_id === null) await discard(`${file}.xmp`);
    await pruneFolders(root, path.dirname(vault_path));
  }
  const packed = row.kept && (await unpack<Packed>(row.kept));
  await removeDerived(app, row.sha256, packed ? (packed.along['faces'] ?? []).map((face) => Number(face['id'])) : []);
  const view = packed && (packed.picture['view'] as Buffer | null | undefined);
  if (view) await removeDerived(app, view, []);
  await db.transaction(async (trx) => {
    await trx('binned_files').where('picture_id', id).delete();
    await trx('batch_items').where('picture_id', id).update({ picture_id: null });
    await trx('binned').where('id', id).update({ state: 'gone', kept: null, described: null });
  });
}

/** Removes for good what somebody emptied out of the bin, and what has been in it for as long as it may be. */
export async function emptyOut(app: App, { library, report, signal }: Job): Promise<void> {
  const { db } = app;
  await lateOnes(app, library);
  const { slug } = (await db('libraries').where('id', library).first('slug'))!;
  const root = libraryFolder(app, slug);
  const ids = (
    await db('binned').where({ library_id: library, state: 'going' }).orderByRaw('of_sha IS NULL, id').select('id')
  ).map((r) => r.id);
  for (let done = 0; done < ids.length && !signal.aborted; done += AT_ONCE) {
    await withFiles(app, library, async () => {
      // A file that is just moving has two names.
      const stuck = new Set((await replayMoves(app, library)).map((one) => one.path));
      for (const id of ids.slice(done, done + AT_ONCE)) {
        const held = stuck.size
          ? (await db('binned_files').where('picture_id', id).select('vault_path')).some((f) => stuck.has(f.vault_path))
          : false;
        if (!held) await remove(app, root, id);
      }
    });
    report(Math.min(ids.length, done + AT_ONCE), ids.length);
    app.changed(library, 'bin');
  }
}

/** Asks every library's bin to be looked through for what has been there for as long as it may be. */
export async function askEmpty({ db }: App): Promise<void> {
  for (const { id } of await db('libraries').select('id'))
    if (await db('binned').where('library_id', id).whereIn('state', ['in', 'going']).first('id'))
      await ask(db, id, 'empty');
}

declare module '../jobs/kind' {
  interface JobPayloads {
    empty: null;
  }
}

/** Removing for good what leaves the bin. */
export const emptyJob = defineJob({
  kind: 'empty',
  priority: 9,
  alone: true,
  topic: 'bin',
  run: emptyOut,
});
