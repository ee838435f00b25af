import { reason, type MoveResult } from '@gemmel/contract';
import { lstat, mkdir, readFile, realpath, rename, rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import type { App } from '../context';
import { pathTaken } from '../intake/items';
import { defineJob, type Job } from '../jobs/kind';
import { Failed } from '../problem';
import { withFiles } from '../vault/lock';
import { libraryFolder, syncFolder } from '../vault/vault';
import { copyWhole, NotTheSame } from './copying';
import { backFolder, leftFolder, needDisk, settleHome } from './home';
import { filesBelow, type FileBelow } from '../vault/below';

/** Where it is to lie: a folder of another disk; null for within the vault again. */
const Carried = z.object({ to: z.string().nullable() });

/** A file that tells whose folder on another disk this is. */
const MARK = '.gemmel-library';
const ownMark = (folder: string): Promise<string | null> => readFile(path.join(folder, MARK), 'utf8').catch(() => null);

/** What a moved library is called on its way. */
const COMING = '.coming';

/** The files of a library by where they lie, hidden and half written ones left out. */
const filesIn = (root: string) =>
  filesBelow(root, (way, folder) => path.basename(way).startsWith('.') || (!folder && way.endsWith('.part')));

const bytesOf = (files: ReadonlyMap<string, FileBelow>): number =>
  [...files.values()].reduce((sum, { bytes }) => sum + bytes, 0);

/** The fingerprints of a library's files, by where they lie. */
async function printsOf({ db }: App, library: number): Promise<Map<string, Buffer>> {
  const prints = new Map<string, Buffer>();
  for (const table of ['pictures', 'picture_files', 'binned_files'] as const)
    for (const { vault_path, sha256 } of await db(table)
      .where('library_id', library)
      .whereNull('broken_at')
      .select('vault_path', 'sha256'))
      prints.set(vault_path, sha256);
  return prints;
}

/** Makes one folder like another: what is not there yet is copied and compared, what is no longer in the first is removed. */
async function alike(
  app: App,
  { library, signal, report }: Pick<Job, 'library' | 'signal' | 'report'>,
  from: string,
  to: string,
): Promise<void> {
  const [files, prints] = [await filesIn(from), await printsOf(app, library)];
  const of = bytesOf(files);
  let done = 0;
  for (const [file, { bytes }] of files) {
    signal.throwIfAborted();
    await copyWhole(path.join(from, file), path.join(to, file), prints.get(file) ?? null).catch((error: unknown) => {
      const { code } = error as NodeJS.ErrnoException;
      // It has just moved to another folder: it is met there the next time round.
      if (code === 'ENOENT') return;
      if (code === 'ENOSPC') throw new Failed(reason('no-room-there'));
      if (error instanceof NotTheSame) throw new Failed(reason('not-as-stored', { paths: file }));
      throw error;
    });
    report(Math.min((done += bytes), of), of);
  }
  for (const file of (await filesIn(to)).keys())
    if (!(await stat(path.join(from, file)).catch(() => null))) await rm(path.join(to, file), { force: true });
}

/** Brings what still came into the old folder while the new one got its name over, and removes the old one. */
async function clearLeft(app: App, library: number, left: string, now: string): Promise<void> {
  const taken = pathTaken(app.db, library);
  for (const file of (await filesIn(left)).keys())
    if ((await taken(file.replace(/\.xmp$/, ''))) && !(await stat(path.join(now, file)).catch(() => null)))
      await copyWhole(path.join(left, file), path.join(now, file), null);
  await rm(left, { recursive: true, force: true, maxRetries: 3 });
}

/** Folders that old places of a library were left in. */
async function leftOf(app: App, library: number): Promise<string[]> {
  const all: string[] = [];
  for (let n = 0; n < 100; n++) {
    const at = leftFolder(app, library, n);
    if (await lstat(at).catch(() => null)) all.push(at);
  }
  return all;
}

/**
 * Moves a library's originals, with all that is written beside them, to another disk, or back. Everybody works on meanwhile; only for the moment in which
 * the name changes nothing is moved or written. Each file is compared with its fingerprint on the way, and the old place goes only when the new
 * one is whole. Cut anywhere, it goes on where it was.
 */
export async function moveLibrary(
  app: App,
  job: Pick<Job, 'library' | 'signal' | 'report'>,
  to: string | null,
): Promise<MoveResult> {
  const { db } = app;
  const { library } = job;
  const { slug, home } = (await db('libraries').where('id', library).first('slug', 'home'))!;
  const target = to === null ? null : path.join(to, slug);
  await settleHome(app, library, slug, home);
  if (home !== target) {
    await needDisk(app, slug);
    const from = await realpath(libraryFolder(app, slug)).catch(() => libraryFolder(app, slug));
    const mark = `${app.config.secrets.links.slice(0, 8)} ${library}\n`;
    const staging = target === null ? backFolder(app, library) : `${target}${COMING}`;
    if (target !== null) {
      if (!(await stat(to!).catch(() => null))?.isDirectory()) throw new Failed(reason('no-folder-there'));
      const real = await realpath(to!);
      if (`${real}/`.startsWith(`${await realpath(app.config.data)}/`)) throw new Failed(reason('same-place'));
      // It had its name already when it was cut: then it is on its way still.
      if ((await ownMark(target)) === mark) await rename(target, staging);
      else if (await lstat(target).catch(() => null)) throw new Failed(reason('not-empty-there'));
    }
    await mkdir(staging, { recursive: true, mode: 0o700 });
    await writeFile(path.join(staging, MARK), mark);
    await alike(app, job, from, staging);
    await withFiles(app, library, async () => {
      await alike(app, job, from, staging);
      if (target !== null) {
        await rename(staging, target);
        await syncFolder(to!);
      }
      // From here on it lies there, whatever happens: a name that does not lead there yet is put right at the next start.
      await db('libraries').where('id', library).update({ home: target });
      await settleHome(app, library, slug, target);
    });
    if (home !== null) await clearLeft(app, library, home, libraryFolder(app, slug));
  }
  for (const left of await leftOf(app, library)) await clearLeft(app, library, left, libraryFolder(app, slug));
  app.changed(library, 'library');
  const files = await filesIn(libraryFolder(app, slug) + path.sep);
  return {
    to: target,
    files: files.size,
    bytes: bytesOf(files),
    at: new Date().toISOString(),
  };
}

/** Puts names of libraries right that a sudden end left leading nowhere. Called before anything else is done with their files. */
export async function settleHomes(app: App): Promise<void> {
  for (const { id, slug, home } of await app.db('libraries').select('id', 'slug', 'home'))
    await settleHome(app, id, slug, home);
}

declare module '../jobs/kind' {
  interface JobPayloads {
    moveLibrary: z.infer<typeof Carried>;
  }
}

/** Moving a library to another disk. */
export const moveJob = defineJob({
  kind: 'moveLibrary',
  priority: 6,
  alone: true,
  topic: 'library',
  keeps: true,
  // Somebody began it and is told at once.
  tries: 1,
  payload: Carried,
  run: (app, job) => moveLibrary(app, job, job.payload.to),
});
