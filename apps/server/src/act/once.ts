import { AsyncLocalStorage } from 'node:async_hooks';
import type { App } from '../context';
import type { Db } from '../db/open';

/** The header by which a device names an act that it may send again, because it never heard what became of it. */
export const ONCE = 'x-gemmel-once';

const names = new AsyncLocalStorage<Buffer>();
const NAME = /^[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;
/** How long it is remembered which acts were done, in days: no device is away for longer and still sends. */
const DAYS = 90;

/** The name an act bears in a header, or null. */
export const nameOf = (header: string | undefined): Buffer | null =>
  header && NAME.test(header) ? Buffer.from(header.replaceAll('-', ''), 'hex') : null;

/** Writes down, in the act's own transaction, that the act of this name was done. It fails when it was done before. */
export async function noteOnce(trx: Db, library: number, act: number | null): Promise<void> {
  const name = names.getStore();
  if (!name) return;
  await trx('acts_once').insert({ library_id: library, name, act_id: act });
  await trx.raw('DELETE FROM acts_once WHERE library_id = ? AND at < UTC_TIMESTAMP(3) - INTERVAL ? DAY LIMIT 200', [
    library,
    DAYS,
  ]);
}

/** What became of the act of a name: undefined when it was never done. */
async function doneBefore(db: Db, library: number, name: Buffer): Promise<{ act: number | null } | undefined> {
  const row = await db('acts_once').where({ library_id: library, name }).first('act_id');
  return row && { act: row.act_id };
}

/** Does something in the name a device gave it, once, however often and from how many sides it is sent; answers with the act it became. */
export async function doOnce<T>(
  { db }: Pick<App, 'db'>,
  library: number,
  name: Buffer,
  work: () => Promise<T>,
): Promise<T | { act: number | null }> {
  const before = await doneBefore(db, library, name);
  if (before) return before;
  try {
    return await names.run(name, work);
  } catch (error) {
    // Another request in the same name was quicker.
    const meanwhile = (error as { code?: string }).code === 'ER_DUP_ENTRY' && (await doneBefore(db, library, name));
    if (meanwhile) return meanwhile;
    throw error;
  }
}
