import { dice } from '../time/household.testing';
import type { LibraryFace } from './gather';
import type { KnownPerson } from './memory';
import { unit, type Vector } from './vector';

/** How a made-up family looks and lives; whatever is left out is drawn. */
export interface FamilyTraits {
  people: number;
  /** Pairs of brothers or sisters, and of strangers who merely look alike. */
  siblings: number;
  lookAlikes: number;
  /** How alike the middles of two siblings are: 1 is the same face. */
  siblingLikeness: readonly [least: number, most: number];
  /** Mean cosine of two good faces of one person at different events. */
  within: readonly [least: number, most: number];
  /** Years from the first event to the last. */
  years: number;
  events: number;
  /** Part of the faces that are blurred, small, turned away or badly lit. */
  poor: number;
  passersBy: number;
  /** Dogs, toys and sculptures that were taken for faces, as a part of all pictures. */
  things: number;
  /** How often siblings who are both there stand in one picture: as anybody else (1), or never (0). */
  together: number;
}

/** A made-up family: every face with whom it truly shows. */
export interface Family {
  traits: FamilyTraits;
  faces: LibraryFace[];
  people: KnownPerson[];
  /** The person a face truly shows, by the number of the face; 0 for passers-by and what is no face. */
  trulyIs: (face: number) => number;
  /** Whether a face is good enough that somebody could tell. */
  clear: (face: number) => boolean;
  /** Who is easily taken for whom. */
  alike: [number, number][];
}

/** Numbers that describe a made-up face; fewer than a real one has, for speed, enough that strangers stay strangers. */
const LENGTH = 64;
const MINUTES_A_DAY = 1440;

/** A point drawn from a normal distribution in all directions, of unit length. */
function direction(roll: () => number): Vector {
  return unit(
    Float32Array.from({ length: LENGTH }, () => Math.sqrt(-2 * Math.log(1 - roll())) * Math.cos(2 * Math.PI * roll())),
  );
}

/** A weighted sum of directions, of unit length; weights are shares of the variance. */
function mixed(...parts: readonly (readonly [share: number, of: Vector])[]): Vector {
  const v = new Float32Array(LENGTH);
  for (const [share, of] of parts) {
    const k = Math.sign(share) * Math.sqrt(Math.abs(share));
    for (let i = 0; i < LENGTH; i++) v[i]! += k * of[i]!;
  }
  return unit(v);
}

/** Somebody's looks: a middle that turns as they grow older, fast in childhood and slowly later. */
interface Looks {
  at: (age: number) => Vector;
  within: number;
  born: number;
}

/**
 * Draws a family as points in the space of descriptions, with the days, pictures and clothes they are seen in. Within a
 * moment faces of one person are nearly the same, within an event nearer than across events (light, hair, glasses), and poor
 * ones are pulled towards each other whoever they show.
 */
export function makeFamily(seed: number, fixed: Partial<FamilyTraits> = {}): Family {
  const roll = dice(seed * 104_729 + 71);
  const int = (least: number, most: number) => least + Math.floor(roll() * (most - least + 1));
  const between = ([least, most]: readonly [number, number]) => least + roll() * (most - least);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(roll() * list.length)]!;
  const traits: FamilyTraits = {
    people: int(6, 14),
    siblings: int(1, 3),
    lookAlikes: int(0, 2),
    siblingLikeness: [0.3, 0.84],
    within: [0.5, 0.76],
    years: pick([1, 2, 4, 10, 30]),
    events: int(14, 34),
    poor: 0.05 + roll() * 0.25,
    passersBy: roll() * 0.15,
    things: roll() * 0.08,
    together: pick([1, 1, 1, 0.4, 0]),
    ...fixed,
  };
  const middle = direction(roll);
  const blur = direction(roll);
  const [childish, elderly] = [direction(roll), direction(roll)];
  // Skin, beards and hair are shared by many.
  const kinds = Array.from({ length: int(2, 4) }, () => direction(roll));
  const last = 20_000 + int(0, 700);
  const first = last - Math.round(traits.years * 365);

  const looks: Looks[] = [];
  const alike: [number, number][] = [];
  const grown = (base: Vector, born: number): Looks => {
    // Children look like children, and the old like the old.
    const infant = mixed([0.5, childish], [0.5, direction(roll)]);
    const old = mixed([0.5, elderly], [0.5, direction(roll)]);
    // Some change little, others are hard to know again.
    const [growing, ageing] = [between([7, 20]), between([0.35, 0.9])];
    return {
      born,
      within: between(traits.within),
      at: (age) => {
        const child = Math.exp(-Math.max(0, age) / growing);
        const aged = ageing * Math.max(0, Math.min(1, (age - 25) / 45));
        return mixed([Math.max(0.15, 1 - child - aged), base], [child, infant], [aged, old]);
      },
    };
  };
  const born = () => first - int(1, 70) * 365;
  const base = () => mixed([0.35, pick(kinds)], [0.65, direction(roll)]);
  const bases: Vector[] = [];
  while (bases.length < traits.people) {
    const pair = alike.length;
    const paired = pair < traits.siblings + traits.lookAlikes && bases.length + 2 <= traits.people;
    const one = base();
    const on = born();
    bases.push(one);
    looks.push(grown(one, on));
    if (!paired) continue;
    const isSibling = pair < traits.siblings;
    const share = isSibling ? between(traits.siblingLikeness) : between([0.25, 0.65]);
    // Siblings grow alike: the second one's looks lean on the first one's at every age.
    const own = grown(base(), isSibling ? on + int(-4, 4) * 365 : born());
    const other = looks[looks.length - 1]!;
    const own2 = {
      ...own,
      within: other.within,
      at: (age: number) => mixed([share, other.at(age)], [1 - share, own.at(age)]),
    };
    bases.push(one);
    looks.push(own2);
    alike.push([looks.length - 1, looks.length]);
  }
  const siblingOf = new Map(alike.flatMap(([a, b]) => [[a, b] as const, [b, a] as const]));

  const faces: LibraryFace[] = [];
  const truth: number[] = [];
  const clear: boolean[] = [];
  let picture = 0;
  const palette = () => Array.from({ length: int(1, 3) }, () => [int(0, 28), roll() + 0.3] as const);
  const wear = (colours: readonly (readonly [number, number])[]) => {
    const bins = new Float32Array(29);
    for (const [bin, much] of colours) bins[bin]! += much * (0.6 + roll() * 0.8);
    for (let n = 0; n < 4; n++) bins[int(0, 28)]! += 0.25 * roll();
    const all = bins.reduce((sum, x) => sum + x, 0);
    return Uint8Array.from(bins, (x) => Math.round((255 * x) / all));
  };
  const add = (
    v: Vector,
    person: number,
    at: number,
    event: number,
    quality: number,
    height: number,
    clothes: Uint8Array | null,
  ) => {
    const shown = mixed([0.3, middle], [0.7, v]);
    faces.push({ id: faces.length + 1, picture, height, quality, a: shown, b: shown, at, event, clothes, said: null });
    truth.push(person);
    clear.push(quality >= 0.25 && height >= 40);
  };
  const dogs = Array.from({ length: 2 }, () => direction(roll));

  // Some are in many pictures, others seldom.
  const often = looks.map(() => 0.15 + 0.85 * roll() ** 1.5);
  for (let event = 1; event <= traits.events; event++) {
    const day = first + Math.floor(((event - roll()) / traits.events) * (last - first));
    const there = looks.flatMap(({ born: on }, i) => (on < day && roll() < often[i]! ? [i] : []));
    if (there.length === 0) there.push(int(0, looks.length - 1));
    const light = direction(roll);
    const dress = new Map(there.map((i) => [i, palette()]));
    const hair = new Map(there.map((i) => [i, direction(roll)]));
    let minute = day * MINUTES_A_DAY + int(500, 900);
    const shots = int(4, 22);
    for (let shot = 0; shot < shots; shot++) {
      picture++;
      minute += roll() < 0.25 ? 0 : int(1, 25);
      const look = direction(roll);
      const shown = there.filter(() => roll() < Math.min(0.9, 2.2 / there.length));
      for (const i of shown) {
        const sibling = siblingOf.get(i + 1);
        if (sibling !== undefined && sibling - 1 < i && shown.includes(sibling - 1) && roll() >= traits.together)
          continue;
        const { within, at, born: on } = looks[i]!;
        const poor = roll() < traits.poor;
        // How much of a face is the person, and how much the occasion, the moment and chance.
        const usual = Math.max(0.25, Math.min(0.92, within + 0.12 * (roll() + roll() + roll() - 1.5)));
        const share = poor ? usual * (0.15 + 0.6 * roll()) : usual;
        const rest = 1 - share;
        const v = mixed(
          [share, at((day - on) / 365)],
          [0.2 * rest, hair.get(i)!],
          [0.1 * rest, light],
          [0.1 * rest, look],
          [poor ? 0.3 * rest : 0, blur],
          [(poor ? 0.3 : 0.6) * rest, direction(roll)],
        );
        // Quality tells most poor faces, not all of them.
        const seen = poor && roll() < 0.85 ? 0.03 + 0.25 * roll() : 0.35 + 0.65 * roll();
        const height = poor && roll() < 0.5 ? int(14, 40) : int(36, 300);
        add(v, i + 1, minute, event, seen, height, roll() < 0.85 ? wear(dress.get(i)!) : null);
      }
      while (roll() < traits.passersBy)
        add(
          mixed([0.55, base()], [0.45, direction(roll)]),
          0,
          minute,
          event,
          roll() * 0.8,
          int(16, 90),
          wear(palette()),
        );
      if (roll() < traits.things)
        add(
          mixed([0.5, pick(dogs)], [0.5, direction(roll)]),
          0,
          minute,
          event,
          0.1 + 0.7 * roll(),
          int(20, 160),
          wear(palette()),
        );
    }
  }
  return {
    traits,
    faces,
    people: looks.map(({ born: on }, i) => ({ id: i + 1, born: roll() < 0.5 ? on : null })),
    trulyIs: (face) => truth[face - 1]!,
    clear: (face) => clear[face - 1]!,
    alike,
  };
}
