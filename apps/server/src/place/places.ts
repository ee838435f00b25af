import type { Place, Positions, TownHit, OwnPlaceShape } from '@gemmel/contract';
import { distanceKm, ownPlaceAt, packSpots, usualPlace, type OwnPlace, type Question } from '@gemmel/core';
import { perform, type Act, type By } from '../act/perform';
import { chunks, type App } from '../context';
import type { NearTown, Town } from '../media/places';
import { notFound, refused } from '../problem';
import { LRUCache } from 'lru-cache';
import { conditionOf } from '../picture/pictures';
import { ownPlaces, refreshOwn } from './own';

/** A spot on earth, in degrees. */
export interface Spot {
  lat: number;
  lon: number;
}

/** The columns that say where spots are, in their order; all empty for none. */
export async function placesColumns(app: App, library: number, spots: readonly (Spot | null)[]) {
  const towns: (NearTown | null)[] = [];
  // A few at a time: whoever types the name of a place is answered between them.
  for (const some of chunks(
    spots.flatMap((spot) => (spot ? [spot] : [])),
    1000,
  ))
    towns.push(...((await app.lookups.run(some, { name: 'places' })) as (NearTown | null)[]));
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
    // As the index has them, so that nothing is sorted.
    .groupBy('country', 'place', 'region', 'own_place_id')
    .orderByRaw('country IS NULL, country, COUNT(*) DESC, place, region, own_place_id')
    .select('country', 'region', 'place', 'own_place_id as own', app.db.raw('COUNT(*) AS pictures'))) as (Omit<
    Place,
    'country'
  > & { country: string | null })[];
  return rows.map((r) => ({
    country: r.country ?? '',
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

/** Where home is changes rarely, and reading it takes all pictures. */
const homes = new WeakMap<App, LRUCache<number, { spot: Spot | null }>>();
async function homeLately(app: App, library: number): Promise<Spot | null> {
  const mine = homes.get(app) ?? new LRUCache<number, { spot: Spot | null }>({ max: 100, ttl: 600_000 });
  homes.set(app, mine);
  const known = mine.get(library) ?? { spot: await homeOf(app, library) };
  mine.set(library, known);
  return known.spot;
}

/** Names of places that begin as typed: the household's own first, then towns, the nearest and largest first. */
export async function searchPlaces(app: App, library: number, typed: string, near: Spot | null): Promise<TownHit[]> {
  const wanted = typed.trim().toLocaleLowerCase();
  const own = (await ownPlaces(app.db, library)).filter((p) => p.name.toLocaleLowerCase().includes(wanted));
  const middle = near ?? (await homeLately(app, library));
  const towns = (await app.lookups.run({ typed, near: middle }, { name: 'townsNamed' })) as Town[];
  return [
    ...own.map((p) => ({ name: p.name, in: null, lat: p.lat, lon: p.lon, km: away(middle, p) })),
    ...towns.map((t) => ({
      name: t.place,
      in: { country: t.country, region: t.region && t.region !== t.place ? t.region : null },
      lat: t.lat,
      lon: t.lon,
      km: away(middle, t),
    })),
  ];
}

const away = (from: Spot | null, to: Spot): number | null =>
  from && Math.round(distanceKm(from.lat, from.lon, to.lat, to.lon));

/** Gives pictures a place, or takes it away with null. */
export async function placePictures(
  app: App,
  by: By,
  given: readonly { ids: readonly number[]; spot: Spot | null }[],
  source: 'hand' | 'track' | 'copied',
): Promise<{ act: number | null }> {
  const ids = given.flatMap((one) => one.ids);
  if (new Set(ids).size < ids.length) throw refused('two-places');
  const columns = await placesColumns(
    app,
    by.library,
    given.map((one) => one.spot),
  );
  return perform(app, by, 'place', async ({ trx, library, hold, words }) => {
    if ((await hold('pictures', ids)).length < ids.length) throw notFound('pictures');
    for (const [i, one] of given.entries())
      for (const some of chunks(one.ids, 1000))
        await trx('pictures')
          .where('library_id', library)
          .whereIn('id', some)
          .update({ ...columns[i], place_source: source });
    const [first] = columns;
    const own = (await ownPlaces(trx, library)).find((place) => place.id === first?.own_place_id);
    words({
      to: given.length === 1 ? (own?.name ?? first?.place ?? null) : null,
      what: [given.every((g) => !g.spot) ? 'none' : source],
    });
  });
}

/** Makes a place of the household's own. */
export const makeOwnPlace = (app: App, by: By, place: OwnPlaceShape): Promise<{ id: number; act: number | null }> =>
  perform(app, by, 'make place', async (act) => {
    const [id] = (await act.trx('own_places').insert({ ...place, library_id: act.library })) as [number];
    act.made('own_places', id);
    await refreshOwn(act.trx, act.library, [place]);
    act.words({ name: place.name });
    return { id };
  });

/** A place of the household's own, held. */
async function ownPlace({ trx, library, hold }: Act, id: number): Promise<OwnPlace> {
  await hold('own_places', [id]);
  const place = (await ownPlaces(trx, library)).find((p) => p.id === id);
  if (!place) throw notFound('place');
  return place;
}

/** Changes a place of the household's own. */
export const changeOwnPlace = (
  app: App,
  by: By,
  id: number,
  change: Partial<OwnPlaceShape>,
): Promise<{ act: number | null }> =>
  perform(app, by, 'change place', async (act) => {
    const before = await ownPlace(act, id);
    if (Object.keys(change).length) await act.trx('own_places').where({ id, library_id: act.library }).update(change);
    await refreshOwn(act.trx, act.library, [before, { ...before, ...change }]);
    act.words({ name: before.name, what: Object.keys(change), ...(change.name ? { to: change.name } : {}) });
  });

/** Removes a place of the household's own; the pictures keep their positions. */
export const removeOwnPlace = (app: App, by: By, id: number): Promise<{ act: number | null }> =>
  perform(app, by, 'remove place', async (act) => {
    const before = await ownPlace(act, id);
    await act.trx('own_places').where({ id, library_id: act.library }).delete();
    await refreshOwn(act.trx, act.library, [before]);
    act.words({ name: before.name });
  });
