import { create } from 'zustand';
import { persist } from 'zustand/middleware';

/** Pictures somebody goes through one after another, and what they are called together. */
interface Round {
  /** What they are: “event 5”, “batch 3”, “pile”. Where one stopped is kept under it. */
  key: string;
  title: string;
  ids: number[];
  /** Where one came from, to go back to. */
  from: string;
}

interface Going {
  round: Round | null;
  /** Where one stopped, by what was gone through; the latest last. */
  stopped: { key: string; id: number }[];
  /** Whether giving stars brings the next picture. */
  onward: boolean;
  begin: (round: Round) => void;
  stopAt: (key: string, id: number | null) => void;
  setOnward: (onward: boolean) => void;
}

/** Places that are remembered. */
const MOST = 50;

/** Going through pictures one after another; kept in the browser, so that a reload or another day goes on where one stopped. */
export const useGoing = create<Going>()(
  persist(
    (set) => ({
      round: null,
      stopped: [],
      onward: true,
      begin: (round) => set({ round }),
      stopAt: (key, id) =>
        set(({ stopped }) => ({
          stopped: [...stopped.filter((one) => one.key !== key), ...(id === null ? [] : [{ key, id }])].slice(-MOST),
        })),
      setOnward: (onward) => set({ onward }),
    }),
    { name: 'gemmel-going' },
  ),
);
