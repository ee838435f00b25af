import { rename, stat, unlink } from 'node:fs/promises';
import { withExiftool } from './exiftool';

/** Where cameras put a picture into a negative, the largest first. */
const PLACES = ['JpgFromRaw', 'PreviewImage', 'OtherImage', 'ThumbnailImage'] as const;

/**
 * Writes the largest picture a camera put inside a negative to `target`.
 * @returns how the negative says it is to be turned (EXIF orientation), or null when there is no picture inside.
 */
export async function pictureInside(
  file: string,
  target: string,
): Promise<{ file: string; orientation: number } | null> {
  const tags = (await withExiftool((tool) => tool.readRaw(file, { readArgs: ['-fast2', '-n', '-Orientation'] }))) as {
    Orientation?: number;
  };
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
  return best ? { file: target, orientation: Number(tags.Orientation) || 1 } : null;
}
