import type { DayRun, GroupRun, Strip } from './timeline';

/** A picture of a run: its place in the strip, the run, and how it stands in it: the higher, the rather it is shown for the run. */
export type InRun = readonly [at: number, run: number, rank: number];

/** What a picture stands for in a strip whose runs are folded. */
export interface Stack {
  run: number;
  /** How many of its shots are in the strip. */
  shots: number;
  /** Whether they are all shown. */
  open: boolean;
}

/** A strip in which each run is one picture, and which picture stands for which run. */
export interface Folded {
  strip: Strip;
  /** By the number of the picture that stands for a run. */
  stacks: ReadonlyMap<number, Stack>;
}

/** The counts of some pieces of a strip, without the pictures that are left out. */
function without<T extends readonly [unknown, number, ...unknown[]]>(pieces: readonly T[], out: Uint8Array): T[] {
  const left: T[] = [];
  let at = 0;
  for (const piece of pieces) {
    let count = 0;
    for (let end = at + piece[1]; at < end; at++) if (!out[at]) count++;
    if (count) left.push(Object.assign([...piece], { 1: count }) as unknown as T);
  }
  return left;
}

/**
 * Folds the runs of a strip: of each, the shot that stands for it stays, the others are left out, but for runs that are open. Runs of
 * which only one shot is in the strip are no runs here. Time and room grow with the length of the strip.
 */
export function foldRuns(strip: Strip, open: ReadonlySet<number> = new Set()): Folded {
  const runs = new Map<number, InRun[]>();
  for (const one of strip.runs ?? []) {
    const there = runs.get(one[1]);
    if (there) there.push(one);
    else runs.set(one[1], [one]);
  }
  const stacks = new Map<number, Stack>();
  const out = new Uint8Array(strip.ids.length);
  let folded = 0;
  for (const [run, shots] of runs) {
    if (shots.length < 2) continue;
    const first = shots.reduce((best, one) => (one[2] > best[2] ? one : best));
    stacks.set(strip.ids[first[0]]!, { run, shots: shots.length, open: open.has(run) });
    if (open.has(run)) continue;
    for (const [at] of shots)
      if (at !== first[0]) {
        out[at] = 1;
        folded++;
      }
  }
  if (folded === 0) return { strip, stacks };
  const ids = new Int32Array(strip.ids.length - folded);
  const ratios = new Float32Array(ids.length);
  for (let i = 0, to = 0; i < out.length; i++)
    if (!out[i]) {
      ids[to] = strip.ids[i]!;
      ratios[to++] = strip.ratios[i]!;
    }
  return {
    strip: {
      ids,
      ratios,
      days: without<DayRun>(strip.days, out),
      events: without<readonly [number, number]>(strip.events, out),
      groups: strip.groups && without<GroupRun>(strip.groups, out),
    },
    stacks,
  };
}
