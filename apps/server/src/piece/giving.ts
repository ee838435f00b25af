import { makeZip } from 'client-zip';
import { createReadStream, createWriteStream } from 'node:fs';
import { copyFile, mkdir, rename, stat } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { fileName, type Made, type Making } from './maker';

/** A file that is given out: where it is read from, and where it goes, with slashes. */
export interface Given {
  file: string;
  to: string;
}

/** Copies a file that is there as a whole or not at all. */
async function putWhole(from: string, to: string): Promise<void> {
  await mkdir(path.dirname(to), { recursive: true });
  const half = `${to}.part`;
  await copyFile(from, half);
  await rename(half, to);
}

/** Writes files into one ZIP: as they are, since pictures hardly get smaller. */
async function zipped(
  to: string,
  files: readonly Given[],
  signal: AbortSignal,
  told: (done: number) => void,
): Promise<number> {
  const entries = async function* () {
    for (const [i, { file, to: name }] of files.entries()) {
      signal.throwIfAborted();
      const { size, mtime } = await stat(file);
      yield {
        name,
        size,
        lastModified: mtime,
        input: Readable.toWeb(createReadStream(file)) as ReadableStream<Uint8Array>,
      };
      told(i + 1);
    }
  };
  const half = `${to}.part`;
  await pipeline(Readable.fromWeb(makeZip(entries()) as never), createWriteStream(half));
  await rename(half, to);
  return (await stat(to)).size;
}

/**
 * Gives files out: as a ZIP, or into a folder of this machine below one of the piece's name, where what is there already of the same size is
 * left as it is.
 */
export async function giveOut(
  { name, to, signal }: Pick<Making, 'name' | 'to' | 'signal'>,
  files: readonly Given[],
  folder: string | null,
  told: (done: number) => void,
): Promise<Made['files']> {
  const base = fileName(name);
  if (folder === null) {
    const bytes = await zipped(path.join(to, `${base}.zip`), files, signal, told);
    return [{ name: `${base}.zip`, bytes, pages: null, seconds: null }];
  }
  const root = path.join(folder, base);
  await mkdir(root, { recursive: true });
  for (const [i, { file, to: at }] of files.entries()) {
    signal.throwIfAborted();
    const target = path.join(root, at);
    const [here, there] = await Promise.all([stat(file), stat(target).catch(() => null)]);
    if (there?.size !== here.size) await putWhole(file, target);
    told(i + 1);
  }
  return [];
}
