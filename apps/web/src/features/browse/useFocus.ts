import { type Block, places, rowOf, type Strip } from '@gemmel/core';
import { useEffect, useLayoutEffect, useRef, useState, type KeyboardEvent, type RefObject } from 'react';
import { takesJumps } from '@/state/jump';
import { usePile } from '@/state/pile';
import { useOpenRuns } from '@/state/stacks';
import { useTileStore } from '@/state/tiles';
import { isForPage } from '@/ui/keys';
import { keyAct } from '@/features/said/acts';
import { GAP } from './TileRow';

interface Focused {
  strip: Strip;
  blocks: readonly Block[];
  scroller: RefObject<HTMLDivElement | null>;
  scrollTo: (y: number) => void;
  page: RefObject<HTMLDivElement | null>;
  /** How high what stands above the pictures is, and the window itself, in pixels. */
  above: number;
  view: number;
  /** The blocks that are drawn. */
  shown: readonly Block[];
  open: (index: number) => void;
  /** Opens the sheet a key stands for; false when it stands for none. */
  sheet: (key: string, ids: readonly number[]) => boolean;
}

/** Which tile has the focus, how keys move it, and what else keys do there. */
export function useFocus({ strip, blocks, scroller, scrollTo, page, above, view, shown, open, sheet }: Focused) {
  const [focus, setFocus] = useState(0);
  const moveFocus = useRef(false);
  const bring = (index: number) => {
    const row = blocks[rowOf(blocks, index)];
    const element = scroller.current;
    if (!row || !element) return;
    if (row.top + above < element.scrollTop + 8) scrollTo(row.top + above - 80);
    else if (row.top + above + row.height > element.scrollTop + view - 110)
      scrollTo(row.top + above + row.height - view + 130);
  };
  const toPicture = useRef<(id: number) => boolean>(() => false);
  useLayoutEffect(() => {
    toPicture.current = (id) => {
      const index = strip.ids.indexOf(id);
      const row = blocks[rowOf(blocks, index)];
      if (index < 0 || !row) return false;
      scrollTo(row.top + above - view / 3);
      moveFocus.current = true;
      setFocus(index);
      return true;
    };
  });
  useEffect(() => takesJumps((id) => toPicture.current(id)), []);
  useLayoutEffect(() => {
    if (!moveFocus.current) return;
    const tile = page.current?.querySelector<HTMLElement>(`[data-index="${focus}"]`);
    if (!tile) return;
    moveFocus.current = false;
    tile.focus({ preventScroll: true });
  }, [focus, shown, page]);

  const step = (key: string): number => {
    if (key === 'ArrowRight') return Math.min(strip.ids.length - 1, focus + 1);
    if (key === 'ArrowLeft') return Math.max(0, focus - 1);
    if (key === 'Home') return 0;
    if (key === 'End') return strip.ids.length - 1;
    const at = rowOf(blocks, focus);
    const row = blocks[at];
    if (!row) return focus;
    let next = at;
    const way = key === 'ArrowDown' ? 1 : -1;
    do next += way;
    while (blocks[next] && blocks[next]!.kind !== 'row');
    const to = blocks[next];
    if (!to) return focus;
    const mine = places(strip.ratios, row, GAP)[focus - row.from]!;
    const middle = mine.left + mine.width / 2;
    const there = places(strip.ratios, to, GAP);
    const hit = there.findIndex((p) => p.left + p.width >= middle);
    return to.from + (hit < 0 ? there.length - 1 : hit);
  };
  const keys = (event: KeyboardEvent) => {
    if (!isForPage(event)) return;
    const onTile = (event.target as HTMLElement).closest('.tile');
    if (!onTile) return;
    const id = strip.ids[focus];
    if (/^(Arrow|Home|End)/.test(event.key)) {
      const to = step(event.key);
      if (event.shiftKey && to !== focus)
        usePile.getState().add(Array.from(strip.ids.subarray(Math.min(to, focus), Math.max(to, focus) + 1)));
      moveFocus.current = true;
      setFocus(to);
      bring(to);
    } else if (event.key === 'Enter' || event.key === ' ') open(focus);
    else if (event.key === 'r' && id) {
      const run = useTileStore.getState().tiles.get(id)?.run;
      if (run) useOpenRuns.getState().toggle(run);
    } else if ((event.key === 'p' || event.key === 'x') && id) usePile.getState().toggle(id);
    else if (event.key === 'Escape' && usePile.getState().choosing) usePile.getState().setChoosing(false);
    else {
      // What is said with a key is said of all that are chosen, if this is one of them.
      const pile = usePile.getState();
      const ids = id === undefined ? [] : pile.has.has(id) ? pile.ids : [id];
      if (ids.length === 0) return;
      if (!sheet(event.key, ids) && !keyAct(event.key, ids, useTileStore.getState().tiles.get(id!)?.favourite)) return;
    }
    event.preventDefault();
  };

  return { focus, setFocus, keys };
}
