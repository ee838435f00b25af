import type { Box } from '../faces/geometry';
import { shrink, type Grey } from '../likeness/likeness';

/** Sides of paper and screens, long over short. */
export const PAPERS = {
  '10x15': 1.5,
  '13x18': 18 / 13,
  '20x25': 1.25,
  square: 1,
  '16x9': 16 / 9,
  '4x3': 4 / 3,
} as const;
export type Paper = keyof typeof PAPERS;

const clamp = (v: number, least: number, most: number) => Math.min(most, Math.max(least, v));

/**
 * The largest crop of a shape that cuts no face: it lies over all of them, and where they leave it free, on their middle. When the
 * faces reach further than the shape, it stays on their middle, and cuts as little as can be.
 * @param shape width over height of the picture. @param wanted the same of what is kept. @param faces boxes in fractions.
 * @returns left, top, right, bottom in fractions.
 */
export function proposeCrop(shape: number, wanted: number, faces: readonly Box[]): [number, number, number, number] {
  const [w, h] = wanted > shape ? [1, shape / wanted] : [wanted / shape, 1];
  const place = (size: number, low: 0 | 1, high: 2 | 3): number => {
    if (size >= 1 || faces.length === 0) return (1 - size) / 2;
    const from = Math.min(...faces.map((face) => face[low]));
    const to = Math.max(...faces.map((face) => face[high]));
    // A little air above heads and beside them.
    const air = 0.12 * Math.max(...faces.map((face) => face[high] - face[low]));
    const middle = clamp((from + to) / 2 - size / 2, 0, 1 - size);
    const [least, most] = [Math.max(0, Math.min(1, to + air) - size), Math.min(1 - size, Math.max(0, from - air))];
    if (to - from > size) return middle;
    return least <= most ? clamp((1 - size) / 2, least, most) : middle;
  };
  const [left, top] = [place(w, 0, 2), place(h, 1, 3)];
  return [left, top, left + w, top + h];
}

/** Angles that a slanting horizon may have, in degrees; beyond, it is meant. And the step in which they are tried. */
const MOST_SLANT = 12;
const STEP = 0.2;
/** At most so many points of edges are looked at, the strongest. */
const POINTS = 12_000;

interface Point {
  x: number;
  y: number;
  strength: number;
}

/** How much the points of edges gather on lines when they are seen at each angle: the sum of squares of what falls on each line. */
function gathered(points: readonly Point[], across: boolean, lines: number): Float64Array {
  const angles = Math.round((2 * MOST_SLANT) / STEP) + 1;
  const found = new Float64Array(angles);
  const bins = new Float32Array(2 * lines);
  for (let a = 0; a < angles; a++) {
    const angle = ((a * STEP - MOST_SLANT) * Math.PI) / 180;
    const [c, s] = [Math.cos(angle), Math.sin(angle)];
    bins.fill(0);
    for (const { x, y, strength } of points) {
      const at = (across ? y * c - x * s : x * c + y * s) + lines / 2;
      const low = Math.floor(at);
      if (low < 0 || low + 1 >= bins.length) continue;
      bins[low]! += strength * (1 - (at - low));
      bins[low + 1]! += strength * (at - low);
    }
    let sum = 0;
    for (const v of bins) sum += v * v;
    found[a] = sum;
  }
  return found;
}

/**
 * A guess of how far a picture is to be turned to be level, in hundredths of a degree clockwise; 0 when its long edges say nothing.
 * Edges that lie nearly flat or upright are projected along each angle: where they gather on few lines, horizons, walls and tables
 * stand level (projection profiles, as scans are deskewed: Postl, 1986).
 */
export function guessLevel(grey: Grey): number {
  const k = Math.min(1, 480 / Math.max(grey.width, grey.height));
  const {
    width: w,
    height: h,
    data,
  } = k < 1 ? shrink(grey, Math.round(grey.width * k), Math.round(grey.height * k)) : grey;
  const flat: Point[] = [];
  const upright: Point[] = [];
  for (let y = 2; y < h - 2; y++)
    for (let x = 2; x < w - 2; x++) {
      const i = y * w + x;
      const gx = data[i + 2]! + 2 * data[i + 1]! - 2 * data[i - 1]! - data[i - 2]!;
      const gy = data[i + 2 * w]! + 2 * data[i + w]! - 2 * data[i - w]! - data[i - 2 * w]!;
      const [ax, ay] = [Math.abs(gx), Math.abs(gy)];
      if (Math.max(ax, ay) < 60) continue;
      if (ay > 2 * ax) flat.push({ x, y, strength: Math.min(255, ay) });
      else if (ax > 2 * ay) upright.push({ x, y, strength: Math.min(255, ax) });
    }
  const strongest = (some: Point[]) =>
    some.length > POINTS ? some.sort((a, b) => b.strength - a.strength).slice(0, POINTS) : some;
  const lines = w + h;
  const [one, two] = [gathered(strongest(flat), true, lines), gathered(strongest(upright), false, lines)];
  const all = one.map((v, i) => v + two[i]!);
  const top = all.reduce((best, v, i) => (v > all[best]! ? i : best), 0);
  const sorted = [...all].sort((a, b) => a - b);
  // A peak that hardly stands out is chance, and one at the end is beyond what is looked for.
  if (flat.length + upright.length < 60 || all[top]! < 1.25 * sorted[sorted.length >> 1]!) return 0;
  if (top === 0 || top === all.length - 1) return 0;
  // Between the steps, by the parabola through the peak and its neighbours.
  const [a, b, c] = [all[top - 1]!, all[top]!, all[top + 1]!];
  const shift = (a - c) / (2 * (a - 2 * b + c) || 1);
  const angle = (top + shift) * STEP - MOST_SLANT;
  return Math.abs(angle) < 0.25 ? 0 : Math.round(-angle * 100);
}
