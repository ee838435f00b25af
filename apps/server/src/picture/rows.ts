import { chunks } from '../context';
import type { Db } from '../db/open';
import { notFound } from '../problem';

/** Columns of some pictures of a library, asked for a thousand at a time; ids that are not in it are left out. */
export async function pictureRows<T>(
  db: Db,
  library: number,
  ids: readonly number[],
  columns: readonly string[],
): Promise<T[]> {
  const rows: T[] = [];
  for (const some of chunks(ids, 1000))
    rows.push(
      ...((await db('pictures')
        .where('library_id', library)
        .whereIn('id', some)
        .select([...columns])) as T[]),
    );
  return rows;
}

/** The same, refused when one of them is not in the library. */
export async function allPictureRows<T>(
  db: Db,
  library: number,
  ids: readonly number[],
  columns: readonly string[],
): Promise<T[]> {
  const rows = await pictureRows<T>(db, library, ids, columns);
  if (rows.length < new Set(ids).size) throw notFound('pictures');
  return rows;
}
