import type { Pixels } from '@gemmel/core';
import { createHash } from 'node:crypto';
import { mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { deserialize, serialize } from 'node:v8';

/**
 * Where one run of many programs keeps what was found in a picture, so that the same picture is not looked at again by each: only where
 * `GEMMEL_SEEN` names a folder, which a household's Gemmel never does. It is of that run alone, so that what looks otherwise is seen.
 */
const folder = process.env['GEMMEL_SEEN'] ?? null;

/** What was found in some pixels, or is found now. */
export async function onceSeen<T>(of: readonly (Pixels | number)[], look: () => Promise<T>): Promise<T> {
  if (!folder) return look();
  const hash = createHash('sha256');
  for (const one of of)
    if (typeof one === 'number') hash.update(`${one} `);
    else hash.update(`${one.width} ${one.height} `).update(one.data);
  const file = path.join(folder, hash.digest('hex'));
  const there = await readFile(file).catch(() => null);
  if (there) return deserialize(there) as T;
  const found = await look();
  await mkdir(folder, { recursive: true });
  const part = `${file}.${process.pid}.${Math.random()}`;
  await writeFile(part, serialize(found));
  await rename(part, file);
  return found;
}
