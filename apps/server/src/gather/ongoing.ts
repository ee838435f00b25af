import { pairFiles, pairKey } from '@gemmel/core';
import { ownName } from '../running';
import { createHash } from 'node:crypto';
import { chunks, type App } from '../context';
import { ask } from '../jobs/jobs';
import { openBatch, type Announced, type Way } from '../intake/announce';

/** A device that goes on delivering within this time adds to its last batch, in minutes. */
const SAME_BATCH_MINUTES = 30;

/** One delivery at a time for each source: two files at one moment must not open two batches. */
const turns = new Map<number, Promise<unknown>>();

/** Runs something when its source's turn comes. */
export function inTurn<T>(source: number, act: () => Promise<T>): Promise<T> {
  const mine = (turns.get(source) ?? Promise.resolve()).catch(() => undefined).then(act);
  turns.set(source, mine);
  return mine;
}

/** The batch a source is delivering into: its last one while that is fresh, else a new one. */
async function batchFor(app: App, library: number, source: { id: number; name: string }, way: Way): Promise<number> {
  const { db } = app;
  const last = await db('batches')
    .where({ library_id: library, source_id: source.id })
    .whereNot('state', 'stopped')
    .whereNot('offer', 'made')
    .whereRaw('COALESCE(finished_at, UTC_TIMESTAMP(3)) > UTC_TIMESTAMP(3) - INTERVAL ? MINUTE', [SAME_BATCH_MINUTES])
    .orderBy('id', 'desc')
    .first('id');
  if (last) return last.id;
  return (await openBatch(app, library, source.name, [], { way, source: source.id, bySource: true, open: true })).id;
}

/** What files that may belong together have in common, short. */
const pairHash = (path: string): Buffer => createHash('sha256').update(pairKey(path)).digest().subarray(0, 8);

/**
 * Adds files to the batch a source is delivering into, and finds which of them belong together, those that came before
 * included. Files without a `source` must have been put where {@link incomingFile} says before `begin` is called.
 */
export async function deliver(
  app: App,
  library: number,
  source: { id: number; name: string },
  way: Way,
  files: readonly Announced[],
): Promise<{ batch: number; items: number[]; begin: () => Promise<void> }> {
  const { db } = app;
  const batch = await batchFor(app, library, source, way);
  const items: number[] = [];
  for (const file of files) {
    const [id] = await db('batch_items').insert({
      library_id: library,
      batch_id: batch,
      path: file.path,
      source: file.source ?? null,
      bytes: file.bytes,
      modified: file.modified ? Math.round(file.modified) : null,
      pair: pairHash(file.path),
      owner: ownName(),
      state: 'waiting',
    });
    items.push(id!);
  }
  await db('batches').where('id', batch).update({ state: 'coming', finished_at: null });
  const all: { id: number; path: string }[] = [];
  for (const some of chunks([...new Set(files.map((file) => pairHash(file.path).toString('hex')))], 500))
    all.push(
      ...(await db('batch_items')
        .where('batch_id', batch)
        .where((q) =>
          q
            .whereIn(
              'pair',
              some.map((hex) => Buffer.from(hex, 'hex')),
            )
            // Noted before files had a key.
            .orWhereNull('pair'),
        )
        .orderBy('id')
        .select('id', 'path')),
    );
  const fresh = new Set(items);
  const pairs = pairFiles(all.map((row) => row.path));
  for (const [i, pair] of pairs.entries())
    if (pair.main !== null && fresh.has(all[i]!.id))
      await db('batch_items').where('id', all[i]!.id).update({ role: pair.role, main_id: all[pair.main]!.id });
  const begin = async () => {
    for (const some of chunks(items, 500))
      await db('batch_items').whereIn('id', some).where('state', 'waiting').update({ state: 'received' });
    await ask(db, library, 'intake', items);
    app.changed(library, 'batches', 'library', 'sources');
  };
  return { batch, items, begin };
}
