import { t } from '@lingui/core/macro';
import type { Map as MapView } from 'maplibre-gl';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import type { MapEngine } from '@/map/engine';
import { call, wordsOf } from '@/api/client';
import { inLibrary } from '@/api/library';
import { isDark, useLook } from '@/state/look';
import { Words } from '@/ui/Words';
import { loadMap, type MapFiles } from './engine';
import { fineLayers, houseStyle, streetLayers } from './mapStyle';

/** A map that is ready, and what makes things for it. */
export interface ReadyMap {
  map: MapView;
  engine: MapEngine;
}

/** How many names of towns stand on a map at most. */
const NAMES = 48;

/** Names of the largest towns in what is shown, asked for again when it stands still. */
function nameTowns(map: MapView): void {
  let last = '';
  const ask = async () => {
    const b = map.getBounds();
    const box = [b.getWest(), Math.max(-90, b.getSouth()), b.getEast(), Math.min(90, b.getNorth())] as [
      number,
      number,
      number,
      number,
    ];
    const key = box.map((n) => n.toFixed(2)).join();
    if (key === last) return;
    last = key;
    const answer = await call('mapNames', { body: { box, most: NAMES } }).catch(() => null);
    const source = map.getSource('names') as { setData?: (data: unknown) => void } | undefined;
    if (!answer || !source?.setData) return;
    source.setData({
      type: 'FeatureCollection',
      features: answer.names.map(({ name, lat, lon, people }) => ({
        type: 'Feature',
        properties: { name, people },
        geometry: { type: 'Point', coordinates: [lon, lat] },
      })),
    });
  };
  map.on('moveend', () => void ask());
  void ask();
}

/** Finer shores and lakes, fetched when somebody comes close for the first time. */
function comeCloser(map: MapView, files: MapFiles, dark: boolean): void {
  const fine = fineLayers(files, dark);
  const add = () => {
    if (map.getZoom() < fine.from || map.getSource('shores')) return;
    for (const [id, data] of Object.entries(fine.sources)) map.addSource(id, { type: 'geojson', data, tolerance: 0.3 });
    for (const layer of fine.layers) map.addLayer(layer, 'borders');
  };
  map.on('zoomend', add);
  add();
}

/** Street maps the keeper has put into the data folder, each drawn over the base map. */
async function addStreets(map: MapView, engine: MapEngine, dark: boolean): Promise<void> {
  const { maps } = await call('streetMaps', {}).catch(() => ({ maps: [] as string[] }));
  for (const [i, name] of maps.entries()) {
    const url = new URL(inLibrary(`/api/map/street/${encodeURIComponent(name)}`), location.href).href;
    const archive = new engine.PMTiles(url);
    const [head, meta] = await Promise.all([
      archive.getHeader(),
      archive.getMetadata().catch(() => ({})) as Promise<{ vector_layers?: { id: string }[] }>,
    ]);
    const vector = head.tileType === 1;
    const source = `street-${i}`;
    map.addSource(source, {
      type: vector ? 'vector' : 'raster',
      url: `pmtiles://${url}`,
      ...(vector ? {} : { tileSize: 256 }),
    });
    const layers = streetLayers(source, vector ? (meta.vector_layers ?? []).map((l) => l.id) : null, dark);
    for (const layer of layers) map.addLayer(layer, 'names');
  }
}

/** The house's map: pans and zooms by finger, pointer and keyboard. What lies over it is drawn by its children. */
export function BaseMap({
  label,
  onReady,
  children,
  center = [15, 30],
  zoom = 1,
}: {
  label: string;
  onReady: (ready: ReadyMap) => (() => void) | void;
  children?: ReactNode;
  center?: [number, number];
  zoom?: number;
}) {
  const box = useRef<HTMLDivElement>(null);
  const ready = useRef(onReady);
  useEffect(() => {
    ready.current = onReady;
  });
  const start = useRef({ center, zoom });
  const [trouble, setTrouble] = useState('');
  const [there, setThere] = useState(false);
  const dark = isDark(useLook((look) => look.scheme));
  useEffect(() => {
    let map: MapView | null = null;
    let off: (() => void) | void;
    let here = true;
    loadMap().then(
      ({ engine, files }) => {
        if (!here || !box.current) return;
        map = new engine.MapView({
          container: box.current,
          style: houseStyle(files, dark),
          ...start.current,
          maxZoom: 18,
          minZoom: 0.4,
          attributionControl: { compact: true },
          dragRotate: false,
          pitchWithRotate: false,
          fadeDuration: matchMedia('(prefers-reduced-motion: reduce)').matches ? 0 : 150,
        });
        map.touchZoomRotate.disableRotation();
        map.getCanvas().setAttribute('aria-label', label);
        map.once('load', () => {
          if (!map) return;
          setThere(true);
          nameTowns(map);
          comeCloser(map, files, dark);
          addStreets(map, engine, dark).catch(() =>
            setTrouble(t`A street map in the data folder can’t be read. The map works without it.`),
          );
          off = ready.current({ map, engine });
        });
        map.on('moveend', () => map && (start.current = { center: map.getCenter().toArray(), zoom: map.getZoom() }));
      },
      (error: unknown) => setTrouble(wordsOf(error)),
    );
    return () => {
      here = false;
      off?.();
      map?.remove();
    };
  }, [dark, label]);
  return (
    <div
      style={{
        position: 'relative',
        width: '100%',
        height: '100%',
        overflow: 'hidden',
        background: 'rgb(var(--mist))',
      }}
      data-map={there ? 'ready' : 'coming'}
    >
      <div ref={box} style={{ position: 'absolute', inset: 0 }} />
      {children}
      {there || trouble ? null : (
        <div
          role="status"
          style={{ position: 'absolute', inset: 0, display: 'flex', alignItems: 'center', justifyContent: 'center' }}
        >
          <Words className="text-soft">{t`Drawing the map …`}</Words>
        </div>
      )}
      {trouble ? (
        <div role="alert" style={{ position: 'absolute', left: 12, right: 12, top: 12, textAlign: 'center' }}>
          <Words kind="small" className="rounded-small bg-card px-3 py-2 text-brick">
            {trouble}
          </Words>
        </div>
      ) : null}
    </div>
  );
}
