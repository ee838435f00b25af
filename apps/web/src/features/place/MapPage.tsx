import { plural, t } from '@lingui/core/macro';
import { unpackSpots } from '@gemmel/core';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useCallback, useEffect, useMemo, useRef, useState, type DragEvent } from 'react';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { useAsk, useAsked, useSequence } from '@/state/ask';
import { useLying, useWide } from '@/state/wide';
import { IconButton } from '@/ui/Button';
import { Words } from '@/ui/Words';
import type { Pin } from '@/workers/pins';
import { BrowseHeader } from '@/features/question/BrowseHeader';
import { DRAGGED, give } from './acts';
import { BaseMap, type ReadyMap } from './BaseMap';
import { Draw, type Box, type Drawn } from './Draw';
import { PinMarkers } from './pinMarkers';
import { PinRow } from './PinRow';
import { Unplaced } from './Unplaced';
import { usePins } from './usePins';

type Drawing = 'box' | 'circle' | null;
const NONE = { ids: [], lats: [], lons: [] };

/** The map by itself: a whole page on a phone, and all of the screen when it lies on its side. */
export function MapPage() {
  const wide = useWide();
  const lying = useLying();
  return (
    <View style={{ flex: 1, paddingHorizontal: wide ? 26 : lying ? 0 : 16 }}>
      {lying ? null : <BrowseHeader way="where" />}
      <MapPane />
    </View>
  );
}

/** The pictures of the question on a map: pins with their newest picture, and a box or circle to ask for a part of it. */
export function MapPane({ beside = true }: { beside?: boolean }) {
  const router = useRouter();
  const wide = useWide();
  const lying = useLying();
  const { seen } = useLocalSearchParams<{ seen?: string }>();
  const question = useAsked();
  const ask = useAsk((state) => state.narrow);
  const positions = useAnswer('positions', { body: { question } });
  const { pins, loaded, show, leavesOf } = usePins(positions.data);
  const [ready, setReady] = useState<ReadyMap | null>(null);
  const markers = useRef<PinMarkers | null>(null);
  const [drawing, setDrawing] = useState<Drawing>(null);
  const [touched, setShown] = useState<{ ids: number[]; box: Box } | null | undefined>(undefined);
  const spots = useMemo(
    () =>
      new Map(
        [...unpackSpots(positions.data ?? NONE)].map(({ id, lat, lon }): [number, [number, number]] => [
          id,
          [lon, lat],
        ]),
      ),
    [positions.data],
  );
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

  const only = (where: Drawn) => {
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
    void give(JSON.parse(carried) as number[], { lat: at.lat, lon: at.lng }, null);
  };
  const total = loaded?.count ?? 0;
  return (
    <View style={{ flex: 1 }}>
      <View
        className={
          lying
            ? 'absolute right-2 top-2 z-10 flex-row items-center gap-2 rounded-act bg-card pl-3'
            : 'mb-2 min-h-touch flex-row items-center justify-between gap-2'
        }
      >
        {lying ? <IconButton name="left" label={t`Back`} onPress={() => router.navigate('/browse/where')} /> : null}
        <Words kind="small" aria-live="polite" className="min-w-0 shrink">
          {!positions.data
            ? t`Finding the places …`
            : total
              ? plural(total, { one: '# picture with a place', other: '# pictures with a place' })
              : t`None of these pictures has a place.`}
        </Words>
        <View className="flex-row">
          <IconButton
            name="box"
            label={t`Ask for a box of the map`}
            pressed={drawing === 'box'}
            tone={drawing === 'box' ? 'juniper' : 'ink'}
            onPress={() => setDrawing(drawing === 'box' ? null : 'box')}
          />
          <IconButton
            name="circle"
            label={t`Ask for a circle on the map`}
            pressed={drawing === 'circle'}
            tone={drawing === 'circle' ? 'juniper' : 'ink'}
            onPress={() => setDrawing(drawing === 'circle' ? null : 'circle')}
          />
          <IconButton name="look" label={t`Show all of them`} onPress={() => fit(loaded?.box ?? null)} />
        </View>
      </View>
      <View
        style={{ flex: 1, flexDirection: wide ? 'row' : 'column', gap: 12, paddingBottom: wide ? 20 : lying ? 0 : 10 }}
      >
        <div
          style={{
            flex: 1,
            minHeight: 0,
            minWidth: 0,
            borderRadius: lying ? 0 : 16,
            overflow: 'hidden',
            position: 'relative',
          }}
          onDragOver={(event) => event.dataTransfer.types.includes(DRAGGED) && event.preventDefault()}
          onDrop={drop}
          data-testid="map"
        >
          <BaseMap label={t`Map of the pictures. Arrow keys move it, plus and minus zoom`} onReady={onReady}>
            {drawing && ready ? <Draw ready={ready} shape={drawing} onDone={only} /> : null}
          </BaseMap>
        </div>
        {wide && beside ? <Unplaced /> : null}
      </View>
      {shown ? (
        <PinRow
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
