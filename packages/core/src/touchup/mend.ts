import type { Pixels } from '../faces/geometry';
import type { Recipe, Spot } from './recipe';

/** Runs over the pixels of a round spot: how far out each lies, 0 in the middle to 1 at the edge. */
function within(image: Pixels, [x, y, r]: Spot, act: (at: number, out: number) => void): void {
  const { width, height } = image;
  const radius = Math.max(1, r * Math.max(width, height));
  const [cx, cy] = [x * width, y * height];
  const top = Math.max(0, Math.floor(cy - radius));
  const bottom = Math.min(height - 1, Math.ceil(cy + radius));
  const left = Math.max(0, Math.floor(cx - radius));
  const right = Math.min(width - 1, Math.ceil(cx + radius));
  for (let v = top; v <= bottom; v++)
    for (let u = left; u <= right; u++) {
      const out = Math.hypot(u + 0.5 - cx, v + 0.5 - cy) / radius;
      if (out <= 1) act(3 * (v * width + u), out);
    }
}

/** How much of a change is taken at a distance from the middle of a spot: all of it inside, less towards the edge. */
const feather = (out: number): number => (out < 0.7 ? 1 : (1 - out) / 0.3);

/** Takes the red out of an eye where it is far redder than anything else, and leaves the glint. */
function calmEye(image: Pixels, data: Uint8Array, spot: Spot): void {
  within(image, spot, (at, out) => {
    const [r, g, b] = [data[at]!, data[at + 1]!, data[at + 2]!];
    const middle = (g + b) / 2;
    if (r < 50 || r < 1.4 * middle) return;
    const k = feather(out);
    data[at] = r + k * (middle - r) + 0.5;
  });
}

/** The directions a patch for a spot is looked for in, and how far away, in radii. */
const AWAY = 2.3;
const WAYS = Array.from({ length: 12 }, (_, i): [number, number] => [
  Math.cos((i * Math.PI) / 6),
  Math.sin((i * Math.PI) / 6),
]);

/** Mean colour of the rim of a round spot. */
function rimOf(image: Pixels, data: Uint8Array, spot: Spot): [number, number, number] {
  const sum: [number, number, number] = [0, 0, 0];
  let n = 0;
  within(image, spot, (at, out) => {
    if (out < 0.8) return;
    for (let c = 0; c < 3; c++) sum[c]! += data[at + c]!;
    n++;
  });
  return sum.map((v) => v / (n || 1)) as [number, number, number];
}

/** Lays a piece from beside a spot over it: of those all round, the one whose rim is most like the spot's own, in its colour. */
function heal(image: Pixels, data: Uint8Array, spot: Spot): void {
  const [x, y, r] = spot;
  const { width, height } = image;
  const long = Math.max(width, height);
  const rim = rimOf(image, data, [x, y, r * 1.15]);
  let best: { dx: number; dy: number; far: number; own: [number, number, number] } | null = null;
  for (const [a, b] of WAYS) {
    const dx = Math.round(AWAY * a * r * long);
    const dy = Math.round(AWAY * b * r * long);
    const there: Spot = [x + dx / width, y + dy / height, r];
    if (there[0] - r < 0 || there[0] + r > 1 || there[1] - r < 0 || there[1] + r > 1) continue;
    const own = rimOf(image, data, [there[0], there[1], r * 1.15]);
    const far = Math.hypot(own[0] - rim[0], own[1] - rim[1], own[2] - rim[2]);
    if (!best || far < best.far) best = { dx, dy, far, own };
  }
  if (!best) return;
  const { dx, dy, own } = best;
  const from = data.slice();
  within(image, spot, (at, out) => {
    const k = feather(out);
    const source = at + 3 * (dy * width + dx);
    for (let c = 0; c < 3; c++) {
      const value = from[source + c]! + rim[c]! - own[c]!;
      const mixed = from[at + c]! + k * (Math.max(0, Math.min(255, value)) - from[at + c]!);
      data[at + c] = mixed + 0.5;
    }
  });
}

/** Red eyes calmed and spots healed, on the picture as it was taken. Answers with new pixels, or the same where nothing is asked. */
export function mended(image: Pixels, recipe: Recipe): Pixels {
  const { redEyes = [], spots = [] } = recipe;
  if (redEyes.length + spots.length === 0) return image;
  const data = image.data.slice();
  for (const spot of spots) heal(image, data, spot);
  for (const eye of redEyes) calmEye(image, data, eye);
  return { ...image, data };
}
