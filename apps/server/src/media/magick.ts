import { reason } from '@gemmel/contract';
import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { Closed, Damaged } from './damaged';

type Magick = typeof import('@imagemagick/magick-wasm');

/** Kinds that are opened here, as their own decoders call them. */
const FORMATS: Readonly<Record<string, keyof Magick['MagickFormat']>> = {
  bmp: 'Bmp',
  psd: 'Psd',
  jp2: 'Jp2',
  j2k: 'J2k',
  jxl: 'Jxl',
  tif: 'Tiff',
};
/** Colours that need no turning into others here. */
const KEPT = ['sRGB', 'Gray', 'CMYK'] as const;
/** A negative without a picture inside is developed. */
const NEGATIVE = 'Dng';

/** Longest side that is opened, in pixels, and most pixels at once. */
const LONGEST_SIDE = 65_000n;

let magick: Promise<Magick> | null = null;

/** The decoders, loaded into this thread when they are first asked for; they live in a sandbox of their own (WebAssembly). */
async function load(): Promise<Magick> {
  const wasm = createRequire(import.meta.url).resolve('@imagemagick/magick-wasm/magick.wasm');
  const all = await import('@imagemagick/magick-wasm');
  await all.initializeImageMagick(await readFile(wasm));
  all.ResourceLimits.width = LONGEST_SIDE;
  all.ResourceLimits.height = LONGEST_SIDE;
  all.ResourceLimits.listLength = 64n;
  return all;
}

/** What decoders say of a file that is whole, but made in a way they do not know. */
const UNKNOWN =
  /not supported|unsupported|no decode delegate|not implemented|not configured|unrecognized|NotSupported|compression (scheme|support)|cannot handle|sorry/i;

/**
 * A picture of a kind that is rarer than those browsers know, as one that every decoder opens: a plain TIFF of 8 bits with the
 * turning and the meaning of colours it came with. Throws {@link Closed} for what is made in a way that cannot be opened yet,
 * {@link Damaged} for what is broken or larger than `mostPixels`.
 */
export async function throughMagick(file: string, format: string, mostPixels: number): Promise<Buffer> {
  const all = await (magick ??= load());
  const bytes = await readFile(file);
  const settings = new all.MagickReadSettings({
    format: all.MagickFormat[FORMATS[format] ?? NEGATIVE],
    // The first picture is the whole one: layers and small views come after it.
    frameIndex: 0,
    frameCount: 1,
  });
  try {
    const { width, height } = all.MagickImageInfo.create(bytes, settings);
    if (width * height > mostPixels) throw new Damaged(reason('too-many-pixels', { width, height }));
    return all.ImageMagick.read(bytes, settings, (image) => {
      if (!KEPT.some((space) => image.colorSpace === all.ColorSpace[space])) {
        image.colorSpace = all.ColorSpace.sRGB;
        image.removeProfile('icc');
      }
      image.depth = 8;
      image.settings.compression = all.CompressionMethod.NoCompression;
      return image.write(all.MagickFormat.Tiff, (data) => Buffer.from(data));
    });
  } catch (error) {
    if (error instanceof Damaged) throw error;
    const why = String(error instanceof Error ? error.message : error);
    if (UNKNOWN.test(why)) throw new Closed();
    throw new Damaged(/limit|memory|too large/i.test(why) ? reason('too-large') : reason('damaged'));
  }
}
