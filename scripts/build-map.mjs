// Makes the files of the map: the engine, its worker, and the base map from Natural Earth's land and borders and the lakes.
import { build as esbuild } from 'esbuild';
import { createHash } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import { feature, mesh } from 'topojson-client';

const require = createRequire(import.meta.url);
const json = (name) => JSON.parse(readFileSync(require.resolve(name), 'utf8'));

/** Lakes smaller than this are left out, in square degrees of the box around them. */
const SMALLEST = { coarse: 0.06, fine: 0.0006 };

/**
 * Lets a ring run on beyond the 180th meridian instead of jumping back over the whole world, and closes one that goes round
 * the south pole below it: on a flat map such rings would cover everything between.
 */
function unwrap(ring) {
  const run = [ring[0]];
  for (const [x, y] of ring.slice(1)) {
    const last = run[run.length - 1][0];
    run.push([x + 360 * Math.round((last - x) / 360), y]);
  }
  const [first, last] = [run[0], run[run.length - 1]];
  if (Math.abs(first[0] - last[0]) > 180) run.push([last[0], -89], [first[0], -89], first);
  return run;
}

/** Rounds positions to about 100 m, and drops points that fall together. */
function tidy(ring, digits) {
  const round = (n) => Number(n.toFixed(digits));
  const kept = [];
  for (const [x, y] of ring) {
    const [a, b] = [round(x), round(y)];
    const last = kept[kept.length - 1];
    if (!last || last[0] !== a || last[1] !== b) kept.push([a, b]);
  }
  return kept.length >= 4 ? kept : null;
}

function boxOf(ring) {
  const xs = ring.map((p) => p[0]);
  const ys = ring.map((p) => p[1]);
  return (Math.max(...xs) - Math.min(...xs)) * (Math.max(...ys) - Math.min(...ys));
}

function lakes(smallest, digits) {
  const polygons = json('@geo-maps/earth-lakes-1km/map.geo.json').geometries.flatMap((g) =>
    g.type === 'MultiPolygon' ? g.coordinates : [g.coordinates],
  );
  const coordinates = polygons
    .filter(([outer]) => boxOf(outer) >= smallest)
    .map((rings) => rings.map((ring) => tidy(unwrap(ring), digits)).filter(Boolean))
    .filter((rings) => rings.length);
  return apart(coordinates);
}

/** Polygons as features of their own, so that each is cut and filled by itself. */
const apart = (polygons) => ({
  type: 'FeatureCollection',
  features: polygons.map((coordinates) => ({
    type: 'Feature',
    properties: {},
    geometry: { type: 'Polygon', coordinates },
  })),
});

function land(name, digits) {
  const topology = json(`world-atlas/${name}`);
  const shape = feature(topology, topology.objects.countries);
  const polygons = (shape.features ?? [shape]).flatMap(({ geometry }) =>
    geometry.type === 'MultiPolygon' ? geometry.coordinates : [geometry.coordinates],
  );
  const coordinates = polygons
    .map((rings) => rings.map((ring) => tidy(unwrap(ring), digits)).filter(Boolean))
    .filter((rings) => rings.length);
  return apart(coordinates);
}

function borders(name) {
  const topology = json(`world-atlas/${name}`);
  const lines = mesh(topology, topology.objects.countries, (a, b) => a !== b);
  const coordinates = lines.coordinates.map((line) =>
    line.map(([x, y]) => [Number(x.toFixed(3)), Number(y.toFixed(3))]),
  );
  return { type: 'Feature', properties: {}, geometry: { type: 'MultiLineString', coordinates } };
}

/** Writes everything into `<out>/map` and a list of the names, which carry a hash of what is in them. */
export async function buildMap(root, out) {
  const folder = path.join(out, 'map');
  mkdirSync(folder, { recursive: true });
  const names = {};
  const write = (key, extension, text) => {
    const name = `${key}-${createHash('sha256').update(text).digest('hex').slice(0, 12)}.${extension}`;
    writeFileSync(path.join(folder, name), text);
    names[key] = `/map/${name}`;
  };
  const engine = await esbuild({
    absWorkingDir: root,
    entryPoints: ['apps/web/src/map/engine.ts'],
    bundle: true,
    minify: true,
    format: 'iife',
    target: 'es2022',
    define: { 'import.meta.url': '""' },
    logOverride: { 'empty-import-meta': 'silent' },
    write: false,
    logLevel: 'warning',
  });
  write('engine', 'js', engine.outputFiles[0].text);
  const dist = path.dirname(require.resolve('maplibre-gl/package.json')) + '/dist';
  write(
    'worker',
    'js',
    readFileSync(path.join(dist, 'maplibre-gl-worker.mjs'), 'utf8').replace(/\n\/\/# sourceMappingURL.*$/, ''),
  );
  write('style', 'css', readFileSync(path.join(dist, 'maplibre-gl.css'), 'utf8'));
  write('land', 'json', JSON.stringify(land('countries-50m.json', 4)));
  write('shores', 'json', JSON.stringify(land('countries-10m.json', 4)));
  write('borders', 'json', JSON.stringify(borders('countries-50m.json')));
  write('lakes', 'json', JSON.stringify(lakes(SMALLEST.coarse, 3)));
  write('ponds', 'json', JSON.stringify(lakes(SMALLEST.fine, 3)));
  writeFileSync(path.join(folder, 'files.json'), JSON.stringify(names));
}
