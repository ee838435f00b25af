import { numbered, safeFileName } from '@gemmel/core';
import { createHash, randomBytes } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { copyFile, link, mkdir, open, readdir, rename, rmdir, stat, unlink } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import type { App } from '../context';

/** What came of copying a file in. */
export interface Received {
  sha256: Buffer;
  bytes: number;
}

/** Makes a folder's entries survive a power cut. */
export async function syncFolder(folder: string): Promise<void> {
  const handle = await open(folder, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/** Writes a stream to `file`, hashing on the way, and does not answer before it is safely on disk. */
export async function receive(source: Readable | ReadableStream<Uint8Array>, file: string): Promise<Received> {
  await mkdir(path.dirname(file), { recursive: true });
  const hash = createHash('sha256');
  let bytes = 0;
  const handle = await open(file, 'w');
  try {
    for await (const chunk of source as AsyncIterable<Uint8Array>) {
      hash.update(chunk);
      bytes += chunk.byteLength;
      await handle.writeFile(chunk);
    }
    await handle.sync();
  } catch (error) {
    await handle.close();
    await unlink(file).catch(() => undefined);
    throw error;
  }
  await handle.close();
  return { sha256: hash.digest(), bytes };
}

/** {@link receive} from a file that stays where it is. */
export const receiveFile = (source: string, file: string): Promise<Received> => receive(createReadStream(source), file);

/** The fingerprint of a file on disk, read a piece at a time. */
export async function hashFile(file: string): Promise<Buffer> {
  const hash = createHash('sha256');
  for await (const chunk of createReadStream(file, { highWaterMark: 1 << 20 })) hash.update(chunk as Buffer);
  return hash.digest();
}

/** The folder of a library below the vault. */
export const libraryFolder = (app: App, slug: string): string => path.join(app.paths.vault, slug);

/**
 * Whether two names lead to one and the same file (same inode), or on two disks, where that cannot be, to files of the same bytes; false when one of
 * them leads nowhere.
 */
export async function isSameFile(a: string, b: string): Promise<boolean> {
  const [one, other] = await Promise.all([a, b].map((file) => stat(file, { bigint: true }).catch(() => null)));
  if (!one || !other) return false;
  if (one.dev === other.dev) return one.ino === other.ino;
  return one.size === other.size && (await hashFile(a)).equals(await hashFile(b));
}

/** Copies a file to another disk whole, under a name of its own beside where it is to be, and hands that over. It is gone afterwards. */
async function copiedBeside<T>(file: string, target: string, act: (copy: string) => Promise<T>): Promise<T> {
  const part = `${target}.${process.pid}-${randomBytes(4).toString('hex')}.part`;
  try {
    await copyFile(file, part);
    const handle = await open(part, 'r+');
    try {
      await handle.sync();
    } finally {
      await handle.close();
    }
    return await act(part);
  } finally {
    await unlink(part).catch(() => undefined);
  }
}

/** Moves a file, to another disk, too: there it has its name only once it is whole. */
export async function moveFile(from: string, to: string): Promise<void> {
  try {
    await rename(from, to);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EXDEV') throw error;
    await copiedBeside(from, to, (copy) => rename(copy, to));
    await unlink(from);
  }
}

/**
 * Gives a file a further name by a hard link, which never overwrites. Finding the very same file there already means that an
 * earlier try got this far.
 * @returns false when another file has that name.
 */
export async function linkTo(file: string, target: string): Promise<boolean> {
  await mkdir(path.dirname(target), { recursive: true });
  try {
    await link(file, target).catch((error: NodeJS.ErrnoException) => {
      // A library may lie on a disk of its own: there it is a copy that gets the name.
      if (error.code !== 'EXDEV') throw error;
      return copiedBeside(file, target, (copy) => link(copy, target));
    });
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    if (!(await isSameFile(file, target))) return false;
  }
  await syncFolder(path.dirname(target));
  return true;
}

/** Paths of the vault that may be used for a name: the name itself, then with a running number. */
export function* pathsFor(folder: string, name: string): Generator<string> {
  for (let n = 1; ; n++) yield path.join(folder, numbered(safeFileName(name), n));
}

/**
 * Gives a received file its place in the vault; a taken name gets a running number. `note` hears of each path before it is
 * used, so that a sudden end leaves nothing nobody knows of.
 * @returns the path below the library's folder.
 */
export async function place(
  root: string,
  file: string,
  folder: string,
  name: string,
  taken: (path: string) => Promise<boolean>,
  note: (path: string) => Promise<unknown> = async () => undefined,
): Promise<string> {
  for (const relative of pathsFor(folder, name)) {
    if (await taken(relative)) continue;
    await note(relative);
    if (await linkTo(file, path.join(root, relative))) return relative;
  }
  throw new Error('unreachable');
}

/** Whether any file lies below a folder, however deep. */
export async function holdsFiles(folder: string): Promise<boolean> {
  for (const entry of await readdir(folder, { withFileTypes: true }).catch(() => []))
    if (entry.isDirectory() ? await holdsFiles(path.join(folder, entry.name)) : true) return true;
  return false;
}

/** Removes a file; one that is gone already is fine. */
export async function discard(file: string): Promise<void> {
  await unlink(file).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== 'ENOENT') throw error;
  });
}

/** Removes a folder of the vault and those above it as long as they are empty. */
export async function pruneFolders(root: string, folder: string): Promise<void> {
  for (let at = folder; at && at !== '.'; at = path.dirname(at)) {
    const absolute = path.join(root, at);
    if ((await readdir(absolute).catch(() => ['?'])).length > 0) return;
    await rmdir(absolute).catch(() => undefined);
  }
}
