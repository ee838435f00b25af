import { band, ones } from '../likeness/alike';

/** A picture as clocks are compared by it. */
export interface ClockShot {
  /** The picture's own number, to be told as evidence. */
  id?: number;
  /** Wall-clock time as its device recorded it, in ms. */
  at: number;
  device: number;
  /** Who is in it: people or groups of alike faces, by any number that is the same for the same face. */
  people: readonly number[];
  /** Two halves of its perceptual hash, when there is one. */
  scene?: readonly [high: number, low: number] | null;
}

/** A device's clock that disagrees with the others' during a span of its pictures. */
export interface ClockShift {
  device: number;
  /** First and last recorded time of the device's pictures in the span, in ms. */
  from: number;
  to: number;
  /**
   * First and last recorded time up to which nothing speaks against it, in ms: a clock stays wrong until somebody sets it, so
   * what lies between may be wrong by as much, though no other picture says so.
   */
  reach: { from: number; to: number };
  /** What has to be added to the device's times, in ms. */
  shift: number;
  /** Pairs of pictures that agree on it. */
  pairs: number;
  /** How far half of the pairs are from it at most, in ms. */
  spread: number;
  /** On how many separate occasions. */
  occasions: number;
  /** What a shift of this size most likely is. */
  kind: 'an hour' | 'a time zone' | 'a wrong clock';
  /** A few of the pairs, the clearest first: the device's picture and the other one. */
  examples: [number, number][];
}

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;

/** Clocks further apart than this are found by scenes alone: no two time zones are. */
const FURTHEST = 14.5 * HOUR;
/** Pictures of one moment by two people are at most this far apart. */
const MOMENT = 75_000;
/** Pictures of one device this close are one burst, which speaks once. */
const BURST = 5_000;
/** A pause this long parts two occasions. */
const PAUSE = 20 * HOUR;
/** The width of a step when agreement is counted. */
const STEP = 15_000;
/** Clocks that agree within this are right. */
const RIGHT = 2 * MINUTE;

/** How much two pictures look like one moment, 0 to about 2: the same people in both, and nearly the same scene. */
function together(a: ClockShot, b: ClockShot): number {
  let common = 0;
  for (const one of a.people) if (b.people.includes(one)) common++;
  const all = a.people.length + b.people.length - common;
  // The same two of many say more than the same one.
  const company = all === 0 ? 0 : (common / all) ** 2 * Math.min(1, 0.4 + 0.3 * common);
  const bits = a.scene && b.scene ? ones(a.scene[0] ^ b.scene[0]) + ones(a.scene[1] ^ b.scene[1]) : 64;
  const scene = bits <= 12 ? 1.5 - bits / 12 : 0;
  return company + scene;
}

interface Vote {
  shift: number;
  weight: number;
  /** Which of the device's pictures it comes from. */
  shot: number;
  pair: [number, number];
}

interface Peak {
  shift: number;
  score: number;
  votes: Vote[];
  rival: number;
  /** Whether it was found by scenes alone, across any distance in time. */
  far: boolean;
}

/**
 * Scenes across any distance in time, for clocks that began again at a factory date or stand in a wrong year: so alike, so many
 * pairs of different pictures, and so much clearer than any other shift.
 */
const FAR = { bits: 8, weight: 1, pairs: 3, clear: 2 } as const;
/** Bits of a part of a hash: scenes that differ in at most {@link FAR.bits} bits have one of nine parts in common. */
const PARTS = [
  [0, 7],
  [7, 7],
  [14, 7],
  [21, 7],
  [28, 7],
  [35, 7],
  [42, 7],
  [49, 7],
  [56, 8],
] as const;

/** The pictures of others by the parts of their hashes, so that the scenes like one are found without comparing all. */
class Scenes {
  private readonly parts = PARTS.map(() => new Map<number, number[]>());

  constructor(readonly shots: readonly ClockShot[]) {
    shots.forEach(({ scene }, i) => {
      if (!scene) return;
      this.parts.forEach((map, p) => {
        const key = band(scene[0], scene[1], PARTS[p]![0], PARTS[p]![1]);
        const list = map.get(key);
        if (list) list.push(i);
        else map.set(key, [i]);
      });
    });
  }

  like({ scene }: ClockShot): ClockShot[] {
    if (!scene) return [];
    const found = new Set<number>();
    this.parts.forEach((map, p) => {
      for (const i of map.get(band(scene[0], scene[1], PARTS[p]![0], PARTS[p]![1])) ?? []) {
        const [high, low] = this.shots[i]!.scene!;
        if (ones(scene[0] ^ high) + ones(scene[1] ^ low) <= FAR.bits) found.add(i);
      }
    });
    return [...found].map((i) => this.shots[i]!);
  }
}

/** The shift that most scenes agree on, whatever its size; null when no other shift is clearly worse. */
function farPeakOf(device: readonly ClockShot[], scenes: Scenes): Peak | null {
  const votes: Vote[] = [];
  for (const [shot, b] of device.entries()) {
    const before = device[shot - 1];
    if (before && b.at - before.at < BURST) continue;
    for (const a of scenes.like(b)) {
      const weight = together(a, b);
      if (weight >= FAR.weight) votes.push({ shift: a.at - b.at, weight, shot, pair: [b.id ?? 0, a.id ?? 0] });
    }
  }
  votes.sort((x, y) => x.shift - y.shift);
  const windows = votes.map((first, from) => {
    const best = new Map<number, Vote>();
    for (let i = from; i < votes.length && votes[i]!.shift - first.shift <= 2 * MOMENT; i++)
      if (votes[i]!.weight > (best.get(votes[i]!.shot)?.weight ?? 0)) best.set(votes[i]!.shot, votes[i]!);
    const kept = [...best.values()];
    return { shift: middle(kept.map((v) => v.shift)), score: kept.reduce((sum, v) => sum + v.weight, 0), votes: kept };
  });
  const top = windows.reduce<(typeof windows)[number] | null>((a, b) => (a && a.score >= b.score ? a : b), null);
  if (!top || top.votes.length < FAR.pairs) return null;
  const rival = windows.reduce(
    (most, w) => (Math.abs(w.shift - top.shift) > 6 * MINUTE ? Math.max(most, w.score) : most),
    0,
  );
  return top.score >= FAR.clear * rival ? { ...top, rival, far: true } : null;
}

/** Votes of every pair that may show one moment. */
function votesOf(device: readonly ClockShot[], others: readonly ClockShot[]): Vote[] {
  const votes: Vote[] = [];
  for (const [shot, b] of device.entries()) {
    const before = device[shot - 1];
    if (before && b.at - before.at < BURST) continue;
    for (const a of others) {
      if (Math.abs(a.at - b.at) > FURTHEST) continue;
      const weight = together(a, b);
      if (weight > 0.12) votes.push({ shift: a.at - b.at, weight, shot, pair: [b.id ?? 0, a.id ?? 0] });
    }
  }
  return votes;
}

/**
 * The shift most votes agree on. Each picture of the device speaks once at each shift, so that a burst does not outvote an
 * afternoon: agreement is the sum of the best votes within a moment (a maximised consensus, as in voting by Hough, 1962).
 */
function peakOf(votes: readonly Vote[], shots: number): Peak | null {
  if (votes.length === 0) return null;
  const bins = Math.ceil((2 * FURTHEST) / STEP) + 1;
  const reach = Math.ceil(MOMENT / STEP);
  const sum = new Float64Array(bins);
  const byShot: Vote[][] = Array.from({ length: shots }, () => []);
  for (const vote of votes) byShot[vote.shot]!.push(vote);
  for (const mine of byShot) {
    const best = new Map<number, number>();
    for (const { shift, weight } of mine) {
      const at = Math.round((shift + FURTHEST) / STEP);
      for (let i = Math.max(0, at - reach); i <= Math.min(bins - 1, at + reach); i++) {
        const here = weight * (1 - Math.abs(i - at) / (reach + 1));
        if (here > (best.get(i) ?? 0)) best.set(i, here);
      }
    }
    for (const [i, weight] of best) sum[i]! += weight;
  }
  let top = 0;
  for (let i = 1; i < bins; i++) if (sum[i]! > sum[top]!) top = i;
  let rival = 0;
  for (let i = 0; i < bins; i++) if (Math.abs(i - top) * STEP > 6 * MINUTE && sum[i]! > rival) rival = sum[i]!;
  const near = votes.filter((v) => Math.abs(v.shift - (top * STEP - FURTHEST)) <= MOMENT);
  // One vote a picture: its heaviest.
  const best = new Map<number, Vote>();
  for (const vote of near) if (vote.weight > (best.get(vote.shot)?.weight ?? 0)) best.set(vote.shot, vote);
  const kept = [...best.values()];
  return { shift: middle(kept.map((v) => v.shift)), score: sum[top]!, votes: kept, rival, far: false };
}

function middle(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const half = sorted.length >> 1;
  return sorted.length % 2 ? sorted[half]! : ((sorted[half - 1] ?? 0) + (sorted[half] ?? 0)) / 2;
}

function kindOf(shift: number): ClockShift['kind'] {
  const size = Math.abs(shift);
  if (Math.abs(size - HOUR) < 90_000) return 'an hour';
  return Math.abs(size / (15 * MINUTE) - Math.round(size / (15 * MINUTE))) < 0.1 && size > 25 * MINUTE
    ? 'a time zone'
    : 'a wrong clock';
}

/** Runs of pictures without a long pause, as indexes where each begins. */
function occasions(shots: readonly ClockShot[]): ClockShot[][] {
  const runs: ClockShot[][] = [];
  for (const shot of shots) {
    const last = runs[runs.length - 1];
    if (last && shot.at - last[last.length - 1]!.at < PAUSE) last.push(shot);
    else runs.push([shot]);
  }
  return runs;
}

/**
 * What it takes to call a clock wrong: so many pairs on two occasions at least, or many more on one where nothing else
 * explains the pictures half as well.
 */
const ENOUGH = { pairs: 8, occasions: 2, pairsOnOne: 12, rivalOnOne: 2 } as const;
/** Fewer on one occasion are enough when they agree to seconds: two people did not move in step all day. */
const TO_SECONDS = { pairs: 6, spread: 5_000 } as const;

/** Occasions that agree, one after the other. */
interface Span {
  /** The first and the last of its occasions, by their number. */
  first: number;
  last: number;
  from: number;
  to: number;
  votes: Vote[];
  occasions: number;
  shift: number;
  /** How many times better than its best rival the shift explains the clearest of its occasions. */
  clear: number;
  far: boolean;
}

/** How far half of some votes are from their middle at most. */
function spreadOf(votes: readonly Vote[]): number {
  const shift = middle(votes.map((v) => v.shift));
  return middle(votes.map((v) => Math.abs(v.shift - shift)));
}

function isEnough({ votes, occasions, clear, far }: Span): boolean {
  if (far) return votes.length >= FAR.pairs;
  if (occasions >= ENOUGH.occasions) return votes.length >= ENOUGH.pairs;
  const pairs = spreadOf(votes) <= TO_SECONDS.spread ? TO_SECONDS.pairs : ENOUGH.pairsOnOne;
  return votes.length >= pairs && clear >= ENOUGH.rivalOnOne;
}

/**
 * Finds spans in which a device's clock disagrees with the clocks of others present at the same occasions. Occasions are
 * judged one by one, neighbours that agree are joined, and nothing is claimed on thin evidence or when another shift would
 * explain the pictures nearly as well.
 * @param trusted devices whose clocks others are compared with (phones, which set theirs by the network).
 */
export function findClockShifts(shots: readonly ClockShot[], trusted: ReadonlySet<number>): ClockShift[] {
  const sorted = [...shots].sort((a, b) => a.at - b.at);
  const others = sorted.filter((s) => trusted.has(s.device));
  const found: ClockShift[] = [];
  const scenes = new Scenes(others);
  for (const device of new Set(sorted.filter((s) => !trusted.has(s.device)).map((s) => s.device))) {
    const runs = occasions(sorted.filter((s) => s.device === device));
    const judged = runs.map((run) => {
      const near = others.filter((o) => o.at > run[0]!.at - FURTHEST && o.at < run[run.length - 1]!.at + FURTHEST);
      const peak = peakOf(votesOf(run, near), run.length);
      const clear = peak !== null && peak.votes.length >= 2 && peak.score > 0.8 && peak.score >= 1.35 * peak.rival;
      return { run, peak: clear ? peak : farPeakOf(run, scenes) };
    });
    // Occasions that say nothing belong to neither side; those that agree within a minute and a half are one span.
    const spans: Span[] = [];
    for (const [i, { run, peak }] of judged.entries()) {
      if (!peak) continue;
      const ends = { from: run[0]!.at, to: run[run.length - 1]!.at };
      const open = spans[spans.length - 1];
      const clear = peak.score / Math.max(0.1, peak.rival);
      if (open && Math.abs(open.shift - peak.shift) <= 1.5 * MINUTE) {
        open.last = i;
        open.to = ends.to;
        open.votes.push(...peak.votes);
        open.occasions++;
        open.clear = Math.max(open.clear, clear);
        open.far ||= peak.far;
        open.shift = middle(open.votes.map((v) => v.shift));
      } else
        spans.push({
          first: i,
          last: i,
          ...ends,
          votes: [...peak.votes],
          occasions: 1,
          shift: peak.shift,
          clear,
          far: peak.far,
        });
    }
    for (const [i, span] of spans.entries()) {
      const shift = middle(span.votes.map((v) => v.shift));
      const spread = spreadOf(span.votes);
      if (Math.abs(span.shift) <= RIGHT || !isEnough(span) || spread >= MOMENT) continue;
      const since = runs[(spans[i - 1]?.last ?? -1) + 1]!;
      const until = runs[(spans[i + 1]?.first ?? runs.length) - 1]!;
      found.push({
        device,
        from: span.from,
        to: span.to,
        reach: { from: since[0]!.at, to: until[until.length - 1]!.at },
        shift: Math.round(shift / 1000) * 1000,
        pairs: span.votes.length,
        spread,
        occasions: span.occasions,
        kind: kindOf(shift),
        examples: [...span.votes]
          .sort((a, b) => b.weight - a.weight)
          .slice(0, 6)
          .map((v) => v.pair),
      });
    }
  }
  return found.sort((a, b) => a.from - b.from || a.device - b.device);
}
