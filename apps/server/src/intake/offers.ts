import path from 'node:path';
import { perform, type Act, type By } from '../act/perform';
import { insertAlbum } from '../album/albums';
import type { App } from '../context';
import { notFound, refused } from '../problem';
import { batchPictures, cameWith } from './came';

interface Offered {
  id: number;
  name: string;
  offer: 'open' | 'made' | 'declined';
  album_id: number | null;
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
      name === null ? null : await insertAlbum(act, name, await batchPictures(act.trx, act.library, batch), { batch });
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
      albums.push(await insertAlbum(act, name, [...new Set(folders.get(folder)!)], { batch }));
    }
    if (albums.length) await act.trx('batches').where('id', batch).update({ offer: 'made', album_id: albums[0] });
    act.words({ name: offered.name, n: albums.length });
    return { albums };
  });
