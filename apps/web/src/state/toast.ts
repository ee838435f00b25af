import { create } from 'zustand';
import { wordsOf } from '@/api/client';

/** What can be done about what a line says. */
interface Way {
  label: string;
  act: () => Promise<unknown>;
}

interface Note {
  id: number;
  text: string;
  tone: 'plain' | 'trouble';
  way?: Way;
}

interface Toasts {
  note: Note | null;
  say: (text: string, way?: Way) => void;
  trouble: (error: unknown) => void;
  clear: (id: number) => void;
}

let last = 0;

/** The one line at the bottom that says what was done, and takes it back. */
export const useToast = create<Toasts>()((set) => ({
  note: null,
  say: (text, way) => set({ note: { id: ++last, text, tone: 'plain', ...(way ? { way } : {}) } }),
  trouble: (error) => set({ note: { id: ++last, text: wordsOf(error), tone: 'trouble' } }),
  clear: (id) => set((state) => (state.note?.id === id ? { note: null } : state)),
}));

export const say = (text: string, way?: Way): void => useToast.getState().say(text, way);
export const trouble = (error: unknown): void => useToast.getState().trouble(error);
