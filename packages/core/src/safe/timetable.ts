/** When a place of safekeeping is brought up to date: every day, every week, whenever its disk shows up, or only when somebody says so. */
export type Often = 'daily' | 'weekly' | 'shows' | 'hand';

/** What is known of a place when it is asked whether it is due. Moments in ms since 1970. */
export interface Timetable {
  often: Often;
  /** The hour of the household's day from which it is done. */
  hour: number;
  /** When the last run that came to its end began; null when there was none. */
  done: number | null;
  /** When it was last tried; null when it never was. */
  tried: number | null;
  /** Whether the place is there, as far as can be seen, and whether it was away at the last look. */
  there: boolean;
  back: boolean;
}

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
/** What did not come to its end is tried again after this long. */
const AGAIN = 0.5 * HOUR;
/** A disk that shows up again within this long is not copied to again. */
const SHOWN = 4 * HOUR;

/**
 * Whether a place is due. `midnight` is when the household's day began, `now` the moment. The first time is at once. A day that was
 * missed, because the machine was off or the place away, is made up for as soon as can be: what is late by more than a quarter of
 * its span does not wait for the hour.
 */
export function isDue({ often, hour, done, tried, there, back }: Timetable, midnight: number, now: number): boolean {
  if (often === 'hand') return false;
  if (often === 'shows' && back) return done === null || now - done > SHOWN;
  if (tried !== null && now - tried < AGAIN && tried <= now && (done === null || tried > done)) return false;
  if (done === null) return true;
  // A clock that was set back: what seems to be done in the future says nothing.
  if (done > now + DAY) return true;
  // A disk that never goes is brought up to date once a day.
  if (often === 'shows') return there && now - done > DAY;
  const span = often === 'daily' ? DAY : 7 * DAY;
  if (now - done > span * 1.25) return true;
  const from = midnight + hour * HOUR;
  return now >= from && now - done > (often === 'daily' ? 0 : span - DAY) && done < from;
}
