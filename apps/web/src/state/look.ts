import { create } from 'zustand';
import { persist } from 'zustand/middleware';

export type Scheme = 'system' | 'light' | 'dark';

interface Look {
  scheme: Scheme;
  /** The height rows of pictures come near to, in CSS pixels. */
  rowHeight: number;
  setScheme: (scheme: Scheme) => void;
  setRowHeight: (rowHeight: number) => void;
}

/** How this device shows things; kept in the browser. */
export const useLook = create<Look>()(
  persist(
    (set) => ({
      scheme: 'system',
      rowHeight: 0,
      setScheme: (scheme) => set({ scheme }),
      setRowHeight: (rowHeight) => set({ rowHeight }),
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
