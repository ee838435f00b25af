import { dot, type Vector } from './vector';

/** A face as grouping sees it. Two faces of one picture are never one person. */
export interface GroupFace {
  vector: Vector;
  picture: number;
  /** 0..1: how far its description can be trusted. */
  quality: number;
}

/** How likely people are gathered. */
export interface GroupOptions {
  /** Cosine from which two centred faces support each other. */
  same: number;
  /** Passes over all faces; it usually settles sooner. */
  rounds: number;
  /** Faces said to be different people, as `${smaller}|${larger}` of their indexes. */
  apart: ReadonlySet<string>;
}

export const GROUP_DEFAULTS: GroupOptions = { same: 0.46, rounds: 20, apart: new Set() };

/** The key of a pair in {@link GroupOptions.apart}. */
export const pairKey = (a: number, b: number): string => (a < b ? `${a}|${b}` : `${b}|${a}`);

/** A small repeatable random source (linear congruential), so that the same faces always give the same groups. */
function repeatable(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (Math.imul(state, 1103515245) + 12345) & 0x7fffffff;
    return Math.floor((state / 0x80000000) * below);
  };
}

/**
 * Gathers faces into likely people: weighted Chinese whispers (Biemann, 2006) on the graph of faces more alike than
 * `same`, where faces of one picture, or said to be apart, are never neighbours; groups that still hold such a pair are
 * then split around it. Returns a group number for each face; a face alone in its group found nobody like itself.
 */
export function groupFaces(faces: readonly GroupFace[], options: Partial<GroupOptions> = {}): Int32Array {
  const { same, rounds, apart } = { ...GROUP_DEFAULTS, ...options };
  const n = faces.length;
  const differ = (a: number, b: number) =>
    faces[a]!.picture === faces[b]!.picture || (apart.size > 0 && apart.has(pairKey(a, b)));
  const neighbours: number[][] = faces.map(() => []);
  const weights: number[][] = faces.map(() => []);
  for (let i = 0; i < n; i++)
    for (let j = 0; j < i; j++) {
      const likeness = dot(faces[i]!.vector, faces[j]!.vector);
      if (likeness <= same || differ(i, j)) continue;
      const weight = (likeness - same + 0.05) * Math.min(faces[i]!.quality, faces[j]!.quality);
      neighbours[i]!.push(j);
      neighbours[j]!.push(i);
      weights[i]!.push(weight);
      weights[j]!.push(weight);
    }
  const label = Int32Array.from({ length: n }, (_, i) => i);
  const order = Int32Array.from(label);
  const random = repeatable(1);
  for (let round = 0; round < rounds; round++) {
    for (let i = n - 1; i > 0; i--) {
      const j = random(i + 1);
      [order[i], order[j]] = [order[j]!, order[i]!];
    }
    let changed = false;
    for (const i of order) {
      const votes = new Map<number, number>();
      for (let k = 0; k < neighbours[i]!.length; k++) {
        const l = label[neighbours[i]![k]!]!;
        votes.set(l, (votes.get(l) ?? 0) + weights[i]![k]!);
      }
      let best = label[i]!;
      let most = votes.get(best) ?? 0;
      for (const [l, vote] of votes)
        if (vote > most) {
          best = l;
          most = vote;
        }
      if (best !== label[i]) {
        label[i] = best;
        changed = true;
      }
    }
    if (!changed) break;
  }
  return splitApart(faces, label, differ);
}

function splitApart(
  faces: readonly GroupFace[],
  label: Int32Array,
  differ: (a: number, b: number) => boolean,
): Int32Array {
  const groups = new Map<number, number[]>();
  label.forEach((l, i) => groups.set(l, [...(groups.get(l) ?? []), i]));
  let next = faces.length;
  const waiting = [...groups.values()];
  const alike = (i: number, group: readonly number[]) => {
    const nearest = group
      .map((j) => dot(faces[i]!.vector, faces[j]!.vector))
      .sort((x, y) => y - x)
      .slice(0, 3);
    return nearest.reduce((x, y) => x + y, 0) / nearest.length;
  };
  for (let group = waiting.pop(); group; group = waiting.pop()) {
    const pair = firstPair(group, differ);
    if (!pair) continue;
    const left = [pair[0]];
    const right = [pair[1]];
    const others = group.filter((i) => !pair.includes(i)).sort((x, y) => faces[y]!.quality - faces[x]!.quality);
    for (const i of others) {
      const notLeft = left.some((j) => differ(i, j));
      const notRight = right.some((j) => differ(i, j));
      (notRight || (!notLeft && alike(i, left) >= alike(i, right)) ? left : right).push(i);
    }
    for (const i of right) label[i] = next;
    next++;
    waiting.push(left, right);
  }
  return label;
}

function firstPair(group: readonly number[], differ: (a: number, b: number) => boolean): [number, number] | null {
  for (let a = 1; a < group.length; a++)
    for (let b = 0; b < a; b++) if (differ(group[a]!, group[b]!)) return [group[a]!, group[b]!];
  return null;
}
