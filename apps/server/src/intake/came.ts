import path from 'node:path';
import type { Db } from '../db/open';

/** A picture of a batch with the folder it came from, in the order of time. */
interface Came {
  id: number;
  folder: string;
}

/** The pictures a batch brought, those that were already here included, by time. */
export async function cameWith(db: Db, library: number, batch: number): Promise<Came[]> {
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
