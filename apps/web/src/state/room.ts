import { useEffect, type RefObject } from 'react';
import { create } from 'zustand';
import { useSize } from '@/ui/useSize';

/** How much of the bottom of the screen is taken by acts that are to be touched next, in CSS pixels, by who takes it. */
export const useRoom = create<{ taken: ReadonlyMap<string, number> }>()(() => ({ taken: new Map() }));

/** What the line that says what was done must stay above. */
export const useTaken = (): number => useRoom(({ taken }) => Math.max(0, ...taken.values()));

/** Keeps an element at the bottom of the screen free of the line that says what was done. */
export function useKeepFree(name: string, ref: RefObject<HTMLElement | null>, on = true): void {
  const { height } = useSize(ref);
  useEffect(() => {
    if (!on || !height) return;
    useRoom.setState(({ taken }) => ({ taken: new Map(taken).set(name, height) }));
    return () =>
      useRoom.setState(({ taken }) => {
        const left = new Map(taken);
        left.delete(name);
        return { taken: left };
      });
  }, [name, height, on]);
}
