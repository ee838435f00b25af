import { sizeAfter } from './frame';
import type { Recipe } from './recipe';

/** The orientations of Exif (CIPA DC-008, 4.6.4): whether what is stored is mirrored, and the quarters it is then turned clockwise. */
const EXIF = [
  [false, 0],
  [true, 0],
  [false, 2],
  [true, 2],
  [true, 3],
  [false, 1],
  [true, 1],
  [false, 3],
] as const satisfies readonly (readonly [boolean, number])[];

/** The Exif orientation, 1 to 8, of a file whose own is `own` once a recipe has turned and mirrored what it shows. */
export function orientationAfter(own: number, recipe: Pick<Recipe, 'turn' | 'mirror'>): number {
  const turn: number = recipe.turn ?? 0;
  const mirror = recipe.mirror === true;
  const [mirrored, quarters] = EXIF[own - 1] ?? EXIF[0];
  // Turned further first; mirrored after that, a quarter to the right is one to the left.
  const turned = (quarters + turn) % 4;
  const to = [mirrored !== mirror, mirror ? (4 - turned) % 4 : turned] as const;
  return EXIF.findIndex(([m, q]) => m === to[0] && q === to[1]) + 1;
}

/**
 * What a recipe keeps of a picture as one upright rectangle of what is stored upright: left, top, width and height in fractions, for
 * fields of open standards that know no more; null where it keeps all of it, or no such rectangle.
 */
export function openCrop(recipe: Recipe, width: number, height: number): [number, number, number, number] | null {
  const { crop, level, corners, mirror } = recipe;
  const turn: number = recipe.turn ?? 0;
  if (!crop || level || corners || sizeAfter(width, height, { crop })[0] < 1) return null;
  let [left, top, right, bottom] = crop;
  if (mirror) [left, right] = [1 - right, 1 - left];
  // Back to before it was turned.
  for (let q = 0; q < turn; q++) [left, top, right, bottom] = [top, 1 - right, bottom, 1 - left];
  return [left, top, right - left, bottom - top];
}
