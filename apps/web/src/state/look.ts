import { create } from 'zustand';
import { persist } from 'zustand/middleware';

export type Scheme = 'system' | 'light' | 'dark';

interface Look {
  scheme: Scheme;
  /** The height rows of pictures come near to, in CSS pixels. */
  rowHeight: number;
  /** Whether When begins with the oldest pictures. */
  oldestFirst: boolean;
  /** Whether When is one list without headings. */
  flat: boolean;
  setScheme: (scheme: Scheme) => void;
  setRowHeight: (rowHeight: number) => void;
  setOldestFirst: (oldestFirst: boolean) => void;
  setFlat: (flat: boolean) => void;
}

/** How this device shows things; kept in the browser. */
export const useLook = create<Look>()(
  persist(
    (set) => ({
      scheme: 'system',
      rowHeight: 0,
      oldestFirst: false,
      flat: false,
      setScheme: (scheme) => set({ scheme }),
      setRowHeight: (rowHeight) => set({ rowHeight }),
      setOldestFirst: (oldestFirst) => set({ oldestFirst }),
      setFlat: (flat) => set({ flat }),
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
