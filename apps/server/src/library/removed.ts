import type { Db } from '../db/open';

/** Whether a library was removed: nobody reaches it then, whatever they hold, until it is brought back. */
export async function isRemoved(db: Db, library: number): Promise<boolean> {
  return (await db('libraries').where('id', library).whereNotNull('removed_at').first('id')) !== undefined;
}
