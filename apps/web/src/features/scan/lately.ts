import { create } from 'zustand';

/** Pictures that came of scans taken apart in this tab: what is to be said of them is said on one sheet. */
export const useLately = create<{ ids: readonly number[]; add: (ids: readonly number[]) => void; clear: () => void }>()(
  (set) => ({
    ids: [],
    add: (ids) => set((before) => ({ ids: [...new Set([...before.ids, ...ids])] })),
    clear: () => set({ ids: [] }),
  }),
);
