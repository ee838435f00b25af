import { type Block, firstBelow, places, type Strip } from '@gemmel/core';
import { useRef, useState, type MouseEvent, type PointerEvent, type RefObject } from 'react';
import { carryPictures } from '@/state/carrying';
import { usePile } from '@/state/pile';
import { useOpenRuns } from '@/state/stacks';

const HOLD = 450;

interface Around {
  strip: Strip;
  blocks: readonly Block[];
  gap: number;
  wide: boolean;
  scroller: RefObject<HTMLDivElement | null>;
  page: RefObject<HTMLDivElement | null>;
  open: (index: number) => void;
  focusAt: (index: number) => void;
  /** Told over which album pictures were let go; nothing is carried without. */
  carried?: ((album: number, ids: readonly number[]) => void) | undefined;
  /** Opens the menu of what can be done with some pictures. */
  menu: (ids: readonly number[]) => void;
}

/** A box on the page of pictures, in CSS pixels. */
interface Band {
  left: number;
  top: number;
  width: number;
  height: number;
}

/** The pictures a band touches, by their place in the strip. */
export function touched(strip: Strip, blocks: readonly Block[], gap: number, band: Band): number[] {
  const found: number[] = [];
  for (let b = firstBelow(blocks, band.top); b < blocks.length && blocks[b]!.top < band.top + band.height; b++) {
    const row = blocks[b]!;
    if (row.kind !== 'row') continue;
    places(strip.ratios, row, gap).forEach((cell, i) => {
      if (cell.left < band.left + band.width && cell.left + cell.width > band.left) found.push(row.from + i);
    });
  }
  return found;
}

/**
 * Choosing pictures onto the pile. A tap or a click opens. Chosen is by the mark at the corner, with Ctrl or ⌘, with shift for all
 * in between, by drawing a rubber band, and by a tap while pictures are being chosen, which on a phone begins by holding one.
 * On a wide screen what is chosen is dragged to an album.
 * A right click, or holding one that is chosen, opens the menu of what can be done.
 */
export function useChoosing({ strip, blocks, gap, wide, scroller, page, open, focusAt, carried, menu }: Around) {
  const anchor = useRef(0);
  const hold = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const held = useRef(false);
  const from = useRef<{ x: number; y: number } | null>(null);
  const [band, setBand] = useState<Band | null>(null);
  const bandNow = useRef<Band | null>(null);

  const indexOf = (target: EventTarget): number =>
    Number((target as HTMLElement).closest<HTMLElement>('[data-index]')?.dataset['index'] ?? -1);
  const at = (event: { clientX: number; clientY: number }) => {
    const box = page.current!.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  const choose = (index: number, through: boolean) => {
    const pile = usePile.getState();
    const ids = strip.ids;
    if (through)
      pile.add(Array.from(ids.subarray(Math.min(anchor.current, index), Math.max(anchor.current, index) + 1)));
    else pile.toggle(ids[index]!);
    anchor.current = index;
    focusAt(index);
  };
  const letGo = () => {
    clearTimeout(hold.current);
    hold.current = undefined;
  };

  /** The rubber band lives from the first movement to letting go, wherever that is, and scrolls at the edges. */
  const pull = (start: { x: number; y: number }) => {
    let pointer: { clientX: number; clientY: number } | null = null;
    let frame = 0;
    const draw = () => {
      frame = 0;
      const element = scroller.current;
      if (!pointer || !element) return;
      const edge = element.getBoundingClientRect();
      const push = pointer.clientY < edge.top + 40 ? -14 : pointer.clientY > edge.bottom - 60 ? 14 : 0;
      if (push) element.scrollTop += push;
      const now = at(pointer);
      if (bandNow.current || Math.hypot(now.x - start.x, now.y - start.y) > 8) {
        bandNow.current = {
          left: Math.min(start.x, now.x),
          top: Math.min(start.y, now.y),
          width: Math.abs(now.x - start.x),
          height: Math.abs(now.y - start.y),
        };
        setBand(bandNow.current);
      }
      if (push) frame = requestAnimationFrame(draw);
    };
    const move = (event: globalThis.PointerEvent) => {
      pointer = event;
      if (!frame) frame = requestAnimationFrame(draw);
    };
    const end = () => {
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', end);
      cancelAnimationFrame(frame);
      const drawn = bandNow.current;
      bandNow.current = null;
      setBand(null);
      if (!drawn) return;
      held.current = true; // the click that follows belongs to the band
      setTimeout(() => (held.current = false), 0);
      usePile.getState().add(touched(strip, blocks, gap, drawn).map((index) => strip.ids[index]!));
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', end);
  };

  const handlers = {
    onPointerDown: (event: PointerEvent) => {
      held.current = false;
      const index = indexOf(event.target);
      if (wide && event.pointerType === 'mouse') {
        const { has, ids } = usePile.getState();
        // What is chosen is carried, to an album; anywhere else a band is drawn.
        if (event.button === 0 && carried && index >= 0 && has.has(strip.ids[index]!)) {
          carryPictures(ids, event, carried, () => (held.current = true));
          return;
        }
        if (event.button === 0 && !(event.target as HTMLElement).closest('[data-choose],input,a,button:not(.tile)'))
          pull(at(event));
        return;
      }
      if (index < 0) return;
      from.current = { x: event.clientX, y: event.clientY };
      letGo();
      hold.current = setTimeout(() => {
        held.current = true;
        const pile = usePile.getState();
        if (pile.has.has(strip.ids[index]!)) return menu(pile.ids);
        pile.setChoosing(true);
        choose(index, false);
      }, HOLD);
    },
    onPointerMove: (event: PointerEvent) => {
      if (from.current && Math.hypot(event.clientX - from.current.x, event.clientY - from.current.y) > 10) letGo();
    },
    onPointerUp: letGo,
    onPointerCancel: letGo,
    onContextMenu: (event: MouseEvent) => {
      const index = indexOf(event.target);
      if (index < 0) return;
      event.preventDefault();
      if (!wide) return;
      const pile = usePile.getState();
      const id = strip.ids[index]!;
      focusAt(index);
      menu(pile.has.has(id) ? pile.ids : [id]);
    },
    onClick: (event: MouseEvent) => {
      const index = indexOf(event.target);
      if (index < 0) return;
      if (held.current) {
        held.current = false;
        return;
      }
      const stack = (event.target as HTMLElement).closest<HTMLElement>('[data-stack]');
      if (stack) return useOpenRuns.getState().toggle(Number(stack.dataset['stack']));
      const mark = (event.target as HTMLElement).closest('[data-choose]') !== null;
      if (mark || event.ctrlKey || event.metaKey || event.shiftKey) return choose(index, event.shiftKey);
      // A click made by the keyboard opens, as Enter does.
      if (usePile.getState().choosing && event.detail !== 0) return choose(index, false);
      open(index);
    },
  };
  return { handlers, band };
}
