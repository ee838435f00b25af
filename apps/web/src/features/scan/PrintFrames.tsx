import type { Corners } from '@gemmel/core';
import { t } from '@lingui/core/macro';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { SIZE, TYPE } from '@/ui/tokens';
import { angleOf, asFrame, movedBy, numberAt } from './frames';

/** How far a key moves a corner or a frame, as a share of the glass. */
const STEP = 0.004;
const WAYS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-STEP, 0],
  ArrowRight: [STEP, 0],
  ArrowUp: [0, -STEP],
  ArrowDown: [0, STEP],
};

interface Props {
  prints: readonly Corners[];
  /** The glass on the screen, in pixels. */
  width: number;
  height: number;
  chosen: number | null;
  onChoose: (print: number | null) => void;
  onChange: (print: number, corners: Corners) => void;
}

/**
 * Pencilled frames around the prints on a glass, numbered, each number standing the way its print is read. The chosen one is moved as a
 * whole, or by its corners.
 */
export function PrintFrames({ prints, width, height, chosen, onChoose, onChange }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const held = useRef<{ print: number; corner: number | null; x: number; y: number; from: Corners } | null>(null);
  const at = (event: PointerEvent): [number, number] => {
    const { left, top, width: w, height: h } = box.current!.getBoundingClientRect();
    return [(event.clientX - left) / w, (event.clientY - top) / h];
  };
  const take = (event: PointerEvent, print: number, corner: number | null) => {
    event.preventDefault();
    event.stopPropagation();
    box.current!.setPointerCapture(event.pointerId);
    const [x, y] = at(event);
    held.current = { print, corner, x, y, from: prints[print]! };
    onChoose(print);
  };
  const withCorner = (corners: Corners, corner: number, dx: number, dy: number) =>
    asFrame(corners.map((v, i) => (i === 2 * corner ? v + dx : i === 2 * corner + 1 ? v + dy : v)));
  const move = (event: PointerEvent) => {
    if (!held.current) return;
    const { print, corner, from } = held.current;
    const [x, y] = at(event);
    const [dx, dy] = [x - held.current.x, y - held.current.y];
    const next = corner === null ? movedBy(from, dx, dy) : withCorner(from, corner, dx, dy);
    if (next) onChange(print, next);
  };
  const keys = (event: KeyboardEvent, print: number, corner: number | null) => {
    const way = WAYS[event.key];
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    const [dx, dy] = event.shiftKey ? [way[0] * 5, way[1] * 5] : way;
    const next = corner === null ? movedBy(prints[print]!, dx, dy) : withCorner(prints[print]!, corner, dx, dy);
    if (next) onChange(print, next);
  };
  const corners = [t`Top left corner`, t`Top right corner`, t`Bottom right corner`, t`Bottom left corner`];
  return (
    <div
      ref={box}
      onPointerDown={() => onChoose(null)}
      onPointerMove={move}
      onPointerUp={() => (held.current = null)}
      onPointerCancel={() => (held.current = null)}
      style={{ position: 'absolute', inset: 0, touchAction: chosen === null ? 'manipulation' : 'none' }}
    >
      <svg
        viewBox={`0 0 ${width} ${height}`}
        style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', overflow: 'visible' }}
      >
        {prints.map((print, i) => {
          const points = [0, 1, 2, 3].map((k) => `${print[2 * k]! * width},${print[2 * k + 1]! * height}`).join(' ');
          const [x, y] = numberAt(print, 0.3);
          const is = i === chosen;
          return (
            <g
              key={i}
              role="button"
              tabIndex={0}
              aria-label={t`Print ${i + 1}`}
              aria-pressed={is}
              onPointerDown={(event) => take(event, i, null)}
              onFocus={() => onChoose(i)}
              onKeyDown={(event) => keys(event, i, null)}
              style={{ cursor: 'move', outline: 'none' }}
            >
              <polygon points={points} fill={is ? 'rgb(var(--plum) / 0.14)' : 'transparent'} />
              {/* A pencil's line: light below, so that it is seen on every picture. */}
              <polygon points={points} fill="none" stroke="#fffbf3" strokeWidth={is ? 6 : 4} strokeLinejoin="round" />
              <polygon
                points={points}
                fill="none"
                stroke="#5f3a59"
                strokeWidth={is ? 3 : 1.8}
                strokeLinejoin="round"
                strokeDasharray={is ? undefined : '14 3 5 3'}
              />
              <g transform={`translate(${x * width} ${y * height}) rotate(${angleOf(print, width, height)})`}>
                <circle r={SIZE.chip / 2} fill="#fffbf3" />
                <text
                  textAnchor="middle"
                  dominantBaseline="central"
                  fontFamily="Fraunces_600SemiBold"
                  fontSize={TYPE.head}
                  fill="#5f3a59"
                >
                  {i + 1}
                </text>
                <path
                  d={`M-7 ${-SIZE.chip / 2 - 4} L0 ${-SIZE.chip / 2 - 11} L7 ${-SIZE.chip / 2 - 4}`}
                  fill="#fffbf3"
                  stroke="#5f3a59"
                  strokeWidth={1.5}
                  strokeLinejoin="round"
                />
              </g>
            </g>
          );
        })}
      </svg>
      {chosen !== null && prints[chosen]
        ? corners.map((name, corner) => (
            <button
              key={name}
              type="button"
              aria-label={`${t`Print ${chosen + 1}`}: ${name}`}
              onPointerDown={(event) => take(event, chosen, corner)}
              onKeyDown={(event) => keys(event, chosen, corner)}
              style={{
                all: 'unset',
                position: 'absolute',
                left: prints[chosen]![2 * corner]! * width - SIZE.touch / 2,
                top: prints[chosen]![2 * corner + 1]! * height - SIZE.touch / 2,
                width: SIZE.touch,
                height: SIZE.touch,
                display: 'grid',
                placeItems: 'center',
                cursor: 'grab',
                touchAction: 'none',
              }}
            >
              <span className="h-5 w-5 rounded-full border-[3px] border-plum bg-bright" />
            </button>
          ))
        : null}
    </div>
  );
}
