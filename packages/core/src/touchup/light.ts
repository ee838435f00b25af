import type { Pixels } from '../faces/geometry';
import type { Recipe, Tones } from './recipe';

/** Bytes as amounts of light, and back (IEC 61966-2-1). */
const LIGHT = Float64Array.from({ length: 256 }, (_, byte) => toLight(byte / 255));
function toLight(v: number): number {
  return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
}
function fromLight(l: number): number {
  return l <= 0.0031308 ? 12.92 * l : 1.055 * l ** (1 / 2.4) - 0.055;
}

const held = (v: number): number => (v < 0 ? 0 : v > 1 ? 1 : v);

/** How far the strongest warmth and tint move the light of a colour. */
const CAST = { warmth: 0.3, tint: 0.2 } as const;
/** How far shadows and highlights are lifted or lowered at most, and what brings the top of their humps to one. */
const LIFT = 0.28;
const HUMP = 256 / 27;

/** Of each byte of one colour what becomes of it: tones, points, exposure, warmth and tint, shadows, highlights and contrast, in this order. */
export function curveOf(recipe: Recipe, colour: 0 | 1 | 2): Uint8Array {
  const { exposure = 0, contrast = 0, shadows = 0, highlights = 0, black = 0, white = 255 } = recipe.light ?? {};
  const { warmth = 0, tint = 0 } = recipe.colour ?? {};
  const [from, to, bend]: Tones = recipe.tones?.[colour] ?? [0, 255, 100];
  const cast =
    colour === 0
      ? 1 + (CAST.warmth * warmth) / 100
      : colour === 2
        ? 1 - (CAST.warmth * warmth) / 100
        : 1 - (CAST.tint * tint) / 100;
  const gain = cast * 2 ** (exposure / 100);
  return Uint8Array.from({ length: 256 }, (_, byte) => {
    let v = held((byte - from) / (to - from)) ** (bend / 100);
    v = held((255 * v - black) / (white - black));
    if (gain !== 1) v = held(fromLight(gain * (v === byte / 255 ? LIGHT[byte]! : toLight(v))));
    // Humps that end at nothing at black and white, so that neither is lost.
    v = held(v + (LIFT * HUMP * shadows * v * (1 - v) ** 3) / 100);
    v = held(v + (LIFT * HUMP * highlights * v ** 3 * (1 - v)) / 100);
    const steep = v * v * (3 - 2 * v);
    const flat = 0.25 + v / 2;
    v += ((contrast > 0 ? steep : flat) - v) * (Math.abs(contrast) / 100);
    return Math.round(255 * held(v));
  });
}

/** The light and colours of a recipe, on a picture that stands within its frame. Answers with new pixels. */
export function lit(image: Pixels, recipe: Recipe): Pixels {
  const { data } = image;
  const out = new Uint8Array(data.length);
  const [red, green, blue] = [curveOf(recipe, 0), curveOf(recipe, 1), curveOf(recipe, 2)];
  const vibrance = (recipe.colour?.vibrance ?? 0) / 100;
  const { grey } = recipe;
  const sum = grey ? grey[0] + grey[1] + grey[2] || 1 : 1;
  for (let i = 0; i < data.length; i += 3) {
    let r = red[data[i]!]!;
    let g = green[data[i + 1]!]!;
    let b = blue[data[i + 2]!]!;
    if (grey) r = g = b = (grey[0] * r + grey[1] * g + grey[2] * b) / sum;
    else if (vibrance) {
      const most = r > g ? (r > b ? r : b) : g > b ? g : b;
      const least = r < g ? (r < b ? r : b) : g < b ? g : b;
      const middle = 0.3 * r + 0.59 * g + 0.11 * b;
      // What is colourful already is moved less, and skin with it.
      const k = 1 + vibrance * (1 - (most - least) / 255);
      r = middle + k * (r - middle);
      g = middle + k * (g - middle);
      b = middle + k * (b - middle);
    }
    out[i] = r < 0 ? 0 : r > 255 ? 255 : r + 0.5;
    out[i + 1] = g < 0 ? 0 : g > 255 ? 255 : g + 0.5;
    out[i + 2] = b < 0 ? 0 : b > 255 ? 255 : b + 0.5;
  }
  return { ...image, data: out };
}
