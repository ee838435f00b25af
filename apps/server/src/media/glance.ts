import exifr from 'exifr';
import sharp from 'sharp';
import { decode } from './decode';
import { sniffFile } from './sniff';

/** The long side of a glance, in pixels. */
const LONG = 320;

/** Turns as an EXIF orientation says: exifr tells the turn of the whole, the embedded view is stored unturned. */
async function embedded(file: string): Promise<Buffer | null> {
  const view = await exifr.thumbnail(file).catch(() => undefined);
  if (!view || view.byteLength < 500) return null;
  const turn = await exifr.rotation(file).catch(() => undefined);
  let image = sharp(view).rotate(turn?.deg ?? 0);
  if (turn?.scaleX === -1) image = image.flop();
  return image
    .webp({ quality: 72, effort: 1 })
    .toBuffer()
    .catch(() => null);
}

/**
 * A small view of a file that is not in the library yet, the quickest way: the view its camera put into it, else a quick
 * look at the picture itself. Null when there is nothing to see.
 */
export async function glance(file: string, name: string): Promise<Uint8Array | null> {
  try {
    const kind = await sniffFile(file, name);
    if (!kind) return null;
    if (kind.kind === 'photo') {
      const view = await embedded(file);
      if (view) return view;
    }
    if (kind.raw) return null;
    if (kind.kind === 'photo' && kind.format !== 'heic' && !kind.rare)
      return await sharp(file, { failOn: 'none', limitInputPixels: 250_000_000, pages: 1 })
        .rotate()
        .resize(LONG, LONG, { fit: 'inside' })
        .webp({ quality: 72, effort: 1 })
        .toBuffer();
    const { pixels } = await decode(file, kind);
    return await sharp(pixels.data, { raw: { width: pixels.width, height: pixels.height, channels: 3 } })
      .resize(LONG, LONG, { fit: 'inside' })
      .webp({ quality: 72, effort: 1 })
      .toBuffer();
  } catch {
    return null;
  }
}
