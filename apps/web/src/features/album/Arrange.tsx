import { plural, t } from '@lingui/core/macro';
import type { Tile } from '@gemmel/contract';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { act } from '@/state/acts';
import { useTiles } from '@/state/tiles';
import { useWide } from '@/state/wide';
import { Button } from '@/ui/Button';
import { Icon } from '@/ui/Icon';
import { CORNER, SIZE } from '@/ui/tokens';
import { useSize } from '@/ui/useSize';
import { Words } from '@/ui/Words';
import { tileLabel } from '@/words/said';
import type { AlbumAnswer } from './AlbumPage';
import { cellAt, cellsIn, cellsNear, gapAt, keyOf, together, type Standing } from './arranging';

const CELL = { width: 100, height: 96, gap: 8 };
/** How long a finger rests before it picks up, in ms; and how far a mouse moves. */
const HOLD = 220;
const MOVED = 5;
/** Within so much of an edge what is carried scrolls the page, in CSS pixels; and by how much a frame. */
const EDGE = 70;
const PUSH = 12;

/**
 * The order of an album by hand. A picture is dragged to its place (held first on a phone); several are tapped first and go together. By keys:
 * space takes one up, arrows move it, space puts it down. Only what is near the window exists, however long the album is.
 */
export function Arrange({ answer, onDone }: { answer: AlbumAnswer; onDone: () => void }) {
  const wide = useWide();
  const { album } = answer;
  const given = useMemo(() => together(answer.ids, answer.chapters), [answer]);
  const [list, setList] = useState<readonly Standing[]>(given);
  // What came meanwhile from elsewhere counts.
  const [was, setWas] = useState(given);
  if (was !== given) {
    setWas(given);
    setList(given);
  }
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [carried, setCarried] = useState<{ keys: ReadonlySet<string>; x: number; y: number; gap: number } | null>(null);
  const [lifted, setLifted] = useState<number | null>(null);
  const [focus, setFocus] = useState(0);
  const scroller = useRef<HTMLDivElement>(null);
  const page = useRef<HTMLDivElement>(null);
  const { width: outer, height: view } = useSize(scroller);
  const side = wide ? SIZE.brim : SIZE.edge;
  const width = Math.max(120, outer - 2 * side);
  const cells = useMemo(() => cellsIn(width, CELL.width, CELL.height, CELL.gap), [width]);
  const [top, setTop] = useState(0);
  const { first, last } = cellsNear(cells, list.length, top - 400, top + view + 400);
  const shown = list.slice(first, last);
  const tiles = useTiles(shown.flatMap((one) => ('picture' in one ? [one.picture] : [])));
  const chapters = new Map(answer.chapters.map((one) => [one.id, one]));

  const keep = async (moving: ReadonlySet<string>, gap: number) => {
    let at = gap;
    while (at < list.length && moving.has(keyOf(list[at]!))) at++;
    const before = list[at] ?? null;
    const going = list.filter((one) => moving.has(keyOf(one)));
    const staying = list.filter((one) => !moving.has(keyOf(one)));
    const place = before ? staying.indexOf(before) : staying.length;
    const next = [...staying.slice(0, place), ...going, ...staying.slice(place)];
    if (next.every((one, i) => keyOf(one) === keyOf(list[i]!))) return;
    const old = list;
    setList(next);
    setChosen(new Set());
    const ids = going.flatMap((one) => ('picture' in one ? [one.picture] : []));
    const chapter = going.flatMap((one) => ('chapter' in one ? [one.chapter] : []))[0];
    const done = await act(
      () =>
        call('moveInAlbum', {
          params: { id: album.id },
          body: { ...(ids.length ? { ids } : {}), ...(chapter === undefined ? {} : { chapter }), before },
        }),
      t`Order saved`,
      'albums',
    );
    if (!done) setList(old);
  };

  const hold = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const indexOf = (target: EventTarget) =>
    Number((target as HTMLElement).closest<HTMLElement>('[data-cell]')?.dataset['cell'] ?? -1);
  const at = (event: { clientX: number; clientY: number }) => {
    const box = page.current!.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  /** From picking up to letting go: what is carried follows the pointer, wherever that is. */
  const carry = (index: number, start: { clientX: number; clientY: number }) => {
    const key = keyOf(list[index]!);
    // A chapter goes by itself.
    const keys = key.startsWith('p') && chosen.has(key) ? chosen : new Set([key]);
    let pointer = start;
    let frame = 0;
    let gap = index;
    const draw = () => {
      frame = 0;
      const element = scroller.current;
      if (!element) return;
      const box = element.getBoundingClientRect();
      const push = pointer.clientY < box.top + EDGE ? -PUSH : pointer.clientY > box.bottom - EDGE ? PUSH : 0;
      if (push) element.scrollTop += push;
      const now = at(pointer);
      gap = gapAt(cells, list.length, now.x, now.y);
      setCarried({ keys, x: now.x, y: now.y, gap });
      if (push) frame = requestAnimationFrame(draw);
    };
    const move = (event: globalThis.PointerEvent) => {
      pointer = event;
      if (!frame) frame = requestAnimationFrame(draw);
    };
    const still = (event: TouchEvent) => event.preventDefault();
    const end = (event: globalThis.PointerEvent) => {
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', end);
      window.removeEventListener('pointercancel', end);
      window.removeEventListener('touchmove', still);
      cancelAnimationFrame(frame);
      setCarried(null);
      if (event.type === 'pointerup') void keep(keys, gap);
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', end);
    window.addEventListener('pointercancel', end);
    // While something is carried the page does not scroll by itself.
    window.addEventListener('touchmove', still, { passive: false });
    draw();
  };
  const down = (event: PointerEvent) => {
    const index = indexOf(event.target);
    if (index < 0 || event.button !== 0) return;
    const start = { clientX: event.clientX, clientY: event.clientY };
    const away = () => {
      clearTimeout(hold.current);
      window.removeEventListener('pointermove', moved);
      window.removeEventListener('pointerup', tapped);
      window.removeEventListener('pointercancel', away);
    };
    const begin = () => {
      away();
      carry(index, start);
    };
    const moved = (now: globalThis.PointerEvent) => {
      if (Math.hypot(now.clientX - start.clientX, now.clientY - start.clientY) < MOVED) return;
      if (now.pointerType === 'mouse') begin();
      else away();
    };
    const tapped = () => {
      away();
      toggle(index);
    };
    window.addEventListener('pointermove', moved);
    window.addEventListener('pointerup', tapped);
    window.addEventListener('pointercancel', away);
    if (event.pointerType !== 'mouse') hold.current = setTimeout(begin, HOLD);
  };
  useEffect(() => () => clearTimeout(hold.current), []);
  const toggle = (index: number) => {
    const one = list[index]!;
    if (!('picture' in one)) return;
    const next = new Set(chosen);
    if (!next.delete(keyOf(one))) next.add(keyOf(one));
    setChosen(next);
    setFocus(index);
  };

  const keys = (event: KeyboardEvent) => {
    const step = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -cells.columns, ArrowDown: cells.columns }[event.key];
    if (step !== undefined) {
      event.preventDefault();
      const to = Math.max(0, Math.min(list.length - 1, (lifted ?? focus) + step));
      if (lifted !== null) {
        const moved = [...list];
        const [one] = moved.splice(lifted, 1);
        moved.splice(to, 0, one!);
        setList(moved);
        setLifted(to);
      }
      setFocus(to);
      requestAnimationFrame(() => page.current?.querySelector<HTMLElement>(`[data-cell="${to}"]`)?.focus());
    } else if (event.key === ' ' || event.key === 'Enter') {
      event.preventDefault();
      if (lifted === null) setLifted(focus);
      else {
        const moving = new Set([keyOf(list[lifted]!)]);
        const to = lifted;
        setLifted(null);
        void put(moving, to);
      }
    } else if (event.key === 'Escape' && lifted !== null) {
      event.preventDefault();
      setLifted(null);
      setList(given);
    }
  };
  /** Puts down what the arrow keys have moved: the list shows it already. */
  const put = async (moving: ReadonlySet<string>, to: number) => {
    const one = list[to]!;
    const before = list[to + 1] ?? null;
    if (moving.size === 0 || given.findIndex((other) => keyOf(other) === keyOf(one)) === to) return;
    const done = await act(
      () =>
        call('moveInAlbum', {
          params: { id: album.id },
          body: { ...('picture' in one ? { ids: [one.picture] } : { chapter: one.chapter }), before },
        }),
      t`Order saved`,
      'albums',
    );
    if (!done) setList(given);
  };

  const bar = carried
    ? (() => {
        const edge = carried.gap > 0 && carried.gap % cells.columns === 0 && carried.x > width / 2;
        const { left, top: y } = cellAt(cells, edge ? carried.gap - 1 : carried.gap);
        return { left: edge ? left + cells.width + CELL.gap / 2 - 2 : left - CELL.gap / 2 - 2, top: y };
      })()
    : null;
  const rows = Math.ceil(list.length / cells.columns);
  return (
    <div
      ref={scroller}
      onScroll={(event) => setTop(event.currentTarget.scrollTop)}
      style={{ flex: 1, minHeight: 0, overflowY: 'auto', padding: `0 ${side}px` }}
    >
      <View className="flex-row items-center justify-between gap-3 pt-3">
        <Words kind="title" className="min-w-0 flex-1 text-title" numberOfLines={2}>
          {album.name}
        </Words>
        <Button label={t`Done`} onPress={onDone} />
      </View>
      <Words className="mb-4 mt-1 text-soft" aria-live="polite">
        {lifted !== null
          ? t`Arrow keys move it, space puts it down, Escape leaves it where it was.`
          : chosen.size
            ? plural(chosen.size, {
                one: '# chosen. Drag it to its place.',
                other: '# chosen. Drag one of them, and all go along.',
              })
            : wide
              ? t`Drag pictures into place. Click several to move them together.`
              : t`Press and hold a picture, then drag it into place. Tap several to move them together.`}
      </Words>
      <div
        ref={page}
        data-testid="arrange"
        onPointerDown={down}
        onKeyDown={keys}
        style={{
          position: 'relative',
          height: rows * (CELL.height + CELL.gap) + 130,
          touchAction: 'pan-y',
          userSelect: 'none',
          WebkitTouchCallout: 'none',
        }}
      >
        {shown.map((one, i) => {
          const index = first + i;
          const key = keyOf(one);
          const { left, top: y } = cellAt(cells, index);
          const tile: Tile | undefined = 'picture' in one ? tiles.get(one.picture) : undefined;
          const chapter = 'chapter' in one ? chapters.get(one.chapter) : undefined;
          const words = chapter ? (chapter.heading ?? chapter.note ?? '') : tile ? tileLabel(tile) : t`a picture`;
          const isChosen = chosen.has(key);
          return (
            <div
              key={key}
              role="button"
              tabIndex={index === Math.min(focus, list.length - 1) ? 0 : -1}
              data-cell={index}
              {...('picture' in one ? { 'data-id': one.picture } : { 'data-chapter': one.chapter })}
              aria-pressed={isChosen}
              aria-label={`${index + 1}: ${words}`}
              onFocus={() => setFocus(index)}
              style={{
                position: 'absolute',
                transform: `translate(${left}px, ${y}px)`,
                width: cells.width,
                height: cells.height,
                borderRadius: CORNER.picture,
                overflow: 'hidden',
                background: chapter ? 'rgb(var(--mist))' : 'rgb(var(--line))',
                opacity: carried?.keys.has(key) ? 0.3 : 1,
                outline: isChosen || lifted === index ? '3px solid rgb(var(--juniper))' : undefined,
                outlineOffset: -3,
                cursor: 'grab',
              }}
            >
              {chapter ? (
                <div style={{ padding: 8, display: 'flex', flexDirection: 'column', gap: 4 }}>
                  <Icon name="chapter" size={15} tone="juniper" />
                  <Words kind="small" className="text-ink" numberOfLines={3}>
                    {words}
                  </Words>
                </div>
              ) : tile ? (
                <img
                  src={smallOf(tile.sha)}
                  alt=""
                  draggable={false}
                  style={{ width: '100%', height: '100%', objectFit: 'contain', pointerEvents: 'none' }}
                />
              ) : null}
            </div>
          );
        })}
        {bar ? (
          <div
            style={{
              position: 'absolute',
              left: bar.left,
              top: bar.top,
              width: 4,
              height: cells.height,
              borderRadius: 2,
              background: 'rgb(var(--juniper))',
              pointerEvents: 'none',
            }}
          />
        ) : null}
        {carried ? (
          <div
            style={{
              position: 'absolute',
              left: carried.x + 10,
              top: carried.y + 10,
              padding: '4px 12px',
              borderRadius: 17,
              background: 'rgb(var(--juniper))',
              boxShadow: '0 8px 24px rgb(0 0 0 / 0.35)',
              pointerEvents: 'none',
              zIndex: 4,
            }}
          >
            <Words kind="small" className="text-card">
              {carried.keys.size > 1 || [...carried.keys][0]!.startsWith('p')
                ? plural(carried.keys.size, { one: '# picture', other: '# pictures' })
                : t`a chapter`}
            </Words>
          </div>
        ) : null}
      </div>
    </div>
  );
}
