import type { Place, PlacesBefore, Positions, TownHit, OwnPlaceShape } from '@gemmel/contract';
import { distanceKm, ownPlaceAt, packSpots, usualPlace, type OwnPlace, type Question } from '@gemmel/core';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { ask } from '../jobs/jobs';
import type { NearTown, Town } from '../media/places';
import { allPictureRows } from '../picture/rows';
import { notFound, Refused } from '../problem';
import { countryName } from '../picture/placeName';
import { conditionOf } from '../picture/pictures';
import { markDirty } from '../vault/sidecar';

/** A spot on earth, in degrees. */
export interface Spot {
  lat: number;
  lon: number;
}

/** The household's own places. */
export async function ownPlaces(db: Db, library: number): Promise<OwnPlace[]> {
  const rows = (await db('own_places').where('library_id', library).orderBy('name')) as (OwnPlace & {
    library_id: number;
  })[];
  return rows.map(({ id, name, lat, lon, metres, hidden }) => ({
    id,
    name,
    lat,
    lon,
    metres,
    hidden: Boolean(hidden),
  }));
}

/** The columns that say where spots are, in their order; all empty for none. */
export async function placesColumns(app: App, library: number, spots: readonly (Spot | null)[]) {
  const towns = (await app.pool.run(
    spots.flatMap((spot) => (spot ? [spot] : [])),
    { name: 'places' },
  )) as (NearTown | null)[];
  const own = await ownPlaces(app.db, library);
  let next = 0;
  return spots.map((spot) => {
    const town = spot ? towns[next++] : null;
    return {
      lat: spot?.lat ?? null,
      lon: spot?.lon ?? null,
      country: town?.country ?? null,
      region: town?.region ?? null,
      place: town?.place ?? null,
      place_km: town?.km ?? null,
      own_place_id: spot ? (ownPlaceAt(own, spot.lat, spot.lon)?.id ?? null) : null,
    };
  });
}

/** The columns that say where one spot is. */
export const placeColumns = async (app: App, library: number, spot: Spot | null) =>
  (await placesColumns(app, library, [spot]))[0]!;

/** Places with their counts: country, region, place, and the household's own. */
export async function listPlaces(app: App, library: number): Promise<Place[]> {
  const rows = (await app
    .db('pictures')
    .where('library_id', library)
    .whereNotNull('lat')
    .groupBy('country', 'region', 'place', 'own_place_id')
    .orderByRaw('country IS NULL, country, COUNT(*) DESC')
    .select(
      'country',
      'region',
      'place',
      'own_place_id as own',
      app.db.raw('COUNT(*) AS pictures'),
    )) as unknown as (Omit<Place, 'countryName' | 'country'> & { country: string | null })[];
  return rows.map((r) => ({
    country: r.country ?? '',
    countryName: r.country ? countryName(r.country) : 'At sea, or far from any town',
    region: r.region,
    place: r.place,
    own: r.own,
    pictures: Number(r.pictures),
  }));
}

/** Where the pictures of a question were taken, in columns: ids and positions in steps of 1e-5 degrees, as differences. */
export async function positionsOf(app: App, library: number, question: Question): Promise<Positions> {
  const { sql, values } = await conditionOf(app, library, question);
  const [rows] = (await app.db.raw(
    `SELECT p.id, p.lat, p.lon FROM pictures p WHERE p.library_id = ? AND p.lat IS NOT NULL AND (${sql}) ORDER BY p.taken_local, p.id`,
    [library, ...values],
  )) as [{ id: number; lat: number; lon: number }[]];
  return packSpots(rows);
}

/** The spot where this household most likely is: where it took pictures in the most separate weeks. */
export async function homeOf(app: App, library: number): Promise<Spot | null> {
  const [rows] = (await app.db.raw(
    `SELECT UNIX_TIMESTAMP(day) * 1000 AS at, AVG(lat) AS lat, AVG(lon) AS lon FROM pictures
     WHERE library_id = ? AND lat IS NOT NULL AND day IS NOT NULL GROUP BY day, ROUND(lat * 4), ROUND(lon * 4)`,
    [library],
  )) as [{ at: number; lat: number; lon: number }[]];
  return usualPlace(rows.map((row) => ({ at: Number(row.at), lat: row.lat, lon: row.lon })));
}

/** Names of places that begin as typed: the household's own first, then towns, the nearest and largest first. */
export async function searchPlaces(app: App, library: number, typed: string, near: Spot | null): Promise<TownHit[]> {
  const wanted = typed.trim().toLocaleLowerCase();
  const own = (await ownPlaces(app.db, library)).filter((p) => p.name.toLocaleLowerCase().includes(wanted));
  const middle = near ?? (await homeOf(app, library));
  const towns = (await app.pool.run({ typed, near: middle }, { name: 'townsNamed' })) as Town[];
  return [
    ...own.map((p) => ({ name: p.name, sub: 'a place of your own', lat: p.lat, lon: p.lon, km: away(middle, p) })),
    ...towns.map((t) => ({
      name: t.place,
      sub: [t.region && t.region !== t.place ? `around ${t.region}` : null, countryName(t.country)]
        .filter(Boolean)
        .join(', '),
      lat: t.lat,
      lon: t.lon,
      km: away(middle, t),
    })),
  ];
}

const away = (from: Spot | null, to: Spot): number | null =>
  from && Math.round(distanceKm(from.lat, from.lon, to.lat, to.lon));

interface Placed {
  id: number;
  lat: number | null;
  lon: number | null;
  place_source: string | null;
}

const placedRows = (app: App, library: number, ids: readonly number[]): Promise<Placed[]> =>
  allPictureRows(app.db, library, ids, ['id', 'lat', 'lon', 'place_source']);

async function settle(app: App, library: number, ids: readonly number[]): Promise<void> {
  await markDirty(app.db, library, ids);
  await ask(app.db, library, 'events', 0, 500);
  app.changed(library, 'pictures', 'events', 'library');
}

/** Gives pictures a place, or takes it away with null; answers with what stood there before. */
export async function placePictures(
  app: App,
  library: number,
  given: readonly { ids: readonly number[]; spot: Spot | null }[],
  source: 'hand' | 'track' | 'copied',
): Promise<PlacesBefore> {
  const ids = given.flatMap((one) => one.ids);
  if (new Set(ids).size < ids.length) throw new Refused(400, 'A picture can be in one place only.');
  const rows = await placedRows(app, library, ids);
  const columns = await placesColumns(
    app,
    library,
    given.map((one) => one.spot),
  );
  await app.db.transaction(async (trx) => {
    for (const [i, one] of given.entries())
      for (const some of chunks(one.ids, 1000))
        await trx('pictures')
          .where('library_id', library)
          .whereIn('id', some)
          .update({ ...columns[i], place_source: source });
  });
  await settle(app, library, ids);
  return {
    pictures: rows.map(({ id, lat, lon, place_source }) => ({ id, lat, lon, source: place_source })),
  };
}

/** Undoes giving places: everything is where it was. */
export async function restorePlaces(app: App, library: number, before: PlacesBefore): Promise<void> {
  const ids = before.pictures.map((p) => p.id);
  await placedRows(app, library, ids);
  const columns = await placesColumns(
    app,
    library,
    before.pictures.map(({ lat, lon }) => (lat === null || lon === null ? null : { lat, lon })),
  );
  await app.db.transaction(async (trx) => {
    for (const [i, { id, source }] of before.pictures.entries())
      await trx('pictures')
        .where({ id, library_id: library })
        .update({ ...columns[i], place_source: source });
  });
  await settle(app, library, ids);
}

/** Says anew which pictures lie in the household's own places. */
async function refreshOwn(app: App, library: number): Promise<void> {
  const places = await ownPlaces(app.db, library);
  const rows = (await app
    .db('pictures')
    .where('library_id', library)
    .whereNotNull('lat')
    .select('id', 'lat', 'lon', 'own_place_id')) as {
    id: number;
    lat: number;
    lon: number;
    own_place_id: number | null;
  }[];
  const moves = new Map<number | null, number[]>();
  for (const row of rows) {
    const own = ownPlaceAt(places, row.lat, row.lon)?.id ?? null;
    if (own !== row.own_place_id) moves.set(own, [...(moves.get(own) ?? []), row.id]);
  }
  for (const [own, ids] of moves)
    for (const some of chunks(ids, 1000)) await app.db('pictures').whereIn('id', some).update({ own_place_id: own });
  app.changed(library, 'pictures', 'events', 'library');
}

/** Makes a place of the household's own, or brings a removed one back under its number. */
export async function makeOwnPlace(
  app: App,
  library: number,
  place: OwnPlaceShape & { id?: number | undefined },
): Promise<number> {
  const [id] = await app.db('own_places').insert({ ...place, library_id: library });
  await refreshOwn(app, library);
  return place.id ?? id!;
}

/** Changes a place of the household's own; answers with what it was. */
export async function changeOwnPlace(
  app: App,
  library: number,
  id: number,
  change: Partial<OwnPlaceShape>,
): Promise<OwnPlaceShape> {
  const before = (await ownPlaces(app.db, library)).find((p) => p.id === id);
  if (!before) throw notFound('This place');
  if (Object.keys(change).length) await app.db('own_places').where({ id, library_id: library }).update(change);
  await refreshOwn(app, library);
  const { name, lat, lon, metres, hidden } = before;
  return { name, lat, lon, metres, hidden };
}

/** Removes a place of the household's own; the pictures keep their positions. Answers with what it was. */
export async function removeOwnPlace(app: App, library: number, id: number): Promise<OwnPlaceShape> {
  const before = await changeOwnPlace(app, library, id, {});
  await app.db('own_places').where({ id, library_id: library }).delete();
  await refreshOwn(app, library);
  return before;
}
