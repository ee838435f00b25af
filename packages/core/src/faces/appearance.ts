import { clothesAlike } from './clothes';
import { MINUTES_A_DAY } from './memory';
import { dot, type Vector } from './vector';

/** A face as grouping sees it. Two faces of one picture are never one person. */
export interface GroupFace {
  id: number;
  /** Centred and joined, of unit length. */
  vector: Vector;
  picture: number;
  /** 0..1: how far its description can be trusted. */
  quality: number;
  /** Whether it may lead a group; one that may not only joins the group it is nearest to. */
  leads: boolean;
  /** When it was taken, in minutes of wall-clock time since 1970; null when not even the day is known. */
  at: number | null;
  event: number | null;
  clothes: Uint8Array | null;
  /** Whom somebody said it shows; null for a face that waits. */
  person: number | null;
  /** People it cannot show: those named in its picture, and those somebody said no to. */
  never: ReadonlySet<number>;
}

/** The faces of one person on one occasion, as far as that is sure: looks, clothes and hours all say so. */
export interface Appearance {
  /** Indexes of its faces. */
  faces: number[];
  /** The mean of its faces, good ones counting more; shorter than 1, the more so the less they are alike. */
  mean: Vector;
  /** How much it says, 0..1: one face less than many of one day, which are alike for more reasons than one. */
  weight: number;
  /** Mean likeness between its faces; null for one alone. */
  cohesion: number | null;
  pictures: ReadonlySet<number>;
  occasion: string;
  /** First and last minute; null when not even the day is known. */
  from: number | null;
  to: number | null;
  /** What is worn, on the whole. */
  clothes: Uint8Array | null;
  person: number | null;
  never: ReadonlySet<number>;
  /** Its faces, by id, that were said to be somebody else than others, and those others. */
  told: ReadonlySet<number>;
  apart: ReadonlySet<number>;
}

/** What parts and joins the faces of one occasion; tuned on made-up families (`family.testing.ts`). */
const OCCASION = {
  /** Mean likeness from which two heaps of faces are one person's. */
  same: 0.46,
  /** How much equal or other clothes add or take. */
  clothes: 0.4,
  /** How far ahead of somebody else, who is in a picture with them, one must be. */
  ahead: 0.06,
  /** Faces looked at together at most: long occasions are taken piece by piece. */
  most: 240,
} as const;
/** Clothes less alike than this, worn in turns within one occasion, are those of two people. */
const OTHER_CLOTHES = 0.3;

/** Whether two faces cannot be one person. */
export type Differ = (i: number, j: number) => boolean;
/** Faces that were said to be different people, by id, both ways. */
export type Apart = ReadonlyMap<number, ReadonlySet<number>>;

const occasionOf = ({ event, at, picture }: GroupFace): string =>
  event !== null ? `event ${event}` : at !== null ? `day ${Math.floor(at / MINUTES_A_DAY)}` : `picture ${picture}`;

/** The leading faces by occasion and person. The order of the faces does not matter. */
export function appearancesOf(faces: readonly GroupFace[], differ: Differ, apart: Apart): Appearance[] {
  const occasions = new Map<string, number[]>();
  faces.forEach((face, i) => {
    if (!face.leads) return;
    const key = occasionOf(face);
    const list = occasions.get(key);
    if (list) list.push(i);
    else occasions.set(key, [i]);
  });
  return [...occasions].flatMap(([occasion, list]) => {
    if (list.every((i) => faces[i]!.person !== null))
      return named(faces, list).map((some) => appearance(faces, some, occasion, apart));
    list.sort((a, b) => (faces[a]!.at ?? 0) - (faces[b]!.at ?? 0) || faces[a]!.id - faces[b]!.id);
    const found: Appearance[] = [];
    for (let from = 0; from < list.length; from += OCCASION.most)
      for (const some of parted(faces, list.slice(from, from + OCCASION.most), differ))
        found.push(appearance(faces, some, occasion, apart));
    return found;
  });
}

/** Faces that all have names, by those. */
function named(faces: readonly GroupFace[], some: readonly number[]): number[][] {
  const people = new Map<number, number[]>();
  for (const i of some) {
    const list = people.get(faces[i]!.person!);
    if (list) list.push(i);
    else people.set(faces[i]!.person!, [i]);
  }
  return [...people.values()];
}

function appearance(faces: readonly GroupFace[], some: number[], occasion: string, apart: Apart): Appearance {
  const { mean, cohesion } = meanOf(faces, some);
  const times = some.flatMap((i) => faces[i]!.at ?? []);
  const worn = some.flatMap((i) => (faces[i]!.clothes ? [faces[i]!.clothes!] : []));
  return {
    faces: some,
    mean,
    cohesion,
    weight: Math.min(1, some.length / (some.length + 1) + 0.1),
    pictures: new Set(some.map((i) => faces[i]!.picture)),
    occasion,
    from: times.length ? Math.min(...times) : null,
    to: times.length ? Math.max(...times) : null,
    clothes: worn[0]
      ? worn[0].map((_, bin) => Math.round(worn.reduce((sum, one) => sum + one[bin]!, 0) / worn.length))
      : null,
    person: some.map((i) => faces[i]!.person).find((person) => person !== null) ?? null,
    never: new Set(some.flatMap((i) => [...faces[i]!.never])),
    told: new Set(some.map((i) => faces[i]!.id).filter((id) => apart.has(id))),
    apart: new Set(some.flatMap((i) => [...(apart.get(faces[i]!.id) ?? [])])),
  };
}

/** The mean of some faces, good ones counting more, and how alike they are. */
export function meanOf(faces: readonly GroupFace[], some: readonly number[]): Pick<Appearance, 'mean' | 'cohesion'> {
  const first = faces[some[0]!]!.vector;
  if (some.length === 1) return { mean: first, cohesion: null };
  const mean = new Float32Array(first.length);
  let [all, squares] = [0, 0];
  for (const i of some) {
    const { quality, vector } = faces[i]!;
    const share = Math.max(0.1, Math.min(0.6, quality));
    all += share;
    squares += share * share;
    for (let k = 0; k < mean.length; k++) mean[k]! += share * vector[k]!;
  }
  const cohesion = (dot(mean, mean) - squares) / (all * all - squares);
  for (let k = 0; k < mean.length; k++) mean[k]! /= all;
  return { mean, cohesion };
}

/**
 * Faces of one occasion by whom they show: average linkage (Sokal and Michener 1958), clothes speaking, those of one name
 * together from the start. Nothing is joined while somebody else in the same picture is nearly as near.
 */
function parted(faces: readonly GroupFace[], some: readonly number[], differ: Differ): number[][] {
  const n = some.length;
  const sum = new Float32Array(n * n);
  const clash = new Uint8Array(n * n);
  for (let x = 0; x < n; x++)
    for (let y = 0; y < x; y++) {
      const [a, b] = [faces[some[x]!]!, faces[some[y]!]!];
      if (a.person !== null && b.person !== null) {
        clash[x * n + y] = clash[y * n + x] = a.person === b.person ? 0 : 1;
        continue;
      }
      let like = dot(a.vector, b.vector);
      if (a.clothes && b.clothes && a.at !== null && b.at !== null && Math.abs(a.at - b.at) < MINUTES_A_DAY / 2)
        like += OCCASION.clothes * (clothesAlike(a.clothes, b.clothes) - 0.5);
      sum[x * n + y] = sum[y * n + x] = like;
      clash[x * n + y] = clash[y * n + x] = differ(some[x]!, some[y]!) ? 1 : 0;
    }
  const groups: number[][] = some.map((i) => [i]);
  const alive = new Set(some.keys());
  const join = (g: number, h: number) => {
    groups[g]!.push(...groups[h]!);
    alive.delete(h);
    for (const z of alive) {
      if (z === g) continue;
      sum[g * n + z] = sum[z * n + g] = sum[g * n + z]! + sum[h * n + z]!;
      if (clash[h * n + z]) clash[g * n + z] = clash[z * n + g] = 1;
    }
  };
  const first = new Map<number, number>();
  for (const [x, i] of some.entries()) {
    const { person } = faces[i]!;
    if (person === null) continue;
    const g = first.get(person);
    if (g === undefined) first.set(person, x);
    else join(g, x);
  }
  const like = (x: number, y: number) => sum[x * n + y]! / (groups[x]!.length * groups[y]!.length);
  for (;;) {
    let [best, g, h] = [OCCASION.same as number, -1, -1];
    const list = [...alive];
    for (const [p, x] of list.entries())
      for (let q = 0; q < p; q++) {
        const y = list[q]!;
        if (clash[x * n + y]) continue;
        const much = like(x, y);
        if (much <= best) continue;
        const isContested = list.some(
          (z) =>
            (z !== x && clash[z * n + y] && like(x, z) > much - OCCASION.ahead) ||
            (z !== y && clash[z * n + x] && like(y, z) > much - OCCASION.ahead),
        );
        if (!isContested) [best, g, h] = [much, x, y];
      }
    if (g < 0) return list.map((x) => groups[x]!);
    join(g, h);
  }
}

/** Whether two appearances cannot be of one person: in one picture, said so, or in turns in other clothes on one occasion. */
export function clashes(a: Appearance, b: Appearance): boolean {
  const [few, many] = a.pictures.size < b.pictures.size ? [a, b] : [b, a];
  for (const picture of few.pictures) if (many.pictures.has(picture)) return true;
  for (const id of a.told) if (b.apart.has(id)) return true;
  return (
    a.occasion === b.occasion &&
    a.clothes !== null &&
    b.clothes !== null &&
    a.from !== null &&
    b.from !== null &&
    Math.max(a.from, b.from) < Math.min(a.to!, b.to!) &&
    clothesAlike(a.clothes, b.clothes) < OTHER_CLOTHES
  );
}
