import { t } from '@lingui/core/macro';
import type { RunShot } from '@gemmel/contract';
import { useEffect, useRef, useState, type CSSProperties } from 'react';
import { largeOf } from '@/api/client';
import { IconButton } from '@/ui/Button';
import { placeholder } from '@/ui/thumb';
import { SIZE, TYPE } from '@/ui/tokens';

/** How far all shots are zoomed in, and which spot is in the middle, in fractions of each shot. */
interface Lens {
  zoom: number;
  x: number;
  y: number;
}
const WHOLE: Lens = { zoom: 1, x: 0.5, y: 0.5 };
const MOST = 8;

const clamp = (v: number, least: number, most: number) => Math.min(most, Math.max(least, v));
/** A lens whose edges do not leave the picture. */
const within = ({ zoom, x, y }: Lens): Lens => {
  const half = 0.5 / zoom;
  return { zoom, x: clamp(x, half, 1 - half), y: clamp(y, half, 1 - half) };
};

/**
 * Shots side by side under one lens: whatever is looked at closely in one is looked at in all. Two fingers or the wheel zoom, a finger
 * or the pointer moves, a double tap comes close and goes back.
 */
export function Linked({
  shots,
  number,
  style,
}: {
  shots: readonly RunShot[];
  /** The number a shot has in its run. */
  number: (id: number) => number;
  style?: CSSProperties;
}) {
  const [lens, setLens] = useState<Lens>(WHOLE);
  const panes = useRef<HTMLDivElement>(null);
  const touches = useRef(new Map<number, { x: number; y: number }>());
  const spread = useRef(0);
  const many = shots.length;
  /** Zooms towards a spot of a pane, in fractions of it. */
  const towards = (factor: number, u: number, v: number) =>
    setLens((now) => {
      const zoom = clamp(now.zoom * factor, 1, MOST);
      const k = 1 / now.zoom - 1 / zoom;
      return within({ zoom, x: now.x + (u - 0.5) * k, y: now.y + (v - 0.5) * k });
    });
  const spot = (target: EventTarget, clientX: number, clientY: number) => {
    const pane = (target as HTMLElement).closest<HTMLElement>('[data-pane]')?.getBoundingClientRect();
    return pane
      ? {
          u: (clientX - pane.left) / pane.width,
          v: (clientY - pane.top) / pane.height,
          width: pane.width,
          height: pane.height,
        }
      : null;
  };
  useEffect(() => {
    const element = panes.current;
    if (!element) return;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const at = spot(event.target!, event.clientX, event.clientY);
      if (at) towards(Math.exp(-event.deltaY / 300), at.u, at.v);
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, []);
  const columns = many <= 2 ? many : many <= 4 ? 2 : 3;
  return (
    <div style={{ position: 'relative', background: '#0b100f', ...style }}>
      <div
        ref={panes}
        style={{
          display: 'grid',
          gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))`,
          gridAutoRows: 'minmax(0, 1fr)',
          gap: SIZE.hair,
          height: '100%',
          touchAction: 'none',
        }}
        onPointerDown={(event) => {
          touches.current.set(event.pointerId, { x: event.clientX, y: event.clientY });
          (event.target as HTMLElement).setPointerCapture(event.pointerId);
          spread.current = 0;
        }}
        onPointerMove={(event) => {
          const was = touches.current.get(event.pointerId);
          const at = was && spot(event.target, event.clientX, event.clientY);
          if (!was || !at) return;
          const [dx, dy] = [event.clientX - was.x, event.clientY - was.y];
          touches.current.set(event.pointerId, { x: event.clientX, y: event.clientY });
          const all = [...touches.current.values()];
          if (all.length === 2) {
            const wide = Math.hypot(all[0]!.x - all[1]!.x, all[0]!.y - all[1]!.y);
            if (spread.current) towards(wide / spread.current, at.u, at.v);
            spread.current = wide;
          } else
            setLens((now) =>
              within({ ...now, x: now.x - dx / at.width / now.zoom, y: now.y - dy / at.height / now.zoom }),
            );
        }}
        onPointerUp={(event) => touches.current.delete(event.pointerId)}
        onPointerCancel={(event) => touches.current.delete(event.pointerId)}
        onDoubleClick={(event) => {
          const at = spot(event.target, event.clientX, event.clientY);
          if (lens.zoom > 1.01) setLens(WHOLE);
          else if (at) towards(3, at.u, at.v);
        }}
      >
        {shots.map((shot) => (
          <div key={shot.id} data-pane style={{ position: 'relative', overflow: 'hidden', cursor: 'zoom-in' }}>
            <img
              src={largeOf(shot.sha)}
              alt={shot.name}
              draggable={false}
              style={{
                width: '100%',
                height: '100%',
                objectFit: 'contain',
                background: `${placeholder(shot.thumb)} center / contain no-repeat`,
                transform: `scale(${lens.zoom}) translate(${(0.5 - lens.x) * 100}%, ${(0.5 - lens.y) * 100}%)`,
                userSelect: 'none',
              }}
            />
            <span
              style={{
                position: 'absolute',
                left: 8,
                bottom: 6,
                padding: '1px 8px',
                borderRadius: 9,
                color: '#fffbf3',
                background: 'rgb(11 16 15 / 0.72)',
                fontFamily: 'Figtree_600SemiBold',
                fontSize: TYPE.small,
                pointerEvents: 'none',
              }}
            >
              {number(shot.id)}
            </span>
          </div>
        ))}
      </div>
      <div
        style={{
          position: 'absolute',
          right: 4,
          top: 4,
          display: 'flex',
          background: 'rgb(11 16 15 / 0.55)',
          borderRadius: 22,
        }}
      >
        <IconButton name="minus" tone="bright" label={t`Zoom out`} onPress={() => towards(1 / 1.6, 0.5, 0.5)} />
        <IconButton name="plus" tone="bright" label={t`Zoom in`} onPress={() => towards(1.6, 0.5, 0.5)} />
      </div>
    </div>
  );
}
