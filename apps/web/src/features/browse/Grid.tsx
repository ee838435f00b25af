import { firstBelow, layoutTimeline, monthsOf, places, rowOf, type Block, type Strip } from '@gemmel/core';
import { useRouter } from 'expo-router';
import {
  memo,
  useCallback,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  type ComponentType,
  type KeyboardEvent,
  type ReactNode,
} from 'react';
import { useSequence } from '@/state/ask';
import { takesJumps } from '@/state/jump';
import { useLook } from '@/state/look';
import { usePile } from '@/state/pile';
import { watchRush } from '@/state/rush';
import { useTileStore, want } from '@/state/tiles';
import { useWide } from '@/state/wide';
import { isForPage } from '@/ui/keys';
import { Ribbon } from '@/ui/Ribbon';
import { useSize } from '@/ui/useSize';
import { ActMenu } from '../picture/ActMenu';
import { keyAct } from '../picture/acts';
import { PictureTile } from './Tile';
import { useChoosing } from './useChoosing';

const GAP = 3;
/** How far beyond the window rows are kept ready, in pixels. */
const AHEAD = 700;

/** Where each list was scrolled to, and which picture was last looked at closely. */
const scrolledTo = new Map<string, number>();
let lastSeen = 0;
export const noteSeen = (id: number): void => void (lastSeen = id);

/** A month, an event or a day. */
export type HeadingBlock = Exclude<Block, { kind: 'row' }>;

interface Props {
  strip: Strip;
  /** The page's path: next and previous lead back here. */
  from: string;
  /** What the place somebody scrolled to is remembered under; the path when nothing is said. */
  place?: string;
  /** Stands above the pictures and scrolls with them. */
  header?: ReactNode;
  /** What is drawn above the rows; it should be a memoised component, since scrolling draws often. */
  Heading?: ComponentType<{ block: HeadingBlock; ids: Int32Array }>;
  /** How high the heading of an event is, for headings that need more lines than most; 0 is a day of no event. */
  eventHeight?: ((event: number, width: number) => number) | undefined;
  ribbon?: boolean;
  /** What stands there when there is no picture. */
  empty?: ReactNode;
}

/** The big grid: every row is laid out at once, only those near the window exist. */
export function PictureGrid({ strip, from, place = from, header, Heading, eventHeight, ribbon = false, empty }: Props) {
  const router = useRouter();
  const wide = useWide();
  const scroller = useRef<HTMLDivElement>(null);
  const top = useRef<HTMLDivElement>(null);
  const page = useRef<HTMLDivElement>(null);
  const { width: outer, height: view } = useSize(scroller);
  const { height: above } = useSize(top);
  const side = wide ? 26 : 16;
  const rightSide = ribbon ? (wide ? 56 : 30) : side;
  const width = Math.max(0, outer - side - rightSide);
  const rowHeight = useLook((look) => look.rowHeight) || (wide ? 165 : 112);
  const timeline = useMemo(
    () =>
      layoutTimeline(strip, {
        width: Math.max(120, width),
        rowHeight,
        gap: GAP,
        month: wide ? 66 : 74,
        event: eventHeight ? (event) => eventHeight(event, width) : wide ? 44 : 62,
        day: 34,
        after: 20,
      }),
    [strip, width, rowHeight, wide, eventHeight],
  );
  const { blocks } = timeline;
  const months = useMemo(() => (ribbon ? monthsOf(timeline) : []), [ribbon, timeline]);
  const [range, setRange] = useState<[number, number]>([0, 0]);
  const [focus, setFocus] = useState(0);
  const [month, setMonth] = useState(0);
  const moveFocus = useRef(false);

  const look = () => {
    const element = scroller.current;
    if (!element) return;
    const y = element.scrollTop - above;
    const first = firstBelow(blocks, y - AHEAD);
    const last = Math.min(blocks.length, firstBelow(blocks, y + view + AHEAD) + 1);
    setRange((old) => (old[0] === first && old[1] === last ? old : [first, last]));
    if (months.length) {
      let m = 0;
      while (m + 1 < months.length && months[m + 1]!.top <= y + 60) m++;
      setMonth(m);
    }
    scrolledTo.set(place, element.scrollTop);
  };
  const latest = useRef(look);
  useLayoutEffect(() => {
    latest.current = look;
    look();
  });
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
          latest.current();
        });
    };
    element.addEventListener('scroll', scrolled, { passive: true });
    return () => {
      element.removeEventListener('scroll', scrolled);
      cancelAnimationFrame(waiting);
      rush.end();
    };
  }, []);

  // Back from a picture: where the list was, and the picture that was last looked at in sight.
  const restored = useRef(false);
  useLayoutEffect(() => {
    const element = scroller.current;
    if (restored.current || !element || !blocks.length || !view || !width) return;
    restored.current = true;
    element.scrollTop = scrolledTo.get(place) ?? 0;
    const row = lastSeen ? blocks[rowOf(blocks, strip.ids.indexOf(lastSeen))] : undefined;
    lastSeen = 0;
    if (row && (row.top + above < element.scrollTop || row.top + row.height + above > element.scrollTop + view))
      element.scrollTop = row.top + above - view / 3;
  }, [blocks, view, width, place, strip, above]);

  const shown = useMemo(() => blocks.slice(range[0], range[1]), [blocks, range]);
  useEffect(() => {
    const ids = shown.flatMap((b) => (b.kind === 'row' ? Array.from(strip.ids.subarray(b.from, b.to)) : []));
    want(ids);
    return useTileStore.subscribe(() => want(ids));
  }, [shown, strip]);

  const open = (index: number) => {
    const id = strip.ids[index];
    if (id === undefined) return;
    useSequence.getState().open(strip.ids, from);
    router.push({ pathname: '/picture/[id]', params: { id } });
  };
  const picking = usePile((pile) => pile.choosing);
  const [menu, setMenu] = useState<readonly number[] | null>(null);
  const choosing = useChoosing({
    strip,
    blocks,
    gap: GAP,
    wide,
    scroller,
    page,
    open,
    focusAt: setFocus,
    menu: setMenu,
  });

  const bring = (index: number) => {
    const row = blocks[rowOf(blocks, index)];
    const element = scroller.current;
    if (!row || !element) return;
    if (row.top + above < element.scrollTop + 8) element.scrollTop = row.top + above - 80;
    else if (row.top + above + row.height > element.scrollTop + view - 110)
      element.scrollTop = row.top + above + row.height - view + 130;
  };
  const toPicture = useRef<(id: number) => boolean>(() => false);
  useLayoutEffect(() => {
    toPicture.current = (id) => {
      const index = strip.ids.indexOf(id);
      const row = blocks[rowOf(blocks, index)];
      if (index < 0 || !row || !scroller.current) return false;
      scroller.current.scrollTop = row.top + above - view / 3;
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
  }, [focus, shown]);

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
  const jump = useCallback(
    (index: number) => {
      const element = scroller.current;
      if (element) element.scrollTop = index === 0 ? 0 : months[index]!.top + above;
    },
    [months, above],
  );
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
    else if ((event.key === 'p' || event.key === 'x') && id) usePile.getState().toggle(id);
    else if (event.key === 'Escape' && usePile.getState().choosing) usePile.getState().setChoosing(false);
    else if (!id || !keyAct(event.key, id, useTileStore.getState().tiles.get(id)?.favourite)) return;
    event.preventDefault();
  };

  // The Tab key stops at the tile that had the focus, or at the first one when that is out of sight.
  const inSight = shown.some((b) => b.kind === 'row' && b.from <= focus && focus < b.to);
  const stop = inSight ? focus : (shown.find((b) => b.kind === 'row')?.from ?? -1);
  return (
    <div style={{ flex: 1, minHeight: 0, position: 'relative' }}>
      <div
        ref={scroller}
        data-testid="grid"
        {...(picking ? { 'data-choosing': '' } : {})}
        className={ribbon ? 'grid-scroller' : undefined}
        style={{
          position: 'absolute',
          inset: 0,
          overflowY: 'auto',
          overflowX: 'hidden',
          scrollbarWidth: ribbon ? 'none' : undefined,
        }}
      >
        <div
          ref={top}
          // What hangs below the question must not be cut off by the pictures.
          style={{ paddingLeft: side, paddingRight: rightSide, display: 'flow-root', position: 'relative', zIndex: 5 }}
        >
          {header}
        </div>
        {strip.ids.length === 0 ? empty : null}
        <div
          ref={page}
          {...choosing.handlers}
          onKeyDown={keys}
          onFocus={(event) => {
            const index = (event.target as HTMLElement).dataset['index'];
            if (index !== undefined) setFocus(Number(index));
          }}
          style={{ position: 'relative', height: timeline.height + 130, marginLeft: side, width }}
        >
          {shown.map((block) => {
            if (block.kind === 'row')
              return (
                <TileRow
                  key={block.from}
                  row={block}
                  strip={strip}
                  stop={block.from <= stop && stop < block.to ? stop : -1}
                />
              );
            return (
              <div
                key={`${block.kind} ${block.from}`}
                style={{ position: 'absolute', top: block.top, left: 0, right: 0, height: block.height }}
              >
                {Heading ? <Heading block={block} ids={strip.ids} /> : null}
              </div>
            );
          })}
          {choosing.band ? (
            <div
              style={{
                position: 'absolute',
                ...choosing.band,
                border: '2px solid rgb(var(--juniper))',
                background: 'rgb(var(--juniper) / 0.18)',
                borderRadius: 4,
                pointerEvents: 'none',
                zIndex: 3,
              }}
            />
          ) : null}
        </div>
      </div>
      {menu ? <ActMenu ids={menu} onOpen={(id) => open(strip.ids.indexOf(id))} onClose={() => setMenu(null)} /> : null}
      {ribbon && months.length > 1 ? <Ribbon months={months} at={month} onJump={jump} /> : null}
    </div>
  );
}

/** The tiles of one row; drawn again only when the row itself or the stop of the Tab key changes. */
const TileRow = memo(function TileRow({ row, strip, stop }: { row: Block; strip: Strip; stop: number }) {
  const cells = useMemo(() => places(strip.ratios, row, GAP), [strip, row]);
  return cells.map((cell, i) => {
    const index = row.from + i;
    const id = strip.ids[index]!;
    return (
      <PictureTile
        key={id}
        id={id}
        index={index}
        left={cell.left}
        top={Math.round(row.top)}
        width={cell.width}
        height={Math.round(row.height)}
        stop={stop === index}
      />
    );
  });
});
