import { reason } from '@gemmel/contract';
import { lstat, readlink, rename, stat, symlink, unlink } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import { Failed } from '../problem';
import { libraryFolder, syncFolder } from '../vault/vault';

/** Where files wait that are moved back into the vault, and what was left when a library got another place: no library can be called so. */
export const backFolder = (app: App, library: number): string => path.join(app.paths.vault, `.back-${library}`);
export const leftFolder = (app: App, library: number, n: number): string =>
  path.join(app.paths.vault, `.left-${library}-${n}`);

const kindOf = async (at: string): Promise<'none' | 'folder' | 'way'> => {
  const info = await lstat(at).catch(() => null);
  return info === null ? 'none' : info.isSymbolicLink() ? 'way' : 'folder';
};

/**
 * Has the name of a library's folder lead to where the database says it lies. What is there under that name is put aside, never over anything. Ended anywhere, it
 * is brought to its end by being called again.
 */
export async function settleHome(app: App, library: number, slug: string, home: string | null): Promise<void> {
  const at = libraryFolder(app, slug);
  const back = backFolder(app, library);
  for (let n = 0; ; n++) {
    const kind = await kindOf(at);
    if (home !== null && kind === 'way' && (await readlink(at)) === home) return;
    if (home === null && kind === 'folder') return;
    const backIsThere = (await lstat(back).catch(() => null)) !== null;
    // A way that nobody knows of leads to originals all the same: it stays until there is something in its stead.
    if (kind === 'way' && home === null && !backIsThere) return;
    if (kind === 'way') await unlink(at);
    else if (kind === 'folder') {
      if (await lstat(leftFolder(app, library, n)).catch(() => null)) continue;
      await rename(at, leftFolder(app, library, n));
    }
    // Somebody may have made a folder there in this very moment.
    try {
      if (home !== null) await symlink(home, at);
      else if (backIsThere) await rename(back, at);
      else return;
    } catch (error) {
      if (!['EEXIST', 'ENOTEMPTY', 'ENOTDIR'].includes((error as NodeJS.ErrnoException).code ?? '')) throw error;
    }
    await syncFolder(app.paths.vault);
  }
}

/** Whether a library's disk is there: one that lies within the vault always is. */
export async function isThere(app: App, slug: string): Promise<boolean> {
  const at = libraryFolder(app, slug);
  return (await kindOf(at)) !== 'way' || (await stat(at).catch(() => null)) !== null;
}

/** @throws Failed while the disk of a library is away: then nothing of it is missing, and nothing is mended. */
export async function needDisk(app: App, slug: string): Promise<void> {
  if (!(await isThere(app, slug))) throw new Failed(reason('disk-away'));
}
