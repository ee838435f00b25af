import { betweenPlaces, offsetAt, offsetOfLocal, onTrack, type TrackPoint } from '@gemmel/core';
import type { TrackAnswer } from '@gemmel/contract';
import type { App } from '../context';
import { pictureRows } from '../picture/rows';
import { homeOf } from '../time/home';

interface Row {
  id: number;
  taken_local: string | null;
  offset_minutes: number | null;
  taken_exact: string | null;
}

/**
 * Where pictures were taken by a recorded track: their instants, put right by a shift, looked up in it. A picture without
 * an offset is read in the zone the track begins in.
 * @param shift seconds to add to the camera's times. @param tolerance seconds.
 */
export async function byTrack(
  app: App,
  library: number,
  ids: readonly number[],
  track: readonly TrackPoint[],
  shift: number,
  tolerance: number,
): Promise<TrackAnswer> {
  const points = [...track].sort((a, b) => a.at - b.at);
  const first = points[0];
  const zone = first
    ? ((await app.lookups.run({ lat: first.lat, lon: first.lon }, { name: 'zone' })) as string | null)
    : null;
  const rows = await pictureRows<Row>(app.db, library, ids, ['id', 'taken_local', 'offset_minutes', 'taken_exact']);
  const home = await homeOf(app.db, library);
  const placed: TrackAnswer['placed'] = [];
  for (const row of rows) {
    // What only knows its summer was nowhere at a moment.
    if (row.taken_local === null || row.taken_exact !== null) continue;
    const local = row.taken_local.replace(' ', 'T');
    const offset =
      row.offset_minutes ?? offsetOfLocal(zone ?? home, local) ?? offsetAt(home, Date.parse(`${local}Z`)) ?? 0;
    const at = Date.parse(`${local}Z`) - offset * 60_000 + shift * 1000;
    const spot = onTrack(points, at, tolerance * 1000);
    if (spot) placed.push({ id: row.id, lat: spot.lat, lon: spot.lon, seconds: Math.round(spot.away / 1000) });
  }
  return { placed, left: ids.length - placed.length };
}

/** Pictures without a place that were taken between two at the same place, with what stands beside them. */
export async function betweenOffers(app: App, library: number, most = 200) {
  const rows = (await app
    .db('pictures')
    .where('library_id', library)
    .whereNotNull('taken_local')
    .whereNull('taken_exact')
    .where('taken_certainty', '>=', 0.35)
    .orderBy('taken_local')
    .orderBy('id')
    .select('id', 'taken_local', 'lat', 'lon')) as {
    id: number;
    taken_local: string;
    lat: number | null;
    lon: number | null;
  }[];
  return betweenPlaces(
    rows.map((row) => ({
      id: row.id,
      at: Date.parse(`${row.taken_local.replace(' ', 'T')}Z`),
      lat: row.lat,
      lon: row.lon,
    })),
  ).slice(-most);
}
