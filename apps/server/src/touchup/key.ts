import { isAsTaken, plainRecipe, Recipe, sizeAfter } from '@gemmel/core';
import { createHash } from 'node:crypto';
import type { PicturesRow } from '../db/tables';
import { takenSha } from './original';

/** The key of a view: of its original's fingerprint and its recipe. The same look of the same original is the same file. */
export const viewKey = (sha256: Buffer, recipe: Recipe): Buffer =>
  createHash('sha256')
    .update(sha256)
    .update(JSON.stringify(plainRecipe(recipe)))
    .digest();

/** A recipe as it is kept; null for a picture that is shown as it was taken. */
export const recipeIn = (kept: string | null): Recipe | null => (kept === null ? null : Recipe.parse(JSON.parse(kept)));

/** Whether a recipe shows a picture the other way up, or a print of it: then faces are looked for in what is shown. */
export const isTurned = (recipe: Recipe | null): recipe is Recipe =>
  recipe !== null && Boolean(recipe.corners ?? recipe.turn);

type Sized = Pick<PicturesRow, 'sha256' | 'of_sha' | 'width' | 'height' | 'whole_width' | 'whole_height'>;

/** How large a picture is as it was taken, upright. */
export const wholeSize = ({
  width,
  height,
  whole_width,
  whole_height,
}: Omit<Sized, 'sha256' | 'of_sha'>): [number, number] => [whole_width ?? width, whole_height ?? height];

/** What the row of a picture says when it is shown by a recipe; null for as it was taken: a look then shows its original's own sizes. */
export function lookColumns(row: Sized, recipe: Recipe | null) {
  const [w, h] = wholeSize(row);
  if (!recipe || isAsTaken(recipe))
    return { recipe: null, view: row.of_sha, width: w, height: h, whole_width: null, whole_height: null };
  const plain = plainRecipe(recipe);
  const [width, height] = sizeAfter(w, h, plain);
  return {
    recipe: JSON.stringify(plain),
    view: viewKey(takenSha(row), plain),
    width,
    height,
    whole_width: w,
    whole_height: h,
  };
}
