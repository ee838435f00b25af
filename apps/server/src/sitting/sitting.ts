import type { Sitting } from '@gemmel/contract';
import { takenFromFileName, takenFromFolders } from '@gemmel/core';
import type { App } from '../context';
import { detailsOf } from '../event/detail';
import { pictureRows } from '../picture/rows';
import { ownPlaces } from '../place/own';
import { placesColumns } from '../place/places';
import { betweenOffers } from '../place/track';

/** How many events, runs and folders one sitting puts before people at a time. */
const MOST = 24;
const SHOWN = 4;

/** Pictures without a date by the folder they came in, with what the folder or a name would say. */
async function undated(app: App, library: number): Promise<Sitting['undated']> {
  const rows = (await app
    .db('pictures as p')
    .leftJoin('folders as f', 'f.id', 'p.folder_id')
    .where('p.library_id', library)
    .whereNull('p.taken_local')
    .orderBy('p.id')
    .select('p.id', 'p.shown as sha256', 'p.name', 'f.name as folder')) as {
    id: number;
    sha256: Buffer;
    name: string;
    folder: string | null;
  }[];
  const groups = new Map<string | null, typeof rows>();
  for (const row of rows) {
    const key = row.folder;
    const group = groups.get(key);
    if (group) group.push(row);
    else groups.set(key, [row]);
  }
  return [...groups].slice(0, MOST).map(([name, group]) => {
    const said = takenFromFolders(`${name ?? ''}/x`) ?? takenFromFileName(group[0]!.name);
    return {
      name,
      ids: group.map((row) => row.id),
      best: group.slice(0, SHOWN).map((row) => ({ id: row.id, sha: row.sha256.toString('hex') })),
      guess: said?.span ?? null,
    };
  });
}

async function unplaced(app: App, library: number): Promise<Sitting['unplaced']> {
  const offers = (await betweenOffers(app, library)).slice(-MOST).reverse();
  const shown = offers.flatMap((o) => [o.before, o.after, ...o.ids.slice(0, SHOWN)]);
  const rows = await pictureRows<{ id: number; shown: Buffer }>(app.db, library, shown, ['id', 'shown']);
  const shas = new Map(rows.map((row) => [row.id, row.shown.toString('hex')]));
  const columns = await placesColumns(app, library, offers);
  const own = new Map((await ownPlaces(app.db, library)).map((place) => [place.id, place.name]));
  const withSha = (id: number) => ({ id, sha: shas.get(id) ?? '' });
  return offers.map(({ ids, lat, lon, before, after }, i) => ({
    ids,
    lat,
    lon,
    name: own.get(columns[i]!.own_place_id ?? 0) ?? columns[i]!.place ?? null,
    before: withSha(before),
    after: withSha(after),
    best: ids.slice(0, SHOWN).map(withSha),
  }));
}

/** What is open about days, events and places, the newest first. */
export async function sittingOf(app: App, library: number): Promise<Sitting> {
  const { db } = app;
  const open = await db('events')
    .where('library_id', library)
    .whereNull('title')
    .orderBy('start_day', 'desc')
    .orderBy('id', 'desc')
    .select('id');
  const [{ n }] = (await db('clock_offers').where({ library_id: library, state: 'open' }).count('* as n')) as [
    { n: number },
  ];
  return {
    events: await detailsOf(
      app,
      library,
      open.slice(0, MOST).map((e) => e.id),
    ),
    unnamed: open.length,
    clocks: Number(n),
    undated: await undated(app, library),
    unplaced: await unplaced(app, library),
  };
}
