import type { Sort, Under } from '@gemmel/contract';
import { nodes, type Question, type UnderTime } from '@gemmel/core';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';

export type Scheme = 'system' | 'light' | 'dark';

/** What tiles tell: nothing, stars with hearts, the tags, the title, the name of the file, or the date. */
export type Tells = 'nothing' | 'stars' | 'tags' | 'title' | 'name' | 'date';

/** What pictures of When stand under. */
export type Headed = UnderTime | Under;

/** Screens with pictures, each with a size and with what tiles tell of its own. */
export type Screen = 'browse' | 'album' | 'person';
interface Tiles {
  /** The height rows of pictures come near to, in CSS pixels; 0 for what suits the window. */
  rowHeight: number;
  tells: Tells;
}
const TILES: Tiles = { rowHeight: 0, tells: 'stars' };

/** How people stand on Who, favourites always first. */
export type PeopleOrder = 'often' | 'name' | 'lately';

interface Look {
  scheme: Scheme;
  tiles: Partial<Record<Screen, Tiles>>;
  /** Whether When begins with the oldest pictures. */
  oldestFirst: boolean;
  headed: Headed;
  /** In which order pictures stand. */
  sort: Sort;
  /** Whether Arrivals shows this day in other years, and the day on which it was put away. */
  thisDay: boolean;
  awayOn: string;
  peopleOrder: PeopleOrder;
  /** Whether When shows one picture for each run. */
  foldRuns: boolean;
  setScheme: (scheme: Scheme) => void;
  setTiles: (screen: Screen, change: Partial<Tiles>) => void;
  setOldestFirst: (oldestFirst: boolean) => void;
  setHeaded: (headed: Headed) => void;
  setSort: (sort: Sort) => void;
  setThisDay: (thisDay: boolean) => void;
  setAwayOn: (awayOn: string) => void;
  setPeopleOrder: (peopleOrder: PeopleOrder) => void;
  setFoldRuns: (foldRuns: boolean) => void;
}

/** How this device shows things; kept in the browser. */
export const useLook = create<Look>()(
  persist(
    (set) => ({
      scheme: 'system',
      tiles: {},
      oldestFirst: false,
      headed: 'event',
      sort: 'date',
      thisDay: true,
      awayOn: '',
      peopleOrder: 'often',
      foldRuns: true,
      setScheme: (scheme) => set({ scheme }),
      setTiles: (screen, change) =>
        set(({ tiles }) => ({ tiles: { ...tiles, [screen]: { ...(tiles[screen] ?? TILES), ...change } } })),
      setOldestFirst: (oldestFirst) => set({ oldestFirst }),
      setHeaded: (headed) => set({ headed }),
      setSort: (sort) => set({ sort }),
      setThisDay: (thisDay) => set({ thisDay }),
      setAwayOn: (awayOn) => set({ awayOn }),
      setPeopleOrder: (peopleOrder) => set({ peopleOrder }),
      setFoldRuns: (foldRuns) => set({ foldRuns }),
    }),
    { name: 'gemmel-look' },
  ),
);

/** How tiles of a screen are shown. */
export const useTiles = (screen: Screen): Tiles => useLook((look) => look.tiles[screen]) ?? TILES;

/** Whether a question asks for what is like a picture, so that its answer can stand by likeness. */
export const asksLike = (question: Question): boolean => [...nodes(question)].some((q) => 'like' in q);

/** Whether a question asks for words, so that its answer can stand by the best match. */
export const asksText = (question: Question): boolean => [...nodes(question)].some((q) => 'text' in q);

/** Orders that only some questions have. */
const ONLY: Partial<Record<Sort, (question: Question) => boolean>> = { likeness: asksLike, match: asksText };

/** Whether the answer of a question can stand in an order. */
export const hasSort = (sort: Sort, question: Question): boolean => ONLY[sort]?.(question) ?? true;

/** The order in which the answer of a question stands: by time where the one that was chosen means nothing to it. */
export const sortOf = (sort: Sort, question: Question): Sort => (hasSort(sort, question) ? sort : 'date');

/** Whether pictures stand under something of time. */
export const isOfTime = (headed: Headed): headed is UnderTime =>
  headed === 'event' || headed === 'day' || headed === 'month' || headed === 'none';

/** Whether the evening colours are on. */
export const isDark = (scheme: Scheme): boolean =>
  scheme === 'dark' || (scheme === 'system' && matchMedia('(prefers-color-scheme: dark)').matches);

/** Puts the scheme on the page. */
export function applyScheme(scheme: Scheme): void {
  document.documentElement.classList.toggle('dark', isDark(scheme));
}
