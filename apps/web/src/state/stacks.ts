import { foldRuns, type Folded, type Stack, type Strip } from '@gemmel/core';
import { useMemo } from 'react';
import { create } from 'zustand';
import { useLook } from './look';

interface OpenRuns {
  open: ReadonlySet<number>;
  /** Shows all shots of a run in the grid, or one of them again. */
  toggle: (run: number) => void;
}

/** The runs that are open in the grid; they are folded again when the page is left. */
export const useOpenRuns = create<OpenRuns>()((set) => ({
  open: new Set(),
  toggle: (run) =>
    set(({ open }) => {
      const next = new Set(open);
      if (!next.delete(run)) next.add(run);
      return { open: next };
    }),
}));

const NONE: ReadonlyMap<number, Stack> = new Map();

/** A strip as the grid shows it: each run one picture, where this device wants it so. */
export function useFolded(strip: Strip | null): { strip: Strip | null; stacks: ReadonlyMap<number, Stack> } {
  const fold = useLook((look) => look.foldRuns);
  const open = useOpenRuns((runs) => runs.open);
  return useMemo<Folded | { strip: Strip | null; stacks: ReadonlyMap<number, Stack> }>(
    () => (strip && fold ? foldRuns(strip, open) : { strip, stacks: NONE }),
    [strip, fold, open],
  );
}
