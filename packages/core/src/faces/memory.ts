import { chooseExemplars } from './exemplars';
import { VectorTable } from './table';
import { dot, type Vector } from './vector';

/** A face as recognition sees it. */
export interface SeenFace {
  id: number;
  picture: number;
  /** Centred and joined, of unit length. */
  vector: Vector;
  /** Height in the original, in pixels. */
  height: number;
  /** 0..1. */
  quality: number;
  /** When it was taken, in minutes of wall-clock time since 1970; null when not even the day is known. */
  at: number | null;
  event: number | null;
  clothes: Uint8Array | null;
}

/** A face with the person it is said to show. */
export interface ToldFace extends SeenFace {
  person: number;
}

/** What is known of a person beside their faces. */
export interface KnownPerson {
  id: number;
  /** Birth date, in days since 1970. */
  born: number | null;
}

/** A face that stands for a person. */
export interface Exemplar {
  person: number;
  picture: number;
  vector: Vector;
  at: number | null;
}

/** Everything that named faces say, made ready to be asked about many faces. */
export interface Memory {
  exemplars: Exemplar[];
  table: VectorTable;
  born: Map<number, number>;
  /** People who are easily taken for each other, as {@link pairOf} keys. */
  alike: Set<string>;
  /** Who is named in each picture, how many pictures of each event have names and whom they show, and named faces by day. */
  pictures: Map<number, Set<number>>;
  events: Map<number, { pictures: Set<number>; people: Map<number, Set<number>> }>;
  days: Map<number, ToldFace[]>;
  /** In how many pictures each person, and each pair of people, is named; and in how many anybody is. */
  seen: Map<number, number>;
  together: Map<string, number>;
  all: number;
  /** Faces somebody said are not this person. */
  refused: Map<number, Vector[]>;
}

export const MINUTES_A_DAY = 1440;

/** People are look-alikes from this share of exemplars that are about as near to the other as to their own. */
const MIXED = 0.12;
/** How much nearer to its own a face must be not to count as mixed. */
const CLEAR = 0.15;
/** People known by too few faces to tell are look-alikes from this likeness on. */
const VERY_NEAR = 0.6;

/** The key of two people, whichever comes first. */
export const pairOf = (a: number, b: number): string => (a < b ? `${a}|${b}` : `${b}|${a}`);

/** The day of a time, in days since 1970. */
export const dayOf = (at: number | null): number | null => (at === null ? null : Math.floor(at / MINUTES_A_DAY));

function of<K, V>(map: Map<K, V>, key: K, make: () => V): V {
  let value = map.get(key);
  if (value === undefined) map.set(key, (value = make()));
  return value;
}
const count = <K>(map: Map<K, number>, key: K) => map.set(key, (map.get(key) ?? 0) + 1);

/**
 * Learns from all named faces: who looks like what at which age, who is with whom, who was there on which day in which
 * clothes. Faces without a description (`vector` of length 0) still say who was where with whom.
 */
export function remember(
  told: readonly ToldFace[],
  people: readonly KnownPerson[],
  refused: readonly { person: number; vector: Vector }[] = [],
): Memory {
  const memory: Omit<Memory, 'table' | 'exemplars' | 'alike'> = {
    born: new Map(people.flatMap((p) => (p.born === null ? [] : [[p.id, p.born] as const]))),
    pictures: new Map(),
    events: new Map(),
    days: new Map(),
    seen: new Map(),
    together: new Map(),
    all: 0,
    refused: new Map(),
  };
  for (const { person, vector } of refused) of(memory.refused, person, () => []).push(vector);
  const faces = new Map<number, ToldFace[]>();
  const eventOf = new Map<number, number | null>();
  for (const face of told) {
    if (face.vector.length > 0) of(faces, face.person, () => []).push(face);
    of(memory.pictures, face.picture, () => new Set()).add(face.person);
    const day = dayOf(face.at);
    if (day !== null) of(memory.days, day, () => []).push(face);
    eventOf.set(face.picture, face.event);
  }
  for (const [picture, shown] of memory.pictures) {
    memory.all++;
    const ids = [...shown];
    ids.forEach((a, i) => {
      count(memory.seen, a);
      for (const b of ids.slice(0, i)) count(memory.together, pairOf(a, b));
    });
    const event = eventOf.get(picture) ?? null;
    if (event === null) continue;
    const here = of(memory.events, event, () => ({ pictures: new Set<number>(), people: new Map() }));
    here.pictures.add(picture);
    for (const id of ids) of(here.people, id, () => new Set()).add(picture);
  }
  const exemplars = [...faces]
    .sort((a, b) => a[0] - b[0])
    .flatMap(([person, list]) => {
      const sorted = [...list].sort((a, b) => a.id - b.id);
      return chooseExemplars(sorted.map((f) => ({ vector: f.vector, quality: f.quality, day: dayOf(f.at) }))).map(
        (i): Exemplar => {
          const { picture, vector, at } = sorted[i]!;
          return { person, picture, vector, at };
        },
      );
    });
  const table = new VectorTable(exemplars.length, exemplars[0]?.vector.length ?? 16);
  exemplars.forEach((one, i) => table.set(i, one.vector));
  return { ...memory, exemplars, table, alike: lookAlikes(exemplars) };
}

/** Who is easily taken for whom: the pairs whose exemplars are often about as near to the other's as to their own. */
function lookAlikes(exemplars: readonly Exemplar[]): Set<string> {
  const people = new Map<number, Vector[]>();
  for (const { person, vector } of exemplars) of(people, person, () => []).push(vector);
  const best = (vector: Vector, others: readonly Vector[]) =>
    others.reduce((most, other) => (other === vector ? most : Math.max(most, dot(vector, other))), -1);
  const own = new Map([...people].map(([id, list]) => [id, list.map((v) => best(v, list))]));
  const isMixed = (a: number, b: number) => {
    const [mine, theirs] = [people.get(a)!, people.get(b)!];
    if (mine.length < 3) return mine.reduce((sum, v) => sum + best(v, theirs), 0) / mine.length >= VERY_NEAR;
    const mixed = mine.filter((v, i) => best(v, theirs) > own.get(a)![i]! - CLEAR).length;
    return mixed >= 2 && mixed / (mine.length + 2) >= MIXED;
  };
  const ids = [...people.keys()];
  return new Set(
    ids.flatMap((a, i) =>
      ids
        .slice(0, i)
        .filter((b) => isMixed(a, b) || isMixed(b, a))
        .map((b) => pairOf(a, b)),
    ),
  );
}
