import { type Block, layoutTimeline, monthsOf, type Question, type Stack, type Strip } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useCallback, useMemo, useRef, useState, type ComponentType, type ReactNode } from 'react';
import { useSequence } from '@/state/ask';
import { type Screen, useTiles } from '@/state/look';
import { usePile } from '@/state/pile';
import { useWide } from '@/state/wide';
import { Ribbon } from '@/ui/Ribbon';
import { useSize } from '@/ui/useSize';
import { useMe } from '@/features/account/session';
import { toBin } from '@/features/bin/acts';
import type { AlsoAct } from '@/features/pile/ActMenu';
import { ActSheet, SHEET_KEYS, type SheetAct } from '@/features/pile/acts';
import { fillAlbum } from '@/features/pile/fill';
import { useChoosing } from './useChoosing';
import { GAP, TileRow } from './TileRow';
import { useFocus } from './useFocus';
import { useScrolled } from './useScrolled';
import { CORNER, SIZE } from '@/ui/tokens';
import { lazily } from '@/ui/lazily';

const ActMenu = lazily(async () => (await import('@/features/pile/ActMenu')).ActMenu);
const KeysSheet = lazily(async () => (await import('@/features/said/KeysSheet')).KeysSheet);

/** A month, an event, a day, or people, a place or a folder. */
export type HeadingBlock = Exclude<Block, { kind: 'row' }>;

interface Props {
  strip: Strip;
  /** Which screen it is: each has a size of pictures, and what stands on them, of its own. */
  screen: Screen;
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
  /** The same for the heading of people, a place or a folder. */
  groupHeight?: ((of: Question | null, width: number) => number) | undefined;
  /** How high a heading or a note of an album is. */
  chapterHeight?: ((chapter: number, width: number) => number) | undefined;
  ribbon?: boolean;
  /** Whether months stand alone, without events and days. */
  onlyMonths?: boolean;
  /** Which pictures stand for runs. */
  stacks?: ReadonlyMap<number, Stack>;
  /** What else the menu of pictures offers here. */
  also?: readonly AlsoAct[];
  /** What stands there when there is no picture. */
  empty?: ReactNode;
}

const UNMEASURED: Strip = { ids: new Int32Array(0), ratios: new Float32Array(0), days: [], events: [] };

/** The big grid: every row is laid out at once, only those near the window exist. */
export function PictureGrid({
  strip,
  screen,
  from,
  place = from,
  header,
  Heading,
  eventHeight,
  groupHeight,
  chapterHeight,
  ribbon = false,
  onlyMonths = false,
  stacks,
  also,
  empty,
}: Props) {
  const router = useRouter();
  const wide = useWide();
  const scroller = useRef<HTMLDivElement>(null);
  const top = useRef<HTMLDivElement>(null);
  const page = useRef<HTMLDivElement>(null);
  const { width: outer, height: view } = useSize(scroller);
  const { height: above } = useSize(top);
  const side = wide ? SIZE.brim : SIZE.edge;
  const rightSide = ribbon ? (wide ? 56 : 30) : side;
  const width = Math.max(0, outer - side - rightSide);
  const { rowHeight: wanted, tells } = useTiles(screen);
  const rowHeight = wanted || (wide ? SIZE.tileWide : SIZE.tile);
  const measured = outer > 0;
  const timeline = useMemo(
    () =>
      // Before its width is known, a library would be laid out for nothing.
      layoutTimeline(measured ? strip : UNMEASURED, {
        width: Math.max(120, width),
        rowHeight,
        gap: GAP,
        month: wide ? 66 : 74,
        event: eventHeight ? (event) => eventHeight(event, width) : wide ? 44 : 62,
        day: 34,
        group: (of) => groupHeight?.(of, width) ?? 62,
        chapter: (chapter) => chapterHeight?.(chapter, width) ?? 62,
        onlyMonths,
        after: 20,
      }),
    [measured, strip, width, rowHeight, wide, eventHeight, groupHeight, chapterHeight, onlyMonths],
  );
  const { blocks } = timeline;
  const months = useMemo(() => (ribbon ? monthsOf(timeline) : []), [ribbon, timeline]);
  const scrollTo = useCallback((y: number) => {
    if (scroller.current) scroller.current.scrollTop = y;
  }, []);
  const { shown, month, jumpTo } = useScrolled({
    scroller,
    scrollTo,
    strip,
    timeline,
    months,
    above,
    view,
    width,
    place,
  });
  const open = (index: number) => {
    const id = strip.ids[index];
    if (id === undefined) return;
    useSequence.getState().open(strip.ids, from);
    router.push({ pathname: '/picture/[id]', params: { id } });
  };
  const helps = useMe().data?.member?.part !== 'relative';
  const [sheet, setSheet] = useState<{ act: SheetAct; ids: readonly number[] } | 'keys' | null>(null);
  const openSheet = (key: string, ids: readonly number[]): boolean => {
    if (key === '?') setSheet('keys');
    else if (helps && key === 'Delete') void toBin(ids);
    else if (helps && SHEET_KEYS[key]) setSheet({ act: SHEET_KEYS[key], ids });
    else return false;
    return true;
  };
  const { focus, setFocus, keys } = useFocus({
    strip,
    blocks,
    scroller,
    scrollTo,
    page,
    above,
    view,
    shown,
    open,
    sheet: openSheet,
  });
  const [was, setWas] = useState(place);
  if (was !== place) {
    setWas(place);
    setFocus(0);
  }
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
    carried: helps ? fillAlbum : undefined,
    menu: setMenu,
  });

  const jump = useCallback(
    (index: number) => jumpTo(index === 0 ? 0 : months[index]!.top + above),
    [months, above, jumpTo],
  );
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
                  tells={tells}
                  stacks={stacks}
                  stop={block.from <= stop && stop < block.to ? stop : -1}
                />
              );
            return (
              <div
                key={block.kind === 'chapter' ? `chapter ${block.chapter}` : `${block.kind} ${block.from}`}
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
                borderRadius: CORNER.picture,
                pointerEvents: 'none',
                zIndex: 3,
              }}
            />
          ) : null}
        </div>
      </div>
      {menu ? (
        <ActMenu
          ids={menu}
          {...(also ? { also } : {})}
          onOpen={(id) => open(strip.ids.indexOf(id))}
          onClose={() => setMenu(null)}
        />
      ) : null}
      {sheet === 'keys' ? (
        <KeysSheet onClose={() => setSheet(null)} />
      ) : sheet ? (
        <ActSheet {...sheet} onClose={() => setSheet(null)} />
      ) : null}
      {ribbon && months.length > 1 ? <Ribbon months={months} at={month} onJump={jump} /> : null}
    </div>
  );
}
