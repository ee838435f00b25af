import type { Album, Shelf } from '@gemmel/contract';
import { shelved, type Shelved } from '@gemmel/core';
import { useMemo } from 'react';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { useAnswer } from '@/api/query';
import { words } from '@/words/said';

/** A shelf with what stands on it; the outermost is no shelf. */
export type Standing = Shelved<Album, Shelf>;

/** Albums and shelves as a tree, each shelf in its own order. */
export function useShelved() {
  const answer = useAnswer('albums', {});
  const { data } = answer;
  const root = useMemo<Standing | null>(() => {
    if (!data) return null;
    const { compare } = new Intl.Collator(words().tag, { numeric: true, sensitivity: 'base' });
    return shelved(data.albums, data.shelves, data.sorted, compare);
  }, [data]);
  return { ...answer, root };
}

/** The part of the tree that is one shelf; null when there is none of that number. */
export function shelfIn(root: Standing, id: number): Standing | null {
  for (const one of root.on) {
    if ('album' in one) continue;
    if (one.shelf!.id === id) return one;
    const found = shelfIn(one, id);
    if (found) return found;
  }
  return null;
}

/** The shelves a shelf or an album stands on, the outermost first. */
export function wayTo(shelves: readonly Shelf[], shelf: number | null): Shelf[] {
  const by = new Map(shelves.map((one) => [one.id, one]));
  const way: Shelf[] = [];
  let at = shelf === null ? undefined : by.get(shelf);
  while (at && !way.includes(at)) {
    way.unshift(at);
    at = at.shelf === null ? undefined : by.get(at.shelf);
  }
  return way;
}

/** Everything in the order of the tree, with how deep it stands. `closed` shelves are not looked into. */
export function flat(
  root: Standing,
  closed: ReadonlySet<number> = new Set(),
  depth = 0,
): ({ depth: number } & ({ album: Album } | { shelf: Standing }))[] {
  return root.on.flatMap((one) =>
    'album' in one
      ? [{ depth, album: one.album }]
      : [{ depth, shelf: one }, ...(closed.has(one.shelf!.id) ? [] : flat(one, closed, depth + 1))],
  );
}

interface Closed {
  /** Shelves that are closed in the tree, on this device. */
  closed: number[];
  toggle: (id: number) => void;
}

/** Which shelves stand closed in the tree; remembered on this device. */
export const useClosedShelves = create<Closed>()(
  persist(
    (set) => ({
      closed: [],
      toggle: (id) =>
        set(({ closed }) => ({ closed: closed.includes(id) ? closed.filter((one) => one !== id) : [...closed, id] })),
    }),
    { name: 'gemmel-shelves' },
  ),
);
