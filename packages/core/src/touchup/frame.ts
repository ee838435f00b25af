import { mirror, warp, type Pixels } from '../faces/geometry';
import { inverse, moved, quadSize, squareTo, straightened } from './quad';
import type { Recipe } from './recipe';

/** A picture turned clockwise by so many quarters; nothing is lost. */
export function turned(image: Pixels, quarters: number): Pixels {
  const { width: w, height: h, data } = image;
  const q = ((quarters % 4) + 4) % 4;
  if (q === 0) return image;
  const [width, height] = q === 2 ? [w, h] : [h, w];
  const out = new Uint8Array(data.length);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const [u, v] = q === 1 ? [h - 1 - y, x] : q === 2 ? [w - 1 - x, h - 1 - y] : [y, w - 1 - x];
      const [from, to] = [3 * (y * w + x), 3 * (v * width + u)];
      out[to] = data[from]!;
      out[to + 1] = data[from + 1]!;
      out[to + 2] = data[from + 2]!;
    }
  return { width, height, data: out };
}

/**
 * The largest upright rectangle of a picture's own shape inside it once it is turned by an angle, as a share of its sides: what is
 * left when the empty corners are cut away. @param angle in degrees, less than a quarter either way.
 */
export function insideTurned(width: number, height: number, angle: number): number {
  const a = (Math.abs(angle) * Math.PI) / 180;
  const [c, s] = [Math.cos(a), Math.sin(a)];
  // Each corner of the rectangle must lie within the turned picture: across its width, and across its height.
  return Math.min(width / (width * c + height * s), height / (width * s + height * c));
}

/** How large a picture of so many pixels is after a recipe, in whole pixels. */
export function sizeAfter(width: number, height: number, recipe: Omit<Recipe, 'v'>): [number, number] {
  const { turn = 0 as number, corners, level = 0, crop = [0, 0, 1, 1] as const } = recipe;
  let [w, h] = turn % 2 ? [height, width] : [width, height];
  if (corners) [w, h] = quadSize(w, h, corners);
  if (level) {
    const k = insideTurned(w, h, level / 100);
    [w, h] = [Math.max(1, Math.floor(w * k)), Math.max(1, Math.floor(h * k))];
  }
  const [left, top, right, bottom] = edges(w, h, crop);
  return [right - left, bottom - top];
}

/** The pixels a crop keeps, at least one. */
function edges(w: number, h: number, [left, top, right, bottom]: readonly [number, number, number, number]) {
  const l = Math.min(w - 1, Math.round(left * w));
  const t = Math.min(h - 1, Math.round(top * h));
  return [l, t, Math.max(l + 1, Math.round(right * w)), Math.max(t + 1, Math.round(bottom * h))] as const;
}

/** The part of a picture that a crop keeps. */
function cropped(image: Pixels, crop: readonly [number, number, number, number]): Pixels {
  const { width: w, data } = image;
  const [left, top, right, bottom] = edges(w, image.height, crop);
  const [width, height] = [right - left, bottom - top];
  const out = new Uint8Array(width * height * 3);
  for (let y = 0; y < height; y++)
    out.set(data.subarray(3 * ((top + y) * w + left), 3 * ((top + y) * w + right)), 3 * y * width);
  return { width, height, data: out };
}

/** A picture within the frame a recipe gives it: turned, mirrored, made level, cropped. */
export function framed(image: Pixels, recipe: Recipe): Pixels {
  let shown = turned(image, recipe.turn ?? 0);
  if (recipe.mirror) shown = mirror(shown);
  if (recipe.corners) shown = straightened(shown, recipe.corners);
  if (recipe.level) {
    const { width: w, height: h } = shown;
    const a = (recipe.level / 100) * (Math.PI / 180);
    const [width, height] = sizeAfter(w, h, { level: recipe.level });
    const [c, s] = [Math.cos(a), Math.sin(a)];
    // The middle stays in the middle.
    const [mx, my, nx, ny] = [(w - 1) / 2, (h - 1) / 2, (width - 1) / 2, (height - 1) / 2];
    shown = warp(shown, { a: c, b: s, tx: nx - c * mx + s * my, ty: ny - s * mx - c * my }, width, height);
  }
  return recipe.crop ? cropped(shown, recipe.crop) : shown;
}

/**
 * Where a point of the picture as it was taken stands within the frame of a recipe; both in fractions. Beyond 0 to 1 it was cut
 * away. Boxes of faces follow by their corners.
 */
export function placeIn(
  recipe: Recipe,
  width: number,
  height: number,
  [x, y]: readonly [number, number],
): [number, number] {
  const turn = recipe.turn ?? 0;
  let [u, v] = turn === 1 ? [1 - y, x] : turn === 2 ? [1 - x, 1 - y] : turn === 3 ? [y, 1 - x] : [x, y];
  let [w, h] = turn % 2 ? [height, width] : [width, height];
  if (recipe.mirror) u = 1 - u;
  if (recipe.corners) {
    [u, v] = moved(inverse(squareTo(recipe.corners)), u, v);
    [w, h] = quadSize(w, h, recipe.corners);
  }
  if (recipe.level) {
    const a = (recipe.level / 100) * (Math.PI / 180);
    const k = insideTurned(w, h, recipe.level / 100);
    const [px, py] = [(u - 0.5) * w, (v - 0.5) * h];
    u = (px * Math.cos(a) - py * Math.sin(a)) / (w * k) + 0.5;
    v = (px * Math.sin(a) + py * Math.cos(a)) / (h * k) + 0.5;
  }
  const [left, top, right, bottom] = recipe.crop ?? [0, 0, 1, 1];
  return [(u - left) / (right - left), (v - top) / (bottom - top)];
}

/** Where a point within the frame of a recipe stands in the picture as it was taken; both in fractions. The way back of {@link placeIn}. */
export function placeOut(
  recipe: Recipe,
  width: number,
  height: number,
  [x, y]: readonly [number, number],
): [number, number] {
  const turn = recipe.turn ?? 0;
  let [w, h] = turn % 2 ? [height, width] : [width, height];
  if (recipe.corners) [w, h] = quadSize(w, h, recipe.corners);
  const [left, top, right, bottom] = recipe.crop ?? [0, 0, 1, 1];
  let [u, v] = [left + x * (right - left), top + y * (bottom - top)];
  if (recipe.level) {
    const a = (recipe.level / 100) * (Math.PI / 180);
    const k = insideTurned(w, h, recipe.level / 100);
    const [px, py] = [(u - 0.5) * w * k, (v - 0.5) * h * k];
    u = (px * Math.cos(a) + py * Math.sin(a)) / w + 0.5;
    v = (-px * Math.sin(a) + py * Math.cos(a)) / h + 0.5;
  }
  if (recipe.corners) [u, v] = moved(squareTo(recipe.corners), u, v);
  if (recipe.mirror) u = 1 - u;
  return turn === 1 ? [v, 1 - u] : turn === 2 ? [1 - u, 1 - v] : turn === 3 ? [1 - v, u] : [u, v];
}

/** An upright box in fractions: left, top, width, height. */
type Upright = readonly [number, number, number, number];

/** The upright box around another one's corners, each moved. */
function around([x, y, w, h]: Upright, move: (point: readonly [number, number]) => [number, number]): Upright {
  const corners = [
    [x, y],
    [x + w, y],
    [x, y + h],
    [x + w, y + h],
  ].map((point) => move(point as [number, number]));
  const held = (v: number) => Math.min(1, Math.max(0, v));
  const us = corners.map(([u]) => held(u!));
  const vs = corners.map(([, v]) => held(v!));
  const [left, top] = [Math.min(...us), Math.min(...vs)];
  return [left, top, Math.max(...us) - left, Math.max(...vs) - top];
}

/** A box of the picture as it was taken within the frame of a recipe, cut at its edges; without width or height when it was cut away. */
export const boxIn = (recipe: Recipe, width: number, height: number, box: Upright): Upright =>
  around(box, (point) => placeIn(recipe, width, height, point));

/** A box within the frame of a recipe, in the picture as it was taken. */
export const boxOut = (recipe: Recipe, width: number, height: number, box: Upright): Upright =>
  around(box, (point) => placeOut(recipe, width, height, point));
