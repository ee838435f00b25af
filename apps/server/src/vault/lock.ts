import { reason } from '@gemmel/contract';
import { Failed } from '../problem';
import type { App } from '../context';

/** How long to wait for others that move or write files, in seconds. */
const WAIT = 120;

/**
 * Does something to the files of a library while nobody else moves them or writes beside them, in this process or another: a
 * sidecar must not be written to where its picture has just been. The lock is MariaDB's own and ends with its connection.
 */
export async function withFiles<T>(app: App, library: number, act: () => Promise<T>): Promise<T> {
  const name = `files ${library}`;
  const holder = await app.db.transaction();
  try {
    const [[row]] = (await holder.raw("SELECT GET_LOCK(CONCAT(DATABASE(), ' ', ?), ?) AS got", [name, WAIT])) as [
      [{ got: number | null }],
    ];
    if (row.got !== 1) throw new Failed(reason('in-use'));
    return await act();
  } finally {
    await holder.raw("SELECT RELEASE_LOCK(CONCAT(DATABASE(), ' ', ?))", [name]).catch(() => undefined);
    await holder.rollback().catch(() => undefined);
  }
}
