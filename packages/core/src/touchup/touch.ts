import type { Pixels } from '../faces/geometry';
import { detailed } from './detail';
import { framed } from './frame';
import { lit } from './light';
import { mended } from './mend';
import { plainRecipe, type Recipe } from './recipe';

/**
 * A picture as a recipe shows it: mended, framed, its light and colours, its detail. The one computation of touch-ups: a browser's
 * preview and the server's results both come from it, so that the same pixels give the same picture. @param image upright, as it was
 * taken. Time and room grow with the number of pixels.
 */
export function touched(image: Pixels, recipe: Recipe): Pixels {
  const plain = plainRecipe(recipe);
  let shown = framed(mended(image, plain), plain);
  if (plain.light || plain.colour || plain.grey || plain.tones) shown = lit(shown, plain);
  return detailed(shown, plain);
}
