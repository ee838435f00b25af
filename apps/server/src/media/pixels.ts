import type { Pixels } from '@gemmel/core';
import sharp, { type Sharp } from 'sharp';

/** The pixels of a picture, without transparency. */
export async function pixelsOf(image: Sharp): Promise<Pixels> {
  const { data, info } = await image.removeAlpha().raw().toBuffer({ resolveWithObject: true });
  return {
    width: info.width,
    height: info.height,
    data: new Uint8Array(data.buffer, data.byteOffset, data.byteLength),
  };
}

/** Long sides of the two derived sizes, in pixels. */
export const SIZES = { large: 1600, small: 512 } as const;

/** Pixels as the picture library takes them. */
export const sharpOf = (p: Pixels) => sharp(p.data, { raw: { width: p.width, height: p.height, channels: 3 } });

/** A picture no longer than `long` on its long side. */
export async function within(p: Pixels, long: number): Promise<Pixels> {
  if (Math.max(p.width, p.height) <= long) return p;
  return pixelsOf(sharpOf(p).resize(long, long, { fit: 'inside', fastShrinkOnLoad: true }));
}
