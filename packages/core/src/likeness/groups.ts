import { halves, NearHashes, type Halves } from './alike';
import { doubleDistance, MIRROR_BITS, mirroredHash, MOMENT, sameMoment, type ShotFacts } from './pairs';

/** Shots of one moment: places in the list that was given, in the order of time. */
export type Run = readonly number[];

/** A run of one moment is no longer than this, in ms, however many shots follow each other. */
const LONGEST = 90_000;
/** A shot is held against so many before it at most; a camera that shoots without end is cut up. */
const BEFORE = 60;

/**
 * Finds runs: shots of the same moment, by time, likeness and who is there. Only neighbours in time are held against each other, so
 * that the work grows with the number of shots. @param skip places that take no part: doubles of others.
 */
export function findRuns(shots: readonly ShotFacts[], skip: ReadonlySet<number> = new Set()): Run[] {
  const order = shots
    .map((_, i) => i)
    .filter((i) => shots[i]!.at !== null && !skip.has(i))
    .sort((i, j) => shots[i]!.at! - shots[j]!.at! || shots[i]!.id - shots[j]!.id);
  const runOf = new Map<number, number[]>();
  order.forEach((i, n) => {
    const shot = shots[i]!;
    for (let k = n - 1; k >= 0 && k >= n - BEFORE; k--) {
      const j = order[k]!;
      const before = shots[j]!;
      if (shot.at! - before.at! > MOMENT) break;
      const [mine, theirs] = [runOf.get(i), runOf.get(j)];
      if (mine && mine === theirs) continue;
      const first = Math.min(shots[mine?.[0] ?? i]!.at!, shots[theirs?.[0] ?? j]!.at!);
      if (shot.at! - first > LONGEST || !sameMoment(before, shot)) continue;
      const joined = [...(theirs ?? [j]), ...(mine ?? [i])].sort((p, q) => shots[p]!.at! - shots[q]!.at! || p - q);
      for (const one of joined) runOf.set(one, joined);
    }
  });
  return [...new Set(runOf.values())].sort((a, b) => shots[a[0]!]!.at! - shots[b[0]!]!.at!);
}

/** The hashes of shots, and of their mirror images. */
const hashesOf = (shots: readonly Pick<ShotFacts, 'high' | 'low'>[]): Halves => ({
  high: Uint32Array.from(shots, (shot) => shot.high),
  low: Uint32Array.from(shots, (shot) => shot.low),
});

/** Hashes of copies differ in this many bits at most. */
export const NEAR_BITS = 6;

/**
 * Finds doubles: pictures saved again. The shots come best first; each is held against those before it that are near by hash, by the
 * hash of its mirror image, or of the same second, and points at the nearest one that is kept, so that no mark ever points at a
 * marked picture. @param denied pairs of ids, as `a b` with the smaller first, that somebody said are no doubles.
 * @returns for each place the one it is a double of, or -1.
 */
export function findDoubles(shots: readonly ShotFacts[], denied: ReadonlySet<string> = new Set()): Int32Array {
  const kept = new Int32Array(shots.length).fill(-1);
  const index = new NearHashes(hashesOf(shots), NEAR_BITS);
  const seconds = new Map<number, number[]>();
  shots.forEach((shot, i) => {
    const near = new Set(index.within(shot));
    for (const j of index.within(mirroredHash(shot), MIRROR_BITS)) near.add(j);
    const second = shot.at === null ? null : Math.floor(shot.at / 1000);
    if (second !== null)
      for (const s of [second - 1, second, second + 1]) for (const j of seconds.get(s) ?? []) near.add(j);
    let least = Infinity;
    for (const j of near) {
      const other = shots[j]!;
      if (denied.has(other.id < shot.id ? `${other.id} ${shot.id}` : `${shot.id} ${other.id}`)) continue;
      const bits = doubleDistance(other, shot);
      if (bits !== null && (bits < least || (bits === least && j < kept[i]!))) {
        least = bits;
        kept[i] = j;
      }
    }
    if (kept[i]! >= 0) return;
    index.add(i);
    if (second !== null) {
      const there = seconds.get(second);
      if (there) there.push(i);
      else seconds.set(second, [i]);
    }
  });
  return kept;
}

/** A decimal 64-bit hash in halves. */
export function halvesOf(hash: string): { high: number; low: number } {
  const { high, low } = halves([hash]);
  return { high: high[0]!, low: low[0]! };
}
