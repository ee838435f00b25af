import { t } from '@lingui/core/macro';
import { circleRing } from '@gemmel/core';
import type { GeoJSONSource, Marker } from 'maplibre-gl';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Spot } from './acts';
import { BaseMap, type ReadyMap } from './BaseMap';
import { CORNER } from '@/ui/tokens';

/** A small map with one pin to put down and to drag, and a circle around it where one is wanted. */
export function SpotMap({
  spot,
  onMove,
  metres,
  height = 240,
}: {
  spot: Spot | null;
  onMove: (spot: Spot) => void;
  /** How far a circle around the pin reaches. */
  metres?: number;
  height?: number;
}) {
  const [ready, setReady] = useState<ReadyMap | null>(null);
  const marker = useRef<Marker | null>(null);
  const move = useRef(onMove);
  useEffect(() => {
    move.current = onMove;
  });
  const onReady = useCallback((now: ReadyMap) => {
    setReady(now);
    now.map.on('click', (event) => {
      const at = event.lngLat.wrap();
      move.current({ lat: at.lat, lon: at.lng });
    });
    return () => setReady(null);
  }, []);
  const lat = spot?.lat;
  const lon = spot?.lon;
  useEffect(() => {
    if (!ready || lat === undefined || lon === undefined) return;
    const { map, engine } = ready;
    if (!marker.current) {
      const element = document.createElement('div');
      element.className = 'map-spot';
      element.setAttribute('role', 'img');
      element.setAttribute('aria-label', 'Pin; drag it to be exact');
      const made = new engine.Marker({ element, draggable: true, anchor: 'bottom' });
      made.on('dragend', () => {
        const at = made.getLngLat().wrap();
        move.current({ lat: at.lat, lon: at.lng });
      });
      marker.current = made.setLngLat([lon, lat]).addTo(map);
      map.jumpTo({ center: [lon, lat], zoom: metres ? 16 - Math.log2(metres / 60) : Math.max(11, map.getZoom()) });
    }
    marker.current.setLngLat([lon, lat]);
    if (!map.getBounds().contains([lon, lat])) map.jumpTo({ center: [lon, lat], zoom: Math.max(11, map.getZoom()) });
  }, [ready, lat, lon, metres]);
  useEffect(() => () => void (marker.current = null), [ready]);
  useEffect(() => {
    if (!ready || lat === undefined || lon === undefined || !metres) return;
    const ring = circleRing(lat, lon, metres / 1000);
    const data = {
      type: 'Feature' as const,
      properties: {},
      geometry: { type: 'Polygon' as const, coordinates: [ring] },
    };
    const source = ready.map.getSource<GeoJSONSource>('reach');
    if (source) {
      void source.setData(data);
      return;
    }
    const colour = getComputedStyle(document.documentElement).getPropertyValue('--juniper').trim().split(' ').join(',');
    ready.map.addSource('reach', { type: 'geojson', data });
    ready.map.addLayer({
      id: 'reach',
      type: 'fill',
      source: 'reach',
      paint: { 'fill-color': `rgba(${colour},0.2)`, 'fill-outline-color': `rgb(${colour})` },
    });
  }, [ready, lat, lon, metres]);
  return (
    <div style={{ height, borderRadius: CORNER.act, overflow: 'hidden', border: '1px solid rgb(var(--line))' }}>
      <BaseMap label={t`Map to place the pin on`} onReady={onReady} />
    </div>
  );
}
