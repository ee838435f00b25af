import { appearancesOf, clashes, meanOf, type Apart, type Appearance, type Differ, type GroupFace } from './appearance';
import { ACROSS, LikelyPerson } from './likelyPerson';
import { findNeighbours } from './neighbours';
import { VectorTable } from './table';
import { dot, unit } from './vector';

/** What grouping says. */
export interface Grouped {
  /** The number of each face's group. */
  group: Int32Array;
  /** Who each group is, by its number; null for those that wait for a name. */
  person: (number | null)[];
  /**
   * For each leading face how much nearer its own group, without its occasion, is than any other group that could take it;
   * 0 for one alone in its group.
   */
  ahead: Float32Array;
  /** For each leading face how near it is to what somebody said of its group, against what is usual within it: 1 is as near. */
  near: Float32Array;
  /** Groups that are perhaps one person: near, but not surely. */
  perhaps: [number, number][];
}

/** Two faces more alike than this are likely one person's. */
export const SAME_FACE = 0.46;

/** What joins appearances of one person across occasions; tuned on made-up families (`family.testing.ts`). */
const ACROSS_OCCASIONS = {
  /** Appearances less alike than this, at unit length, are not compared. */
  compared: 0.36,
  most: 24,
  /** Likeness of two, against what is usual within each, from which they are one … */
  same: 0.86,
  /** … less this much while there is little to go by, */
  loose: 0.12,
  /** and this likeness at least, and this much more while there is little. */
  floor: 0.2,
  little: 0.1,
  /** How far ahead of somebody else who cannot be the other one. */
  ahead: 0.03,
  rounds: 3,
  /** Two groups nearly the same are perhaps one person, when each has been seen more than once. */
  perhaps: 0.65,
  seen: 0.7,
} as const;
/** How much nearer than it looks the little there is to go by may be, for each unit of {@link slack}. */
const LITTLE_TO_GO_BY = 0.05;
/** A poor face follows a group this alike, and this far ahead of the next. */
const FOLLOWS = { like: 0.4, ahead: 0.08 } as const;

/**
 * Gathers faces into likely people, from what is sure to what is less so: first the faces of one person on one occasion, told
 * by looks and clothes; then those across occasions by average linkage on their means, the nearest first, nothing being joined
 * while somebody who shares a picture with the one is as near to the other; each then goes where it is nearest, and what poor
 * faces there are follow. Two faces of one picture are never together, nor are two that were said to be apart.
 * @param apart faces said to be different people, by their ids.
 */
export function groupFaces(faces: readonly GroupFace[], apart: readonly (readonly [number, number])[] = []): Grouped {
  const said = apartOf(apart);
  const differ = whoDiffers(faces, said);
  const seen = appearancesOf(faces, differ, said);
  const people = acrossOccasions(seen);
  const result: Grouped = {
    group: new Int32Array(faces.length).fill(-1),
    person: people.list.map((one) => one.person),
    ahead: new Float32Array(faces.length),
    near: new Float32Array(faces.length),
    perhaps: people.perhaps,
  };
  people.list.forEach((one, g) => {
    for (const a of one.of) for (const i of seen[a]!.faces) result.group[i] = g;
  });
  people.list.forEach((_, g) => stand(g, people, faces, seen, result));
  follow(faces, people.list, seen, differ, result);
  return result;
}

function apartOf(pairs: readonly (readonly [number, number])[]): Apart {
  const apart = new Map<number, Set<number>>();
  const note = (a: number, b: number) => {
    const others = apart.get(a);
    if (others) others.add(b);
    else apart.set(a, new Set([b]));
  };
  for (const [a, b] of pairs) {
    note(a, b);
    note(b, a);
  }
  return apart;
}

const whoDiffers =
  (faces: readonly GroupFace[], apart: Apart): Differ =>
  (i, j) => {
    const [a, b] = [faces[i]!, faces[j]!];
    return (
      a.picture === b.picture ||
      (a.person !== null && (b.person === null ? b.never.has(a.person) : a.person !== b.person)) ||
      (b.person !== null && a.never.has(b.person)) ||
      (apart.get(a.id)?.has(b.id) ?? false)
    );
  };

/** How uncertain the likeness of two is: about 0.6 for five occasions each, 1.8 for single faces. */
const slack = (a: LikelyPerson, b: LikelyPerson): number => Math.sqrt(1 / a.weight + 1 / b.weight);

interface People {
  list: LikelyPerson[];
  /** Which others each is near. */
  around: number[][];
  usual: number;
  perhaps: [number, number][];
  /** For each appearance what was one before names were looked at. */
  units: ReadonlyMap<number, LikelyPerson>;
}

/** A pair that may be joined, and how things stood when it was thought of. */
interface Pair {
  like: number;
  g: number;
  h: number;
  versions: readonly [number, number];
}

function acrossOccasions(seen: readonly Appearance[]): People {
  const o = ACROSS_OCCASIONS;
  const cohesions = seen.flatMap((one) => one.cohesion ?? []).sort((a, b) => a - b);
  const usual = ACROSS * (cohesions[cohesions.length >> 1] ?? 0.6);
  // Those of one name are one from the start.
  const people: (LikelyPerson | null)[] = seen.map(() => null);
  const first = new Map<number, number>();
  const open: number[] = [];
  seen.forEach(({ person }, a) => {
    const named = person === null ? undefined : first.get(person);
    if (named !== undefined) people[named]!.add(a);
    else people[a] = new LikelyPerson(seen, a);
    if (person === null) open.push(a);
    else first.set(person, named ?? a);
  });
  // Who is near whom, and how alike they are on the whole: kept as they change, since it is asked for very often.
  const around = seen.map(() => new Map<number, number>());
  const compare = (x: number, y: number) => {
    const like = people[x]!.like(people[y]!);
    around[x]!.set(y, like);
    around[y]!.set(x, like);
  };
  const near = findNeighbours(
    open.map((a) => (seen[a]!.faces.length > 1 ? unit(seen[a]!.mean.slice()) : seen[a]!.mean)),
    (x, y) => clashes(seen[open[x]!]!, seen[open[y]!]!),
    { above: o.compared, most: o.most },
  );
  for (const [x, who] of near.who.entries())
    for (const y of who) if (!around[open[x]!]!.has(open[y]!)) compare(open[x]!, open[y]!);

  const join = (g: number, h: number) => {
    for (const a of people[h]!.of) people[g]!.add(a);
    people[h] = null;
    for (const z of around[h]!.keys()) {
      around[z]!.delete(h);
      if (z !== g) around[g]!.set(z, 0);
    }
    for (const z of around[g]!.keys()) compare(g, z);
  };
  const usually = (a: LikelyPerson, b: LikelyPerson) => (a.within(usual) + b.within(usual)) / 2;
  /** Whether somebody who cannot be `h` is nearly as near to `g`. */
  const isContested = (g: number, h: number, bound: number): boolean => {
    for (const [z, like] of around[g]!) if (like > bound && z !== h && people[z]!.cannotBe(people[h]!)) return true;
    return false;
  };
  /** Joins the nearest first, until nothing near enough is left. */
  const gather = () => {
    const heap = new Heap<Pair>((pair) => pair.like);
    const consider = (g: number, h: number, like: number) => {
      const [a, b] = [people[g]!, people[h]!];
      const room = slack(a, b);
      if (like < o.floor + o.little * room || like < (o.same - o.loose * room) * usually(a, b)) return;
      heap.push({ like, g, h, versions: [a.version, b.version] });
    };
    around.forEach((others, g) => {
      if (people[g]) for (const [h, like] of others) if (h < g) consider(g, h, like);
    });
    for (let top = heap.pop(); top; top = heap.pop()) {
      const { g, h, like, versions } = top;
      const [a, b] = [people[g], people[h]];
      if (!a || !b || a.version !== versions[0] || b.version !== versions[1] || a.cannotBe(b)) continue;
      const bound = like - o.ahead * slack(a, b);
      if (isContested(g, h, bound) || isContested(h, g, bound)) continue;
      join(g, h);
      for (const [z, much] of around[g]!) consider(g, z, much);
    }
  };

  const settled = () => {
    gather();
    for (let round = 0; round < o.rounds; round++) {
      const moved = settle(people, around, seen);
      if (moved.size === 0) break;
      for (const g of moved) for (const z of around[g]!.keys()) compare(g, z);
      gather();
    }
  };
  // First those who have no name among themselves: how near all of somebody's faces are to a name says more than one does.
  settled();
  const units = new Map<number, LikelyPerson>();
  for (const a of open) {
    if (!people[a]) continue;
    const unit = new LikelyPerson(seen, ...people[a].of);
    for (const b of unit.of) units.set(b, unit);
  }
  for (const a of open)
    if (people[a]) for (const named of first.values()) if (people[named]!.like(people[a]) > o.floor) compare(a, named);
  settled();

  // Numbered anew, without those that were joined to others.
  const number = new Map<number, number>();
  people.forEach((one, g) => one && number.set(g, number.size));
  const perhaps: [number, number][] = [];
  for (const [g, at] of number)
    for (const [h, like] of around[g]!) {
      const [a, b] = [people[g]!, people[h]!];
      if (h > g || (a.person !== null && b.person !== null)) continue;
      if (Math.min(a.weight, b.weight) >= o.seen && like >= o.perhaps * usually(a, b) && !a.cannotBe(b))
        perhaps.push([number.get(h)!, at]);
    }
  return {
    list: people.filter((one) => one !== null),
    around: [...number.keys()].map((g) => [...around[g]!.keys()].map((z) => number.get(z)!)),
    usual,
    perhaps,
    units,
  };
}

/** Each appearance goes where it is nearest, two changing places where they stand in each other's way. Answers which people changed. */
function settle(
  people: readonly (LikelyPerson | null)[],
  around: readonly ReadonlyMap<number, number>[],
  seen: readonly Appearance[],
): Set<number> {
  const moved = new Set<number>();
  const of = new Int32Array(seen.length);
  people.forEach((one, g) => one?.of.forEach((a) => (of[a] = g)));
  const order = [...seen.keys()]
    .filter((a) => seen[a]!.person === null)
    .sort((a, b) => seen[b]!.weight - seen[a]!.weight || a - b);
  for (const a of order) {
    const one = seen[a]!;
    const home = of[a]!;
    const mine = people[home]!;
    if (mine.of.size < 2) continue;
    mine.remove(a);
    const alone = new LikelyPerson(seen, a);
    const own = mine.likeOf(one);
    let [most, best, swap] = [own, home, -1];
    for (const z of around[home]!.keys()) {
      const there = people[z]!;
      if (there.of.size < 2) continue;
      const like = there.likeOf(one);
      if (like <= most) continue;
      const against = there.against(one);
      const other = against[0];
      if (other === undefined) {
        if (!there.cannotBe(alone)) [most, best, swap] = [like, z, -1];
      } else if (against.length === 1 && seen[other]!.person === null) {
        there.remove(other);
        const second = new LikelyPerson(seen, other);
        const gain = there.likeOf(one) + mine.likeOf(seen[other]!) - own - there.likeOf(seen[other]!);
        if (gain > 0 && there.of.size > 0 && !there.cannotBe(alone) && !mine.cannotBe(second))
          [most, best, swap] = [like, z, other];
        there.add(other);
      }
    }
    if (best === home) {
      mine.add(a);
      continue;
    }
    moved.add(home).add(best);
    if (swap >= 0) {
      people[best]!.remove(swap);
      mine.add(swap);
      of[swap] = home;
    }
    people[best]!.add(a);
    of[a] = best;
  }
  return moved;
}

/** How each waiting face of a group stands in it. */
function stand(
  g: number,
  { list, around, usual, units }: People,
  faces: readonly GroupFace[],
  seen: readonly Appearance[],
  result: Grouped,
): void {
  const group = list[g]!;
  if (group.of.size < 2 && group.person === null) return;
  const told = [...group.of].filter((a) => seen[a]!.person !== null);
  const core = new LikelyPerson(seen, ...told);
  const within = told.length ? core.within(usual) : 1;
  /** How near what waits on one occasion is to what was named on others; to what was named on it when there are no others. */
  const near = (a: number): number => {
    const one = seen[a]!;
    if (told.length === 0) return 1;
    if (one.person === null) {
      const unit = units.get(a)!;
      return core.like(unit) / within + LITTLE_TO_GO_BY * (slack(core, unit) - 1);
    }
    const [named, waiting] = [true, false].map((is) => one.faces.filter((i) => (faces[i]!.person !== null) === is));
    const { mean } = meanOf(faces, waiting!);
    if (told.length === 1) return (dot(mean, meanOf(faces, named!).mean) * ACROSS) / within;
    core.remove(a);
    const like = core.likeOf({ mean });
    core.add(a);
    return like / within;
  };
  for (const a of [...group.of]) {
    const one = seen[a]!;
    const waiting = one.faces.filter((i) => faces[i]!.person === null);
    if (waiting.length === 0) continue;
    let next = 0;
    for (const z of around[g]!) if (list[z]!.weight >= 0.9) next = Math.max(next, list[z]!.likeOf(one));
    let own = 1;
    if (group.of.size > 1) {
      group.remove(a);
      own = group.likeOf(one);
      group.add(a);
    }
    const much = near(a);
    for (const i of waiting) {
      result.ahead[i] = own - next;
      result.near[i] = much;
    }
  }
}

/** Poor faces join the group they are nearest to, if that can take them; the others stay alone. */
function follow(
  faces: readonly GroupFace[],
  list: readonly LikelyPerson[],
  seen: readonly Appearance[],
  differ: Differ,
  result: Grouped,
): void {
  const followers = faces.map((_, i) => i).filter((i) => !faces[i]!.leads);
  if (followers.length === 0) return;
  const members = list.map((one) => [...one.of].flatMap((a) => seen[a]!.faces));
  const large = list.map((_, g) => g).filter((g) => members[g]!.length > 1);
  const length = faces[0]!.vector.length;
  const table = new VectorTable(large.length, length);
  large.forEach((g, row) => {
    const mean = new Float32Array(length);
    let weight = 0;
    for (const a of list[g]!.of) {
      weight += seen[a]!.weight;
      for (let k = 0; k < length; k++) mean[k]! += seen[a]!.weight * seen[a]!.mean[k]!;
    }
    for (let k = 0; k < length; k++) mean[k]! /= weight;
    table.set(row, mean);
  });
  const pictures = large.map((g) => new Set(members[g]!.map((i) => faces[i]!.picture)));
  followers.sort((a, b) => faces[b]!.quality - faces[a]!.quality || faces[a]!.id - faces[b]!.id);
  for (const i of followers) {
    const face = faces[i]!;
    const likes = table.scan(face.vector);
    let [best, most, second] = [-1, FOLLOWS.like as number, -1];
    for (let row = 0; row < likes.length; row++)
      if (likes[row]! > most) {
        second = best < 0 ? second : most;
        most = likes[row]!;
        best = row;
      } else if (likes[row]! > second) second = likes[row]!;
    const takes =
      best >= 0 &&
      most - second > FOLLOWS.ahead &&
      !pictures[best]!.has(face.picture) &&
      !members[large[best]!]!.some((j) => differ(i, j));
    if (takes) {
      result.group[i] = large[best]!;
      pictures[best]!.add(face.picture);
      members[large[best]!]!.push(i);
    } else result.group[i] = result.person.push(face.person) - 1;
  }
}

/** The greatest first. */
class Heap<T> {
  private readonly list: T[] = [];

  constructor(private readonly key: (one: T) => number) {}

  push(one: T): void {
    const { list, key } = this;
    list.push(one);
    let at = list.length - 1;
    while (at > 0) {
      const up = (at - 1) >> 1;
      if (key(list[up]!) >= key(one)) break;
      list[at] = list[up]!;
      at = up;
    }
    list[at] = one;
  }

  pop(): T | undefined {
    const { list, key } = this;
    const top = list[0];
    const last = list.pop();
    if (last === undefined || list.length === 0) return top;
    let at = 0;
    for (let child = 1; child < list.length; child = 2 * at + 1) {
      if (child + 1 < list.length && key(list[child + 1]!) > key(list[child]!)) child++;
      if (key(last) >= key(list[child]!)) break;
      list[at] = list[child]!;
      at = child;
    }
    list[at] = last;
    return top;
  }
}
