import { likeOf, SketchTable, VectorTable } from './table';
import type { Vector } from './vector';

/** For each vector its nearest others: who they are, and how alike (cosine), the nearest first. */
export interface Neighbours {
  who: Int32Array[];
  like: Float32Array[];
}

/** What is looked for. */
export interface NeighbourOptions {
  /** Cosine above which two vectors are neighbours. */
  above: number;
  /** How many neighbours are kept of each; a face needs no more to find its group. */
  most: number;
  /** Below so many vectors every pair is compared in full. */
  exact: number;
}

export const NEIGHBOUR_DEFAULTS: NeighbourOptions = { above: 0.46, most: 60, exact: 1500 };

/** How much more alike than its sketch says a pair is taken to be at most when only the nearest are kept. */
const CHANCE = 0.1;
/** Rows looked through at a time, so that they stay in the cache while the others pass by. */
const BLOCK = 4096;

/** The nearest few of one vector while they are being found: the worst of them at the root of a heap. */
class Nearest {
  private readonly who: Int32Array;
  private readonly like: Float32Array;
  private n = 0;

  constructor(private readonly most: number) {
    this.who = new Int32Array(most);
    this.like = new Float32Array(most);
  }

  /** Keeps one; answers what another must be more alike than to be kept, -1 while there is room. */
  add(who: number, like: number): number {
    if (this.n === this.most) {
      this.sink(who, like);
      return this.like[0]!;
    }
    let at = this.n++;
    while (at > 0) {
      const up = (at - 1) >> 1;
      if (this.like[up]! <= like) break;
      this.who[at] = this.who[up]!;
      this.like[at] = this.like[up]!;
      at = up;
    }
    this.who[at] = who;
    this.like[at] = like;
    return this.n === this.most ? this.like[0]! : -1;
  }

  private sink(who: number, like: number): void {
    let at = 0;
    for (let child = 1; child < this.n; child = 2 * at + 1) {
      if (child + 1 < this.n && this.like[child + 1]! < this.like[child]!) child++;
      if (this.like[child]! >= like) break;
      this.who[at] = this.who[child]!;
      this.like[at] = this.like[child]!;
      at = child;
    }
    this.who[at] = who;
    this.like[at] = like;
  }

  sorted(): { who: Int32Array; like: Float32Array } {
    const order = Array.from({ length: this.n }, (_, i) => i).sort(
      (a, b) => this.like[b]! - this.like[a]! || this.who[a]! - this.who[b]!,
    );
    return {
      who: Int32Array.from(order, (i) => this.who[i]!),
      like: Float32Array.from(order, (i) => this.like[i]!),
    };
  }
}

/**
 * Finds all pairs of unit vectors more alike than `above`, except those that `differ` says are never the same. Many
 * vectors are first compared by their sketches, and in full only where those say that they may be.
 */
export function findNeighbours(
  vectors: readonly Vector[],
  differ: (a: number, b: number) => boolean,
  options: Partial<NeighbourOptions> = {},
): Neighbours {
  const { above, most, exact } = { ...NEIGHBOUR_DEFAULTS, ...options };
  const n = vectors.length;
  const found = vectors.map(() => new Nearest(most));
  if (n === 0) return { who: [], like: [] };
  const table = new VectorTable(n, vectors[0]!.length);
  vectors.forEach((v, i) => table.set(i, v));
  // What another must be more alike than to be kept, for each: close together, since it is looked up for every pair.
  const least = new Float32Array(n).fill(above);
  const keep = (i: number, j: number, like: number) => {
    const forI = like > least[i]!;
    const forJ = like > least[j]!;
    if (!(forI || forJ) || differ(i, j)) return;
    if (forI) least[i] = Math.max(above, found[i]!.add(j, like));
    if (forJ) least[j] = Math.max(above, found[j]!.add(i, like));
  };
  if (n <= exact) {
    for (let i = 0; i < n; i++) {
      const likes = table.scan(i, 0, i);
      for (let j = 0; j < i; j++) if (likes[j]! > above) keep(i, j, likes[j]!);
    }
  } else {
    const sketches = new SketchTable(n);
    vectors.forEach((v, i) => sketches.set(i, v));
    for (let from = 0; from < n; from += BLOCK)
      for (let i = from + 1; i < n; i++) {
        const hits = sketches.near(i, above, from, Math.min(from + BLOCK, i));
        for (let h = 0; h < hits.length; h += 2) {
          const j = hits[h]!;
          // Somebody with very many faces: both have nearer ones already than this pair can be.
          const atMost = likeOf(hits[h + 1]!) + CHANCE;
          if (atMost > least[i]! || atMost > least[j]!) keep(i, j, table.dot(i, j));
        }
      }
  }
  const sorted = found.map((one) => one.sorted());
  return { who: sorted.map((s) => s.who), like: sorted.map((s) => s.like) };
}
