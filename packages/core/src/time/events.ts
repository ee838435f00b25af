/** One picture as event finding sees it. `at` is wall-clock time in milliseconds; place in degrees when known. */
export interface Shot {
  at: number;
  lat?: number | null;
  lon?: number | null;
}

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

/** How events are told apart. Lengths in milliseconds, distances in kilometres. */
export interface EventOptions {
  /** A pause shorter than this never ends an event, unless the place jumps. */
  shortest: number;
  /** A pause longer than this always ends an event. */
  longest: number;
  /** A pause during a journey, on which nobody came home, may be this long. */
  longestAway: number;
  /** A jump further than this during a pause over an hour ends an event made of one place. */
  farAway: number;
  /** From here on a pause overnight is part of a journey when both sides are this far from the household's usual place. */
  awayFromHome: number;
  /** How many gaps on either side say how densely the family was shooting. */
  window: number;
  /** How many times longer than the typical gap around it a pause must be. */
  factor: number;
}

export const EVENT_DEFAULTS: EventOptions = {
  shortest: 2.5 * HOUR,
  longest: 40 * HOUR,
  longestAway: 84 * HOUR,
  farAway: 60,
  awayFromHome: 25,
  window: 10,
  factor: 17,
};

/** Great-circle distance in kilometres (haversine formula, mean earth radius 6371 km). */
export function distanceKm(lat1: number, lon1: number, lat2: number, lon2: number): number {
  const r = Math.PI / 180;
  const a =
    Math.sin(((lat2 - lat1) * r) / 2) ** 2 +
    Math.cos(lat1 * r) * Math.cos(lat2 * r) * Math.sin(((lon2 - lon1) * r) / 2) ** 2;
  return 12_742 * Math.asin(Math.min(1, Math.sqrt(a)));
}

function placed(shot: Shot): { lat: number; lon: number } | null {
  return typeof shot.lat === 'number' && typeof shot.lon === 'number' ? { lat: shot.lat, lon: shot.lon } : null;
}

/** The nearest known place at or before (step -1), or at or after (step 1), within a day of index `i`. */
function placeNear(shots: readonly Shot[], i: number, step: -1 | 1): { lat: number; lon: number } | null {
  const start = shots[i];
  for (let j = i; start && j >= 0 && j < shots.length; j += step) {
    const shot = shots[j]!;
    if (Math.abs(shot.at - start.at) > 24 * HOUR) return null;
    const place = placed(shot);
    if (place) return place;
  }
  return null;
}

/** Days without a picture there that part two stays at one place. */
const AWAY_DAYS = 6;
/** Home is where somebody came back to so often, and clearly more often than anywhere else; or where they were most days, over so much of all time. */
const HOME = { stays: 3, ahead: 1.25, share: 0.5, time: 0.5 } as const;
/** With fewer days of pictures than this nothing tells a journey from home: the usual place is where most of them are. */
const FEW_DAYS = 12;

/**
 * The household's usual place: where, within about half a degree, it came back to most often, as the middle of the pictures
 * there. Stays count and not days, so that one long holiday is not taken for home. Null when no place stands out, as when
 * nothing at home says where it was taken.
 */
export function usualPlace(shots: readonly Shot[]): { lat: number; lon: number } | null {
  const cells = new Map<string, { days: Set<number>; lat: number; lon: number; n: number }>();
  const days = new Set<number>();
  for (const shot of shots) {
    const day = Math.floor(shot.at / DAY);
    days.add(day);
    const place = placed(shot);
    if (!place) continue;
    const key = `${Math.round(place.lat * 4)}|${Math.round(place.lon * 4)}`;
    const cell = cells.get(key) ?? { days: new Set(), lat: 0, lon: 0, n: 0 };
    cell.days.add(day);
    cell.lat += place.lat;
    cell.lon += place.lon;
    cell.n++;
    cells.set(key, cell);
  }
  const found = [...cells.keys()].map((key) => {
    const [y, x] = key.split('|').map(Number) as [number, number];
    // A town may lie on the edge of a cell: its neighbours belong to it.
    const around = { days: new Set<number>(), lat: 0, lon: 0, n: 0 };
    for (let dy = -1; dy <= 1; dy++)
      for (let dx = -1; dx <= 1; dx++) {
        const cell = cells.get(`${y + dy}|${x + dx}`);
        if (!cell) continue;
        for (const day of cell.days) around.days.add(day);
        around.lat += cell.lat;
        around.lon += cell.lon;
        around.n += cell.n;
      }
    const sorted = [...around.days].sort((a, b) => a - b);
    const stays = sorted.filter((day, i) => i === 0 || day - sorted[i - 1]! > AWAY_DAYS).length;
    return {
      lat: around.lat / around.n,
      lon: around.lon / around.n,
      stays,
      days: sorted.length,
      span: sorted[sorted.length - 1]! - sorted[0]!,
    };
  });
  found.sort((a, b) => b.stays - a.stays || b.days - a.days);
  const best = found[0];
  if (!best) return null;
  if (days.size < FEW_DAYS) return found.reduce((most, one) => (one.days > most.days ? one : most));
  const next = found.find((one) => distanceKm(one.lat, one.lon, best.lat, best.lon) > 100);
  if (best.stays >= HOME.stays && best.stays >= HOME.ahead * (next?.stays ?? 0)) return best;
  const most = found.reduce((a, b) => (b.days > a.days ? b : a));
  const all = [...days].sort((a, b) => a - b);
  const time = all[all.length - 1]! - all[0]!;
  return most.days >= HOME.share * days.size && most.span >= HOME.time * time ? most : null;
}

/**
 * Finds events in pictures sorted by time: returns, for each picture, the number of its event, counted from 0.
 *
 * A pause ends an event when it is long against the pauses around it (the logarithm of the gap against the local mean
 * of logarithms: Platt, Czerwinski and Field, "PhotoTOC", 2003), so that a family that shoots densely gets finer events
 * than one that seldom does. Two floors and a ceiling keep it sensible, a jump in place ends an event early, and nights
 * away from the usual place do not break up a journey.
 */
export function findEvents(shots: readonly Shot[], options: Partial<EventOptions> = {}): Int32Array {
  const o = { ...EVENT_DEFAULTS, ...options };
  const n = shots.length;
  const result = new Int32Array(n);
  if (n < 2) return result;
  const home = usualPlace(shots);
  const gaps = new Float64Array(n - 1);
  // Bursts are one act of taking pictures: below half a minute a gap says nothing more about density.
  const logs = new Float64Array(n - 1);
  for (let i = 0; i + 1 < n; i++) {
    gaps[i] = Math.max(0, shots[i + 1]!.at - shots[i]!.at);
    logs[i] = Math.log(Math.max(30_000, gaps[i]!));
  }
  const threshold = Math.log(o.factor);
  let event = 0;
  for (let i = 0; i + 1 < n; i++) {
    const gap = gaps[i]!;
    let sum = 0;
    let count = 0;
    for (let j = Math.max(0, i - o.window); j <= Math.min(n - 2, i + o.window); j++)
      if (j !== i && gaps[j]! < o.longest) {
        sum += logs[j]!;
        count++;
      }
    const dense = count === 0 || logs[i]! >= threshold + sum / count;
    const before = placeNear(shots, i, -1);
    const after = placeNear(shots, i + 1, 1);
    const jump = before && after ? distanceKm(before.lat, before.lon, after.lat, after.lon) : null;
    // Where home is not known, what says where it was taken was taken away from it.
    const away = (p: { lat: number; lon: number } | null) =>
      p !== null && (home === null || distanceKm(home.lat, home.lon, p.lat, p.lon) > o.awayFromHome);
    const journey = gap < o.longestAway && away(before) && away(after) && (jump ?? Infinity) < 4 * o.farAway;
    const jumped = jump !== null && jump > o.farAway && gap > HOUR;
    const ends = !journey && (gap >= o.longest || jumped || (gap >= o.shortest && dense));
    if (ends) event++;
    result[i + 1] = event;
  }
  return result;
}
