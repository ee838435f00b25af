import { findNeighbours, type Neighbours } from './neighbours';
import type { Vector } from './vector';

/** A face as grouping sees it. Two faces of one picture are never one person. */
export interface GroupFace {
  id: number;
  vector: Vector;
  picture: number;
  /** 0..1: how far its description can be trusted. */
  quality: number;
  /** Whether it may lead a group; one that may not only joins the group it is nearest to. */
  leads: boolean;
}

/** How likely people are gathered. */
export interface GroupOptions {
  /** The neighbours of each face above `same`, if they are known already; faces that may not be together are left out of them. */
  near: Neighbours | null;
  /** Cosine from which two centred faces support each other. */
  same: number;
  /** Passes over all faces; it usually settles sooner. */
  rounds: number;
  /** Faces said to be different people, by their ids. */
  apart: readonly (readonly [number, number])[];
}

export const GROUP_DEFAULTS: GroupOptions = { same: 0.46, rounds: 20, apart: [], near: null };

/** A small repeatable random source (linear congruential), so that the same faces always give the same groups. */
function repeatable(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (Math.imul(state, 1103515245) + 12345) & 0x7fffffff;
    return Math.floor((state / 0x80000000) * below);
  };
}

/** What may not be in one group: faces of one picture, and pairs said to be apart. */
class Apart {
  private readonly said = new Map<number, Set<number>>();

  constructor(
    private readonly faces: readonly GroupFace[],
    pairs: GroupOptions['apart'],
  ) {
    for (const [a, b] of pairs) this.note(a, b).note(b, a);
  }

  private note(a: number, b: number): this {
    const others = this.said.get(a);
    if (others) others.add(b);
    else this.said.set(a, new Set([b]));
    return this;
  }

  /** Whether anybody was said to be apart from this face. */
  isSaid(i: number): boolean {
    return this.said.has(this.faces[i]!.id);
  }

  differ(i: number, j: number): boolean {
    const [a, b] = [this.faces[i]!, this.faces[j]!];
    return a.picture === b.picture || (this.said.get(a.id)?.has(b.id) ?? false);
  }
}

/** A group that is being put together, and knows whom it cannot take. */
class Group {
  readonly members: number[] = [];
  private readonly pictures = new Set<number>();

  constructor(
    private readonly faces: readonly GroupFace[],
    private readonly apart: Apart,
  ) {}

  takes(i: number): boolean {
    if (this.pictures.has(this.faces[i]!.picture)) return false;
    return !this.apart.isSaid(i) || !this.members.some((j) => this.apart.differ(i, j));
  }

  add(i: number): void {
    this.members.push(i);
    this.pictures.add(this.faces[i]!.picture);
  }
}

/**
 * Gathers faces into likely people: weighted Chinese whispers (Biemann, 2006) among the faces that may lead, on the graph
 * of those more alike than `same`; groups that hold two faces which cannot be one person are parted around them; what may
 * not lead then joins the group it is nearest to, if that can take it. Returns a group number for each face; a face alone
 * in its group found nobody like itself. The order of the faces does not matter for whom each is with, up to ties.
 */
export function groupFaces(faces: readonly GroupFace[], options: Partial<GroupOptions> = {}): Int32Array {
  const { same, rounds, apart: pairs, near: known } = { ...GROUP_DEFAULTS, ...options };
  const n = faces.length;
  const apart = new Apart(faces, pairs);
  const near =
    known ??
    findNeighbours(
      faces.map((f) => f.vector),
      (a, b) => apart.differ(a, b),
      { above: same },
    );
  const weight = (i: number, k: number) =>
    (near.like[i]![k]! - same + 0.05) * Math.min(faces[i]!.quality, faces[near.who[i]![k]!]!.quality);
  const label = whispers(faces, near, weight, rounds);
  const result = new Int32Array(n).fill(-1);
  const groups: Group[] = [];
  const found = new Map<number, number[]>();
  faces.forEach((face, i) => {
    if (!face.leads) return;
    const list = found.get(label[i]!);
    if (list) list.push(i);
    else found.set(label[i]!, [i]);
  });
  const waiting = [...found.values()];
  for (let members = waiting.pop(); members; members = waiting.pop()) {
    const { sides, rest } = parted(members, faces, near, weight, apart);
    groups.push(...sides);
    if (rest.length) waiting.push(rest);
  }
  groups.forEach((group, g) => group.members.forEach((i) => (result[i] = g)));
  const followers = faces.map((_, i) => i).filter((i) => !faces[i]!.leads);
  for (const i of followers.sort((a, b) => faces[b]!.quality - faces[a]!.quality || faces[a]!.id - faces[b]!.id)) {
    const votes = new Map<number, number>();
    near.who[i]!.forEach((j, k) => {
      if (result[j]! >= 0 && faces[j]!.leads) votes.set(result[j]!, (votes.get(result[j]!) ?? 0) + weight(i, k));
    });
    const into = [...votes].sort((a, b) => b[1] - a[1] || a[0] - b[0]).find(([g]) => groups[g]!.takes(i))?.[0];
    if (into !== undefined) {
      groups[into]!.add(i);
      result[i] = into;
    } else {
      const alone = new Group(faces, apart);
      alone.add(i);
      result[i] = groups.push(alone) - 1;
    }
  }
  return result;
}

/** Each face again and again takes the label that weighs most among its neighbours, until nothing changes. */
function whispers(
  faces: readonly GroupFace[],
  near: Neighbours,
  weight: (i: number, k: number) => number,
  rounds: number,
): Int32Array {
  const label = Int32Array.from(faces, (_, i) => i);
  const votes = new Float64Array(faces.length);
  const order = faces
    .map((_, i) => i)
    .filter((i) => faces[i]!.leads)
    .sort((a, b) => faces[a]!.id - faces[b]!.id);
  const random = repeatable(1);
  for (let round = 0; round < rounds; round++) {
    for (let i = order.length - 1; i > 0; i--) {
      const j = random(i + 1);
      [order[i], order[j]] = [order[j]!, order[i]!];
    }
    let changed = false;
    for (const i of order) {
      const who = near.who[i]!;
      for (let k = 0; k < who.length; k++) if (faces[who[k]!]!.leads) votes[label[who[k]!]!]! += weight(i, k);
      let best = label[i]!;
      let most = votes[best]!;
      for (let k = 0; k < who.length; k++) {
        const l = label[who[k]!]!;
        if (votes[l]! > most + 1e-9) {
          best = l;
          most = votes[l]!;
        }
      }
      for (let k = 0; k < who.length; k++) votes[label[who[k]!]!] = 0;
      if (best !== label[i]) {
        label[i] = best;
        changed = true;
      }
    }
    if (!changed) break;
  }
  return label;
}

/** Parts a group around its best two members that cannot be one person; what neither side can take is left over. */
function parted(
  members: readonly number[],
  faces: readonly GroupFace[],
  near: Neighbours,
  weight: (i: number, k: number) => number,
  apart: Apart,
): { sides: Group[]; rest: number[] } {
  const best = [...members].sort((a, b) => faces[b]!.quality - faces[a]!.quality || faces[a]!.id - faces[b]!.id);
  const first = new Group(faces, apart);
  const clash = best.find((i) => {
    if (!first.takes(i)) return true;
    first.add(i);
    return false;
  });
  if (clash === undefined) return { sides: [first], rest: [] };
  const other = first.members.find((i) => apart.differ(i, clash))!;
  const sides = [new Group(faces, apart), new Group(faces, apart)] as const;
  sides[0].add(other);
  sides[1].add(clash);
  const side = new Map<number, 0 | 1>([
    [other, 0],
    [clash, 1],
  ]);
  const rest: number[] = [];
  for (const i of best) {
    if (i === other || i === clash) continue;
    const sum = [0, 0];
    const count = [0, 0];
    near.who[i]!.forEach((j, k) => {
      const s = side.get(j);
      // The nearest few speak: they come first.
      if (s !== undefined && count[s]! < 3) {
        count[s]!++;
        sum[s]! += weight(i, k);
      }
    });
    const nearer = sum[0]! >= sum[1]! ? 0 : 1;
    const into = ([nearer, 1 - nearer] as (0 | 1)[]).find((s) => sides[s].takes(i));
    if (into === undefined) rest.push(i);
    else {
      sides[into].add(i);
      side.set(i, into);
    }
  }
  return { sides: [...sides], rest };
}
