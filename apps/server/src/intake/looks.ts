import { reason } from '@gemmel/contract';
import { open } from 'node:fs/promises';
import { z } from 'zod';
import type { App } from '../context';
import { ask } from '../jobs/jobs';
import { readSidecar } from '../media/metadata';
import { lookColumns } from '../touchup/key';
import { makeLook, makingLooks } from '../touchup/looks';
import { discard } from '../vault/vault';
import { finishItem, type Item } from './items';
import { alreadyHere } from './known';
import { noteAlbums } from './albumsSaid';
import { sayMore } from './words';

/** What the file of a look says: see touchup/looks. */
const Look = z.object({ gemmel: z.literal('look'), v: z.literal(1), of: z.string().regex(/^[0-9a-f]{64}$/) });

/** How long it is waited, in ms, for an original that comes with its look. */
const WAIT = 2000;
/** No look is longer, in bytes. */
const LONGEST = 500;

/** Whose look a file is: the fingerprint of an original; null when it is no look. */
export async function lookIn(file: string): Promise<Buffer | null> {
  const handle = await open(file);
  try {
    const { bytesRead, buffer } = await handle.read(Buffer.alloc(LONGEST), 0, LONGEST, 0);
    if (bytesRead === LONGEST || buffer[0] !== 0x7b) return null;
    const read = Look.safeParse(JSON.parse(buffer.subarray(0, bytesRead).toString()));
    return read.success ? Buffer.from(read.data.of, 'hex') : null;
  } catch {
    return null;
  } finally {
    await handle.close();
  }
}

/**
 * Takes in a look that comes from another library with its original: a picture of its own again, with what its sidecar says. One that
 * is here already is not made twice; one whose original is not here, nor comes with it, is left out. Safe to repeat.
 */
export async function takeLook(
  app: App,
  library: number,
  item: Item,
  file: string,
  of: Buffer,
  sidecars: readonly string[],
): Promise<void> {
  const { db } = app;
  // Asked before the original itself is looked for: one that is stored between the two would be taken for one that never comes.
  const coming = await db('batch_items')
    .where('batch_id', item.batch_id)
    .whereNot('id', item.id)
    .whereIn('state', ['waiting', 'received'])
    .where('path', 'not like', '%.look')
    .first('id');
  const from = await db('pictures').where({ library_id: library, sha256: of }).first();
  if (!from) {
    if (coming) return ask(db, library, 'intake', item.id, WAIT);
    await discard(file);
    return finishItem(app, library, item, 'skipped', { reason: reason('look-alone') });
  }
  const beside = sidecars[0] === undefined ? null : await readSidecar(sidecars[0]);
  const recipe = beside?.said.recipe ?? null;
  const { view } = lookColumns({ ...from, of_sha: of }, recipe);
  const there = await db('pictures').where({ library_id: library, of_sha: of }).where('view', view).first('id');
  if (there) return alreadyHere(app, library, item, file, there.id);
  const name = (item.path.split('/').pop() ?? '').replace(/\.look$/i, '').slice(0, 200);
  const by = { library, member: null };
  // Coming in is no act of anybody's.
  const done = await makingLooks(app, by, async () => {
    // What is said of it stands in its own sidecar.
    const bare = { ...from, title: null, caption: null, mark_id: null, label: null, batch_id: item.batch_id };
    const look = await db.transaction((trx) =>
      makeLook(app, { ...by, trx, born: () => undefined }, bare, recipe, { called: name, alone: true }),
    );
    return { looks: [look] };
  });
  await ask(db, library, 'views');
  const [look] = done.looks as [number];
  if (beside) {
    await sayMore(app, library, item, look, beside.said, [beside.marked], beside.taken);
    await noteAlbums(db, library, item, look, beside.said.albums);
  }
  await discard(file);
  await finishItem(app, library, item, 'stored', { picture_id: look });
}
