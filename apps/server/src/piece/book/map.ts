import type { BookMap } from '@gemmel/contract';
import { clipPolygon } from 'lineclip';
import { readdir, readFile } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../../context';

type Spot = readonly [x: number, y: number];
type Box = [west: number, south: number, east: number, north: number];

/** How wide a map is for its height, and how wide its drawing is. */
export const MAP_RATIO = 1.5;
const WIDE = 1000;
/** A journey leads at least so far, in km, over at least so many places. */
const FAR = 12;
const STOPS = 3;
/** The least a map shows, in degrees of longitude. */
const LEAST = 0.6;
/** Places nearer than this share of the map's width are one stop. */
const NEAR = 0.035;

interface Shapes {
  land: Spot[][];
  water: Spot[][];
}

const read = new Map<string, Promise<Shapes>>();

/** The outlines of land and lakes that the pages' map is drawn from as well. */
async function shapesIn(web: string): Promise<Shapes> {
  const folder = path.join(web, 'map');
  const names = await readdir(folder);
  const rings = async (key: string): Promise<Spot[][]> => {
    const name = names.find((one) => one.startsWith(`${key}-`) && one.endsWith('.json'));
    if (!name) return [];
    const { features } = JSON.parse(await readFile(path.join(folder, name), 'utf8')) as {
      features: { geometry: { coordinates: Spot[][] } }[];
    };
    return features.flatMap(({ geometry }) => geometry.coordinates.slice(0, 1));
  };
  const [land, water] = await Promise.all([rings('land'), rings('lakes')]);
  return { land, water };
}

/** How far two places are apart, in km (haversine). */
function apart([x1, y1]: Spot, [x2, y2]: Spot): number {
  const rad = Math.PI / 180;
  const a =
    Math.sin(((y2 - y1) * rad) / 2) ** 2 +
    Math.cos(y1 * rad) * Math.cos(y2 * rad) * Math.sin(((x2 - x1) * rad) / 2) ** 2;
  return 12_742 * Math.asin(Math.min(1, Math.sqrt(a)));
}

/** Whether pictures were taken on a journey: at several places, some of them far apart. */
export function isJourney(spots: readonly Spot[]): boolean {
  const places: Spot[] = [];
  for (const spot of spots) if (places.every((place) => apart(place, spot) > 1)) places.push(spot);
  return places.length >= STOPS && places.some((place) => apart(places[0]!, place) >= FAR);
}

/**
 * The map of a journey: land, lakes, the way from picture to picture in their order, and its stops. Drawn in degrees, each as wide as it is
 * at the middle's latitude (equirectangular projection).
 */
export async function mapOf(app: App, spots: readonly { spot: Spot; place: string | null }[]): Promise<BookMap | null> {
  if (!app.config.web) return null;
  const known = read.get(app.config.web) ?? shapesIn(app.config.web);
  read.set(app.config.web, known);
  const shapes = await known.catch(() => null);
  if (!shapes) return null;
  const xs = spots.map(({ spot }) => spot[0]);
  const ys = spots.map(({ spot }) => spot[1]);
  const middle = { x: (Math.min(...xs) + Math.max(...xs)) / 2, y: (Math.min(...ys) + Math.max(...ys)) / 2 };
  const squeeze = Math.max(0.05, Math.cos((middle.y * Math.PI) / 180));
  const spread = Math.max(
    LEAST,
    (Math.max(...xs) - Math.min(...xs)) * 1.5,
    ((Math.max(...ys) - Math.min(...ys)) * 1.6 * MAP_RATIO) / squeeze,
  );
  const tall = (spread * squeeze) / MAP_RATIO;
  const box: Box = [middle.x - spread / 2, middle.y - tall / 2, middle.x + spread / 2, middle.y + tall / 2];
  const height = WIDE / MAP_RATIO;
  const at = ([x, y]: Spot): Spot => [((x - box[0]) / spread) * WIDE, ((box[3] - y) / tall) * height];
  const text = (spot: Spot) =>
    at(spot)
      .map((n) => n.toFixed(1))
      .join(' ');
  const path_ = (rings: readonly Spot[][]) =>
    rings
      .flatMap((ring) => {
        if (!touches(ring, box)) return [];
        const cut = clipPolygon(ring as [number, number][], box);
        return cut.length > 2 ? [`M${cut.map(text).join('L')}Z`] : [];
      })
      .join('');
  const stops: BookMap['stops'] = [];
  const way: Spot[] = [];
  for (const { spot, place } of spots) {
    const [x, y] = at(spot);
    way.push([x, y]);
    const near = stops.find((stop) => Math.hypot(stop.x - x, stop.y - y) < WIDE * NEAR);
    if (near) near.name ??= place;
    else stops.push({ x, y, name: stops.some(({ name }) => name === place) ? null : place });
  }
  return {
    height,
    land: path_(shapes.land),
    water: path_(shapes.water),
    way: way.length > 1 ? `M${way.map((p) => p.map((n) => n.toFixed(1)).join(' ')).join('L')}` : '',
    stops,
  };
}

/** Whether a ring comes near a box at all. */
function touches(ring: readonly Spot[], [west, south, east, north]: Box): boolean {
  let [x1, y1, x2, y2] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [x, y] of ring) {
    if (x < x1) x1 = x;
    if (x > x2) x2 = x;
    if (y < y1) y1 = y;
    if (y > y2) y2 = y;
  }
  return x1 < east && x2 > west && y1 < north && y2 > south;
}
