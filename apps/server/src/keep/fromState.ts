import { reason, type OpenResult } from '@gemmel/contract';
import { mkdir, readdir, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import type { App } from '../context';
import { defineJob, type Job } from '../jobs/kind';
import { Failed } from '../problem';
import { openPlace, placeRow } from '../safe/places';
import { bringBack, type Way } from '../safe/restic';
import { BOOK } from './book';
import { openLibrary } from './open';

const Carried = z.object({ slug: z.string(), state: z.string(), account: z.number().int() });

/** Where a library of an earlier state is brought back to: on the disk of the vault, under a name no library can have. */
export const stateFolder = (app: App, job: number): string => path.join(app.paths.vault, `.state-${job}`);

/**
 * Brings one library of a state back into a folder, in the form of an exported one. A part that the state does not hold is not there.
 * @throws Failed when the state holds no such library.
 */
export async function libraryOfState(
  way: Way,
  state: string,
  slug: string,
  folder: string,
  signal?: AbortSignal,
): Promise<void> {
  const raw = path.join(folder, 'raw');
  await mkdir(raw, { recursive: true, mode: 0o700 });
  await bringBack(way, state, [`/vault/${slug}`, `/said/${slug}`, `/music/${slug}`], raw, {
    ...(signal ? { signal } : {}),
    gentle: false,
  });
  const move = (from: string, to: string) =>
    rename(path.join(raw, from), path.join(folder, to)).catch((error: NodeJS.ErrnoException) => {
      if (error.code !== 'ENOENT') throw error;
    });
  await move(`vault/${slug}`, 'vault');
  await move(`music/${slug}`, 'music');
  await move(`said/${slug}/${BOOK}`, BOOK);
  await rm(raw, { recursive: true, force: true });
  if (!(await readdir(folder)).includes(BOOK)) throw new Failed(reason('no-library-there'));
}

/** Opens a library as it was in an earlier state, as a further one beside what is here: nothing newer is written over. */
async function openState(app: App, job: Job<'openState'>): Promise<OpenResult | null> {
  const { slug, state, account } = job.payload;
  const row = await placeRow(app, job.about).catch(() => null);
  if (!row) return null;
  const folder = stateFolder(app, job.id);
  await rm(folder, { recursive: true, force: true });
  try {
    const way = await openPlace(app, row, job.signal);
    await libraryOfState(way, state, slug, folder, job.signal);
    return await openLibrary(app, job, { from: folder, account }, { taken: true });
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

declare module '../jobs/kind' {
  interface JobPayloads {
    openState: z.infer<typeof Carried>;
  }
}

/** Opening a library as it was in an earlier state. */
export const openStateJob = defineJob({
  kind: 'openState',
  priority: 5,
  topic: 'library',
  keeps: true,
  // Somebody began it and is told at once.
  tries: 1,

  payload: Carried,
  run: openState,
});
