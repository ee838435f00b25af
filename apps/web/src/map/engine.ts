/**
 * What draws the map: MapLibre GL with PMTiles, as a script of its own that pages fetch when a map is first shown. It puts
 * itself into `window.gemmelMap`.
 */
import { addProtocol, LngLatBounds, Map as MapView, Marker, setWorkerUrl } from 'maplibre-gl';
import { Protocol, PMTiles } from 'pmtiles';

const protocol = new Protocol();
addProtocol('pmtiles', protocol.tile);

const engine = { LngLatBounds, MapView, Marker, PMTiles, setWorkerUrl };

/** The map's engine, as pages see it. */
export type MapEngine = typeof engine;

declare global {
  interface Window {
    gemmelMap?: MapEngine;
  }
}
window.gemmelMap = engine;
