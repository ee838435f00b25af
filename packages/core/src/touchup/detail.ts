import type { Pixels } from '../faces/geometry';
import type { Recipe } from './recipe';

/** How far the strongest clarity and sharpening go. */
const CLARITY = 0.9;
const SHARPEN = 1.6;
/** How wide clarity looks, as a share of the long side, and how much noise differs from what is round it at most, in bytes. */
const WIDE = 0.02;
const NOISE = 26;

/** Luma of each pixel (ITU-R BT.601). */
function lumaOf({ width, height, data }: Pixels): Float32Array {
  const luma = new Float32Array(width * height);
  for (let i = 0, q = 0; i < luma.length; i++, q += 3)
    luma[i] = 0.299 * data[q]! + 0.587 * data[q + 1]! + 0.114 * data[q + 2]!;
  return luma;
}

/** Means over a line of `radius` to either side, by a running sum; edges repeat. `step` is from one value to the next. */
function meanAlong(from: Float32Array, to: Float32Array, start: number, step: number, n: number, radius: number): void {
  const wide = 2 * radius + 1;
  const at = (k: number) => from[start + step * (k < 0 ? 0 : k >= n ? n - 1 : k)]!;
  let sum = 0;
  for (let k = -radius; k <= radius; k++) sum += at(k);
  for (let k = 0; k < n; k++) {
    to[start + step * k] = sum / wide;
    sum += at(k + radius + 1) - at(k - radius);
  }
}

/** Blurs by means over squares, twice, which comes near a Gaussian (Wells, 1986). */
function blurred(values: Float32Array, width: number, height: number, radius: number): Float32Array {
  const one = new Float32Array(values.length);
  const two = new Float32Array(values.length);
  let from = values;
  for (let pass = 0; pass < 2; pass++) {
    for (let y = 0; y < height; y++) meanAlong(from, one, y * width, 1, width, radius);
    for (let x = 0; x < width; x++) meanAlong(one, two, x, width, height, radius);
    from = two;
  }
  return two;
}

/** Each pixel as the mean of those round it that differ from it no more than noise does (Lee's sigma filter, 1983). */
function calmed({ width, height, data }: Pixels, amount: number): Pixels {
  const out = new Uint8Array(data.length);
  const most = (NOISE * amount) / 100;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const q = 3 * (y * width + x);
      for (let c = 0; c < 3; c++) {
        const own = data[q + c]!;
        let sum = 0;
        let n = 0;
        for (let v = y > 0 ? -1 : 0; v <= (y < height - 1 ? 1 : 0); v++)
          for (let u = x > 0 ? -1 : 0; u <= (x < width - 1 ? 1 : 0); u++) {
            const other = data[q + c + 3 * (v * width + u)]!;
            if (other - own <= most && own - other <= most) {
              sum += other;
              n++;
            }
          }
        out[q + c] = sum / n + 0.5;
      }
    }
  return { width, height, data: out };
}

/**
 * The detail of a recipe: noise calmed, then local contrast (clarity, most in the middle tones) and fine edges (sharpening) made more of
 * by what the picture differs from its own blur; luma alone, so that colours stay. Answers with new pixels, or the same where nothing is
 * asked.
 */
export function detailed(image: Pixels, recipe: Recipe): Pixels {
  const { clarity = 0, sharp = 0, noise = 0 } = recipe.detail ?? {};
  const calm = noise ? calmed(image, noise) : image;
  if (!clarity && !sharp) return calm;
  const { width, height, data } = calm;
  const luma = lumaOf(calm);
  const wide = clarity ? blurred(luma, width, height, Math.max(2, Math.round(WIDE * Math.max(width, height)))) : null;
  const near = sharp ? blurred(luma, width, height, 1) : null;
  const out = new Uint8Array(data.length);
  for (let i = 0, q = 0; i < luma.length; i++, q += 3) {
    const l = luma[i]!;
    let more = 0;
    if (wide) {
      const v = l / 255;
      more += ((CLARITY * clarity) / 100) * 4 * v * (1 - v) * (l - wide[i]!);
    }
    if (near) more += ((SHARPEN * sharp) / 100) * (l - near[i]!);
    for (let c = 0; c < 3; c++) {
      const value = data[q + c]! + more;
      out[q + c] = value < 0 ? 0 : value > 255 ? 255 : value + 0.5;
    }
  }
  return { width, height, data: out };
}
