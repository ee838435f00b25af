import { startTransition, useEffect, useState } from 'react';

/** How many of a long list stand at once: more than any screen shows of it. */
const FIRST = 24;

/** False when something is first drawn, and true a moment later, when nobody waits for anything else: then the rest of a long page is drawn. */
export function useRest(): boolean {
  const [rest, setRest] = useState(false);
  useEffect(() => startTransition(() => setRest(true)), []);
  return rest;
}

/** As much of a long list as a screen shows, and all of it a moment later. */
export function useGradually<T>(all: readonly T[]): readonly T[] {
  return useRest() || all.length <= FIRST ? all : all.slice(0, FIRST);
}
