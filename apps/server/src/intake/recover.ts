import { readdir, stat } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import { ask } from '../jobs/jobs';
import { clearGuestParts } from '../share/guestCopy';
import { mayLive, ownName } from '../running';
import { discard } from '../vault/vault';
import { incomingFile, settleBatch } from './items';
import { received as takeOver } from './receive';

/**
 * Puts right what a sudden end left half done: files that were announced from this machine and not yet begun, deliveries
 * whose bytes are here, uploads that were whole but not yet taken over, and leftovers nobody waits for. What another process
 * that is still at work is receiving is left to it.
 */
export async function recover(app: App): Promise<void> {
  const { db } = app;
  await clearGuestParts(app);
  const waiting = (await db('batch_items as i')
    .join('batches as b', 'b.id', 'i.batch_id')
    .where('i.state', 'waiting')
    .whereNot('b.way', 'browser')
    .select('i.id', 'i.library_id', 'i.batch_id', 'i.source', 'i.bytes', 'i.owner', 'b.way')) as {
    id: number;
    library_id: number;
    batch_id: number;
    source: string | null;
    bytes: number;
    owner: string | null;
    way: string;
  }[];
  const me = ownName();
  for (const item of waiting) {
    // Whoever is receiving it just now goes on by itself.
    if (item.owner && item.owner !== me && mayLive(item.owner)) continue;
    const info = item.source ? null : await stat(incomingFile(app, item.id)).catch(() => null);
    if (item.source || info?.size === Number(item.bytes)) {
      await db('batch_items').where('id', item.id).update({ state: 'received' });
      await ask(db, item.library_id, 'intake', item.id);
    } else if (item.way === 'phone') {
      // The phone was never told that it arrived, so it will send it again.
      await db('source_files').where('item_id', item.id).update({ item_id: null, sha256: null });
      await db('batch_items').where('id', item.id).delete();
      await settleBatch(app, item.library_id, item.batch_id);
    }
  }
  // Whatever is here and not done is asked for once more; what is asked for already stays one piece of work.
  const received = (await db('batch_items as i')
    .join('batches as b', 'b.id', 'i.batch_id')
    .where({ 'i.state': 'received', 'b.state': 'coming' })
    .select('i.id', 'i.library_id')) as { id: number; library_id: number }[];
  for (const library of new Set(received.map((item) => item.library_id)))
    await ask(
      db,
      library,
      'intake',
      received.filter((item) => item.library_id === library).map((item) => item.id),
    );
  const open = await db('batches').where('state', 'coming').select('id', 'library_id');
  for (const batch of open) await settleBatch(app, batch.library_id, batch.id);
  for (const name of await readdir(app.paths.uploads).catch(() => [])) {
    if (name.endsWith('.part')) await discard(path.join(app.paths.uploads, name));
    if (!/^\d+$/.test(name)) continue;
    const file = path.join(app.paths.uploads, name);
    const item = await db('batch_items').where('id', Number(name)).first('id', 'library_id', 'state', 'bytes');
    const info = await stat(file).catch(() => null);
    if (item?.state === 'waiting' && info?.size === Number(item.bytes))
      await takeOver(app, item.library_id, item.id, file);
    else if (item?.state === 'waiting') continue;
    else await discard(file);
    await discard(`${file}.json`);
  }
}
