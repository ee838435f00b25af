import type { Chapter } from '@gemmel/contract';
import { createContext, useContext } from 'react';
import { LETTER, LINE } from '../browse/EventHeading';

/** The headings and notes of the album that is shown, by number; and what touching one does. */
export interface Chapters {
  by: ReadonlyMap<number, Chapter>;
  edit: ((chapter: Chapter) => void) | null;
}

export const ChaptersShown = createContext<Chapters>({ by: new Map(), edit: null });
export const useChapters = (): Chapters => useContext(ChaptersShown);

/** Room above and below a chapter, and between its heading and its note, in CSS pixels. */
const ROOM = { above: 14, below: 12, between: 4 };

/** How high a chapter is, so that nothing of it is cut off: its lines as the letters run. */
export function chapterHeight({ heading, note }: Pick<Chapter, 'heading' | 'note'>, width: number): number {
  const room = Math.max(120, width - 18 - 10);
  const lines = (text: string, letter: number, wide: number) =>
    text.split('\n').reduce((sum, line) => sum + Math.max(1, Math.ceil((line.length * letter) / wide)), 0);
  const head = heading ? Math.min(2, lines(heading, LETTER.name * 1.2, room)) * (LINE.name + 2) : 0;
  const words = note ? lines(note, LETTER.name * 0.86, Math.min(room, 640)) * LINE.name : 0;
  return (
    ROOM.above +
    Math.max(head, LINE.name) * (heading ? 1 : 0) +
    (heading && note ? ROOM.between : 0) +
    words +
    ROOM.below
  );
}
