import { create } from 'zustand';
import type { Spot } from './acts';

interface InHand {
  /** A place that was copied from a picture, to be given to others. */
  place: (Spot & { name: string }) | null;
  copy: (place: Spot & { name: string }) => void;
}

/** The place somebody has copied. */
export const usePlaceInHand = create<InHand>()((set) => ({ place: null, copy: (place) => set({ place }) }));
