import { arrangementsOf, ppiOf, SHARP, type Placeable } from './arrange';
import { cropTo } from './crop';
import { BLEED, FACE_ROOM, PAGES, type PaperBox, type PageSize } from './paper';
import type { Part } from '../show/pan';
import type { BookSettings } from './settings';

/** A picture as a book goes by it. */
export interface BookPicture extends Placeable {
  id: number;
  /** How high it is in pixels. */
  rows: number;
  /** Boxes of faces, in fractions of the picture. */
  faces: readonly Part[];
  /** The day it was taken; null when that is not known. */
  day: string | null;
}

/** What a page bears: pictures by their place in the chapter, and whether the one runs over the whole page. */
export interface Spread {
  from: number;
  to: number;
  full: boolean;
}

/** Pages bear so many pictures by and large, and at most. */
const FILLS: Readonly<Record<BookSettings['fill'], { mean: number; most: number }>> = {
  airy: { mean: 2, most: 4 },
  even: { mean: 3.6, most: 6 },
  full: { mean: 6, most: 9 },
};
/** One full page to so many pictures, and never nearer to each other. */
const FULL_TO = 14;
const FULL_APART = 8;
/** Of a picture that runs over the whole page at most this share is cut away. */
const CUT = 0.27;

/**
 * What of a picture is seen when it runs over a whole page and its bleed; null when too much would be cut, or a face would lie at an edge or
 * in the fold. Faces that the picture itself cuts are as they are.
 */
export function fullPage(picture: Pick<BookPicture, 'ratio' | 'faces'>, paper: PageSize): Part | null {
  const { width, height } = PAGES[paper];
  const part = cropTo(picture, { w: width + 2 * BLEED, h: height + 2 * BLEED }, BLEED + FACE_ROOM, { strict: true });
  return part && 1 - part.w * part.h <= CUT ? part : null;
}

/** Which pictures of a chapter have a page of their own, over all of it: the best of those that can, well apart. */
export function fullOnes(pictures: readonly BookPicture[], paper: PageSize): Set<number> {
  const wanted = Math.floor(pictures.length / FULL_TO);
  const chosen = new Set<number>();
  const able = pictures
    .map((picture, at) => ({ at, picture }))
    .filter(
      ({ at, picture }) =>
        at > 0 && ppiOf(picture.pixels, PAGES[paper].width) >= SHARP * 0.75 && fullPage(picture, paper),
    )
    .sort((a, b) => b.picture.good - a.picture.good || a.at - b.at);
  for (const { at } of able) {
    if (chosen.size >= wanted) break;
    if ([...chosen].every((other) => Math.abs(other - at) >= FULL_APART)) chosen.add(at);
  }
  return chosen;
}

/**
 * Parts a chapter's pictures, in their order, into pages so that all pages together look best: each as well filled as it can be, days kept
 * together, neighbours not alike (shortest path over breaks and the last page's count; time grows with pictures times the square of the
 * most on a page).
 * @param first what of the first page is left for pictures.
 */
export function paged(
  pictures: readonly BookPicture[],
  areas: { first: PaperBox; rest: PaperBox },
  fill: BookSettings['fill'],
  full: ReadonlySet<number>,
): Spread[] {
  const n = pictures.length;
  if (n === 0) return [];
  const { mean, most } = FILLS[fill];
  const costs = new Map<number, number>();
  const costOf = (from: number, count: number): number => {
    const key = from * 16 + count;
    const known = costs.get(key);
    if (known !== undefined) return known;
    const [found] = arrangementsOf(from === 0 ? areas.first : areas.rest, pictures.slice(from, from + count));
    let cost = found ? found.cost : 9;
    cost += 0.3 * Math.abs(Math.log(count / mean));
    for (let i = from + 1; i < from + count; i++) if (pictures[i]!.day !== pictures[i - 1]!.day) cost += 0.06;
    costs.set(key, cost * count);
    return cost * count;
  };
  // best[at][last]: the least cost of pages for the pictures before `at`, the last of which bears `last`.
  const width = most + 1;
  const best = new Float64Array((n + 1) * width).fill(Infinity);
  const came = new Int8Array((n + 1) * width).fill(-1);
  best[0] = 0;
  for (let at = 0; at < n; at++)
    for (let last = 0; last < width; last++) {
      const so = best[at * width + last]!;
      if (so === Infinity) continue;
      for (let count = 1; count <= most && at + count <= n; count++) {
        // Full pages bear one picture and nothing else.
        if (count > 1 && (full.has(at) || full.has(at + count - 1))) break;
        const alone = full.has(at);
        const cost = so + (alone ? 0 : costOf(at, count)) + (!alone && count === last ? 0.15 * count : 0);
        const to = (at + count) * width + (alone ? 0 : count);
        if (cost < best[to]! - 1e-12) {
          best[to] = cost;
          came[to] = last;
        }
      }
    }
  let last = 0;
  for (let i = 1; i < width; i++) if (best[n * width + i]! < best[n * width + last]!) last = i;
  const pages: Spread[] = [];
  for (let at = n; at > 0;) {
    const before = came[at * width + last]!;
    const count = last === 0 ? 1 : last;
    pages.push({ from: at - count, to: at, full: last === 0 });
    at -= count;
    last = before;
  }
  return pages.reverse();
}
