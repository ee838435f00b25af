import type { Part } from '@gemmel/core';
import { mkdir, rename, stat } from 'node:fs/promises';
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { derivedBase, type App } from '../context';
import { decode } from '../media/decode';
import { sharpOf, SIZES } from '../media/pixels';
import { pictureInside, type Inside } from '../media/raw';
import { sniffFile, type FileKind } from '../media/sniff';
import { notFound } from '../problem';
import { originalOf, takenSha } from '../touchup/original';
import { fullView, viewReady } from '../touchup/views';
import { deriveAgain } from '../media/again';
import { discard } from '../vault/vault';

/** Formats pictures are written in. */
export type ImageFormat = 'jpg' | 'webp' | 'avif' | 'png';

/** What a thread is asked to make of a picture for a piece. */
export interface ImageTask {
  file: string;
  /** What it is; null for a JPEG of our own, which is upright already. */
  kind: FileKind | null;
  inside: Inside | null;
  /** What of it is wanted, in fractions; null for all. */
  part: Part | null;
  /** No more pixels than these. */
  width: number;
  height: number;
  format: ImageFormat;
  quality: number;
  to: string;
}

/** Formats that the picture library reads upright by itself, quickly because it can read them small. */
const PLAIN = new Set(['jpg', 'png', 'webp', 'avif']);

/** Writes a picture, or a part of it, in sRGB with its profile and without a word about anybody. Runs in a worker thread. */
export async function imageTask({
  file,
  kind,
  inside,
  part,
  width,
  height,
  format,
  quality,
  to,
}: ImageTask): Promise<void> {
  const plain = !kind || (PLAIN.has(kind.format) && !kind.raw && !kind.rare);
  let image: Sharp;
  let size: { width: number; height: number };
  if (plain) {
    const opened = sharp(file, { limitInputPixels: false, failOn: 'none' });
    const meta = await opened.metadata();
    image = opened.rotate();
    size = (meta.orientation ?? 1) > 4 ? { width: meta.height, height: meta.width } : meta;
  } else {
    const { pixels } = await decode(file, kind, inside);
    image = sharpOf(pixels);
    size = pixels;
  }
  if (part) {
    const left = Math.min(size.width - 1, Math.max(0, Math.round(part.x * size.width)));
    const top = Math.min(size.height - 1, Math.max(0, Math.round(part.y * size.height)));
    image = image.extract({
      left,
      top,
      width: Math.max(1, Math.min(size.width - left, Math.round(part.w * size.width))),
      height: Math.max(1, Math.min(size.height - top, Math.round(part.h * size.height))),
    });
  }
  image = image.resize({ width, height, fit: 'inside', withoutEnlargement: true }).withIccProfile('srgb');
  const written =
    format === 'webp'
      ? image.webp({ quality, effort: 3 })
      : format === 'avif'
        ? image.avif({ quality, effort: 2 })
        : format === 'png'
          ? image.png({ compressionLevel: 7 })
          : image.flatten({ background: '#ffffff' }).jpeg({ quality, mozjpeg: false });
  const half = `${to}.part`;
  await written.toFile(half);
  await rename(half, to);
}

/** What is wanted of a picture. */
export interface Wanted {
  part: Part | null;
  width: number;
  height: number;
  format?: ImageFormat;
  quality?: number;
}

/**
 * Writes a picture as it is shown, or a part of it, no larger than wished. What was written before is left as it is: a making that
 * was cut goes on where it was. Of a clip its poster.
 */
export async function writeImage(app: App, library: number, id: number, wanted: Wanted, to: string): Promise<void> {
  if (await stat(to).catch(() => null)) return;
  await mkdir(path.dirname(to), { recursive: true });
  const { part, width, height, format = 'jpg', quality = 90 } = wanted;
  const row = await app
    .db('pictures')
    .where({ id, library_id: library })
    .first('id', 'library_id', 'sha256', 'of_sha', 'view', 'recipe', 'shown', 'kind', 'width', 'height');
  if (!row) throw notFound('picture');
  const rest = { part, width, height, format, quality, to };
  // The large size will do where no more of it is wanted than it has.
  const large = `${derivedBase(app, row.shown.toString('hex'))}-large.jpg`;
  const scale = Math.min(1, SIZES.large / Math.max(row.width, row.height));
  const enough = width <= (part?.w ?? 1) * row.width * scale || height <= (part?.h ?? 1) * row.height * scale;
  const own = async (file: string) =>
    void (await app.pool.run({ ...rest, file, kind: null, inside: null } satisfies ImageTask, { name: 'image' }));
  if (row.kind === 'video' || enough) {
    if (row.view) await viewReady(app, library, row.view);
    else if (!(await stat(large).catch(() => null))) await deriveAgain(app, library, takenSha(row));
    if (await stat(large).catch(() => null)) return own(large);
  }
  const shown = await fullView(app, row);
  if (shown) return own(shown);
  const original = await originalOf(app, library, id);
  const kind = original && (await sniffFile(original.file));
  if (!original || !kind) throw notFound('picture');
  const inside = kind.raw
    ? await pictureInside(
        original.file,
        path.join(app.paths.incoming, `piece-${id}-${Math.random().toString(36).slice(2)}`),
      )
    : null;
  try {
    await app.pool.run({ ...rest, file: original.file, kind, inside } satisfies ImageTask, { name: 'image' });
  } finally {
    if (inside) await discard(inside.file);
  }
}
