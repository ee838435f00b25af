import { narrow } from '@gemmel/core';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useCallback, useEffect, useMemo, useRef, useState, type DragEvent, type PointerEvent } from 'react';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { useAsk, useSequence } from '@/state/ask';
import { usePile } from '@/state/pile';
import { useTiles } from '@/state/tiles';
import { useWide } from '@/state/wide';
import { smallOf } from '@/api/client';
import { Button, IconButton } from '@/ui/Button';
import { count, sayNumber } from '@/ui/say';
import { Words } from '@/ui/Words';
import type { Pin } from '@/workers/pins';
import { BrowseHeader } from '../browse/BrowseHeader';
import { useStrip } from '../browse/useStrip';
import { DRAGGED, give } from './acts';
import { BaseMap, type ReadyMap } from './BaseMap';
import { PinMarkers } from './pinMarkers';
import { usePins } from './usePins';

type Box = [west: number, south: number, east: number, north: number];
type Drawing = 'box' | 'circle' | null;
const MOST = 200;

/** The pictures of the question on a map: pins with their newest picture, and a box or circle to ask for a part of it. */
export function MapPage() {
  const router = useRouter();
  const wide = useWide();
  const { seen } = useLocalSearchParams<{ seen?: string }>();
  const { question, narrow: ask } = useAsk();
  const positions = useAnswer('positions', { body: { question } });
  const { pins, loaded, show, leavesOf } = usePins(positions.data);
  const [ready, setReady] = useState<ReadyMap | null>(null);
  const markers = useRef<PinMarkers | null>(null);
  const [drawing, setDrawing] = useState<Drawing>(null);
  const [touched, setShown] = useState<{ ids: number[]; box: Box } | null | undefined>(undefined);
  const spots = useMemo(() => spotsOf(positions.data), [positions.data]);
  const from = seen ? spots.get(Number(seen)) : undefined;
  // Until something is touched, the row shows the picture somebody comes from.
  const shown =
    touched === undefined && from
      ? { ids: [Number(seen)], box: [from[0], from[1], from[0], from[1]] as Box }
      : (touched ?? null);

  const press = useRef<(pin: Pin) => void>(() => undefined);
  useEffect(() => {
    press.current = (pin) => {
      if (pin.cluster === null) {
        setShown({ ids: [pin.id], box: [pin.lon, pin.lat, pin.lon, pin.lat] });
        return;
      }
      void leavesOf(pin.cluster).then(({ ids, box, zoom }) => {
        setShown({ ids, box });
        if (ready && zoom <= 17 && ready.map.getZoom() < zoom) ready.map.easeTo({ center: [pin.lon, pin.lat], zoom });
      });
    };
  });
  const onReady = useCallback((now: ReadyMap) => {
    setReady(now);
    markers.current = new PinMarkers(now, (pin) => press.current(pin));
    return () => {
      markers.current?.end();
      markers.current = null;
      setReady(null);
    };
  }, []);
  useEffect(() => {
    if (!ready || !loaded) return;
    const { map } = ready;
    const look = () => {
      const b = map.getBounds();
      const edge = (b.getEast() - b.getWest()) / 8;
      show([b.getWest() - edge, b.getSouth(), b.getEast() + edge, b.getNorth()], map.getZoom());
    };
    map.on('moveend', look);
    look();
    return () => void map.off('moveend', look);
  }, [ready, loaded, show]);
  useEffect(() => markers.current?.show(pins), [pins, ready]);

  const fit = useCallback(
    (box: Box | null, slowly = true) => {
      if (!ready || !box) return;
      ready.map.fitBounds(
        [
          [box[0], box[1]],
          [box[2], box[3]],
        ],
        { padding: 56, maxZoom: 14, duration: slowly ? 400 : 0 },
      );
    },
    [ready],
  );
  const follow = useCallback(
    (id: number | null) => {
      const spot = id === null ? null : (spots.get(id) ?? null);
      if (spot && ready && !ready.map.getBounds().contains(spot)) ready.map.easeTo({ center: spot });
      markers.current?.mark(spot);
    },
    [spots, ready],
  );
  // The map opens on what the question shows, or on the picture somebody comes from.
  const opened = useRef('');
  useEffect(() => {
    const key = JSON.stringify([question, seen ?? '']);
    if (!ready || !loaded || opened.current === key) return;
    opened.current = key;
    const spot = seen ? spots.get(Number(seen)) : undefined;
    if (spot) {
      ready.map.jumpTo({ center: spot, zoom: 13 });
      follow(Number(seen));
    } else fit(loaded.box, false);
  }, [ready, loaded, question, seen, spots, fit, follow]);

  const only = (where: { box: Box } | { circle: { lat: number; lon: number; km: number } }) => {
    setDrawing(null);
    setShown(null);
    ask({ where });
  };
  const drop = (event: DragEvent) => {
    const carried = event.dataTransfer.getData(DRAGGED);
    if (!carried || !ready) return;
    event.preventDefault();
    const area = event.currentTarget.getBoundingClientRect();
    const at = ready.map.unproject([event.clientX - area.left, event.clientY - area.top]).wrap();
    void give(JSON.parse(carried) as number[], { lat: at.lat, lon: at.lng }, 'on the map');
  };
  const total = loaded?.count ?? 0;
  return (
    <View style={{ flex: 1, paddingHorizontal: wide ? 26 : 16 }}>
      <BrowseHeader way="Where" />
      <View className="mb-2 min-h-[44px] flex-row items-center justify-between gap-2">
        <Words kind="small" aria-live="polite" className="min-w-0 shrink">
          {positions.data ? `${count(total, 'picture')} with a place` : 'One moment …'}
        </Words>
        <View className="flex-row">
          <IconButton
            name="box"
            label="Ask for a box of the map"
            pressed={drawing === 'box'}
            tone={drawing === 'box' ? 'juniper' : 'ink'}
            onPress={() => setDrawing(drawing === 'box' ? null : 'box')}
          />
          <IconButton
            name="circle"
            label="Ask for a circle on the map"
            pressed={drawing === 'circle'}
            tone={drawing === 'circle' ? 'juniper' : 'ink'}
            onPress={() => setDrawing(drawing === 'circle' ? null : 'circle')}
          />
          <IconButton name="look" label="Show all of them" onPress={() => fit(loaded?.box ?? null)} />
        </View>
      </View>
      <View style={{ flex: 1, flexDirection: wide ? 'row' : 'column', gap: 12, paddingBottom: wide ? 20 : 10 }}>
        <div
          style={{ flex: 1, minHeight: 0, minWidth: 0, borderRadius: 16, overflow: 'hidden', position: 'relative' }}
          onDragOver={(event) => event.dataTransfer.types.includes(DRAGGED) && event.preventDefault()}
          onDrop={drop}
          data-testid="map"
        >
          <BaseMap label="Map of the pictures; arrow keys move it, plus and minus zoom" onReady={onReady}>
            {drawing && ready ? <Draw ready={ready} shape={drawing} onDone={only} /> : null}
          </BaseMap>
        </div>
        {wide ? <Unplaced /> : null}
      </View>
      {shown ? (
        <Strip
          ids={shown.ids}
          onFollow={follow}
          onOpen={(id) => {
            useSequence.getState().open(shown.ids, '/browse/map');
            router.push({ pathname: '/picture/[id]', params: { id } });
          }}
          onOnly={() => only({ box: around(shown.box) })}
          onAway={() => {
            setShown(null);
            follow(null);
          }}
        />
      ) : null}
    </View>
  );
}

/** A box a little wider than a pin's pictures, so that those at its edge are inside. */
const around = ([west, south, east, north]: Box): Box => [
  Math.max(-180, west - 1e-4),
  Math.max(-90, south - 1e-4),
  Math.min(180, east + 1e-4),
  Math.min(90, north + 1e-4),
];

function spotsOf(
  columns: { ids: number[]; lats: number[]; lons: number[] } | undefined,
): Map<number, [number, number]> {
  const spots = new Map<number, [number, number]>();
  let [id, lat, lon] = [0, 0, 0];
  columns?.ids.forEach((step, i) => {
    id += step;
    lat += columns.lats[i]!;
    lon += columns.lons[i]!;
    spots.set(id, [lon / 1e5, lat / 1e5]);
  });
  return spots;
}

/** Lies over the map while a box or a circle is drawn from corner to corner, or from the middle out. */
function Draw({
  ready,
  shape,
  onDone,
}: {
  ready: ReadyMap;
  shape: 'box' | 'circle';
  onDone: (where: { box: Box } | { circle: { lat: number; lon: number; km: number } }) => void;
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
        <Words kind="small" className="rounded-[10px] bg-card px-3 py-1.5 text-ink">
          {shape === 'box' ? 'Draw from corner to corner' : 'Draw from the middle out'}
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

/** The pictures of a pin, in a row below the map; the map follows the one in hand. */
function Strip({
  ids,
  onFollow,
  onOpen,
  onOnly,
  onAway,
}: {
  ids: readonly number[];
  onFollow: (id: number | null) => void;
  onOpen: (id: number) => void;
  onOnly: () => void;
  onAway: () => void;
}) {
  const wide = useWide();
  const some = useMemo(() => ids.slice(0, MOST), [ids]);
  const tiles = useTiles(some);
  return (
    <div role="region" aria-label="Pictures of the pin" className="rise" style={{ paddingBottom: 10 }}>
      <View className="flex-row items-center gap-2">
        <Words kind="strong" className="min-w-0 flex-1" numberOfLines={1} aria-live="polite">
          {wide ? `${count(ids.length, 'picture')} here` : `${sayNumber(ids.length)} here`}
        </Words>
        <Button label="Only these" weight="quiet" className="min-h-[44px] px-2" onPress={onOnly} />
        <Button
          label="On the pile"
          weight="quiet"
          className="min-h-[44px] px-2"
          onPress={() => usePile.getState().add([...ids])}
        />
        <IconButton name="away" label="Put this row away" onPress={onAway} />
      </View>
      <div style={{ display: 'flex', gap: 3, overflowX: 'auto' }}>
        {some.map((id) => {
          const tile = tiles.get(id);
          return (
            <button
              key={id}
              type="button"
              aria-label={tile?.label ?? 'A picture'}
              onClick={() => onOpen(id)}
              onPointerEnter={() => onFollow(id)}
              onFocus={() => onFollow(id)}
              style={{
                all: 'unset',
                cursor: 'pointer',
                flexShrink: 0,
                width: 84,
                height: 84,
                borderRadius: 4,
                background: `rgb(var(--line)) center / cover ${tile ? `url(${smallOf(tile.sha)})` : ''}`,
              }}
              className="focus-visible:outline"
            />
          );
        })}
        {ids.length > some.length ? (
          <Words kind="small" className="self-center px-3">{`and ${sayNumber(ids.length - some.length)} more`}</Words>
        ) : null}
      </div>
    </div>
  );
}

/** Pictures of the question that have no place, and the pile, to be dragged onto the map. */
function Unplaced() {
  const question = useAsk((state) => state.question);
  const lacking = useMemo(() => narrow(question, { lacks: 'place' }), [question]);
  const { strip } = useStrip(lacking);
  const pile = usePile((state) => state.ids);
  const some = useMemo(() => Array.from(strip?.ids.subarray(0, 60) ?? []), [strip]);
  const tiles = useTiles(some);
  const carry = (ids: readonly number[]) => (event: DragEvent) => {
    event.dataTransfer.setData(DRAGGED, JSON.stringify(ids));
    event.dataTransfer.effectAllowed = 'copy';
  };
  if (!pile.length && !some.length) return null;
  return (
    <aside aria-label="Without a place" style={{ width: 186, flexShrink: 0, overflowY: 'auto', paddingBottom: 110 }}>
      {pile.length ? (
        <div
          draggable
          onDragStart={carry(pile)}
          data-testid="carry-pile"
          style={{
            cursor: 'grab',
            border: '1px dashed rgb(var(--juniper))',
            borderRadius: 12,
            padding: '10px 12px',
            marginBottom: 12,
          }}
        >
          <Words kind="small" className="font-semi text-juniper">{`The pile, ${count(pile.length, 'picture')}`}</Words>
          <View>
            <Words kind="tiny">Drag it to where it was taken.</Words>
          </View>
        </div>
      ) : null}
      {some.length ? (
        <>
          <Words kind="small" className="font-semi">{`${sayNumber(strip!.ids.length)} without a place`}</Words>
          <View>
            <Words kind="tiny" className="mb-2">
              Drag one to where it was taken.
            </Words>
          </View>
          <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 3 }}>
            {some.map((id) => {
              const tile = tiles.get(id);
              return (
                <div
                  key={id}
                  draggable
                  onDragStart={carry([id])}
                  title={tile?.label}
                  data-unplaced={id}
                  style={{
                    cursor: 'grab',
                    height: 72,
                    borderRadius: 4,
                    background: `rgb(var(--line)) center / cover ${tile ? `url(${smallOf(tile.sha)})` : ''}`,
                  }}
                />
              );
            })}
          </div>
        </>
      ) : null}
    </aside>
  );
}
