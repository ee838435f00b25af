import { numbered, safeFileName } from '@gemmel/core';
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { link, mkdir, open, readdir, rmdir, stat, unlink } from 'node:fs/promises';
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
 * Gives a received file its place in the vault by a hard link, which never overwrites: a taken name gets a running
 * number. Finding the very same file there already (same inode) means that an earlier try got this far.
 * @returns the path below the library's folder.
 */
export async function place(
  root: string,
  file: string,
  folder: string,
  name: string,
  taken: (path: string) => Promise<boolean>,
): Promise<string> {
  const absolute = path.join(root, folder);
  await mkdir(absolute, { recursive: true });
  const own = await stat(file);
  for (let n = 1; ; n++) {
    const relative = path.join(folder, numbered(safeFileName(name), n));
    if (await taken(relative)) continue;
    const target = path.join(root, relative);
    try {
      await link(file, target);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
      const there = await stat(target);
      if (there.ino !== own.ino || there.dev !== own.dev) continue;
    }
    await syncFolder(absolute);
    return relative;
  }
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
