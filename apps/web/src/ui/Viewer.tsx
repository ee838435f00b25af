import type { Picture } from '@gemmel/contract';
import { useGesture } from '@use-gesture/react';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { placeholder } from './thumb';
import { useSize } from './useSize';

/** A picture or clip to look at. */
export type Viewed = Pick<Picture, 'id' | 'thumb' | 'kind' | 'width' | 'height' | 'name'>;

interface Props {
  picture: Viewed;
  /** The copy as large as a screen, and what is fetched in its place from twice the size on; of a clip, the clip. */
  src: string;
  original: string;
  /** A smaller copy that is on the device already: it stands until `src` has come. */
  small?: string;
  onNext?: (() => void) | undefined;
  onBefore?: (() => void) | undefined;
  onTap?: (() => void) | undefined;
  /** Told when the picture is sharp. */
  onShown?: (() => void) | undefined;
  /** Drawn over the picture, in its own fractions. */
  over?: (box: { width: number; height: number }) => ReactNode;
}

interface View {
  zoom: number;
  x: number;
  y: number;
}
const WHOLE: View = { zoom: 1, x: 0, y: 0 };
/** Names of originals that browsers show by themselves. */
const SHOWN = /\.(jpe?g|jpe|jfif?|mpo|insp|png|webp|gif|avif)$/i;
const MOST = 6;
const FILL = { position: 'absolute', inset: 0, width: '100%', height: '100%', userSelect: 'none' } as const;
/** Two taps within so long are one double tap, in ms. */
const DOUBLE = 320;

/**
 * The large view (give it the picture's id as key, so that each begins whole): pinch, wheel or double tap to look closer, drag to move about, swipe for next and previous. From twice
 * the size on, the original is fetched in place of the smaller copy. Clips play.
 */
export function Viewer({ picture, src, original, small, onNext, onBefore, onTap, onShown, over }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(frame);
  const [view, setView] = useState(WHOLE);
  const [pull, setPull] = useState(0);
  const [held, setHeld] = useState(false);
  const [here, setHere] = useState(false);
  const lastTap = useRef(0);
  const tapTimer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const scale = Math.min(width / picture.width, height / picture.height) || 0;
  const box = { width: picture.width * scale, height: picture.height * scale };
  useEffect(() => () => clearTimeout(tapTimer.current), []);

  const kept = (next: View): View => {
    const zoom = Math.max(1, Math.min(MOST, next.zoom));
    const roomX = Math.max(0, (box.width * zoom - width) / 2);
    const roomY = Math.max(0, (box.height * zoom - height) / 2);
    return { zoom, x: Math.max(-roomX, Math.min(roomX, next.x)), y: Math.max(-roomY, Math.min(roomY, next.y)) };
  };
  /** Zooms so that what is under a point stays under it. */
  const zoomAt = (from: View, zoom: number, clientX: number, clientY: number): View => {
    const rect = frame.current!.getBoundingClientRect();
    const px = clientX - rect.left - width / 2;
    const py = clientY - rect.top - height / 2;
    const k = Math.max(1, Math.min(MOST, zoom)) / from.zoom;
    return kept({ zoom, x: px - (px - from.x) * k, y: py - (py - from.y) * k });
  };
  const tapped = (clientX: number, clientY: number) => {
    clearTimeout(tapTimer.current);
    if (Date.now() - lastTap.current < DOUBLE) {
      lastTap.current = 0;
      setView(view.zoom > 1 ? WHOLE : zoomAt(view, 2.5, clientX, clientY));
    } else {
      lastTap.current = Date.now();
      tapTimer.current = setTimeout(() => onTap?.(), DOUBLE + 10);
    }
  };
  useGesture(
    {
      onDrag: ({ first, last, tap, canceled, pinching, cancel, event, xy, movement: [dx, dy], elapsedTime, memo }) => {
        if (first && (event.target as HTMLElement).closest('button,a')) return cancel();
        if (pinching) return cancel();
        const from = (memo as View | undefined) ?? view;
        setHeld(!last);
        if (tap) {
          if (elapsedTime < 400) tapped(...xy);
        } else if (from.zoom > 1) setView(kept({ ...from, x: from.x + dx, y: from.y + dy }));
        else setPull(last ? 0 : dx);
        if (last && !tap && !canceled && from.zoom === 1 && Math.abs(dx) > 50 && Math.abs(dx) > 1.4 * Math.abs(dy))
          (dx < 0 ? onNext : onBefore)?.();
        return from;
      },
      onPinch: ({ last, origin: [x, y], movement: [by], memo }) => {
        const from = (memo as { view: View; x: number; y: number } | undefined) ?? { view, x, y };
        setHeld(!last);
        setPull(0);
        const next = zoomAt(from.view, from.view.zoom * by, from.x, from.y);
        setView(kept({ ...next, x: next.x + x - from.x, y: next.y + y - from.y }));
        return from;
      },
      onWheel: ({ event, last }) => {
        // The end of a turn is told as well.
        if (last) return;
        event.preventDefault();
        setView((old) => zoomAt(old, old.zoom * Math.exp(-event.deltaY / 300), event.clientX, event.clientY));
      },
    },
    {
      target: frame,
      eventOptions: { passive: false },
      enabled: picture.kind !== 'video',
      drag: { filterTaps: true, tapsThreshold: 8, pointer: { keys: false } },
      pinch: { pinchOnWheel: false },
    },
  );
  const moved = {
    transform: `translate(${view.x + (view.zoom === 1 ? pull : 0)}px, ${view.y}px) scale(${view.zoom})`,
    transition: held ? 'none' : 'transform 170ms ease-out',
  };
  if (picture.kind === 'video')
    return (
      <div
        ref={frame}
        style={{ position: 'absolute', inset: 0, display: 'flex', alignItems: 'center', justifyContent: 'center' }}
      >
        <video
          key={picture.id}
          src={original}
          poster={src}
          controls
          playsInline
          preload="metadata"
          aria-label={picture.name}
          style={{ width: '100%', height: '100%', objectFit: 'contain' }}
        />
      </div>
    );
  return (
    <div
      ref={frame}
      data-testid="viewer"
      data-zoom={view.zoom.toFixed(2)}
      style={{
        position: 'absolute',
        inset: 0,
        overflow: 'hidden',
        touchAction: view.zoom > 1 ? 'none' : 'pan-y',
        cursor: view.zoom > 1 ? 'grab' : 'default',
      }}
    >
      <div
        style={{
          position: 'absolute',
          left: (width - box.width) / 2,
          top: (height - box.height) / 2,
          ...box,
          ...moved,
        }}
      >
        <div
          style={{
            position: 'absolute',
            inset: 0,
            backgroundImage: placeholder(picture.thumb),
            backgroundSize: '100% 100%',
          }}
        />
        {small && !here ? <img src={small} alt="" draggable={false} style={FILL} /> : null}
        <img
          key={picture.id}
          src={src}
          alt={picture.name}
          draggable={false}
          onLoad={() => {
            setHere(true);
            onShown?.();
          }}
          style={{ ...FILL, opacity: here ? 1 : 0, transition: 'opacity 180ms ease-out' }}
        />
        {view.zoom >= 2 && SHOWN.test(picture.name) ? (
          <img src={original} alt="" draggable={false} style={FILL} />
        ) : null}
        {over?.(box)}
      </div>
    </div>
  );
}
