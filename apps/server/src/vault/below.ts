import { readdir, stat } from 'node:fs/promises';
import path from 'node:path';

/** A file below a folder: its length in bytes, and when it was last written, in ms. */
export interface FileBelow {
  bytes: number;
  modified: number;
}

/**
 * Every file below a folder, by its way from there (with slashes). Links are not followed; what goes meanwhile, or can't be read, is left out.
 * @param leave tells by their ways which files are left out, and which folders are not entered.
 */
export async function filesBelow(
  root: string,
  leave: (way: string, folder: boolean) => boolean = () => false,
): Promise<Map<string, FileBelow>> {
  const found = new Map<string, FileBelow>();
  const waiting = [''];
  while (waiting.length) {
    const at = waiting.pop()!;
    const entries = await readdir(path.join(root, at), { withFileTypes: true }).catch(() => []);
    await Promise.all(
      entries.map(async (entry) => {
        const way = at ? `${at}/${entry.name}` : entry.name;
        if (leave(way, entry.isDirectory())) return;
        if (entry.isDirectory()) waiting.push(way);
        else if (entry.isFile()) {
          const info = await stat(path.join(root, way)).catch(() => null);
          if (info) found.set(way, { bytes: info.size, modified: info.mtimeMs });
        }
      }),
    );
  }
  return found;
}
