import { distanceKm } from '../time/events';

/** One point of a recorded track: an instant in milliseconds since 1970 and a position in degrees. */
export interface TrackPoint {
  at: number;
  lat: number;
  lon: number;
}

/** Where somebody was at an instant, and how far in time the nearest point of the track is, in milliseconds. */
export interface OnTrack {
  lat: number;
  lon: number;
  away: number;
}

/**
 * Where a track was at an instant: between two points on the straight line in proportion to the time, near one point
 * there; null when no point lies within the tolerance.
 * @param track points in the order of time.
 * @param tolerance milliseconds.
 */
export function onTrack(track: readonly TrackPoint[], at: number, tolerance: number): OnTrack | null {
  let low = 0;
  let high = track.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (track[middle]!.at < at) low = middle + 1;
    else high = middle;
  }
  const after = track[low];
  const before = track[low - 1];
  const late = after ? after.at - at : Infinity;
  const early = before ? at - before.at : Infinity;
  const away = Math.min(late, early);
  if (away > tolerance) return null;
  if (before && after && late <= tolerance && early <= tolerance && after.at > before.at) {
    const part = early / (after.at - before.at);
    // The short way round where the line crosses the 180th meridian.
    const turn = after.lon - before.lon > 180 ? -360 : after.lon - before.lon < -180 ? 360 : 0;
    const lon = before.lon + (after.lon + turn - before.lon) * part;
    return {
      lat: before.lat + (after.lat - before.lat) * part,
      lon: lon > 180 ? lon - 360 : lon < -180 ? lon + 360 : lon,
      away,
    };
  }
  const nearest = (late <= early ? after : before)!;
  return { lat: nearest.lat, lon: nearest.lon, away };
}

/** A picture as finding places between others sees it: wall-clock milliseconds, and a position where known. */
export interface Spotted {
  id: number;
  at: number;
  lat: number | null;
  lon: number | null;
}

/** Pictures without a place that lie in time between two taken close to each other. */
export interface Between {
  ids: number[];
  lat: number;
  lon: number;
  /** The placed pictures before and after. */
  before: number;
  after: number;
}

/** How close the two must be: kilometres from each other, and milliseconds from the pictures between them. */
export const BETWEEN_DEFAULTS = { km: 2, gap: 3 * 3_600_000 };

/**
 * Finds pictures that were taken between two at the same place, and so most likely there too.
 * @param pictures in the order of time.
 */
export function betweenPlaces(pictures: readonly Spotted[], options = BETWEEN_DEFAULTS): Between[] {
  const found: Between[] = [];
  let last = -1;
  pictures.forEach((picture, i) => {
    if (picture.lat === null || picture.lon === null) return;
    const before = pictures[last];
    const run = pictures.slice(last + 1, i);
    last = i;
    if (!before || run.length === 0 || before.lat === null || before.lon === null) return;
    const near = distanceKm(before.lat, before.lon, picture.lat, picture.lon) <= options.km;
    const soon = run[0]!.at - before.at <= options.gap && picture.at - run[run.length - 1]!.at <= options.gap;
    const steady = run.every((p, k) => k === 0 || p.at - run[k - 1]!.at <= options.gap);
    if (near && soon && steady)
      found.push({
        ids: run.map((p) => p.id),
        lat: (before.lat + picture.lat) / 2,
        lon: (before.lon + picture.lon) / 2,
        before: before.id,
        after: picture.id,
      });
  });
  return found;
}
