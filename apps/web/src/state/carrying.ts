import { create } from 'zustand';

/** What is carried by the pointer from one place of a wide screen to another. */
export type Carried =
  | { kind: 'pictures'; ids: readonly number[] }
  | { kind: 'album'; id: number; name: string }
  | { kind: 'shelf'; id: number; name: string };

interface Carrying {
  carried: Carried | null;
  take: (what: Carried) => void;
  letGo: () => void;
}

/** What is in the air right now: the browser tells those it passes over nothing of it before it is let go. */
export const useCarrying = create<Carrying>()((set) => ({
  carried: null,
  take: (carried) => set({ carried }),
  letGo: () => set({ carried: null }),
}));
