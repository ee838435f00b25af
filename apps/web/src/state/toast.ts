import { create } from 'zustand';
import { wordsOf } from '@/api/client';

interface Note {
  id: number;
  text: string;
  tone: 'plain' | 'trouble';
  undo?: () => Promise<unknown>;
}

interface Toasts {
  note: Note | null;
  say: (text: string, undo?: () => Promise<unknown>) => void;
  trouble: (error: unknown) => void;
  clear: (id: number) => void;
}

let last = 0;

/** The one line at the bottom that says what was done, and takes it back. */
export const useToast = create<Toasts>()((set) => ({
  note: null,
  say: (text, undo) => set({ note: { id: ++last, text, tone: 'plain', ...(undo ? { undo } : {}) } }),
  trouble: (error) => set({ note: { id: ++last, text: wordsOf(error), tone: 'trouble' } }),
  clear: (id) => set((state) => (state.note?.id === id ? { note: null } : state)),
}));

export const say = (text: string, undo?: () => Promise<unknown>): void => useToast.getState().say(text, undo);
export const trouble = (error: unknown): void => useToast.getState().trouble(error);
