import { t } from '@lingui/core/macro';
import { useState, type PointerEvent } from 'react';
import { Words } from '@/ui/Words';
import type { ReadyMap } from './BaseMap';

export type Box = [west: number, south: number, east: number, north: number];

/** What was drawn on the map, as a question asks for it. */
export type Drawn = { box: Box } | { circle: { lat: number; lon: number; km: number } };

/** Lies over the map while a box or a circle is drawn from corner to corner, or from the middle out. */
export function Draw({
  ready,
  shape,
  onDone,
}: {
  ready: ReadyMap;
  shape: 'box' | 'circle';
  onDone: (where: Drawn) => void;
}) {
  const [from, setFrom] = useState<{ x: number; y: number } | null>(null);
  const [to, setTo] = useState<{ x: number; y: number } | null>(null);
  const at = (event: PointerEvent) => {
    const area = event.currentTarget.getBoundingClientRect();
    return { x: event.clientX - area.left, y: event.clientY - area.top };
  };
  const far = from && to ? Math.hypot(to.x - from.x, to.y - from.y) : 0;
  const finish = () => {
    if (!from || !to || far < 12) {
      setFrom(null);
      setTo(null);
      return;
    }
    const a = ready.map.unproject([from.x, from.y]).wrap();
    const b = ready.map.unproject([to.x, to.y]).wrap();
    if (shape === 'circle') {
      const km = Math.max(0.01, Math.min(20_000, Math.round(a.distanceTo(b)) / 1000));
      onDone({ circle: { lat: a.lat, lon: a.lng, km } });
    } else {
      const [west, east] = from.x < to.x ? [a.lng, b.lng] : [b.lng, a.lng];
      onDone({ box: [west, Math.min(a.lat, b.lat), east, Math.max(a.lat, b.lat)] });
    }
  };
  const drawn =
    from && to
      ? shape === 'circle'
        ? { left: from.x - far, top: from.y - far, width: 2 * far, height: 2 * far, borderRadius: far }
        : {
            left: Math.min(from.x, to.x),
            top: Math.min(from.y, to.y),
            width: Math.abs(to.x - from.x),
            height: Math.abs(to.y - from.y),
          }
      : null;
  return (
    <div
      data-testid="draw"
      style={{ position: 'absolute', inset: 0, cursor: 'crosshair', touchAction: 'none', zIndex: 3 }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        setFrom(at(event));
        setTo(at(event));
      }}
      onPointerMove={(event) => from && setTo(at(event))}
      onPointerUp={finish}
      onPointerCancel={() => setFrom(null)}
    >
      <div style={{ position: 'absolute', left: 0, right: 0, top: 10, textAlign: 'center', pointerEvents: 'none' }}>
        <Words kind="small" className="rounded-small bg-card px-3 py-1.5 text-ink">
          {shape === 'box' ? t`Draw from corner to corner` : t`Draw from the middle out`}
        </Words>
      </div>
      {drawn ? (
        <div
          style={{
            position: 'absolute',
            border: '2px solid rgb(var(--juniper))',
            background: 'rgb(var(--juniper) / 0.14)',
            ...drawn,
          }}
        />
      ) : null}
    </div>
  );
}
