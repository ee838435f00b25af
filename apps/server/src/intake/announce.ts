import { reason } from '@gemmel/contract';
import { pairFiles, type Numbering } from '@gemmel/core';
import { readdir, stat } from 'node:fs/promises';
import path from 'node:path';
import { chunks, type App } from '../context';
import { ask } from '../jobs/jobs';
import { notFound, refused } from '../problem';
import { settleBatch } from './items';

/** A file that is announced: its path as it was dropped or found, and where to read it from when it lies on this machine. */
export interface Announced {
  path: string;
  bytes: number;
  /** When it was last changed where it came from, in ms since 1970. */
  modified?: number | undefined;
  source?: string;
}

/** How a batch comes in. */
export type Way = 'browser' | 'card' | 'watched' | 'phone' | 'folder';

/** What else is known when a batch is opened. */
export interface Opening {
  way?: Way;
  source?: number;
  /** Whether the name is that of its source, to which the day belongs. */
  bySource?: boolean;
  numbering?: Numbering | undefined;
  /** The member who brings it. */
  by?: number;
  /** The share whose guest brings it, what tells guests apart, and whether it waits for the keeper's word. */
  guest?: { share: number; who: Buffer; held: boolean };
  /** Left open for more files to come: a phone that is still delivering. */
  open?: boolean;
}

/** The columns a numbering fills. */
export const numberColumns = (numbering: Numbering | undefined) =>
  numbering
    ? {
        number_base: numbering.base,
        number_start: numbering.start,
        number_digits: numbering.digits,
        number_day: numbering.day,
      }
    : {};

/** Opens a batch by its name; null for files that came without a folder. Files that lie on this machine are taken in at once; the others wait for their bytes. */
export async function openBatch(
  app: App,
  library: number,
  name: string | null,
  files: readonly Announced[],
  opening: Opening = {},
): Promise<{ id: number; items: number[] }> {
  const { db } = app;
  const result = await db.transaction(async (trx) => {
    const [id] = await trx('batches').insert({
      library_id: library,
      name: (name ?? '').slice(0, 160),
      named: name === null ? 'loose' : opening.bySource ? 'source' : 'given',
      way: opening.way ?? 'browser',
      source_id: opening.source ?? null,
      brought_by: opening.by ?? null,
      ...(opening.guest ? { share_id: opening.guest.share, who: opening.guest.who, held: opening.guest.held } : {}),
      ...numberColumns(opening.numbering),
    });
    for (const some of chunks(files, 500))
      await trx('batch_items').insert(
        some.map((f) => ({
          library_id: library,
          batch_id: id!,
          path: f.path,
          source: f.source ?? null,
          bytes: f.bytes,
          modified: f.modified ? Math.round(f.modified) : null,
          state: f.source ? 'received' : 'waiting',
        })),
      );
    const items = (await trx('batch_items').where('batch_id', id!).orderBy('id').select('id')).map((item) => item.id);
    const pairs = pairFiles(files.map((f) => f.path));
    const joined = pairs.flatMap((pair, i) =>
      pair.main === null ? [] : [{ id: items[i]!, role: pair.role, main_id: items[pair.main]! }],
    );
    for (const some of chunks(joined, 500))
      await trx.raw(
        `UPDATE batch_items SET
           role = ELT(FIELD(id, ${marks(some)}), ${marks(some)}),
           main_id = ELT(FIELD(id, ${marks(some)}), ${marks(some)})
         WHERE id IN (${marks(some)})`,
        [
          ...some.map((j) => j.id),
          ...some.map((j) => j.role),
          ...some.map((j) => j.id),
          ...some.map((j) => j.main_id),
          ...some.map((j) => j.id),
        ],
      );
    return { id: id!, items, mains: items.filter((_, i) => pairs[i]!.main === null) };
  });
  if (files.some((f) => f.source)) await ask(db, library, 'intake', result.mains);
  if (files.length === 0 && !opening.open) await settleBatch(app, library, result.id);
  app.changed(library, 'batches', 'library');
  return { id: result.id, items: result.items };
}

const marks = (list: readonly unknown[]) => list.map(() => '?').join(',');

/** Stops a batch: what is stored stays, what waits goes on waiting. */
export async function stopBatch(app: App, library: number, batch: number): Promise<void> {
  const stopped = await app
    .db('batches')
    .where({ id: batch, library_id: library, state: 'coming' })
    .update({ state: 'stopped' });
  if (!stopped) throw refused('not-coming');
  const items = await app.db('batch_items').where({ batch_id: batch, state: 'received' }).select('id');
  for (const some of chunks(items, 500))
    await app
      .db('jobs')
      .where({ library_id: library, kind: 'intake', state: 'ready' })
      .whereIn(
        'about',
        some.map((i) => i.id),
      )
      .delete();
  await ask(app.db, library, 'events');
  app.changed(library, 'batches');
}

/** Goes on with a stopped batch. */
export async function resumeBatch(app: App, library: number, batch: number): Promise<void> {
  const going = await app
    .db('batches')
    .where({ id: batch, library_id: library, state: 'stopped' })
    .update({ state: 'coming' });
  if (!going) throw refused('not-stopped');
  await askReceived(app, library, batch);
  await settleBatch(app, library, batch);
}

/** Asks again for every file of a batch whose bytes are here. */
export async function askReceived(app: App, library: number, batch: number): Promise<void> {
  const items = await app.db('batch_items').where({ batch_id: batch, state: 'received' }).select('id');
  await ask(
    app.db,
    library,
    'intake',
    items.map((i) => i.id),
  );
}

/** Gives up the files of a batch that never came: they are named as left out, and the batch can end. */
export async function giveUpWaiting(app: App, library: number, batch: number): Promise<void> {
  const row = await app.db('batches').where({ id: batch, library_id: library }).first('id');
  if (!row) throw notFound('batch');
  await app
    .db('batch_items')
    .where({ batch_id: batch, state: 'waiting' })
    .update({
      state: 'skipped',
      reason: JSON.stringify(reason('never-arrived')),
      finished_at: app.db.raw('UTC_TIMESTAMP(3)'),
    });
  await app.db('batches').where({ id: batch, state: 'stopped' }).update({ state: 'coming' });
  await askReceived(app, library, batch);
  await settleBatch(app, library, batch);
}

/** Tries everything again that failed or was set aside; answers with how many. */
export async function retryBatch(app: App, library: number, batch: number): Promise<number> {
  const { db } = app;
  const items = await db('batch_items')
    .where({ batch_id: batch, library_id: library })
    .where((q) => q.where('state', 'failed').orWhere((w) => w.where('state', 'skipped').whereNotNull('source')))
    .select('id');
  const ids = items.map((i) => i.id);
  if (ids.length === 0) return 0;
  await db('batch_items').whereIn('id', ids).update({ state: 'received', reason: null, finished_at: null });
  await db('batches').where({ id: batch, library_id: library }).update({ state: 'coming', finished_at: null });
  await db('jobs').where({ library_id: library, kind: 'intake', state: 'failed' }).whereIn('about', ids).delete();
  await ask(db, library, 'intake', ids);
  app.changed(library, 'batches', 'library');
  return ids.length;
}

/** All files below a folder, in order, hidden ones left out. Links are not followed out of it. */
export async function walk(folder: string, most = Infinity): Promise<Announced[]> {
  const found: Announced[] = [];
  const root = path.resolve(folder);
  const visit = async (at: string, depth: number) => {
    if (depth > 40 || found.length >= most) return;
    const entries = await readdir(at, { withFileTypes: true });
    for (const entry of entries.sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }))) {
      if (entry.name.startsWith('.') || found.length >= most) continue;
      const full = path.join(at, entry.name);
      if (entry.isDirectory()) await visit(full, depth + 1);
      else if (entry.isFile()) {
        const info = await stat(full).catch(() => null);
        if (info)
          found.push({
            path: path.join(path.basename(root), path.relative(root, full)),
            bytes: info.size,
            modified: info.mtimeMs,
            source: full,
          });
      }
    }
  };
  await visit(root, 0);
  return found;
}
