import { seenBy } from '../sight/through';
import { halves, type BestOf, type BestWish, type Eligible, type Flaw } from '@gemmel/core';
import { LRUCache } from 'lru-cache';
import { chunks, type App } from '../context';
import { KEPT_FOR, newsOf } from '../question/news';
import type { Sql } from '../question/toSql';
import type { Best } from './row';

/** Most pictures that are held against each other: of every day its best, then its next best, and the best of all. */
const MOST = 6000;
const FLAWS: readonly Flaw[] = ['blurred', 'dark', 'bright', 'screenshot', 'shut eyes'];

/** What people said of a picture, and whether it stands for its run, as one number to order by. */
const SAID = `(IF(p.rating = 1, 0, p.rating * 4 + 2) + p.favourite * 5 + p.chosen * 2 + p.run_first)`;

interface Row {
  id: number;
  taken_local: string | null;
  taken_exact: string | null;
  rating: number;
  favourite: number;
  run_id: number | null;
  run_first: number;
  chosen: number;
  alike_id: number | null;
  likeness: string | null;
  sharpness: number | null;
  pixels: number;
  country: string | null;
  place: string | null;
  own_place_id: number | null;
}

/** The pictures of a question that may be among the best, with what core goes by. */
export async function eligible(app: App, library: number, { sql, values }: Sql): Promise<Eligible[]> {
  const { db } = app;
  const [rows] = (await db.raw(
    `SELECT p.id, p.taken_local, p.taken_exact, p.rating, p.favourite, p.run_id, p.run_first, p.chosen, p.alike_id,
            CAST(p.likeness AS CHAR) AS likeness, p.sharpness, p.width * p.height AS pixels, p.country, p.place, p.own_place_id
     FROM (SELECT p.id, ROW_NUMBER() OVER (PARTITION BY p.day ORDER BY ${SAID} DESC, p.id) AS nth, ${SAID} AS said
           FROM pictures p WHERE p.library_id = ? AND (${sql})) AS one
     JOIN pictures p ON p.id = one.id
     ORDER BY IF(one.said >= 22, 0, one.nth), one.said DESC, p.id LIMIT ${MOST}`,
    [library, ...values],
  )) as [Row[]];
  const ids = rows.map((row) => row.id);
  const people = new Map<number, Set<number>>();
  const quality = new Map<number, { sum: number; n: number }>();
  const flaws = new Map<number, Flaw[]>();
  const albums = new Map<number, number>();
  for (const some of chunks(ids, 2000)) {
    for (const face of await db('faces')
      .whereIn('picture_id', some)
      .whereIn('state', ['waiting', 'named'])
      .select('picture_id', 'person_id', 'group_key', 'quality')) {
      const there = quality.get(face.picture_id) ?? { sum: 0, n: 0 };
      quality.set(face.picture_id, { sum: there.sum + face.quality, n: there.n + 1 });
      const who = face.person_id ?? (face.group_key === null ? null : -face.group_key);
      if (who === null) continue;
      const set = people.get(face.picture_id);
      if (set) set.add(who);
      else people.set(face.picture_id, new Set([who]));
    }
    for (const { picture_id, kind } of await db('picture_observations')
      .whereIn('picture_id', some)
      .whereIn('kind', FLAWS)
      .select('picture_id', 'kind'))
      flaws.set(picture_id, [...(flaws.get(picture_id) ?? []), kind as Flaw]);
    for (const { picture_id, n } of (await db('album_pictures as ap')
      .join('albums as a', 'a.id', 'ap.album_id')
      .whereNull('a.removed_at')
      .whereIn('ap.picture_id', some)
      .groupBy('ap.picture_id')
      .select('ap.picture_id', db.raw('COUNT(*) AS n'))) as unknown as { picture_id: number; n: number }[])
      albums.set(picture_id, Number(n));
  }
  const { high, low } = halves(rows.map((row) => row.likeness ?? '0'));
  return rows.map((row, i) => {
    const faces = quality.get(row.id);
    return {
      id: row.id,
      at: row.taken_local === null ? null : Date.parse(`${row.taken_local.replace(' ', 'T')}Z`),
      exact: row.taken_exact === null,
      rating: row.rating,
      favourite: Boolean(row.favourite),
      run: row.run_id,
      runBest: Boolean(row.chosen || row.run_first),
      alike: row.alike_id,
      hash: row.likeness === null ? null : [high[i]!, low[i]!],
      sharp: row.sharpness,
      pixels: Number(row.pixels),
      people: [...(people.get(row.id) ?? [])],
      faces: faces ? faces.sum / faces.n : null,
      place: row.own_place_id ? `own ${row.own_place_id}` : row.place && `${row.country} ${row.place}`,
      flaws: flaws.get(row.id) ?? [],
      albums: albums.get(row.id) ?? 0,
    };
  });
}

/** The best of what a question asks for, chosen in a thread, each with what speaks for it; the best first. */
export async function bestAmong(app: App, library: number, asked: Sql, wish: BestWish): Promise<BestOf[]> {
  const pictures = await eligible(app, library, asked);
  return (await app.lookups.run({ pictures, wish }, { name: 'bestOf' })) as BestOf[];
}

/** What was chosen lately: as long as no news says otherwise, it is not chosen again for each thumbnail of a share. */
const chosen = new LRUCache<string, Promise<number[]>>({ max: 300, ttl: KEPT_FOR });

/** The pictures of a smart album that holds the best so many. Those somebody put in by hand are among them in any case. */
export async function bestIds(
  app: App,
  library: number,
  asked: Sql,
  { n, spread }: Best,
  album: number,
): Promise<number[]> {
  const hand = await app
    .db('album_hand')
    .where({ album_id: album, way: 'in' })
    .orderBy('picture_id')
    .select('picture_id');
  const kept = hand.map((row) => row.picture_id);
  const news = await newsOf(app.db, library);
  const at = ['pictures', 'said', 'people', 'runs', 'albums', 'tags', 'events', 'marks'].map(
    (topic) => news.get(topic) ?? '',
  );
  const key = JSON.stringify([library, seenBy(app.db), asked, n, spread, kept, at]);
  const there = chosen.get(key);
  if (there) return there;
  const choosing = (async () => {
    const best = await bestAmong(app, library, asked, { n: n + kept.length, spread, people: 0.5 });
    const byHand = new Set(kept);
    const rest = best.map(({ id }) => id).filter((id) => !byHand.has(id));
    return [...kept, ...rest.slice(0, Math.max(0, n - kept.length))];
  })();
  chosen.set(key, choosing);
  choosing.catch(() => chosen.delete(key));
  return choosing;
}
