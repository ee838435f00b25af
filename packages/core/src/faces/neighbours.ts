import { VectorTable } from './table';
import { dot, type Vector } from './vector';

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

export const NEIGHBOUR_DEFAULTS: NeighbourOptions = { above: 0.46, most: 60, exact: 3000 };

/** Principal axes kept for a first look, and vectors they are worked out from. */
const AXES = 64;
const SAMPLE = 800;
const BLOCK = 512;
/** How alike what the axes leave out may be at most: more than that was not seen between faces of one person. */
const SLACK = 0.55;

/** Unit axes along which vectors differ most, by orthogonal iteration (Golub and Van Loan, Matrix Computations, 8.2). */
function principalAxes(vectors: readonly Vector[], k: number): Float32Array[] {
  const step = Math.max(1, Math.floor(vectors.length / SAMPLE));
  const sample = vectors.filter((_, i) => i % step === 0).slice(0, SAMPLE);
  const d = vectors[0]!.length;
  let state = 7;
  const random = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32 - 0.5;
  let axes = Array.from({ length: k }, () => Float32Array.from({ length: d }, random));
  const table = new VectorTable(sample.length, d);
  sample.forEach((v, i) => table.set(i, v));
  for (let round = 0; round < 4; round++) {
    axes = axes.map((axis) => {
      const next = new Float32Array(d);
      table.scan(axis).forEach((weight, s) => {
        const v = sample[s]!;
        for (let i = 0; i < d; i++) next[i]! += weight * v[i]!;
      });
      return next;
    });
    // Gram-Schmidt keeps the axes apart.
    axes.forEach((axis, a) => {
      for (const other of axes.slice(0, a)) {
        const along = dot(axis, other);
        for (let i = 0; i < d; i++) axis[i]! -= along * other[i]!;
      }
      const length = Math.sqrt(dot(axis, axis)) || 1;
      for (let i = 0; i < d; i++) axis[i]! /= length;
    });
  }
  return axes;
}

/** The nearest few of one vector while they are being found: the worst of them at the root of a heap. */
class Nearest {
  private readonly who: Int32Array;
  private readonly like: Float32Array;
  private n = 0;

  constructor(private readonly most: number) {
    this.who = new Int32Array(most);
    this.like = new Float32Array(most);
  }

  add(who: number, like: number): void {
    if (this.n === this.most) {
      if (like <= this.like[0]!) return;
      this.sink(who, like);
      return;
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
 * vectors are first compared along their principal axes, and in full only where the rest could still bring them above.
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
  const keep = (i: number, j: number, like: number) => {
    if (like <= above || differ(i, j)) return;
    found[i]!.add(j, like);
    found[j]!.add(i, like);
  };
  if (n <= exact) {
    for (let i = 0; i < n; i++) {
      const likes = table.scan(i, 0, i);
      for (let j = 0; j < i; j++) if (likes[j]! > above) keep(i, j, likes[j]!);
    }
  } else {
    const axes = principalAxes(vectors, AXES);
    const axesTable = new VectorTable(axes.length, axes[0]!.length);
    axes.forEach((axis, k) => axesTable.set(k, axis));
    const short = new VectorTable(n, AXES);
    const rest = vectors.map((v, i) => {
      const along = axesTable.scan(v).slice();
      short.set(i, along);
      return Math.sqrt(Math.max(0, 1 - dot(along, along)) * SLACK);
    });
    // In blocks, so that one block of short vectors stays in the cache while the others pass by.
    for (let from = 0; from < n; from += BLOCK)
      for (let i = from + 1; i < n; i++) {
        const end = Math.min(from + BLOCK, i);
        const likes = short.scan(i, from, end);
        const mine = rest[i]!;
        for (let j = from; j < end; j++)
          if (likes[j - from]! + mine * rest[j]! > above) keep(i, j, table.dot(i, j));
      }
  }
  const sorted = found.map((one) => one.sorted());
  return { who: sorted.map((s) => s.who), like: sorted.map((s) => s.like) };
}
