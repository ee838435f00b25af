import path from 'node:path';
import { perform, type Act, type By } from '../act/perform';
import { insertAlbum } from '../album/albums';
import type { App } from '../context';
import type { Db } from '../db/open';
import { notFound, refused } from '../problem';

interface Offered {
  id: number;
  name: string;
  offer: 'open' | 'made' | 'declined';
  album_id: number | null;
}

/** A picture of a batch with the folder it came from, in the order of time. */
interface Came {
  id: number;
  folder: string;
}

async function cameWith(db: Db, library: number, batch: number): Promise<Came[]> {
  const rows = (await db('batch_items as i')
    .join('pictures as p', 'p.id', 'i.picture_id')
    .where({ 'i.batch_id': batch, 'i.library_id': library })
    .orderByRaw('p.taken_local IS NULL, p.taken_local, p.id')
    .select('p.id', 'i.path')) as { id: number; path: string }[];
  return rows.map((row) => ({ id: row.id, folder: path.dirname(row.path) }));
}

/** Every picture a batch brought, those that were already here included: an album of it is meant to be whole. */
export async function batchPictures(db: Db, library: number, batch: number): Promise<number[]> {
  return [...new Set((await cameWith(db, library, batch)).map((row) => row.id))];
}

/** The folders of a batch that hold pictures, with how many, in order of their names. */
export async function batchFolders(
  app: App,
  library: number,
  batch: number,
): Promise<{ folder: string; pictures: number }[]> {
  const count = new Map<string, Set<number>>();
  for (const { id, folder } of await cameWith(app.db, library, batch))
    count.set(folder, (count.get(folder) ?? new Set()).add(id));
  return [...count]
    .map(([folder, ids]) => ({ folder, pictures: ids.size }))
    .sort((a, b) => a.folder.localeCompare(b.folder, 'en', { numeric: true }));
}

async function openOffer({ trx, library, hold }: Act, batch: number): Promise<Offered> {
  await hold('batches', [batch]);
  const row = await trx('batches').where({ id: batch, library_id: library }).first();
  if (!row) throw notFound('batch');
  const made =
    row.offer === 'made' && (await trx('albums').where('batch_id', batch).whereNull('removed_at').first('id'));
  if (made) throw refused('album-made');
  return row;
}

/** Answers a batch's offer: makes the album, or declines with null. */
export const answerOffer = (
  app: App,
  by: By,
  batch: number,
  name: string | null,
): Promise<{ album: number | null; act: number | null }> =>
  perform(app, by, name === null ? 'decline album' : 'make album', async (act) => {
    const offered = await openOffer(act, batch);
    const album =
      name === null ? null : await insertAlbum(act, name, await batchPictures(act.trx, act.library, batch), batch);
    await act
      .trx('batches')
      .where('id', batch)
      .update({ offer: album ? 'made' : 'declined', album_id: album });
    act.words({ name: name ?? offered.name });
    return { album };
  });

/** Makes one album for each folder of a batch that holds pictures; answers with their ids. */
export const albumsPerFolder = (app: App, by: By, batch: number): Promise<{ albums: number[]; act: number | null }> =>
  perform(app, by, 'make albums', async (act) => {
    const offered = await openOffer(act, batch);
    const folders = new Map<string, number[]>();
    for (const { id, folder } of await cameWith(act.trx, act.library, batch)) {
      const list = folders.get(folder);
      if (list) list.push(id);
      else folders.set(folder, [id]);
    }
    const names = [...folders.keys()];
    const albums: number[] = [];
    for (const folder of names.sort((a, b) => a.localeCompare(b, 'en', { numeric: true }))) {
      const own = path.basename(folder);
      // Two folders of one name in different places are told apart by the folder above them.
      const twin = names.some((other) => other !== folder && path.basename(other) === own);
      const name = twin ? folder.split('/').slice(-2).join(', ') : own;
      albums.push(await insertAlbum(act, name, [...new Set(folders.get(folder)!)], batch));
    }
    if (albums.length) await act.trx('batches').where('id', batch).update({ offer: 'made', album_id: albums[0] });
    act.words({ name: offered.name, n: albums.length });
    return { albums };
  });
