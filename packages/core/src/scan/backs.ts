import { fold } from '../text/fold';
import { ALL_WORDS } from '../words/all';
import { readWhen, type When } from '../time/when';

/** What people and scanners call the sides of a print, folded. */
const BACKS = 'back|backside|rear|reverse|verso|ruckseite|rueckseite|hinten|baksida|baksidan|b';
const FRONTS = 'front|face|recto|vorderseite|vorne|vorn|framsida|framsidan|a';
const SIDE = new RegExp(`^(.*?)(?:[\\s_.\\-(\\[]+(${BACKS}|${FRONTS})|(?<=\\d)([ab]))[)\\]]?$`);
const IS_BACK = new RegExp(`^(?:${BACKS})$`);

/** A print by the name of its file: what front and back have in common, and which of the two it says it is. */
export interface PrintName {
  print: string;
  side: 'front' | 'back' | null;
}

/** Reads from the name of a file which print it is of: “Scan 12 back.jpg” is the back of “Scan 12.jpg”, “0034b.tif” of “0034a.tif”. */
export function printOf(name: string): PrintName {
  const stem = fold(name.replace(/\.[^.]*$/, '')).trim();
  const m = stem.match(SIDE);
  const word = m?.[2] ?? m?.[3];
  if (!m?.[1] || !word) return { print: stem, side: null };
  return { print: m[1].replace(/[\s_.\-(]+$/, ''), side: IS_BACK.test(word) ? 'back' : 'front' };
}

/** Front and back of each print among files that lie together, by their names; one of which nothing can be said for sure is left out. */
export function pairsIn<T extends { name: string }>(files: readonly T[]): { front: T; back: T }[] {
  const prints = new Map<string, { front: T[]; plain: T[]; back: T[] }>();
  for (const file of files) {
    const { print, side } = printOf(file.name);
    const there = prints.get(print) ?? { front: [], plain: [], back: [] };
    prints.set(print, there);
    there[side ?? 'plain'].push(file);
  }
  return [...prints.values()].flatMap(({ front, plain, back }) => {
    const fronts = front.length ? front : plain;
    return fronts.length === 1 && back.length === 1 ? [{ front: fronts[0]!, back: back[0]! }] : [];
  });
}

const HOW_EXACT = ['day', 'month', 'season', 'year', 'decade'] as const;

/** The date that stands in what was written on the back of a print, in any language Gemmel speaks; the most exact one. */
export function dateWritten(text: string, thisYear: number): When | null {
  let best: When | null = null;
  for (const line of text.split('\n')) {
    const words = line.trim().split(/\s+/).slice(0, 40);
    for (let from = 0; from < words.length; from++)
      for (let n = Math.min(5, words.length - from); n > 0; n--) {
        const said = words
          .slice(from, from + n)
          .join(' ')
          .replace(/^[(“"]+|[)”",;.]+$/g, '');
        // A number of two or three digits alone is a house, an age or a shot.
        if (!/\d{4}|\d[./-]|[a-zåäöü]{3,}.*\d|[’']\d\d/i.test(said)) continue;
        const when = readWhen(said, thisYear, ALL_WORDS);
        if (!when || Number(when.from.slice(0, 4)) > thisYear) continue;
        if (!best || HOW_EXACT.indexOf(when.exact) < HOW_EXACT.indexOf(best.exact)) best = when;
      }
  }
  return best;
}
