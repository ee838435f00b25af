import type { Gone } from '@gemmel/contract';
import { chunks } from '../context';
import type { Db } from '../db/open';
import { notFound } from '../problem';

/** Tables whose rows somebody may speak of by number. */
export type Spoken =
  'pictures' | 'events' | 'people' | 'faces' | 'tags' | 'albums' | 'folders' | 'circles' | 'marks' | 'shelves';

/** Which of some numbers are rows of this library. */
export async function ownIds(db: Db, library: number, table: Spoken, ids: Iterable<number>): Promise<Set<number>> {
  const own = new Set<number>();
  for (const some of chunks([...new Set(ids)], 2000))
    for (const { id } of (await db(table).where('library_id', library).whereIn('id', some).select('id')) as {
      id: number;
    }[])
      own.add(id);
  return own;
}

/** Refuses when one of some numbers is no row of this library. `thing` is what it would be. */
export async function refuseForeign(
  db: Db,
  library: number,
  table: Spoken,
  ids: Iterable<number | null>,
  thing: Gone,
): Promise<void> {
  const wanted = new Set([...ids].filter((id): id is number => id !== null));
  if ((await ownIds(db, library, table, wanted)).size < wanted.size) throw notFound(thing);
}
