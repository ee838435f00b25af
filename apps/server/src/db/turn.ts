import type { Db } from './open';

/** How often an act is tried again that got into another's way. */
const TRIES = 4;

/**
 * Does something wholly or not at all. Two acts that wait for each other are found out by the database, which ends one of
 * them; that one is done again.
 */
export async function wholly<T>(db: Db, act: (trx: Db) => Promise<T>): Promise<T> {
  for (let attempt = 1; ; attempt++)
    try {
      return await db.transaction(act);
    } catch (error) {
      if ((error as { code?: string }).code !== 'ER_LOCK_DEADLOCK' || attempt === TRIES) throw error;
    }
}

/**
 * Waits until nobody else does the same kind of act in a library, in this process or another, and keeps others waiting until
 * the transaction ends. To be called first in a transaction.
 */
export async function takeTurn(trx: Db, library: number, act: 'events'): Promise<void> {
  await trx.raw('INSERT INTO turns (library_id, act) VALUES (?, ?) ON DUPLICATE KEY UPDATE act = VALUES(act)', [
    library,
    act,
  ]);
}
