import type { Sitting } from '@gemmel/contract';
import { sayWhenSpan, takenFromFileName, takenFromFolders, ownPlaceAt } from '@gemmel/core';
import { chunks, type App } from '../context';
import { detailsOf } from '../event/detail';
import type { PlaceNames } from '../media/places';
import { ownPlaces } from '../place/places';
import { betweenOffers } from '../place/track';

/** How many events, runs and folders one sitting puts before people at a time. */
const MOST = 24;
const SHOWN = 4;

async function shaOf(app: App, ids: readonly number[]): Promise<Map<number, string>> {
  const found = new Map<number, string>();
  for (const some of chunks(ids, 1000))
    for (const row of (await app.db('pictures').whereIn('id', some).select('id', 'sha256')) as {
      id: number;
      sha256: Buffer;
    }[])
      found.set(row.id, row.sha256.toString('hex'));
  return found;
}

/** Pictures without a date by the folder they came in, with what the folder or a name would say. */
async function undated(app: App, library: number): Promise<Sitting['undated']> {
  const rows = (await app
    .db('pictures as p')
    .leftJoin('folders as f', 'f.id', 'p.folder_id')
    .where('p.library_id', library)
    .whereNull('p.taken_local')
    .orderBy('p.id')
    .select('p.id', 'p.sha256', 'p.name', 'f.name as folder')) as {
    id: number;
    sha256: Buffer;
    name: string;
    folder: string | null;
  }[];
  const groups = new Map<string, typeof rows>();
  for (const row of rows) {
    const key = row.folder ?? 'Without a folder';
    const group = groups.get(key);
    if (group) group.push(row);
    else groups.set(key, [row]);
  }
  return [...groups].slice(0, MOST).map(([name, group]) => {
    const said = takenFromFolders(`${name}/x`) ?? takenFromFileName(group[0]!.name);
    return {
      name,
      ids: group.map((row) => row.id),
      best: group.slice(0, SHOWN).map((row) => ({ id: row.id, sha: row.sha256.toString('hex') })),
      guess: said?.span ? sayWhenSpan(said.span) : null,
    };
  });
}

async function unplaced(app: App, library: number): Promise<Sitting['unplaced']> {
  const offers = (await betweenOffers(app, library)).slice(-MOST).reverse();
  const shas = await shaOf(
    app,
    offers.flatMap((o) => [o.before, o.after, ...o.ids.slice(0, SHOWN)]),
  );
  const own = await ownPlaces(app.db, library);
  const withSha = (id: number) => ({ id, sha: shas.get(id) ?? '' });
  return Promise.all(
    offers.map(async ({ ids, lat, lon, before, after }) => {
      const near = (await app.pool.run({ lat, lon }, { name: 'place' })) as PlaceNames | null;
      return {
        ids,
        lat,
        lon,
        name: ownPlaceAt(own, lat, lon)?.name ?? near?.place ?? 'the same spot',
        before: withSha(before),
        after: withSha(after),
        best: ids.slice(0, SHOWN).map(withSha),
      };
    }),
  );
}

/** What is open about days, events and places, the newest first. */
export async function sittingOf(app: App, library: number): Promise<Sitting> {
  const { db } = app;
  const open = (await db('events')
    .where('library_id', library)
    .whereNull('title')
    .orderBy('start_day', 'desc')
    .orderBy('id', 'desc')
    .select('id')) as { id: number }[];
  const [{ n }] = (await db('clock_offers')
    .where({ library_id: library, state: 'open' })
    .count('* as n')) as unknown as [{ n: number }];
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
