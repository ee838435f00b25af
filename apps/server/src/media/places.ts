import { distanceKm, fold } from '@gemmel/core';
import { around } from 'geokdbush';
import { gazetteer } from './gazetteer';

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

/** What lies around a town is called after another, by its number; -1 where there is none. */
const regions = new Map<number, number>();

/** The town that what lies around a place is called after: near and large, in the same country. Null where there is none. */
function regionOf(town: number): string | null {
  const { names, country, population, lat, lon, index } = gazetteer();
  let best = regions.get(town);
  if (best === undefined) {
    best = -1;
    const [x, y] = [lon[town]!, lat[town]!];
    const near = around(
      index,
      x,
      y,
      40,
      KNOWN.within,
      (i) => population[i]! >= KNOWN.people && country(i) === country(town),
    );
    let most = -Infinity;
    for (const i of near) {
      const km = distanceKm(y, x, lat[i]!, lon[i]!);
      const score = Math.log10(population[i]!) - km / KNOWN.further;
      if (score > most) [best, most] = [i, score];
    }
    regions.set(town, best);
  }
  return best < 0 ? null : names[best]!;
}

/** The town a position belongs to: the nearest within 50 km, where larger ones reach further. Null at sea or in the wild. */
export function placeAt(lat: number, lon: number): NearTown | null {
  const towns = gazetteer();
  let best = -1;
  let least = Infinity;
  let away = 0;
  for (const i of around(towns.index, lon, lat, 12, FAR)) {
    const km = distanceKm(lat, lon, towns.lat[i]!, towns.lon[i]!);
    const reach = km / (1 + Math.log10(1 + towns.population[i]! / 2000));
    if (reach < least) {
      least = reach;
      best = i;
      away = km;
    }
  }
  return best < 0
    ? null
    : { country: towns.country(best), region: regionOf(best), place: towns.names[best]!, km: away };
}

/** Names of towns and the later words of them, folded, in alphabetical order, each with its town. */
interface Words {
  words: string[];
  towns: Int32Array;
}
let alphabet: Words | null = null;

function inOrder(): Words {
  if (alphabet) return alphabet;
  const all: string[] = [];
  const of: number[] = [];
  gazetteer().names.forEach((said, i) => {
    const name = fold(said);
    for (let at = 0; at >= 0; at = name.indexOf(' ', at) + 1 || -1) {
      all.push(name.slice(at));
      of.push(i);
    }
  });
  const order = Int32Array.from(all, (_, i) => i).sort((x, y) =>
    all[x]! < all[y]! ? -1 : all[x]! > all[y]! ? 1 : x - y,
  );
  alphabet = { words: Array.from(order, (i) => all[i]!), towns: order.map((i) => of[i]!) };
  return alphabet;
}

/** Reads the gazetteer and puts its names in order, so that the first search need not wait for it. */
export const readGazetteer = (): number => inOrder().words.length;

function toTown(town: number): Town {
  const { names, country, population, lat, lon } = gazetteer();
  return {
    country: country(town),
    region: regionOf(town),
    place: names[town]!,
    lat: lat[town]!,
    lon: lon[town]!,
    population: population[town]!,
  };
}

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
  const { names, population, lat, lon } = gazetteer();
  const hits: { town: number; score: number }[] = [];
  const seen = new Set<number>();
  for (let i = low; i < words.length && words[i]!.startsWith(wanted); i++) {
    const town = towns[i]!;
    if (seen.has(town)) continue;
    seen.add(town);
    const km = near ? distanceKm(near.lat, near.lon, lat[town]!, lon[town]!) : 0;
    const exact = fold(names[town]!) === wanted ? 1 : 0;
    hits.push({ town, score: exact + Math.log10(1 + population[town]! / 1000) - Math.log10(1 + km / 20) });
  }
  return hits
    .sort((a, b) => b.score - a.score)
    .slice(0, most)
    .map(({ town }) => toTown(town));
}

/** The largest towns in a box (west, south, east, north in degrees), for labels on the map. */
export function townsIn([west, south, east, north]: readonly [number, number, number, number], most: number): Town[] {
  const wide = east - west >= 360;
  const boxes = wide
    ? [[-180, 180] as const]
    : west <= east
      ? [[west, east] as const]
      : [[west, 180] as const, [-180, east] as const];
  const { index, population } = gazetteer();
  return boxes
    .flatMap(([a, b]) => index.range(a, south, b, north))
    .sort((a, b) => population[b]! - population[a]!)
    .slice(0, most)
    .map(toTown);
}
