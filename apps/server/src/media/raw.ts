import { rename, stat, unlink } from 'node:fs/promises';
import sharp from 'sharp';
import { withExiftool } from './exiftool';

/** Where cameras put a picture into a negative, the largest first. */
const PLACES = ['JpgFromRaw', 'PreviewImage', 'OtherImage', 'ThumbnailImage'] as const;

/** The picture a camera put inside a negative, and what the negative says of itself. */
export interface Inside {
  file: string;
  /** The picture's own long side, in pixels. */
  long: number;
  /** How the negative is to be turned (EXIF orientation). */
  orientation: number;
  /** The negative's own size as it is stored; 0 when it does not say. */
  width: number;
  height: number;
}

/** Writes the largest picture a camera put inside a negative to `target`; null when there is none. */
export async function pictureInside(file: string, target: string): Promise<Inside | null> {
  const tags = (await withExiftool((tool) =>
    tool.readRaw(file, { readArgs: ['-fast2', '-n', '-Orientation', '-ImageSize'], useMWG: false }),
  )) as { Orientation?: number; ImageSize?: string };
  let best = 0;
  for (const place of PLACES) {
    const part = `${target}.${place}`;
    try {
      await withExiftool((tool) => tool.extractBinaryTag(place, file, part));
    } catch {
      continue; // this maker puts none there
    }
    const size = (await stat(part).catch(() => null))?.size ?? 0;
    if (size > best && (place !== 'ThumbnailImage' || best === 0)) {
      best = size;
      await unlink(target).catch(() => undefined);
      await rename(part, target);
    } else await unlink(part).catch(() => undefined);
  }
  if (!best) return null;
  const [width = 0, height = 0] = String(tags.ImageSize ?? '')
    .split(/[ x]/)
    .map((side) => Number(side) || 0);
  const own = await sharp(target)
    .metadata()
    .catch(() => null);
  const long = own ? Math.max(own.width, own.height) : 0;
  return { file: target, long, orientation: Number(tags.Orientation) || 1, width, height };
}
