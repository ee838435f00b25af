import type { Picture } from '@gemmel/contract';
import { useEffect, useRef, useState, type PointerEvent, type ReactNode } from 'react';
import { largeOf, originalOf } from '@/api/client';
import { placeholder } from '@/ui/thumb';
import { useSize } from '@/ui/useSize';

interface Props {
  picture: Pick<Picture, 'id' | 'sha' | 'thumb' | 'kind' | 'width' | 'height' | 'name'>;
  src?: string;
  original?: string;
  onNext?: (() => void) | undefined;
  onBefore?: (() => void) | undefined;
  onTap?: (() => void) | undefined;
  /** Drawn over the picture, in its own fractions. */
  over?: (box: { width: number; height: number }) => ReactNode;
}

interface View {
  zoom: number;
  x: number;
  y: number;
}
const WHOLE: View = { zoom: 1, x: 0, y: 0 };
const MOST = 6;

/**
 * The large view (give it the picture's id as key, so that each begins whole): pinch, wheel or double tap to look closer, drag to move about, swipe for next and previous. From twice
 * the size on, the original is fetched in place of the smaller copy. Clips play.
 */
export function Viewer({
  picture,
  src = largeOf(picture.sha),
  original = originalOf(picture.id),
  onNext,
  onBefore,
  onTap,
  over,
}: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(frame);
  const [view, setView] = useState(WHOLE);
  const [pull, setPull] = useState(0);
  const [held, setHeld] = useState(false);
  const [here, setHere] = useState(false);
  const pointers = useRef(new Map<number, { x: number; y: number }>());
  const began = useRef<{ x: number; y: number; at: number; view: View; distance: number } | null>(null);
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
  const zoomAtRef = useRef(zoomAt);
  useEffect(() => {
    zoomAtRef.current = zoomAt;
  });
  useEffect(() => {
    const element = frame.current;
    if (!element || picture.kind === 'video') return;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      setView((old) => zoomAtRef.current(old, old.zoom * Math.exp(-event.deltaY / 300), event.clientX, event.clientY));
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [picture.kind]);

  const two = () => {
    const [a, b] = [...pointers.current.values()] as [{ x: number; y: number }, { x: number; y: number }];
    return { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, distance: Math.hypot(a.x - b.x, a.y - b.y) };
  };
  const begin = (x: number, y: number, distance = 0) => (began.current = { x, y, at: Date.now(), view, distance });
  const handlers = {
    onPointerDown: (event: PointerEvent) => {
      if ((event.target as HTMLElement).closest('button,a')) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      setHeld(true);
      pointers.current.set(event.pointerId, { x: event.clientX, y: event.clientY });
      if (pointers.current.size === 2) {
        const t = two();
        begin(t.x, t.y, t.distance);
      } else begin(event.clientX, event.clientY);
    },
    onPointerMove: (event: PointerEvent) => {
      const start = began.current;
      if (!start || !pointers.current.has(event.pointerId)) return;
      pointers.current.set(event.pointerId, { x: event.clientX, y: event.clientY });
      if (pointers.current.size >= 2 && start.distance) {
        const t = two();
        const next = zoomAt(start.view, (start.view.zoom * t.distance) / start.distance, start.x, start.y);
        setView(kept({ ...next, x: next.x + t.x - start.x, y: next.y + t.y - start.y }));
      } else if (start.view.zoom > 1)
        setView(
          kept({ ...start.view, x: start.view.x + event.clientX - start.x, y: start.view.y + event.clientY - start.y }),
        );
      else setPull(event.clientX - start.x);
    },
    onPointerUp: (event: PointerEvent) => {
      const start = began.current;
      pointers.current.delete(event.pointerId);
      if (!start) return;
      if (pointers.current.size === 1) {
        const [rest] = pointers.current.values();
        begin(rest!.x, rest!.y);
        return;
      }
      began.current = null;
      setHeld(false);
      const dx = event.clientX - start.x;
      const dy = event.clientY - start.y;
      setPull(0);
      if (start.distance) return;
      if (start.view.zoom === 1 && Math.abs(dx) > 50 && Math.abs(dx) > 1.4 * Math.abs(dy))
        (dx < 0 ? onNext : onBefore)?.();
      else if (Math.hypot(dx, dy) < 8 && Date.now() - start.at < 400) {
        clearTimeout(tapTimer.current);
        if (Date.now() - lastTap.current < 320) {
          lastTap.current = 0;
          setView(view.zoom > 1 ? WHOLE : zoomAt(view, 2.5, event.clientX, event.clientY));
        } else {
          lastTap.current = Date.now();
          tapTimer.current = setTimeout(() => onTap?.(), 330);
        }
      }
    },
    onPointerCancel: (event: PointerEvent) => {
      pointers.current.delete(event.pointerId);
      began.current = null;
      setHeld(false);
      setPull(0);
    },
  };
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
      {...handlers}
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
        <img
          key={picture.sha}
          src={src}
          alt={picture.name}
          draggable={false}
          onLoad={() => setHere(true)}
          style={{
            position: 'absolute',
            inset: 0,
            width: '100%',
            height: '100%',
            opacity: here ? 1 : 0,
            transition: 'opacity 180ms ease-out',
            userSelect: 'none',
          }}
        />
        {view.zoom >= 2 && !/\.(heic|heif|tiff?)$/i.test(picture.name) ? (
          <img
            src={original}
            alt=""
            draggable={false}
            style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', userSelect: 'none' }}
          />
        ) : null}
        {over?.(box)}
      </div>
    </div>
  );
}
