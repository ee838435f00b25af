import { reason } from '@gemmel/contract';
import { metInBin, whyBinned } from '../bin/met';
import type { App } from '../context';
import { ask } from '../jobs/jobs';
import { notFound, refused } from '../problem';
import { stat } from 'node:fs/promises';
import { moveFile } from '../vault/vault';
import { knownWhole } from '../vault/whole';
import { finishItem, incomingFile } from './items';

interface Waiting {
  id: number;
  batch_id: number;
  state: string;
  bytes: number;
  role: string;
  main_id: number | null;
}

/** An announced item that still waits for its bytes; null when it needs them no more. */
export async function waitingItem(app: App, library: number, id: number): Promise<Waiting | null> {
  const item = await app
    .db('batch_items')
    .where({ id, library_id: library })
    .first('id', 'batch_id', 'state', 'bytes', 'role', 'main_id');
  if (!item) throw notFound('file');
  return item.state === 'waiting' ? item : null;
}

/** Takes over the bytes of one announced file that arrived whole, and has it taken in. */
export async function received(app: App, library: number, id: number, file: string): Promise<void> {
  const { db } = app;
  const item = await waitingItem(app, library, id);
  if (!item) return;
  const { size } = await stat(file);
  if (size !== Number(item.bytes)) throw refused('not-whole');
  await moveFile(file, incomingFile(app, id));
  await db('batch_items').where({ id, state: 'waiting' }).update({ state: 'received' });
  // A file whose sidecar arrives last has been waiting for it.
  await ask(db, library, 'intake', item.role === 'said' && item.main_id ? [id, item.main_id] : id);
  app.changed(library, 'batches');
}

/**
 * Hears the fingerprints of files before they are sent: what the library has needs no bytes. Answers with the items that
 * are here already.
 */
export async function fingerprints(
  app: App,
  library: number,
  batch: number,
  prints: readonly { item: number; sha256: string }[],
): Promise<number[]> {
  const { db } = app;
  const known: number[] = [];
  const items = await db('batch_items')
    .where({ batch_id: batch, library_id: library, state: 'waiting' })
    .whereIn(
      'id',
      prints.map((p) => p.item),
    )
    .select('id', 'batch_id');
  const waits = new Map(items.map((item) => [item.id, item]));
  for (const { item, sha256 } of prints) {
    const mine = waits.get(item);
    if (!mine) continue;
    const print = Buffer.from(sha256, 'hex');
    const met = await metInBin(db, library, print);
    if (met) {
      known.push(item);
      await finishItem(app, library, mine, 'skipped', { reason: whyBinned(met), sha256: print });
      continue;
    }
    // What is damaged or gone here is to come again.
    const picture = await knownWhole(app, library, print);
    if (picture === null) continue;
    known.push(item);
    await finishItem(app, library, mine, 'known', {
      picture_id: picture,
      reason: reason('already-here'),
      sha256: print,
    });
  }
  return known;
}
