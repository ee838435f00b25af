import type { Batch } from '@gemmel/contract';
import { readdir, stat } from 'node:fs/promises';
import path from 'node:path';
import type { Readable } from 'node:stream';
import { makePlainAlbum } from '../album/albums';
import { chunks, type App } from '../context';
import { ask } from '../jobs/jobs';
import { notFound, Refused } from '../problem';
import { discard, receive } from '../vault/vault';
import { finishItem, incomingFile, pictureOf, settleBatch } from './intake';

/** A file that is announced: its path as it was dropped or found, and where to read it from when it lies on this machine. */
export interface Announced {
  path: string;
  bytes: number;
  source?: string;
}

/** Opens a batch. Files that lie on this machine are taken in at once; the others wait for their bytes. */
export async function openBatch(
  app: App,
  library: number,
  name: string,
  files: readonly Announced[],
): Promise<{ id: number; items: number[] }> {
  const { db } = app;
  const result = await db.transaction(async (trx) => {
    const [id] = await trx('batches').insert({ library_id: library, name: name.slice(0, 160) });
    for (const some of chunks(files, 500))
      await trx('batch_items').insert(
        some.map((f) => ({
          library_id: library,
          batch_id: id!,
          path: f.path,
          source: f.source ?? null,
          bytes: f.bytes,
          state: f.source ? 'received' : 'waiting',
        })),
      );
    const items = (await trx('batch_items').where('batch_id', id!).orderBy('id').select('id')) as { id: number }[];
    return { id: id!, items: items.map((item) => item.id) };
  });
  if (files.some((f) => f.source)) await ask(db, library, 'intake', result.items);
  if (files.length === 0) await settleBatch(app, library, result.id);
  app.changed(library, 'batches', 'library');
  return result;
}

/** Receives the bytes of one announced file and has it taken in. Sending the same item again replaces what was cut off. */
export async function receiveItem(
  app: App,
  library: number,
  batch: number,
  id: number,
  body: Readable | ReadableStream<Uint8Array> | null,
): Promise<'received' | 'known' | 'over'> {
  const { db } = app;
  const item = (await db('batch_items')
    .where({ id, batch_id: batch, library_id: library })
    .first('id', 'batch_id', 'state', 'bytes')) as
    { id: number; batch_id: number; state: string; bytes: number } | undefined;
  if (!item) throw notFound('This file of the batch');
  if (item.state !== 'waiting') return 'over';
  const file = incomingFile(app, id);
  let received;
  try {
    received = await receive(body ?? new ReadableStream({ start: (c) => c.close() }), file);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC')
      throw new Refused(507, 'The disk is full. What is stored is safe; make room and send the rest again.');
    throw error;
  }
  if (received.bytes !== Number(item.bytes)) {
    await discard(file);
    throw new Refused(400, 'The file did not arrive whole. Nothing is lost; send it again.');
  }
  const known = await pictureOf(db, library, received.sha256);
  if (known) {
    await discard(file);
    await finishItem(app, library, item, 'known', {
      picture_id: known,
      reason: 'is already here',
      sha256: received.sha256,
    });
    return 'known';
  }
  await db('batch_items').where({ id, state: 'waiting' }).update({ state: 'received', sha256: received.sha256 });
  await ask(db, library, 'intake', id);
  app.changed(library, 'batches');
  return 'received';
}

/** Stops a batch: what is stored stays, what waits goes on waiting. */
export async function stopBatch(app: App, library: number, batch: number): Promise<void> {
  const stopped = await app
    .db('batches')
    .where({ id: batch, library_id: library, state: 'coming' })
    .update({ state: 'stopped' });
  if (!stopped) throw new Refused(409, 'This batch is not coming in any more.');
  const items = (await app.db('batch_items').where({ batch_id: batch, state: 'received' }).select('id')) as {
    id: number;
  }[];
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

/** Goes on with a stopped batch. Files whose bytes never came are given up, by name. */
export async function resumeBatch(app: App, library: number, batch: number): Promise<void> {
  const going = await app
    .db('batches')
    .where({ id: batch, library_id: library, state: 'stopped' })
    .update({ state: 'coming' });
  if (!going) throw new Refused(409, 'This batch was not stopped.');
  const items = (await app.db('batch_items').where({ batch_id: batch, state: 'received' }).select('id')) as {
    id: number;
  }[];
  await ask(
    app.db,
    library,
    'intake',
    items.map((i) => i.id),
  );
  await settleBatch(app, library, batch);
}

interface Row {
  id: number;
  name: string;
  state: Batch['state'];
  offer: Batch['offer'];
  album_id: number | null;
  created_at: string;
}

/** The latest batches with their counts, what was left out and why, and how long the rest will take. */
export async function listBatches(app: App, library: number, most = 30): Promise<Batch[]> {
  const { db } = app;
  // An album that was removed again opens the offer once more.
  const rows = (await db('batches as b')
    .leftJoin('albums as a', (on) => on.on('a.id', 'b.album_id').andOnNull('a.removed_at'))
    .where('b.library_id', library)
    .orderBy('b.id', 'desc')
    .limit(most)
    .select(
      'b.id',
      'b.name',
      'b.state',
      'b.created_at',
      'a.id as album_id',
      db.raw("IF(b.offer = 'made' AND a.id IS NULL, 'open', b.offer) AS offer"),
    )) as Row[];
  const ids = rows.map((row) => row.id);
  if (ids.length === 0) return [];
  const counts = (await db('batch_items')
    .whereIn('batch_id', ids)
    .groupBy('batch_id', 'state')
    .select('batch_id', 'state', db.raw('COUNT(*) AS n, SUM(bytes) AS bytes'))) as unknown as {
    batch_id: number;
    state: keyof Batch['counts'];
    n: number;
    bytes: number;
  }[];
  // How fast it goes: what was finished within the last half minute.
  const [recent] = (await db.raw(
    `SELECT batch_id, COUNT(*) AS n, TIMESTAMPDIFF(MICROSECOND, MIN(finished_at), UTC_TIMESTAMP(3)) / 1e6 AS seconds FROM batch_items
     WHERE batch_id IN (${ids.map(() => '?').join(',')}) AND finished_at > UTC_TIMESTAMP(3) - INTERVAL 30 SECOND GROUP BY batch_id`,
    ids,
  )) as [{ batch_id: number; n: number; seconds: number }[]];
  const result: Batch[] = [];
  for (const row of rows) {
    const count: Batch['counts'] = {
      total: 0,
      waiting: 0,
      received: 0,
      stored: 0,
      known: 0,
      skipped: 0,
      aside: 0,
      failed: 0,
    };
    let bytes = 0;
    for (const c of counts.filter((one) => one.batch_id === row.id)) {
      count[c.state] = Number(c.n);
      count.total += Number(c.n);
      bytes += Number(c.bytes);
    }
    const left = count.waiting + count.received;
    const pace = recent.find((r) => r.batch_id === row.id);
    const leftOut = (await db('batch_items')
      .where('batch_id', row.id)
      .whereIn('state', ['skipped', 'aside', 'failed', 'known'])
      .orderByRaw("FIELD(state, 'failed', 'aside', 'skipped', 'known')")
      .limit(50)
      .select('id', 'path', 'state', 'reason')) as Batch['leftOut'];
    const covers = (await db('pictures')
      .where({ library_id: library, batch_id: row.id })
      .orderBy('rating', 'desc')
      .limit(4)
      .select('sha256')) as { sha256: Buffer }[];
    result.push({
      id: row.id,
      name: row.name,
      state: row.state,
      counts: count,
      share: count.total ? (count.total - left) / count.total : 1,
      secondsLeft:
        row.state === 'coming' && left && pace && Number(pace.n) >= 3
          ? Math.ceil((left * Number(pace.seconds)) / Number(pace.n))
          : null,
      bytes,
      createdAt: `${row.created_at.replace(' ', 'T')}Z`,
      offer: row.offer,
      albumId: row.album_id,
      leftOut: leftOut.map((one) => ({ ...one, reason: one.reason ?? 'could not be taken in' })),
      covers: covers.map((c) => c.sha256.toString('hex')),
    });
  }
  return result;
}

/** Every picture a batch brought, those that were already here included: an album of it is meant to be whole. */
export async function batchPictures(app: App, library: number, batch: number): Promise<number[]> {
  const rows = (await app
    .db('batch_items as i')
    .join('pictures as p', 'p.id', 'i.picture_id')
    .where({ 'i.batch_id': batch, 'i.library_id': library })
    .orderByRaw('p.taken_local IS NULL, p.taken_local, p.id')
    .distinct('p.id', 'p.taken_local')) as { id: number }[];
  return [...new Set(rows.map((row) => row.id))];
}

/** Answers a batch's offer: makes the album, or declines with null. */
export async function answerOffer(
  app: App,
  library: number,
  batch: number,
  name: string | null,
): Promise<number | null> {
  const row = (await app.db('batches').where({ id: batch, library_id: library }).first()) as Row | undefined;
  if (!row) throw notFound('This batch');
  const made =
    row.offer === 'made' && (await app.db('albums').where('id', row.album_id).whereNull('removed_at').first('id'));
  if (made) throw new Refused(409, 'The album of this batch is already made.');
  const album =
    name === null ? null : await makePlainAlbum(app, library, name, await batchPictures(app, library, batch));
  await app
    .db('batches')
    .where('id', batch)
    .update({ offer: album ? 'made' : 'declined', album_id: album });
  app.changed(library, 'batches', 'albums', 'library');
  return album;
}

/** All files below a folder, in order, hidden ones left out. */
export async function walk(folder: string): Promise<Announced[]> {
  const found: Announced[] = [];
  const visit = async (at: string) => {
    const entries = await readdir(at, { withFileTypes: true });
    for (const entry of entries.sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }))) {
      if (entry.name.startsWith('.')) continue;
      const full = path.join(at, entry.name);
      if (entry.isDirectory()) await visit(full);
      else if (entry.isFile() && !entry.name.toLowerCase().endsWith('.xmp'))
        found.push({
          path: path.join(path.basename(folder), path.relative(folder, full)),
          bytes: (await stat(full)).size,
          source: full,
        });
    }
  };
  await visit(path.resolve(folder));
  return found;
}
