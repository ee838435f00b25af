import { reason } from '@gemmel/contract';
import type { Pixels } from '@gemmel/core';
import { execFile } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import { promisify } from 'node:util';
import sharp from 'sharp';
import { probe, SAFE } from './clips';
import { Closed, Damaged } from './damaged';
import { throughMagick } from './magick';
import type { Inside } from './raw';
import type { FileKind } from './sniff';

const run = promisify(execFile);

/** Pixels of a picture or of a clip's poster, upright, and what the file says of its size. */
export interface Decoded {
  pixels: Pixels;
  /** The upright size of the original. */
  width: number;
  height: number;
  orientation: number;
  seconds: number | null;
  /** What a clip is made of, `h264/aac`; null for stills. */
  codec: string | null;
}

/** More pixels than this are refused: no camera makes them, and unpacking them would take the machine down. */
const MOST_PIXELS = 250_000_000;
/** A picture inside a negative this long is shown as the negative; a smaller one is only its thumbnail. */
const SHOWN = 1000;
/** Larger pictures are decoded to this long side; faces need no more. */
const LONGEST = 6000;

const bytes = (b: Buffer): Uint8Array => new Uint8Array(b.buffer, b.byteOffset, b.byteLength);

async function throughSharp(input: string | Buffer): Promise<Decoded> {
  let image = sharp(input, { failOn: 'error', limitInputPixels: MOST_PIXELS, pages: 1 });
  const meta = await image.metadata();
  const orientation = meta.orientation ?? 1;
  const turned = orientation >= 5;
  const width = turned ? meta.height : meta.width;
  const height = turned ? meta.width : meta.height;
  if (width * height > MOST_PIXELS) throw new Damaged(reason('too-many-pixels', { width, height }));
  image = image.rotate();
  if (Math.max(width, height) > LONGEST) image = image.resize(LONGEST, LONGEST, { fit: 'inside' });
  const { data, info } = await image
    .flatten({ background: '#fff' })
    .toColourspace('srgb')
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  if (info.channels !== 3) throw new Damaged(reason('colours'));
  return {
    pixels: { width: info.width, height: info.height, data: bytes(data) },
    width,
    height,
    orientation,
    seconds: null,
    codec: null,
  };
}

async function heic(file: string): Promise<Decoded> {
  // Its decoder is large, and few threads meet such a file.
  const { default: decodeHeic } = await import('heic-decode');
  const { width, height, data } = await decodeHeic({ buffer: await readFile(file) });
  const rgb = new Uint8Array(width * height * 3);
  for (let i = 0, q = 0; q < rgb.length; i += 4, q += 3) {
    rgb[q] = data[i]!;
    rgb[q + 1] = data[i + 1]!;
    rgb[q + 2] = data[i + 2]!;
  }
  return { pixels: { width, height, data: rgb }, width, height, orientation: 1, seconds: null, codec: null };
}

async function clip(file: string): Promise<Decoded> {
  const { seconds, codec } = await probe(file);
  const poster = async (at: number) => {
    const { stdout } = await run(
      'ffmpeg',
      [...SAFE, '-ss', at.toFixed(2), '-i', file, '-frames:v', '1', '-f', 'image2pipe', '-c:v', 'png', '-'],
      { encoding: 'buffer', maxBuffer: 256e6, timeout: 60_000 },
    );
    return stdout;
  };
  let png = await poster(Math.min(1, seconds / 10));
  if (png.length === 0) png = await poster(0);
  if (png.length === 0) throw new Damaged(reason('no-moving-picture'));
  return { ...(await throughSharp(png)), seconds, codec };
}

/**
 * The picture inside a negative, turned as the negative says when the picture itself does not say; it is as large as the
 * negative.
 */
async function negative({ file, orientation, width, height }: Inside): Promise<Decoded> {
  const own = (await sharp(file).metadata()).orientation ?? 1;
  const decoded =
    own !== 1 || orientation <= 1
      ? await throughSharp(file)
      : await throughSharp(await sharp(file).withMetadata({ orientation }).jpeg({ quality: 95 }).toBuffer());
  const [long, short] = [Math.max(width, height), Math.min(width, height)];
  const wide = decoded.width >= decoded.height;
  return long > Math.max(decoded.width, decoded.height)
    ? { ...decoded, width: wide ? long : short, height: wide ? short : long }
    : decoded;
}

/** A negative with a picture inside that is worth showing; one without is developed. */
async function raw(file: string, format: string, inside: Inside | null): Promise<Decoded> {
  if (inside && inside.long >= SHOWN) return negative(inside);
  try {
    return await throughSharp(await throughMagick(file, format, MOST_PIXELS));
  } catch (error) {
    if (inside) return negative(inside);
    throw error instanceof Damaged ? new Closed() : error;
  }
}

/** The first picture of a file through the decoders of clips, which know a few ways of writing stills that others do not. */
async function still(file: string): Promise<Buffer> {
  const { stdout } = await run(
    'ffmpeg',
    [...SAFE, '-xerror', '-i', file, '-frames:v', '1', '-f', 'image2pipe', '-c:v', 'png', '-'],
    { encoding: 'buffer', maxBuffer: 512e6, timeout: 60_000 },
  );
  return stdout;
}

/** Kinds that browsers do not show: by their own decoders, and by others when those do not know how a file was made. */
async function rare(file: string, format: string): Promise<Decoded> {
  try {
    return await throughSharp(await throughMagick(file, format, MOST_PIXELS));
  } catch (error) {
    const other = await still(file).catch(() => null);
    if (!other?.length) throw error;
    return throughSharp(other);
  }
}

/** TIFF is made in more ways than the first decoder knows. */
const tiff = (file: string): Promise<Decoded> =>
  throughSharp(file).catch((error: unknown) => {
    if (error instanceof Damaged) throw error;
    return rare(file, 'tif');
  });

/**
 * Decodes a file once, whole and upright. Of a negative, `inside` is the picture its camera put in it.
 * Throws {@link Damaged} for files that are cut off, broken or impossibly large, and for those of a kind that cannot be opened.
 */
export async function decode(file: string, kind: FileKind, inside: Inside | null = null): Promise<Decoded> {
  try {
    if (kind.kind === 'video') return await clip(file);
    if (kind.raw) return await raw(file, kind.format, inside);
    if (kind.rare) return await rare(file, kind.format);
    if (kind.format === 'tif') return await tiff(file);
    return kind.format === 'heic' ? await heic(file) : await throughSharp(file);
  } catch (error) {
    if (error instanceof Damaged) throw error;
    const why = error instanceof Error ? error.message : String(error);
    if (/ENOENT.*(ffmpeg|ffprobe)|spawn/.test(why) || /ENOSPC|ENOMEM/.test(why)) throw error;
    if (/pixel limit|exceeds/i.test(why)) throw new Damaged(reason('too-large'));
    throw new Damaged(/premature|truncat|end of|corrupt|moov atom/i.test(why) ? reason('cut-off') : reason('damaged'));
  }
}
