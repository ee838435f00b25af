import type { Box, Pixels } from './geometry';

/** Bins of hue, of lightness within each, and of grey. */
const HUES = 12;
const GREYS = 5;
const BINS = 2 * HUES + GREYS;

/** How many numbers describe clothes. */
export const CLOTHES_LENGTH = BINS;

/**
 * The colours somebody wears: a histogram over what lies below the face (hue in two lightnesses, and greys), each bin a
 * byte, all together about 255. Null when less than half of that part lies in the picture.
 * @param face its box in pixels of `image`.
 */
export function clothesOf(image: Pixels, face: Box): Uint8Array | null {
  const [x1, y1, x2, y2] = face;
  const [w, h] = [x2 - x1, y2 - y1];
  const [left, right] = [(x1 + x2) / 2 - 0.8 * w, (x1 + x2) / 2 + 0.8 * w];
  const [top, bottom] = [y2 + 0.45 * h, y2 + 1.6 * h];
  const N = 24;
  const bins = new Float32Array(BINS);
  let seen = 0;
  for (let j = 0; j < N; j++)
    for (let i = 0; i < N; i++) {
      const x = Math.floor(left + ((i + 0.5) / N) * (right - left));
      const y = Math.floor(top + ((j + 0.5) / N) * (bottom - top));
      if (x < 0 || y < 0 || x >= image.width || y >= image.height) continue;
      seen++;
      const o = 3 * (y * image.width + x);
      const [r, g, b] = [image.data[o]!, image.data[o + 1]!, image.data[o + 2]!];
      const most = Math.max(r, g, b);
      const chroma = most - Math.min(r, g, b);
      if (most < 40 || chroma < 0.18 * most) {
        bins[2 * HUES + Math.min(GREYS - 1, Math.floor((most * GREYS) / 256))]! += 1;
        continue;
      }
      const turn = most === r ? (g - b) / chroma : most === g ? (b - r) / chroma + 2 : (r - g) / chroma + 4;
      // Shared between the two nearest hues, so that a shade near a border falls into both.
      const at = ((turn + 6) % 6) * (HUES / 6);
      const low = Math.floor(at) % HUES;
      const tone = most > 140 ? HUES : 0;
      bins[tone + low]! += 1 - (at - Math.floor(at));
      bins[tone + ((low + 1) % HUES)]! += at - Math.floor(at);
    }
  if (seen < (N * N) / 2) return null;
  return Uint8Array.from(bins, (n) => Math.round((255 * n) / seen));
}

/** How alike two sets of clothes are, 0..1: the part of their colours that they share (histogram intersection). */
export function clothesAlike(a: Uint8Array, b: Uint8Array): number {
  let shared = 0;
  for (let i = 0; i < a.length; i++) shared += Math.min(a[i]!, b[i]!);
  return Math.min(1, shared / 255);
}
