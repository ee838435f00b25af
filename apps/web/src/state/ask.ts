import { EVERYTHING, narrow, type Question, widen } from '@gemmel/core';
import { create } from 'zustand';

interface Ask {
  /** What Browse is asking for. */
  question: Question;
  set: (question: Question) => void;
  narrow: (part: Question) => void;
  widen: (index: number) => void;
}

/** The question that stands over Browse, shared by When, Where, Who and What. */
export const useAsk = create<Ask>()((set) => ({
  question: EVERYTHING,
  set: (question) => set({ question }),
  narrow: (part) => set((state) => ({ question: narrow(state.question, part) })),
  widen: (index) => set((state) => ({ question: widen(state.question, index) })),
}));

interface Sequence {
  /** The pictures to leaf through, in order, and where they were opened from. */
  ids: ArrayLike<number>;
  from: string;
  open: (ids: ArrayLike<number>, from: string) => void;
}

/** The order in which next and previous go on the picture page. */
export const useSequence = create<Sequence>()((set) => ({
  ids: [],
  from: '/browse',
  open: (ids, from) => set({ ids, from }),
}));
