import { t } from '@lingui/core/macro';
import type { LayerSpecification, StyleSpecification } from 'maplibre-gl';
import tokens from '@/ui/tokens';
import type { MapFiles } from './engine';

type Colours = typeof tokens.light;

const WATER = { light: '#C4D9D6', dark: '#1D3F47' };
const FINE_FROM = 5;

/** The base map in the house's colours: water, land, lakes, borders, and the names of towns. */
export function houseStyle(files: MapFiles, dark: boolean): StyleSpecification {
  const c = dark ? tokens.dark : tokens.light;
  const water = dark ? WATER.dark : WATER.light;
  const shape = (id: string, source: string, color: string, zoom: { minzoom?: number; maxzoom?: number }) =>
    ({
      id,
      type: 'fill',
      source,
      paint: { 'fill-color': color, 'fill-antialias': true },
      ...zoom,
    }) as LayerSpecification;
  return {
    version: 8,
    sources: {
      land: { type: 'geojson', data: files.land, tolerance: 0.4 },
      lakes: { type: 'geojson', data: files.lakes, tolerance: 0.4, attribution: t`Lakes © OpenStreetMap contributors` },
      borders: { type: 'geojson', data: files.borders },
      names: {
        type: 'geojson',
        data: { type: 'FeatureCollection', features: [] },
        attribution: t`Town names © GeoNames, CC BY 4.0`,
      },
    },
    layers: [
      { id: 'water', type: 'background', paint: { 'background-color': water } },
      shape('land', 'land', c.paper, { maxzoom: FINE_FROM + 1 }),
      shape('lakes', 'lakes', water, { maxzoom: FINE_FROM + 1 }),
      {
        id: 'borders',
        type: 'line',
        source: 'borders',
        paint: { 'line-color': c.soft, 'line-opacity': 0.45, 'line-width': 1, 'line-dasharray': [3, 2] },
      },
      names(c),
    ],
  };
}

/** Layers that say where towns are, larger ones larger. */
function names(c: Colours): LayerSpecification {
  return {
    id: 'names',
    type: 'symbol',
    source: 'names',
    layout: {
      'text-field': ['get', 'name'],
      'text-font': ['Figtree_500Medium'],
      'text-size': ['interpolate', ['linear'], ['log10', ['+', 1, ['get', 'people']]], 3, 11.5, 7, 16],
      'symbol-sort-key': ['-', 0, ['get', 'people']],
      'text-padding': 6,
    },
    paint: { 'text-color': c.ink, 'text-halo-color': c.paper, 'text-halo-width': 1.6 },
  };
}

/** The finer shores and lakes that are fetched when somebody comes close. */
export const fineLayers = (files: MapFiles, dark: boolean) => {
  const c = dark ? tokens.dark : tokens.light;
  const water = dark ? WATER.dark : WATER.light;
  return {
    from: FINE_FROM,
    sources: { shores: files.shores, ponds: files.ponds },
    layers: [
      { id: 'shores', type: 'fill', source: 'shores', minzoom: FINE_FROM, paint: { 'fill-color': c.paper } },
      { id: 'ponds', type: 'fill', source: 'ponds', minzoom: FINE_FROM, paint: { 'fill-color': water } },
    ] as LayerSpecification[],
  };
};

/**
 * Layers for a street map somebody put into the data folder, whatever its own scheme: each of its layers is drawn by what
 * its name says it holds.
 * @param vector the names of its layers; null for a map of pictures.
 */
export function streetLayers(source: string, vector: readonly string[] | null, dark: boolean): LayerSpecification[] {
  const c = dark ? tokens.dark : tokens.light;
  const water = dark ? WATER.dark : WATER.light;
  if (!vector) return [{ id: `${source}-pictures`, type: 'raster', source }];
  const of = (pattern: RegExp) => vector.filter((name) => pattern.test(name));
  const fills = (pattern: RegExp, color: string, opacity = 1): LayerSpecification[] =>
    of(pattern).map((name) => ({
      id: `${source}-${name}`,
      type: 'fill',
      source,
      'source-layer': name,
      filter: ['==', ['geometry-type'], 'Polygon'],
      paint: { 'fill-color': color, 'fill-opacity': opacity },
    }));
  const lines = (pattern: RegExp, color: string, width: number): LayerSpecification[] =>
    of(pattern).map((name) => ({
      id: `${source}-${name}-lines`,
      type: 'line',
      source,
      'source-layer': name,
      filter: ['==', ['geometry-type'], 'LineString'],
      paint: { 'line-color': color, 'line-width': ['interpolate', ['linear'], ['zoom'], 8, width / 2, 16, width * 3] },
    }));
  const said: LayerSpecification[] = of(/place|poi|name|label|road|street|transport/i).map((name) => ({
    id: `${source}-${name}-names`,
    type: 'symbol',
    source,
    'source-layer': name,
    filter: ['has', 'name'],
    layout: {
      'text-field': ['coalesce', ['get', 'name:en'], ['get', 'name']],
      'text-font': ['Figtree_500Medium'],
      'text-size': 12,
      'symbol-placement': /road|street|transport/i.test(name) ? 'line' : 'point',
    },
    paint: { 'text-color': c.ink, 'text-halo-color': c.paper, 'text-halo-width': 1.4 },
  }));
  return [
    ...fills(/^(earth|land)$/i, c.paper),
    ...fills(/landuse|landcover|green|park|wood|forest|nature/i, c.mist, 0.6),
    ...fills(/water|ocean|lake|sea/i, water),
    ...lines(/waterway|river|stream|water/i, water, 1.5),
    ...fills(/building/i, c.line),
    ...lines(/road|street|transport|highway|path|rail/i, c.line, 1.6),
    ...lines(/boundar|admin/i, c.soft, 0.8),
    ...said,
  ];
}
