import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { mkdir, open, rename, rm, stat, utimes } from 'node:fs/promises';
import path from 'node:path';

/** A copy was not what its original was. */
export class NotTheSame extends Error {}

/**
 * Copies a file to another disk, reading on the way what it is, and gives the copy its name only when it is whole and on the disk. One that is there already, as
 * long and as old, is not copied again: a copying that was cut goes on where it was.
 * @param sha256 what it must be; null for what may be anything.
 * @throws NotTheSame for an original that is not what it should be.
 */
export async function copyWhole(from: string, to: string, sha256: Buffer | null): Promise<number> {
  const info = await stat(from);
  const there = await stat(to).catch(() => null);
  // Names of moments are kept to the second on some disks.
  if (there && there.size === info.size && Math.abs(there.mtimeMs - info.mtimeMs) < 2000) return info.size;
  await mkdir(path.dirname(to), { recursive: true });
  const part = `${to}.part`;
  const hash = createHash('sha256');
  const handle = await open(part, 'w', 0o600);
  try {
    for await (const chunk of createReadStream(from, { highWaterMark: 1 << 20 })) {
      hash.update(chunk as Buffer);
      await handle.writeFile(chunk as Buffer);
    }
    await handle.sync();
  } catch (error) {
    await handle.close();
    await rm(part, { force: true });
    throw error;
  }
  await handle.close();
  if (sha256 && !hash.digest().equals(sha256)) {
    await rm(part, { force: true });
    throw new NotTheSame(from);
  }
  await utimes(part, info.atime, info.mtime);
  await rename(part, to);
  return info.size;
}
