import { ownPlaceAt, type OwnPlace } from '@gemmel/core';
import { chunks } from '../context';
import type { Db } from '../db/open';

/** A circle on earth: its middle in degrees, and how far it reaches. */
export interface Circle {
  lat: number;
  lon: number;
  metres: number;
}

/** The household's own places. */
export async function ownPlaces(db: Db, library: number): Promise<OwnPlace[]> {
  const rows = await db('own_places').where('library_id', library).orderBy('name');
  return rows.map(({ id, name, lat, lon, metres, hidden }) => ({
    id,
    name,
    lat,
    lon,
    metres,
    hidden: Boolean(hidden),
  }));
}

interface Lying {
  id: number;
  lat: number;
  lon: number;
  own_place_id: number | null;
}

/** Keeps the own place of pictures that lie in another one than is noted. */
async function fileUnder(db: Db, places: readonly OwnPlace[], rows: readonly Lying[]): Promise<void> {
  const moves = new Map<number | null, number[]>();
  for (const row of rows) {
    const own = ownPlaceAt(places, row.lat, row.lon)?.id ?? null;
    if (own === row.own_place_id) continue;
    const list = moves.get(own);
    if (list) list.push(row.id);
    else moves.set(own, [row.id]);
  }
  for (const [own, ids] of moves)
    for (const some of chunks(ids, 1000)) await db('pictures').whereIn('id', some).update({ own_place_id: own });
}

/** Metres of one degree of latitude. */
const DEGREE = 111_195;

/** Says anew which of the pictures in some circles, those of places before and after a change, lie in which own place. */
export async function refreshOwn(db: Db, library: number, circles: readonly Circle[]): Promise<void> {
  const places = await ownPlaces(db, library);
  for (const { lat, lon, metres } of circles) {
    // A little more than the circle, since degrees and distances are rounded.
    const high = (metres * 1.01 + 10) / DEGREE;
    const wide = Math.min(180, high / Math.max(0.01, Math.cos((Math.min(89, Math.abs(lat) + high) * Math.PI) / 180)));
    const rows = (await db('pictures')
      .where('library_id', library)
      .whereBetween('lat', [lat - high, lat + high])
      .where((q) => {
        void q.whereBetween('lon', [lon - wide, lon + wide]);
        // A circle over the line where longitudes turn.
        if (lon - wide < -180) void q.orWhere('lon', '>=', lon - wide + 360);
        if (lon + wide > 180) void q.orWhere('lon', '<=', lon + wide - 360);
      })
      .select('id', 'lat', 'lon', 'own_place_id')) as Lying[];
    await fileUnder(db, places, rows);
  }
}

/** Says anew in which own place some pictures lie. */
export async function refreshOwnOf(db: Db, library: number, ids: readonly number[]): Promise<void> {
  const places = await ownPlaces(db, library);
  for (const some of chunks(ids, 1000))
    await fileUnder(
      db,
      places,
      await db('pictures')
        .where('library_id', library)
        .whereIn('id', some)
        .whereNotNull('lat')
        .select('id', 'lat', 'lon', 'own_place_id'),
    );
}
