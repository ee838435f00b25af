import { t } from '@lingui/core/macro';
import { useRef, type PointerEvent } from 'react';
import { SIZE } from '@/ui/tokens';

type Crop = readonly [number, number, number, number];
const CORNERS = ['lt', 'rt', 'lb', 'rb'] as const;

/** Shorter than this share of a side nothing is cut. */
const LEAST = 0.08;
const clamp = (v: number, least: number, most: number) => Math.min(most, Math.max(least, v));

/**
 * The frame of a cut on the picture: its corners are moved, and so is the whole of it; with a ratio (width over height in fractions of
 * the picture) its shape stays.
 */
export function CropFrame({
  crop,
  ratio,
  onChange,
}: {
  crop: Crop;
  ratio: number | null;
  onChange: (crop: Crop) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const held = useRef<{ corner: (typeof CORNERS)[number] | null; x: number; y: number; from: Crop } | null>(null);
  const [left, top, right, bottom] = crop;
  const begin = (event: PointerEvent, corner: (typeof CORNERS)[number] | null) => {
    event.preventDefault();
    event.stopPropagation();
    (event.target as HTMLElement).setPointerCapture(event.pointerId);
    held.current = { corner, x: event.clientX, y: event.clientY, from: crop };
  };
  const move = (event: PointerEvent) => {
    const now = held.current;
    const size = box.current?.parentElement?.getBoundingClientRect();
    if (!now || !size) return;
    const dx = (event.clientX - now.x) / size.width;
    const dy = (event.clientY - now.y) / size.height;
    const [l, u, r, b] = now.from;
    if (!now.corner) {
      const x = clamp(dx, -l, 1 - r);
      const y = clamp(dy, -u, 1 - b);
      return onChange([l + x, u + y, r + x, b + y]);
    }
    const toLeft = now.corner.startsWith('l');
    const toTop = now.corner.endsWith('t');
    let w = clamp(toLeft ? r - l - dx : r - l + dx, LEAST, toLeft ? r : 1 - l);
    let h = clamp(toTop ? b - u - dy : b - u + dy, LEAST, toTop ? b : 1 - u);
    if (ratio) {
      w = Math.min(w, (toTop ? b : 1 - u) * ratio);
      h = w / ratio;
    }
    onChange([toLeft ? r - w : l, toTop ? b - h : u, toLeft ? r : l + w, toTop ? b : u + h]);
  };
  const end = () => (held.current = null);
  const nudge = (corner: (typeof CORNERS)[number], key: string): boolean => {
    const step = 0.01;
    const by: Record<string, [number, number]> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, -step],
      ArrowDown: [0, step],
    };
    const [dx, dy] = by[key] ?? [0, 0];
    if (!dx && !dy) return false;
    const next: [number, number, number, number] = [...crop];
    const [i, j] = [corner.startsWith('l') ? 0 : 2, corner.endsWith('t') ? 1 : 3];
    next[i] = clamp(crop[i]! + dx, i === 0 ? 0 : left + LEAST, i === 0 ? right - LEAST : 1);
    next[j] = clamp(crop[j]! + dy, j === 1 ? 0 : top + LEAST, j === 1 ? bottom - LEAST : 1);
    if (ratio) {
      const w = next[2] - next[0];
      if (j === 3) next[3] = Math.min(1, next[1] + w / ratio);
      else next[1] = Math.max(0, next[3] - w / ratio);
    }
    onChange(next);
    return true;
  };
  const names: Record<(typeof CORNERS)[number], string> = {
    lt: t`Top left corner of the cut`,
    rt: t`Top right corner of the cut`,
    lb: t`Bottom left corner of the cut`,
    rb: t`Bottom right corner of the cut`,
  };
  return (
    <div
      ref={box}
      onPointerDown={(event) => begin(event, null)}
      onPointerMove={move}
      onPointerUp={end}
      onPointerCancel={end}
      style={{
        position: 'absolute',
        left: `${left * 100}%`,
        top: `${top * 100}%`,
        width: `${(right - left) * 100}%`,
        height: `${(bottom - top) * 100}%`,
        boxShadow: '0 0 0 4000px rgb(11 16 15 / 0.62)',
        outline: '2px solid #fffbf3',
        cursor: 'move',
        touchAction: 'none',
        backgroundImage:
          'linear-gradient(90deg, transparent 33.2%, rgb(255 251 243 / 0.4) 33.2% 33.5%, transparent 33.5% 66.5%, rgb(255 251 243 / 0.4) 66.5% 66.8%, transparent 66.8%), linear-gradient(transparent 33.2%, rgb(255 251 243 / 0.4) 33.2% 33.5%, transparent 33.5% 66.5%, rgb(255 251 243 / 0.4) 66.5% 66.8%, transparent 66.8%)',
      }}
    >
      {CORNERS.map((corner) => (
        <button
          key={corner}
          type="button"
          aria-label={names[corner]}
          onPointerDown={(event) => begin(event, corner)}
          onKeyDown={(event) => nudge(corner, event.key) && event.preventDefault()}
          style={{
            all: 'unset',
            position: 'absolute',
            width: SIZE.touch,
            height: SIZE.touch,
            [corner.startsWith('l') ? 'left' : 'right']: -SIZE.touch / 2,
            [corner.endsWith('t') ? 'top' : 'bottom']: -SIZE.touch / 2,
            display: 'grid',
            placeItems: 'center',
            cursor: corner === 'lt' || corner === 'rb' ? 'nwse-resize' : 'nesw-resize',
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
