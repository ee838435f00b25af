import type { Sort } from '@gemmel/contract';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';

export type Scheme = 'system' | 'light' | 'dark';

/** What tiles tell: nothing, stars with hearts, the name or title, or the date. */
export type Tells = 'nothing' | 'stars' | 'name' | 'date';

/** How people stand on Who, favourites always first. */
export type PeopleOrder = 'often' | 'name' | 'lately';

interface Look {
  scheme: Scheme;
  /** The height rows of pictures come near to, in CSS pixels. */
  rowHeight: number;
  /** Whether When begins with the oldest pictures. */
  oldestFirst: boolean;
  /** Whether When is one list without headings. */
  flat: boolean;
  /** In which order pictures stand. */
  sort: Sort;
  /** What tiles tell below a picture. */
  tells: Tells;
  /** Whether Arrivals shows this day in other years, and the day on which it was put away. */
  thisDay: boolean;
  awayOn: string;
  peopleOrder: PeopleOrder;
  setScheme: (scheme: Scheme) => void;
  setRowHeight: (rowHeight: number) => void;
  setOldestFirst: (oldestFirst: boolean) => void;
  setFlat: (flat: boolean) => void;
  setSort: (sort: Sort) => void;
  setTells: (tells: Tells) => void;
  setThisDay: (thisDay: boolean) => void;
  setAwayOn: (awayOn: string) => void;
  setPeopleOrder: (peopleOrder: PeopleOrder) => void;
}

/** How this device shows things; kept in the browser. */
export const useLook = create<Look>()(
  persist(
    (set) => ({
      scheme: 'system',
      rowHeight: 0,
      oldestFirst: false,
      flat: false,
      sort: 'date',
      tells: 'stars',
      thisDay: true,
      awayOn: '',
      peopleOrder: 'often',
      setScheme: (scheme) => set({ scheme }),
      setRowHeight: (rowHeight) => set({ rowHeight }),
      setOldestFirst: (oldestFirst) => set({ oldestFirst }),
      setFlat: (flat) => set({ flat }),
      setSort: (sort) => set({ sort }),
      setTells: (tells) => set({ tells }),
      setThisDay: (thisDay) => set({ thisDay }),
      setAwayOn: (awayOn) => set({ awayOn }),
      setPeopleOrder: (peopleOrder) => set({ peopleOrder }),
    }),
    { name: 'gemmel-look' },
  ),
);

/** Whether the evening colours are on. */
export const isDark = (scheme: Scheme): boolean =>
  scheme === 'dark' || (scheme === 'system' && matchMedia('(prefers-color-scheme: dark)').matches);

/** Puts the scheme on the page. */
export function applyScheme(scheme: Scheme): void {
  document.documentElement.classList.toggle('dark', isDark(scheme));
}
