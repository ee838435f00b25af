import type { Taken } from './taken';
import { localAt } from './zone';

/** Days that clocks begin from when nobody has set them: the epochs of common systems and of cameras. */
const NEVER_SET =
  /^(1904-01-01|1970-01-01|1980-01-01|19(8[0-9]|9[0-9])-01-01T00:0|200[0-9]-01-01T00:0|201[0-9]-01-01T00:0)/;
/** A time that came from a clock nobody had set, or from the future, is worth less than a file's name. */
const DOUBTED = 0.15;

/**
 * How far a time can be believed, given when the picture arrived (`YYYY-MM-DD`): clocks that were never set, times after
 * the arrival, and cameras' times from before there were cameras that could write them are doubted.
 */
export function believed(taken: Taken, arrived: string): number {
  if (taken.source === 'hand') return taken.certainty;
  const tomorrow = new Date(Date.parse(`${arrived}T00:00:00Z`) + 2 * 86_400_000).toISOString().slice(0, 10);
  if (taken.local.slice(0, 10) > tomorrow) return DOUBTED;
  if (taken.source === 'camera' && (NEVER_SET.test(taken.local) || taken.local < '1985')) return DOUBTED;
  return taken.certainty;
}

/** What only knows its day, and is sure of it. */
const isDay = ({ span }: Taken): boolean => span?.exact === 'day' && !span.about;

/**
 * Chooses among everything that says when a picture was taken, given in the order of trust: the surest wins, among equals
 * the first; but of one that only knows its day and another that knows the hour of that day, the other. The chosen one
 * carries how far it is believed.
 */
export function chooseTaken(clues: readonly (Taken | null | undefined)[], arrived: string): Taken | null {
  const told = clues.flatMap((clue) => (clue ? [{ ...clue, certainty: believed(clue, arrived) }] : []));
  const surest = (some: readonly Taken[]) =>
    some.reduce<Taken | null>((best, one) => (best && best.certainty >= one.certainty ? best : one), null);
  const best = surest(told);
  if (!best || !isDay(best)) return best;
  const day = best.local.slice(0, 10);
  return surest(told.filter((one) => !one.span && one.certainty > DOUBTED && one.local.startsWith(day))) ?? best;
}

/** Files changed this close to each other were copied together. */
const TOGETHER = 10 * 60_000;

/**
 * A file's own time of change, when it can be the time of the shot: not within two days before it arrived, and not shared by
 * half of the files it came with, as when a folder was copied. All in ms since 1970.
 * @param others times of change of the other files of the batch; a file that came alone is judged by its own time only.
 * @param offset minutes east of Greenwich where the household lives, at that instant.
 */
export function takenFromFileTime(
  modified: number | null,
  arrived: number,
  others: readonly number[],
  offset: number,
): Taken | null {
  if (modified === null || modified <= 0 || arrived - modified < 2 * 86_400_000) return null;
  const near = others.filter((m) => Math.abs(m - modified) < TOGETHER).length;
  if (others.length > 1 && near > others.length / 2) return null;
  return { local: localAt(modified, offset), offset, source: 'file', certainty: 0.12 };
}
