import { EVERYTHING, narrow, normalise, type Question, topParts, widen } from '@gemmel/core';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';

interface Ask {
  /** What Browse is asking for, as far as it is said. */
  question: Question;
  /** What it would be with what is being typed; null when nothing is. */
  typing: Question | null;
  set: (question: Question) => void;
  narrow: (part: Question) => void;
  widen: (index: number) => void;
  /** Puts another part in the place of one. */
  change: (index: number, part: Question) => void;
  setTyping: (typing: Question | null) => void;
}

/** The question that stands over Browse, shared by When, Where, Who and What. */
export const useAsk = create<Ask>()((set) => ({
  question: EVERYTHING,
  typing: null,
  set: (question) => set({ question, typing: null }),
  narrow: (part) => set((state) => ({ question: narrow(state.question, part), typing: null })),
  widen: (index) => set((state) => ({ question: widen(state.question, index), typing: null })),
  change: (index, part) =>
    set((state) => ({
      question: normalise({ all: topParts(state.question).map((one, i) => (i === index ? part : one)) }),
      typing: null,
    })),
  setTyping: (typing) => set({ typing }),
}));

/** What is shown: the question, or what it would be with what is being typed. */
export const useAsked = (): Question => useAsk((state) => state.typing ?? state.question);

/** How many questions come back. */
const RECENT = 10;

interface Recent {
  questions: Question[];
  note: (question: Question) => void;
}

/** The last questions asked on this device, the latest first. */
export const useRecent = create<Recent>()(
  persist(
    (set) => ({
      questions: [],
      note: (question) =>
        set(({ questions }) => {
          const key = JSON.stringify(question);
          return { questions: [question, ...questions.filter((one) => JSON.stringify(one) !== key)].slice(0, RECENT) };
        }),
    }),
    { name: 'gemmel-asked' },
  ),
);

interface Sequence {
  /** The pictures to leaf through, in order, and where they were opened from. */
  ids: ArrayLike<number>;
  from: string;
  open: (ids: ArrayLike<number>, from: string) => void;
  /** Leaves a picture out that is there no longer. */
  without: (gone: number) => void;
}

/** The order in which next and previous go on the picture page. */
export const useSequence = create<Sequence>()((set) => ({
  ids: [],
  from: '/browse',
  open: (ids, from) => set({ ids, from }),
  without: (gone) => set(({ ids }) => ({ ids: Array.from(ids).filter((id) => id !== gone) })),
}));
