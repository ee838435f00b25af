import { type Block, firstBelow, rowOf, type Strip, type Timeline } from '@gemmel/core';
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState, type RefObject } from 'react';
import { takeSeen } from '@/state/seen';
import { watchRush } from '@/state/rush';
import { LANDS, leaveSoon } from '@/state/inTurn';
import { lookAt } from '@/state/sight';
import { useTileStore, want, wantNow } from '@/state/tiles';

/** How far beyond the window rows are kept ready, in pixels. */
const AHEAD = 700;

/** How many rows beyond those that are drawn are asked about together with them. */
const ROWS = 24;

const idsOf = (some: readonly Block[], strip: Strip): number[] =>
  some.flatMap((b) => (b.kind === 'row' ? Array.from(strip.ids.subarray(b.from, b.to)) : []));

/** Where each list was scrolled to. */
const scrolledTo = new Map<string, number>();

interface Scrolled {
  scroller: RefObject<HTMLDivElement | null>;
  scrollTo: (y: number) => void;
  strip: Strip;
  timeline: Timeline;
  months: readonly { top: number }[];
  /** How high what stands above the pictures is. */
  above: number;
  /** How high the window is, in pixels. */
  view: number;
  width: number;
  /** What the place is remembered under. */
  place: string;
}

/**
 * Which blocks of a list are near the window, and which month is at its top. Back from a picture the list is where it was, with
 * the picture that was last looked at in sight.
 */
export function useScrolled({ scroller, scrollTo, strip, timeline, months, above, view, width, place }: Scrolled) {
  const { blocks } = timeline;
  const [range, setRange] = useState<[number, number]>([0, 0]);
  const [month, setMonth] = useState(0);
  const landed = useRef(-Infinity);
  const landing = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  useEffect(() => () => clearTimeout(landing.current), []);
  /** The place that is scrolled to where it was. */
  const restored = useRef<string | null>(null);
  /** The pictures of the window that begins at `y`. */
  const windowAt = (y: number): number[] => {
    const ids: number[] = [];
    for (let i = firstBelow(blocks, y); i < blocks.length && blocks[i]!.top < y + view; i++) {
      const block = blocks[i]!;
      if (block.kind === 'row') for (let at = block.from; at < block.to; at++) ids.push(strip.ids[at]!);
    }
    return ids;
  };
  const look = (y: number) => {
    lookAt(y, view, windowAt(y));
    const ahead = performance.now() - landed.current < LANDS ? 0 : AHEAD;
    const first = firstBelow(blocks, y - ahead);
    const last = Math.min(blocks.length, firstBelow(blocks, y + view + ahead) + 1);
    setRange((old) => (old[0] === first && old[1] === last ? old : [first, last]));
    if (months.length) {
      let m = 0;
      while (m + 1 < months.length && months[m + 1]!.top <= y + 60) m++;
      setMonth(m);
    }
    if (restored.current === place) scrolledTo.set(place, y + above);
  };
  /** Where the list is scrolled to as far as it is known: to ask while something new is drawn has all of it laid out at once. */
  const top = useRef<number | null>(null);
  const lookNow = () => {
    if (scroller.current) look((top.current ??= scroller.current.scrollTop) - above);
  };
  // What will be in the window is asked for, and drawn, without waiting for the browser to say that it has moved.
  const jump = (y: number) => {
    leaveSoon();
    const element = scroller.current;
    if (!element) return scrollTo(y);
    const there = Math.min(y, element.scrollHeight - element.clientHeight) - above;
    wantNow(windowAt(there));
    scrollTo(y);
    top.current = there + above;
    landed.current = performance.now();
    clearTimeout(landing.current);
    landing.current = setTimeout(() => latest.current.lookNow(), LANDS);
    look(there);
  };
  const latest = useRef({ lookNow, jump });
  useLayoutEffect(() => {
    latest.current = { lookNow, jump };
    lookNow();
  });
  const jumpTo = useCallback((y: number) => latest.current.jump(y), []);
  useEffect(() => {
    const element = scroller.current;
    if (!element) return;
    let waiting = 0;
    const rush = watchRush(element);
    const scrolled = () => {
      rush.scrolled();
      if (!waiting)
        waiting = requestAnimationFrame(() => {
          waiting = 0;
          top.current = null;
          latest.current.lookNow();
        });
    };
    element.addEventListener('scroll', scrolled, { passive: true });
    return () => {
      element.removeEventListener('scroll', scrolled);
      cancelAnimationFrame(waiting);
      rush.end();
    };
  }, [scroller]);

  // Back from a picture: where the list was, and the picture that was last looked at in sight.
  useLayoutEffect(() => {
    if (restored.current === place || !blocks.length || !view || !width) return;
    restored.current = place;
    const at = scrolledTo.get(place) ?? 0;
    const seen = takeSeen();
    const row = seen ? blocks[rowOf(blocks, strip.ids.indexOf(seen))] : undefined;
    const inSight = row && row.top + above >= at && row.top + row.height + above <= at + view;
    scrollTo(row && !inSight ? row.top + above - view / 3 : at);
    top.current = null;
  }, [blocks, view, width, place, strip, above, scrollTo]);

  const shown = useMemo(() => blocks.slice(range[0], range[1]), [blocks, range]);
  const before = useRef(0);
  useEffect(() => {
    const down = range[0] >= before.current;
    before.current = range[0];
    const ids = idsOf(shown, strip);
    // Asked for in good time, and for many rows at once: a request for each row would cost a scrolling page its frames.
    const { tiles } = useTileStore.getState();
    const landing = performance.now() - landed.current < LANDS;
    if (!landing && ids.some((id) => !tiles.has(id))) {
      const [from, to] = down ? [range[1], range[1] + ROWS] : [Math.max(0, range[0] - ROWS), range[0]];
      want(idsOf(blocks.slice(from, to), strip));
    }
    want(ids);
    return useTileStore.subscribe(() => want(ids));
  }, [shown, strip, blocks, range]);

  return { shown, month, jumpTo };
}
