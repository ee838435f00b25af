import { GAP, type PaperBox } from './paper';
import { slicedInto, slicesOf, type Leaf, type Slice } from './slice';

/** A picture as a page is arranged by it. */
export interface Placeable {
  /** Width / height as it is shown. */
  ratio: number;
  /** How many pixels wide it is. */
  pixels: number;
  /** How good it is, from 0 to 1: better ones stand larger. */
  good: number;
  /** How high the words below it are, in mm. */
  below: number;
}

/** A way to place some pictures: a box for each, and what it costs; less is better. */
export interface Arrangement {
  slice: Slice;
  boxes: readonly PaperBox[];
  cost: number;
}

/** Pixels of a picture to an inch of paper. */
export const ppiOf = (pixels: number, mm: number): number => (pixels / mm) * 25.4;
/** Below so many pixels to an inch a picture looks less than sharp; below so many it looks poor. */
export const SHARP = 200;
export const POOR = 120;

/** No side of a picture is to be shorter, in mm. */
const SHORT = 32;

/** What an arrangement costs: paper left empty, good pictures small and poor ones large, pictures too small to look at or too large for their pixels. */
function costOf(area: PaperBox, boxes: readonly PaperBox[], pictures: readonly Placeable[]): number {
  const whole = area.w * area.h;
  let used = 0;
  let wished = 0;
  for (const [i, { w, h }] of boxes.entries()) {
    used += w * (h + pictures[i]!.below);
    wished += 0.5 + pictures[i]!.good;
  }
  const pictured = boxes.reduce((sum, { w, h }) => sum + w * h, 0);
  let cost = 1.4 * (1 - used / whole);
  for (const [i, { w, h }] of boxes.entries()) {
    const { pixels, good } = pictures[i]!;
    cost += 0.5 * Math.abs((w * h) / pictured - (0.5 + good) / wished);
    const short = Math.min(w, h);
    if (short < SHORT) cost += (0.6 * (SHORT - short)) / SHORT;
    const ppi = ppiOf(pixels, w);
    if (ppi < SHARP) cost += (0.35 * (SHARP - ppi)) / SHARP;
    if (ppi < POOR) cost += 0.3;
  }
  return cost;
}

const kept = new Map<string, readonly Slice[]>();

function slicesFor(n: number, large: readonly number[]): readonly Slice[] {
  const key = `${n}:${large.join()}`;
  const known = kept.get(key);
  if (known) return known;
  const made = slicesOf(n, large);
  kept.set(key, made);
  return made;
}

/** The ways to place pictures in an area, the best first, at most `most`; always the same for the same pictures. */
export function arrangementsOf(area: PaperBox, pictures: readonly Placeable[], most = 1): Arrangement[] {
  const best = pictures.reduce((at, { good }, i) => (good > pictures[at]!.good ? i : at), 0);
  const leaves: Leaf[] = pictures.map(({ ratio, below }) => ({ ratio, below }));
  const found: Arrangement[] = [];
  for (const slice of slicesFor(pictures.length, best === 0 ? [0] : [0, best])) {
    const boxes = slicedInto(area, slice, leaves, GAP);
    if (!boxes) continue;
    const cost = costOf(area, boxes, pictures);
    if (found.length === most && cost >= found[most - 1]!.cost) continue;
    let at = found.length;
    while (at > 0 && found[at - 1]!.cost > cost) at--;
    found.splice(at, 0, { slice, boxes, cost });
    if (found.length > most) found.pop();
  }
  return found;
}
