import '@/api/checked';
import { PLAIN_SHOW, ShowSettings } from '@gemmel/core';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';

interface Remembered {
  settings: ShowSettings;
  set: (settings: ShowSettings) => void;
}

/** How shows are played on this device: as they were played last. */
export const useShowSettings = create<Remembered>()(
  persist(
    (set) => ({
      settings: PLAIN_SHOW,
      set: (settings) => set({ settings }),
    }),
    {
      name: 'gemmel-show',
      // What an older page remembered may not be what is understood now.
      merge: (kept, now) => {
        const read = ShowSettings.safeParse((kept as Remembered | undefined)?.settings);
        return read.success ? { ...now, settings: read.data } : now;
      },
    },
  ),
);
