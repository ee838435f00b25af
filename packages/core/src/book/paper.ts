import { z } from 'zod';

/** Lengths in millimetres, from the upper left corner of a page as it is trimmed. */
export interface PaperBox {
  x: number;
  y: number;
  w: number;
  h: number;
}

/** Sizes of pages, trimmed. */
export const PAGES = {
  'square 21': { width: 210, height: 210 },
  'A4 upright': { width: 210, height: 297 },
  'A4 wide': { width: 297, height: 210 },
  A5: { width: 148, height: 210 },
  '8x8 in': { width: 203.2, height: 203.2 },
} as const;
export const PageSize = z.enum(Object.keys(PAGES) as [keyof typeof PAGES, ...(keyof typeof PAGES)[]]);
export type PageSize = z.infer<typeof PageSize>;

/** How far a full page runs over the edge it is trimmed at, on each side. */
export const BLEED = 3;
/** Faces keep so far from the trimmed edge and from the fold. */
export const FACE_ROOM = 8;
/** Pictures stand so far apart on a page. */
export const GAP = 4;
/** A leaf of usual photo paper, and both boards of a cover. */
const LEAF = 0.23;
const BOARDS = 4;

/** Whether a page lies to the left of the fold. The first page of a book lies to its right. */
export const isLeft = (page: number): boolean => page % 2 === 0;

/** How thick the spine of a book of so many pages is, boards and all. */
export const spineOf = (pages: number): number => Math.round((Math.ceil(pages / 2) * LEAF + BOARDS) * 10) / 10;

/** What of a page is printed on: its margins are wider at the fold and at the foot, which bears the page's number. */
export function areaOf(paper: PageSize, page: number): PaperBox {
  const { width, height } = PAGES[paper];
  const outer = Math.round(Math.min(width, height) * 0.065);
  const fold = outer + 5;
  const foot = outer + 4;
  return {
    x: isLeft(page) ? outer : fold,
    y: outer,
    w: width - outer - fold,
    h: height - outer - foot,
  };
}
