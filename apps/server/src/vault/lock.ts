import { reason } from '@gemmel/contract';
import { Failed } from '../problem';
import type { App } from '../context';

/** How long to wait for others that move or write files, in seconds. */
const WAIT = 120;

/**
 * Does something to the files of some libraries while nobody else moves them or writes beside them, in this process or another: a
 * sidecar must not be written to where its picture has just been. The locks are MariaDB's own and end with their connection; they are
 * taken in one order, so that two who want several never wait for each other.
 */
export async function withFilesOf<T>(app: App, libraries: readonly number[], act: () => Promise<T>): Promise<T> {
  const holder = await app.db.transaction();
  const taken: string[] = [];
  try {
    for (const library of [...libraries].sort((a, b) => a - b)) {
      const name = `files ${library}`;
      const [[row]] = (await holder.raw("SELECT GET_LOCK(CONCAT(DATABASE(), ' ', ?), ?) AS got", [name, WAIT])) as [
        [{ got: number | null }],
      ];
      if (row.got !== 1) throw new Failed(reason('in-use'));
      taken.push(name);
    }
    return await act();
  } finally {
    for (const name of taken)
      await holder.raw("SELECT RELEASE_LOCK(CONCAT(DATABASE(), ' ', ?))", [name]).catch(() => undefined);
    await holder.rollback().catch(() => undefined);
  }
}

/** {@link withFilesOf} one library. */
export const withFiles = <T>(app: App, library: number, act: () => Promise<T>): Promise<T> =>
  withFilesOf(app, [library], act);
