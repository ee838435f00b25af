import { touched, type Pixels, type Recipe } from '@gemmel/core';
import sharp, { type Sharp } from 'sharp';
import { rgbaToThumbHash } from 'thumbhash';
import { writeWhole } from '../files/whole';
import { decode } from '../media/decode';
import { pixelsOf, sharpOf, SIZES, within } from '../media/pixels';
import type { Inside } from '../media/raw';
import type { FileKind } from '../media/sniff';

/** What a thread is asked to make of a picture. */
export interface RenderTask {
  /** The original, and what it is. */
  file: string;
  kind: FileKind;
  inside: Inside | null;
  /** Its large size as it was taken. */
  large: string;
  recipe: Recipe;
  /** The base of what is made, without `-small.webp`; or the one file that is made at full size. */
  to: { derived: string } | { full: string };
}

/** What a recipe became is kept whole even if the power goes. */
const DURABLE = { sync: true };

/** The blurred view of a picture. */
async function thumbHash(image: Sharp): Promise<Uint8Array> {
  const { data, info } = await image
    .resize(96, 96, { fit: 'inside' })
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return rgbaToThumbHash(info.width, info.height, data);
}

/** What keeps less of a side than this would be small from the large size: it is made from the original. */
const ENOUGH = 0.75;

/** Whether a recipe keeps so little of a picture. */
function isClose({ crop, corners }: Recipe): boolean {
  const [left, top, right, bottom] = crop ?? [0, 0, 1, 1];
  const reach = (from: number) => {
    const all = corners?.filter((_, i) => i % 2 === from) ?? [0, 1];
    return Math.max(...all) - Math.min(...all);
  };
  return Math.min((right - left) * reach(0), (bottom - top) * reach(1)) < ENOUGH;
}

/** The pixels a view is made from. */
async function source(task: RenderTask, full: boolean): Promise<Pixels> {
  if (!full && !isClose(task.recipe)) {
    const large = await pixelsOf(sharp(task.large)).catch(() => null);
    if (large) return large;
  }
  return (await decode(task.file, task.kind, task.inside)).pixels;
}

/**
 * Makes a view: its two sizes for the screen with their blurred view, or its full size as a JPEG. The original is only read. Runs in a
 * worker thread. @returns the blurred view; empty for the full size.
 */
export async function renderTask(task: RenderTask): Promise<Uint8Array> {
  if ('full' in task.to) {
    const whole = touched(await source(task, true), task.recipe);
    await writeWhole(
      task.to.full,
      await sharpOf(whole).withIccProfile('srgb').jpeg({ quality: 93, chromaSubsampling: '4:4:4' }).toBuffer(),
      DURABLE,
    );
    return new Uint8Array(0);
  }
  const large = await within(touched(await source(task, false), task.recipe), SIZES.large);
  const small = await within(large, SIZES.small);
  const { derived } = task.to;
  await writeWhole(
    `${derived}-large.jpg`,
    await sharpOf(large).jpeg({ quality: 92, chromaSubsampling: '4:4:4' }).toBuffer(),
    DURABLE,
  );
  await writeWhole(`${derived}-small.webp`, await sharpOf(small).webp({ quality: 80, effort: 2 }).toBuffer(), DURABLE);
  return thumbHash(sharpOf(small));
}

/** The blurred view of a small size that is there; null when it is not. */
export const thumbTask = ({ file }: { file: string }): Promise<Uint8Array | null> =>
  thumbHash(sharp(file)).catch(() => null);
