import { clothesAlike } from './clothes';
import { dayOf, MINUTES_A_DAY, pairOf, type Memory, type SeenFace } from './memory';
import { dot } from './vector';

/** What speaks for one face being one person. Each can be said in words. */
export interface Evidence {
  /** Mean of the best likeness and the mean of the three best, as cosines; less what was said no to. */
  like: number;
  /** How many exemplars are near. */
  support: number;
  /** First and last day of the near ones, in days since 1970. */
  likeFrom: number | null;
  likeTo: number | null;
  /** How much better than the next most likely person, or, negative, worse than the most likely; 1 when there is no other. */
  margin: number;
  /** How much less alike than to faces that are themselves unnamed, 0 or below: then it may be somebody nobody has named yet. */
  unnamed: number;
  /** Whoever comes next is somebody they are easily taken for. */
  rival: number | null;
  /** How much more often than elsewhere this person is in the named pictures of the same event; 0 when nothing is known. */
  event: number;
  /** Logarithm of how much more often than by chance this person is with those named in the same picture. */
  company: number;
  /** Whoever of them speaks most for it. */
  beside: number | null;
  /** Minutes from a named face of this person in another picture, negative when this one is earlier; null beyond {@link SOON}. */
  minutes: number | null;
  /** How much nearer the clothes are to theirs of the same day than to anybody else's; 0 when there are none to compare. */
  clothes: number;
  /** How far the age is from that in the nearest exemplars: the logarithm of one over the other; 0 when nothing is known. */
  age: number;
}

/** A person a face may be. */
export interface Candidate {
  person: number;
  evidence: Evidence;
  /** All evidence in one number: log odds, before the household's own answers have put them right. */
  score: number;
}

/** Named faces within so many minutes speak for a face. */
export const SOON = 30;
/** An exemplar at least this alike supports a candidate. */
export const NEAR = 0.36;
/** How many people a face is offered at most. */
const MOST = 5;
/** How near a no must be to count, and how much less alike it makes. */
const LIKE_A_NO = { within: 0.02, less: 0.2 } as const;
/** Faces of one person who is partly named are as near to the named ones as to each other, up to about this. */
const CLOSE = 0.1;
/** Clothes of somebody else of that day whom nobody has named yet are taken to be this alike. */
const STRANGERS_CLOTHES = 0.45;

/**
 * What each kind of evidence weighs, in log odds: fitted by logistic regression to the demo household's truth with 3 to
 * 35 % of its faces named; every household's own answers then put the sum right (see {@link calibrate}).
 */
export const WEIGHTS = {
  always: -4.3,
  like: 6.2,
  margin: 17,
  unnamed: 8,
  event: 2.4,
  company: 0.2,
  minutes: 0.4,
  clothes: 3,
  age: -0.5,
} as const;

const held = (x: number, low: number, high: number) => Math.max(low, Math.min(high, x));

/** All evidence in one number. */
export function weigh(e: Omit<Evidence, 'rival' | 'likeFrom' | 'likeTo' | 'support' | 'beside'>): number {
  const w = WEIGHTS;
  return (
    w.always +
    w.like * e.like +
    w.margin * held(e.margin, -0.5, 0.4) +
    w.unnamed * held(e.unnamed, -0.5, 0) +
    w.event * held(e.event, -0.5, 1) +
    w.company * e.company +
    w.minutes * (e.minutes === null ? 0 : Math.exp(-Math.abs(e.minutes) / 10)) +
    w.clothes * held(e.clothes, -0.6, 0.6) +
    w.age * e.age
  );
}

interface Near {
  person: number;
  like: number;
  support: number;
  from: number | null;
  to: number | null;
  /** The day of the best exemplars that is nearest to the face's own. */
  nearest: number | null;
}

/** How alike a face is to everybody, the nearest first. Exemplars that `skip` names are left out. */
function likenesses(face: SeenFace, memory: Memory, skip?: (exemplar: number) => boolean): Near[] {
  if (memory.exemplars.length === 0) return [];
  const day = dayOf(face.at);
  const found = new Map<number, { at: number | null; cosine: number }[]>();
  const cosines = memory.table.scan(face.vector);
  memory.exemplars.forEach(({ person, at }, i) => {
    if (skip?.(i)) return;
    const list = found.get(person);
    if (list) list.push({ at, cosine: cosines[i]! });
    else found.set(person, [{ at, cosine: cosines[i]! }]);
  });
  const result: Near[] = [];
  for (const [person, all] of found) {
    // Nobody is seen before they were born.
    const born = memory.born.get(person);
    if (born !== undefined && day !== null && day < born - 1) continue;
    const best = all.sort((a, b) => b.cosine - a.cosine).slice(0, 3);
    const near = all.filter((one) => one.cosine >= NEAR);
    const days = near.flatMap((one) => (one.at === null ? [] : [dayOf(one.at)!]));
    let like = (best[0]!.cosine + best.reduce((sum, one) => sum + one.cosine, 0) / best.length) / 2;
    // A face as near to one that somebody said no to as to the named ones is probably not them either.
    for (const no of memory.refused.get(person) ?? [])
      if (dot(face.vector, no) > best[0]!.cosine - LIKE_A_NO.within) {
        like -= LIKE_A_NO.less;
        break;
      }
    result.push({
      person,
      like,
      support: near.length,
      from: days.length ? Math.min(...days) : null,
      to: days.length ? Math.max(...days) : null,
      nearest: best.reduce<number | null>((nearest, { at }) => {
        const on = dayOf(at);
        if (on === null || day === null) return nearest;
        return nearest === null || Math.abs(on - day) < Math.abs(nearest - day) ? on : nearest;
      }, null),
    });
  }
  return result.sort((a, b) => b.like - a.like || a.person - b.person);
}

/**
 * Whom a face may show, the likeliest first, with all that speaks for each.
 * @param excluded people it cannot be: those named in its picture, and those somebody said no to. They are no rivals either.
 * @param unnamed how alike it is to the unnamed faces nearest to it, as {@link Evidence.like} says it; null when to none.
 * @param skip exemplars to leave out, for judging a face that is itself among them.
 */
export function candidatesFor(
  face: SeenFace,
  memory: Memory,
  excluded: ReadonlySet<number>,
  unnamed: number | null = null,
  skip?: (exemplar: number) => boolean,
): Candidate[] {
  const near = likenesses(face, memory, skip).filter((one) => !excluded.has(one.person));
  const day = dayOf(face.at);
  const beside = [...(memory.pictures.get(face.picture) ?? [])];
  const sameDay = (day === null ? [] : (memory.days.get(day) ?? [])).filter((f) => f.picture !== face.picture);
  const worn = new Map<number, number>();
  if (face.clothes)
    for (const other of sameDay)
      if (other.clothes)
        worn.set(other.person, Math.max(worn.get(other.person) ?? 0, clothesAlike(face.clothes, other.clothes)));
  const candidates = near.slice(0, MOST).map((one, i): Candidate => {
    const { person } = one;
    const next = near[i === 0 ? 1 : 0];
    const nearestRival = near.find((o) => o.person !== person && memory.alike.has(pairOf(o.person, person)));
    const evidence: Evidence = {
      like: one.like,
      support: one.support,
      likeFrom: one.from,
      likeTo: one.to,
      margin: next ? one.like - next.like : 1,
      unnamed: unnamed === null ? 0 : Math.min(0, one.like - unnamed + CLOSE),
      rival: nearestRival?.person ?? null,
      event: inEvent(face, person, memory),
      company: 0,
      beside: null,
      minutes: null,
      clothes: 0,
      age: 0,
    };
    let most = 0;
    for (const other of beside) {
      if (other === person) continue;
      const seen = (id: number) => (memory.seen.get(id) ?? 0) + 1;
      const chance = (seen(person) * seen(other)) / (memory.all + 1);
      const lift = Math.log(((memory.together.get(pairOf(person, other)) ?? 0) + 0.5) / (chance + 0.5));
      evidence.company += held(lift, -1.5, 1.5) / beside.length;
      if (lift > most) [most, evidence.beside] = [lift, other];
    }
    for (const other of sameDay) {
      if (other.person !== person) continue;
      const minutes = face.at! - other.at!;
      if (Math.abs(minutes) <= SOON && Math.abs(minutes) < Math.abs(evidence.minutes ?? Infinity))
        evidence.minutes = minutes;
    }
    if (worn.has(person)) {
      const others = [...worn].filter(([id]) => id !== person).map(([, alike]) => alike);
      evidence.clothes = worn.get(person)! - (others.length ? Math.max(...others) : STRANGERS_CLOTHES);
    }
    const born = memory.born.get(person);
    if (born !== undefined && day !== null && one.nearest !== null) {
      const years = (on: number) => Math.max(0, on - born) / 365.25 + 2;
      evidence.age = Math.abs(Math.log(years(day) / years(one.nearest)));
    }
    return { person, evidence, score: weigh(evidence) };
  });
  return candidates.sort((a, b) => b.score - a.score || a.person - b.person);
}

function inEvent(face: SeenFace, person: number, memory: Memory): number {
  const event = face.event === null ? undefined : memory.events.get(face.event);
  if (!event) return 0;
  // Its own picture says nothing: whoever is named there is not this face.
  const mine = event.pictures.has(face.picture) ? 1 : 0;
  const others = event.pictures.size - mine;
  if (others < 3) return 0;
  const there = event.people.get(person);
  const base = (memory.seen.get(person) ?? 0) / Math.max(1, memory.all);
  return ((there?.size ?? 0) - (there?.has(face.picture) ? 1 : 0) + base) / (others + 1) - base;
}

/** Whether an exemplar is of the same moment as a face: of the same picture, or taken within two minutes of it. */
export const isSameMoment = (face: SeenFace, exemplar: { picture: number; at: number | null }): boolean =>
  face.picture === exemplar.picture ||
  (face.at !== null && exemplar.at !== null && Math.abs(face.at - exemplar.at) <= 2 && face.at % MINUTES_A_DAY !== 0);
