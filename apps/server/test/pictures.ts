import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import type { App } from '../src/context';
import { filesBelow } from './killable';

export const shaOf = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');
export const shaOfFile = (file: string): string => shaOf(readFileSync(file));

/** A small JPEG of one colour that no other number gives; taken at a time when one is given. */
export async function jpeg(n: number, taken?: string): Promise<Buffer> {
  const image = sharp({
    create: { width: 64, height: 48, channels: 3, background: { r: (n * 37) % 256, g: (n * 91) % 256, b: n % 256 } },
  });
  const exif = taken ? { IFD2: { DateTimeOriginal: taken } } : {};
  const made = await image.withExif(exif).jpeg().toBuffer();
  return Buffer.concat([made, Buffer.from(`number ${n}`)]);
}

/** A row of a picture as intake would have written it, with what a test wants otherwise. Answers with its number. */
export async function pictureRow(app: App, n: number, more: Record<string, unknown> = {}): Promise<number> {
  const day = (more['day'] as string | undefined) ?? '2026-05-16';
  const [id] = await app.db('pictures').insert({
    library_id: 1,
    sha256: Buffer.from(shaOf(Buffer.from(`row ${n}`)), 'hex'),
    kind: 'photo',
    format: 'jpg',
    name: `${n}.jpg`,
    vault_path: `${n}.jpg`,
    bytes: 1,
    width: 4,
    height: 3,
    taken_local: `${day} 12:00:00`,
    day,
    taken_source: 'camera',
    taken_certainty: 0.9,
    words: '',
    thumb: Buffer.alloc(0),
    verified_at: app.db.raw('UTC_TIMESTAMP(3)'),
    ...more,
  });
  return id!;
}

/** The originals in a library's vault, by fingerprint, sidecars left out. */
export const vaultShas = (app: App, slug = 'home'): string[] =>
  filesBelow(path.join(app.paths.vault, slug))
    .filter((file) => !file.endsWith('.xmp'))
    .map(shaOfFile)
    .sort();
