/** How fast work goes, smoothed: `perSecond` in whatever is counted. */
export interface Pace {
  at: number;
  done: number;
  perSecond: number | null;
}

/** Half a minute back counts for little: the time constant of the smoothing, in milliseconds. */
const MEMORY = 12_000;

/**
 * Takes one more look at a count that grows: an exponential moving average over time, so that looks at uneven moments weigh
 * by the time between them. A count that fell begins anew.
 * @param at milliseconds on any clock that only runs forward.
 */
export function paced(before: Pace | null, at: number, done: number): Pace {
  if (!before || done < before.done || at < before.at) return { at, done, perSecond: null };
  const passed = at - before.at;
  if (passed === 0) return before;
  const now = ((done - before.done) / passed) * 1000;
  if (before.perSecond === null) return done === before.done ? before : { at, done, perSecond: now };
  const weight = 1 - Math.exp(-passed / MEMORY);
  return { at, done, perSecond: before.perSecond + weight * (now - before.perSecond) };
}

/** Seconds left for what is still to do; null while nobody can say. */
export const secondsLeft = (pace: Pace | null, left: number): number | null =>
  pace?.perSecond ? Math.ceil(left / pace.perSecond) : left === 0 ? 0 : null;
