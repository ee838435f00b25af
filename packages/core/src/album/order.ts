import { generateKeyBetween, generateNKeysBetween } from 'fractional-indexing';

/**
 * Places in an order by hand are short texts that sort as bytes; between any two there is always another, so that moving something
 * writes that one row only. They are the keys of "Implementing fractional indexing" (David Greenspan, 2020): a whole number whose first
 * letter tells how many digits it has, and a fraction, in base 62.
 */
export type OrderKey = string;

/** Longest key that is written; whoever would need a longer one gives the whole list new keys. */
export const LONGEST_KEY = 120;

/**
 * `n` new keys in order between two neighbours, null for the ends of the list. Answers null when there is no room: two neighbours may
 * bear the same key after undoing, and keys grow where something is put in the same gap again and again; then the list is spaced anew
 * by {@link spacedKeys}.
 */
export function keysBetween(before: OrderKey | null, after: OrderKey | null, n: number): OrderKey[] | null {
  if (before !== null && after !== null && before >= after) return null;
  const keys = generateNKeysBetween(before, after, n);
  return keys.every((key) => key.length <= LONGEST_KEY) ? keys : null;
}

/** One key between two neighbours; see {@link keysBetween}. */
export function keyBetween(before: OrderKey | null, after: OrderKey | null): OrderKey | null {
  return keysBetween(before, after, 1)?.[0] ?? null;
}

/** The key of a place that was a number before places were keys: nine decimal digits, which are digits in base 62 as well. */
export const keyOfNumber = (place: number): OrderKey => `i${String(place).padStart(9, '0')}`;

/** Keys for a whole list, evenly spaced and as short as they can be. */
export const spacedKeys = (n: number): OrderKey[] => generateNKeysBetween(null, null, n);

/** The key after which everything new stands, for a list whose last key is `last`. */
export const keyAfter = (last: OrderKey | null): OrderKey => generateKeyBetween(last, null);

/**
 * Moves some of a list's members so that they stand, in their old order, just before `before`, or at the end for null.
 * `before` may itself be one of the moved: then they gather where it stood. Members that are not in the list are ignored.
 */
export function moveBefore<T>(list: readonly T[], moved: readonly T[], before: T | null): T[] {
  const going = new Set(moved);
  let at = before === null ? -1 : list.indexOf(before);
  while (at >= 0 && at < list.length && going.has(list[at]!)) at++;
  const anchor = at >= 0 && at < list.length ? list[at]! : null;
  const staying = list.filter((item) => !going.has(item));
  const place = anchor === null ? staying.length : staying.indexOf(anchor);
  return [...staying.slice(0, place), ...list.filter((item) => going.has(item)), ...staying.slice(place)];
}
