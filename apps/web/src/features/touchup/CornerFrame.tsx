import type { Corners } from '@gemmel/core';
import { t } from '@lingui/core/macro';
import { useRef, type PointerEvent } from 'react';
import { SIZE } from '@/ui/tokens';

const clamp = (v: number) => Math.min(1, Math.max(0, v));

/** The four corners of a print that was photographed at a slant, each moved by itself. */
export function CornerFrame({ corners, onChange }: { corners: Corners; onChange: (corners: Corners) => void }) {
  const box = useRef<HTMLDivElement>(null);
  const held = useRef<number | null>(null);
  const place = (corner: number, x: number, y: number) => {
    const next = [...corners] as unknown as [number, number, number, number, number, number, number, number];
    next[2 * corner] = clamp(x);
    next[2 * corner + 1] = clamp(y);
    onChange(next);
  };
  const move = (event: PointerEvent) => {
    const size = box.current?.getBoundingClientRect();
    if (held.current === null || !size) return;
    place(held.current, (event.clientX - size.left) / size.width, (event.clientY - size.top) / size.height);
  };
  const names = [
    t`Top left corner of the print`,
    t`Top right corner of the print`,
    t`Bottom right corner of the print`,
    t`Bottom left corner of the print`,
  ];
  const points = [0, 1, 2, 3].map((i) => `${corners[2 * i]! * 100},${corners[2 * i + 1]! * 100}`).join(' ');
  return (
    <div
      ref={box}
      onPointerMove={move}
      onPointerUp={() => (held.current = null)}
      onPointerCancel={() => (held.current = null)}
      style={{ position: 'absolute', inset: 0, touchAction: 'none' }}
    >
      <svg
        viewBox="0 0 100 100"
        preserveAspectRatio="none"
        style={{ position: 'absolute', inset: 0, width: '100%', height: '100%' }}
      >
        <path d={`M0 0H100V100H0Z M${points.split(' ').join(' L')} Z`} fillRule="evenodd" fill="rgb(11 16 15 / 0.55)" />
        <polygon points={points} fill="none" stroke="#fffbf3" strokeWidth="2" vectorEffect="non-scaling-stroke" />
      </svg>
      {names.map((name, corner) => (
        <button
          key={name}
          type="button"
          aria-label={name}
          onPointerDown={(event) => {
            event.preventDefault();
            (event.target as HTMLElement).setPointerCapture(event.pointerId);
            held.current = corner;
          }}
          onKeyDown={(event) => {
            const step: Record<string, [number, number]> = {
              ArrowLeft: [-0.005, 0],
              ArrowRight: [0.005, 0],
              ArrowUp: [0, -0.005],
              ArrowDown: [0, 0.005],
            };
            const by = step[event.key];
            if (!by) return;
            event.preventDefault();
            place(corner, corners[2 * corner]! + by[0], corners[2 * corner + 1]! + by[1]);
          }}
          style={{
            all: 'unset',
            position: 'absolute',
            left: `calc(${corners[2 * corner]! * 100}% - ${SIZE.touch / 2}px)`,
            top: `calc(${corners[2 * corner + 1]! * 100}% - ${SIZE.touch / 2}px)`,
            width: SIZE.touch,
            height: SIZE.touch,
            display: 'grid',
            placeItems: 'center',
            cursor: 'grab',
            touchAction: 'none',
          }}
        >
          <span
            style={{
              width: 18,
              height: 18,
              borderRadius: '50%',
              background: '#fffbf3',
              border: '3px solid rgb(95 58 89)',
            }}
          />
        </button>
      ))}
    </div>
  );
}
