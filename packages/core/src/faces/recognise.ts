import { clothesAlike } from './clothes';
import { chooseExemplars } from './exemplars';
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
  /** When it was taken, in minutes of wall-clock time since 1970; null when that is not known to the day. */
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

/** What speaks for one face being one person. Each can be said in words. */
export interface Evidence {
  /** Mean of the best likeness and the mean of the three best, as cosines. */
  like: number;
  /** How many exemplars are this near. */
  support: number;
  /** First and last day of the near ones, in days since 1970. */
  likeFrom: number | null;
  likeTo: number | null;
  /** How much better than the next most likely person, 0..1. */
  margin: number;
  /** The part of the pictures with known faces of the same event that show this person, -1 when nothing is known. */
  event: number;
  /** Logarithm of how much more often than by chance this person is seen with those named in the same picture. */
  company: number;
  /** Whoever of them speaks most for it. */
  beside: number | null;
  /** Minutes to the nearest named face of this person in another picture, up to {@link SOON}; null beyond. */
  minutes: number | null;
  /** How much nearer the clothes are to this person's of the same day than to anybody else's; null when there are none. */
  clothes: number | null;
  /** How much younger or older than in the nearest exemplars, as a share of the age; 0 when nothing is known. */
  age: number;
}

/** A person a face may be. */
export interface Candidate {
  person: number;
  evidence: Evidence;
  /** All evidence in one number, in log odds before calibration. */
  score: number;
}

/** Named faces within so many minutes speak for a face. */
export const SOON = 30;
/** An exemplar at least this alike supports a candidate. */
export const NEAR = 0.36;

const DAY = 1440;

interface Portrait {
  vector: Vector;
  day: number | null;
}

/** Everything that named faces say, made ready to be asked about many faces. */
export interface Memory {
  /** The exemplars of each person. */
  portraits: Map<number, Portrait[]>;
  born: Map<number, number>;
  /** People whose exemplars are close to each other, as `${smaller}|${larger}`. */
  alike: Set<string>;
  /** Named faces by picture, by event and by day. */
  pictures: Map<number, Map<number, number>>;
  events: Map<number, { pictures: number; people: Map<number, Set<number>> }>;
  days: Map<number, ToldFace[]>;
  /** In how many pictures each person, each pair of people, and anybody is named. */
  seen: Map<number, number>;
  together: Map<string, number>;
  all: number;
}

/** People are look-alikes from this share of faces that are about as near to the other as to their own. */
const MIXED = 0.12;
/** How much nearer to their own a face must be not to count as mixed. */
const CLEAR = 0.15;
/** People known by too few faces to tell are look-alikes from this likeness on. */
const VERY_NEAR = 0.6;

const pair = (a: number, b: number): string => (a < b ? `${a}|${b}` : `${b}|${a}`);
const put = <K, V>(map: Map<K, V>, key: K, make: () => V): V => {
  let value = map.get(key);
  if (value === undefined) map.set(key, (value = make()));
  return value;
};

/** Learns from all named faces. Faces that are too poor to stand for their person still say who was where with whom. */
export function remember(told: readonly ToldFace[], people: readonly KnownPerson[]): Memory {
  const byPerson = new Map<number, ToldFace[]>();
  const memory: Memory = {
    portraits: new Map(),
    born: new Map(people.filter((p) => p.born !== null).map((p) => [p.id, p.born!])),
    alike: new Set(),
    pictures: new Map(),
    events: new Map(),
    days: new Map(),
    seen: new Map(),
    together: new Map(),
    all: 0,
  };
  for (const face of told) {
    if (face.vector.length > 0) put(byPerson, face.person, () => []).push(face);
    put(memory.pictures, face.picture, () => new Map()).set(face.person, face.id);
    if (face.at !== null) put(memory.days, Math.floor(face.at / DAY), () => []).push(face);
  }
  const eventOf = new Map(told.map((face) => [face.picture, face.event]));
  for (const [picture, shown] of memory.pictures) {
    memory.all++;
    const ids = [...shown.keys()];
    ids.forEach((a, i) => {
      memory.seen.set(a, (memory.seen.get(a) ?? 0) + 1);
      for (const b of ids.slice(0, i)) memory.together.set(pair(a, b), (memory.together.get(pair(a, b)) ?? 0) + 1);
    });
    const event = eventOf.get(picture) ?? null;
    if (event === null) continue;
    const here = put(memory.events, event, () => ({ pictures: 0, people: new Map<number, Set<number>>() }));
    here.pictures++;
    for (const id of ids) put(here.people, id, () => new Set()).add(picture);
  }
  for (const [person, faces] of byPerson) {
    const days = faces.map((f) => (f.at === null ? null : Math.floor(f.at / DAY)));
    const chosen = chooseExemplars(faces.map((f, i) => ({ vector: f.vector, quality: f.quality, day: days[i]! })));
    memory.portraits.set(
      person,
      chosen.map((i) => ({ vector: faces[i]!.vector, day: days[i]! })),
    );
  }
  const everybody = [...memory.portraits];
  everybody.forEach(([a, mine], i) => {
    for (const [b, theirs] of everybody.slice(0, i))
      if (isMixed(mine, theirs) || isMixed(theirs, mine)) memory.alike.add(pair(a, b));
  });
  return memory;
}

const bestOf = (vector: Vector, portraits: readonly Portrait[]): number =>
  portraits.reduce((most, other) => (other.vector === vector ? most : Math.max(most, dot(vector, other.vector))), -1);

/** Whether the faces of one person are often about as near to another person as to each other. */
function isMixed(mine: readonly Portrait[], theirs: readonly Portrait[]): boolean {
  if (mine.length < 3) return mine.some(({ vector }) => bestOf(vector, theirs) >= VERY_NEAR);
  const mixed = mine.filter(({ vector }) => bestOf(vector, theirs) > bestOf(vector, mine) - CLEAR).length;
  return mixed >= 2 && mixed / (mine.length + 2) >= MIXED;
}

/** Whether two people are easily taken for each other. */
export const areAlike = (memory: Memory, a: number, b: number): boolean => memory.alike.has(pair(a, b));

/** The likeness of a face to every person, the nearest first. */
export function likenesses(
  face: SeenFace,
  memory: Memory,
): { person: number; like: number; support: number; from: number | null; to: number | null; nearestDay: number | null }[] {
  const day = face.at === null ? null : Math.floor(face.at / DAY);
  const result = [];
  for (const [person, portraits] of memory.portraits) {
    // A picture from before somebody was born does not show them.
    const born = memory.born.get(person);
    if (born !== undefined && day !== null && day < born - 1) continue;
    const all = portraits
      .map((portrait) => ({ day: portrait.day, cosine: dot(face.vector, portrait.vector) }))
      .sort((a, b) => b.cosine - a.cosine);
    const best = all.slice(0, 3);
    const near = all.filter((one) => one.cosine >= NEAR);
    const days = near.flatMap((one) => (one.day === null ? [] : [one.day]));
    result.push({
      person,
      like: (best[0]!.cosine + best.reduce((sum, one) => sum + one.cosine, 0) / best.length) / 2,
      support: near.length,
      from: days.length ? Math.min(...days) : null,
      to: days.length ? Math.max(...days) : null,
      nearestDay: best.reduce<number | null>(
        (nearest, one) =>
          one.day !== null && day !== null && (nearest === null || Math.abs(one.day - day) < Math.abs(nearest - day))
            ? one.day
            : nearest,
        null,
      ),
    });
  }
  return result.sort((a, b) => b.like - a.like);
}

/** Everything that speaks for a face being one of these people. `beside` are people already named in its picture. */
export function candidatesFor(face: SeenFace, memory: Memory, excluded: ReadonlySet<number>): Candidate[] {
  const near = likenesses(face, memory).filter((one) => !excluded.has(one.person));
  const day = face.at === null ? null : Math.floor(face.at / DAY);
  const beside = [...(memory.pictures.get(face.picture)?.keys() ?? [])];
  const sameDay = day === null ? [] : (memory.days.get(day) ?? []).filter((f) => f.picture !== face.picture);
  const event = face.event === null ? undefined : memory.events.get(face.event);
  const worn = new Map<number, number>();
  if (face.clothes)
    for (const other of sameDay)
      if (other.clothes)
        worn.set(other.person, Math.max(worn.get(other.person) ?? 0, clothesAlike(face.clothes, other.clothes)));
  return near.slice(0, MOST).map((one, i): Candidate => {
    const rival = near[i === 0 ? 1 : 0];
    const evidence: Evidence = {
      like: one.like,
      support: one.support,
      likeFrom: one.from,
      likeTo: one.to,
      margin: rival ? one.like - rival.like : 1,
      event: -1,
      company: 0,
      beside: null,
      minutes: null,
      clothes: null,
      age: 0,
    };
    const base = (memory.seen.get(one.person) ?? 0) / Math.max(1, memory.all);
    if (event && event.pictures >= 3) {
      const there = event.people.get(one.person);
      const others = event.pictures - (memory.pictures.has(face.picture) ? 1 : 0);
      evidence.event = ((there?.size ?? 0) + base) / (others + 1);
    }
    let most = 0;
    for (const other of beside) {
      const lift = Math.log(
        ((memory.together.get(pair(one.person, other)) ?? 0) + 0.5) /
          (((memory.seen.get(one.person)! + 1) * (memory.seen.get(other)! + 1)) / (memory.all + 1) + 0.5),
      );
      evidence.company += Math.max(-1.5, Math.min(1.5, lift)) / beside.length;
      if (lift > most) [most, evidence.beside] = [lift, other];
    }
    for (const other of sameDay)
      if (other.person === one.person) {
        const minutes = Math.abs(other.at! - face.at!);
        if (minutes <= SOON && (evidence.minutes === null || minutes < evidence.minutes)) evidence.minutes = minutes;
      }
    if (worn.has(one.person)) {
      const others = [...worn].filter(([person]) => person !== one.person).map(([, alike]) => alike);
      evidence.clothes = worn.get(one.person)! - (others.length ? Math.max(...others) : 0.45);
    } else if (worn.size) evidence.clothes = null;
    const born = memory.born.get(one.person);
    if (born !== undefined && day !== null && one.nearestDay !== null) {
      const [now, then] = [day - born, one.nearestDay - born].map((d) => Math.max(0.2, d / 365.25) + 2);
      evidence.age = Math.abs(Math.log(now! / then!));
    }
    return { person: one.person, evidence, score: 0 };
  });
}

/** How many people a face is offered at most. */
const MOST = 5;
