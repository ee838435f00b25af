import { dot, type Vector } from './vector';

/** A named face that may stand for its person. */
export interface NamedFace {
  vector: Vector;
  /** 0..1. */
  quality: number;
  /** When it was taken, in days since 1970; null when that is not known. */
  day: number | null;
}

/** How many faces stand for one person at most, so that comparing stays fast. */
export const EXEMPLARS = 24;

/** Years after which two pictures of one person count as far apart as they ever do. */
const FAR_YEARS = 12;

/** How much of the looks of a person is between two faces, 0 to about 1: unlikeness, and the years between them. */
function between(a: NamedFace, b: NamedFace): number {
  const years = a.day === null || b.day === null ? 0 : Math.abs(a.day - b.day) / 365.25;
  return 1 - dot(a.vector, b.vector) + 0.4 * Math.min(1, years / FAR_YEARS);
}

/** An order of faces by what they are alone, the best first, so that equals are told apart whatever order they come in. */
function precedes(a: NamedFace, b: NamedFace): number {
  if (a.quality !== b.quality) return b.quality - a.quality;
  if (a.day !== b.day) return (a.day ?? -Infinity) - (b.day ?? -Infinity);
  const at = a.vector.findIndex((x, i) => x !== b.vector[i]);
  return at < 0 ? 0 : a.vector[at]! - b.vector[at]!;
}

/**
 * Chooses the faces that stand for a person, spread over looks and ages: the best one first, then again and again the one
 * farthest from all chosen, a poor one counting less (farthest-first traversal, Gonzalez 1985, weighted by quality).
 * Returns indexes into `faces`; the same faces give the same choice in whatever order they come.
 */
export function chooseExemplars(faces: readonly NamedFace[], most = EXEMPLARS): number[] {
  if (faces.length <= most) return faces.map((_, i) => i);
  const gap = new Float64Array(faces.length).fill(Infinity);
  const weight = faces.map((face) => Math.sqrt(Math.max(0.02, face.quality)));
  const order = faces.map((_, i) => i).sort((a, b) => precedes(faces[a]!, faces[b]!));
  const chosen: number[] = [];
  let next = order[0]!;
  while (chosen.length < most) {
    chosen.push(next);
    gap[next] = -1;
    const last = faces[next]!;
    let farthest = -1;
    for (const i of order) {
      if (gap[i]! < 0) continue;
      gap[i] = Math.min(gap[i]!, between(faces[i]!, last));
      const value = gap[i]! * weight[i]!;
      if (value > farthest) {
        farthest = value;
        next = i;
      }
    }
  }
  return chosen.sort((a, b) => a - b);
}
