import { create } from 'zustand';
import { persist } from 'zustand/middleware';

export type Scheme = 'system' | 'light' | 'dark';

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
  peopleOrder: PeopleOrder;
  setScheme: (scheme: Scheme) => void;
  setRowHeight: (rowHeight: number) => void;
  setOldestFirst: (oldestFirst: boolean) => void;
  setFlat: (flat: boolean) => void;
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
      peopleOrder: 'often',
      setScheme: (scheme) => set({ scheme }),
      setRowHeight: (rowHeight) => set({ rowHeight }),
      setOldestFirst: (oldestFirst) => set({ oldestFirst }),
      setFlat: (flat) => set({ flat }),
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
