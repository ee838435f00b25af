import { useEffect, useRef, useState } from 'react';

/** How many pictures before and behind the one on screen are kept decoded. */
const AHEAD = 3;
const BEHIND = 1;

/**
 * Keeps the pictures around a place decoded, so that the next one is there the moment it is shown. Answers whether one is. One that cannot be had
 * counts as decoded: a show does not wait for what never comes.
 * @param sources what to load for each place: addresses of pictures; none for what needs none.
 */
export function useDecoded(sources: readonly (readonly string[])[], at: number): (place: number) => boolean {
  const kept = useRef(new Map<string, { image: HTMLImageElement; done: boolean }>());
  const [, tell] = useState(0);
  useEffect(() => {
    const wanted = new Set<string>();
    const n = sources.length;
    for (let i = -BEHIND; i <= AHEAD; i++)
      for (const src of sources[(at + i + n) % Math.max(1, n)] ?? []) wanted.add(src);
    for (const src of [...kept.current.keys()]) if (!wanted.has(src)) kept.current.delete(src);
    let gone = false;
    for (const src of wanted) {
      if (kept.current.has(src)) continue;
      const image = new Image();
      const one = { image, done: false };
      kept.current.set(src, one);
      image.src = src;
      void image.decode().then(
        () => {
          one.done = true;
          if (!gone) tell((old) => old + 1);
        },
        () => {
          one.done = true;
          if (!gone) tell((old) => old + 1);
        },
      );
    }
    return () => {
      gone = true;
    };
  }, [sources, at]);
  return (place) => (sources[place] ?? []).every((src) => kept.current.get(src)?.done ?? false);
}
