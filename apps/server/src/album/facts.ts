import { seenBy } from '../sight/through';
import type { Album } from '@gemmel/contract';
import { nodes } from '@gemmel/core';
import { chunks, type App } from '../context';
import { newsOf } from '../question/news';
import { into, topicsOf } from '../question/sets';
import { changedPictures, newsSince, OWN, plainAffected, remember, smartAffected, type Reading } from './affected';
import { holdingOf } from './holding';
import { limitOf, questionOf, type AlbumRow } from './row';

/** What an album holds, and the picture that is best in it. */
export interface Facts {
  pictures: number;
  from: string | null;
  to: string | null;
  best: number | null;
}

interface Kept extends Facts {
  news: string;
}

/** How long a list of albums waits for those to be counted that have changed, in ms; the others are counted after it was answered. */
const PATIENCE = 50;
/** Plain albums that are counted by one statement. */
const AT_ONCE = 50;

/** The topics after whose news an album may hold other pictures, or another one be its best. */
function topics(row: AlbumRow): string[] {
  const question = questionOf(row);
  const all = new Set<string>(['pictures', 'said']);
  if (question)
    for (const q of nodes(question))
      if (!('all' in q) && !('any' in q) && !('not' in q)) for (const topic of topicsOf(q)) all.add(topic);
  // Who is in them and in which albums they are tells which are the best.
  if (limitOf(row)) for (const topic of ['people', 'runs', 'albums']) all.add(topic);
  return [...all].sort();
}

/** The news by which an album is counted: as long as it reads the same, so does the count. The day counts, for "the last seven days". */
const newsFor = (row: AlbumRow, news: ReadonlyMap<string, string>, day: string): string =>
  [...(row.kind === 'smart' ? [day] : []), ...topics(row).map((topic) => `${topic} ${news.get(topic) ?? '0 0'}`)]
    .join(',')
    .slice(0, 500);

/** The same, topic by topic; null for what is no news at all, or of another day. */
function readingOf(text: string, day: string): Reading | null {
  const parts = text.split(',').filter((part) => part !== day);
  const read = parts.map((part) => /^(\w+) (\d+) (\d+)$/.exec(part));
  if (parts.length === 0 || read.some((one) => !one)) return null;
  return new Map(read.map((one) => [one![1]!, { last: Number(one![2]), count: Number(one![3]) }]));
}

async function kept(app: App, library: number): Promise<Map<number, Kept>> {
  const rows = await app.db('album_facts').where('library_id', library).select();
  return new Map(
    rows.map((row) => [
      row.album_id,
      { pictures: row.pictures, from: row.from_day, to: row.to_day, best: row.cover_id, news: row.news },
    ]),
  );
}

/** What plain albums hold, in one statement: the best is the one with most stars and hearts, of equal ones the first by hand. */
async function countPlain(app: App, ids: readonly number[]): Promise<Map<number, Facts>> {
  if (ids.length === 0) return new Map();
  const found = new Map<number, Facts>(ids.map((id) => [id, { pictures: 0, from: null, to: null, best: null }]));
  const [rows] = (await app.db.raw(
    `SELECT one.album_id AS album, COUNT(*) AS n, MIN(one.day) AS f, MAX(one.day) AS t, MAX(IF(one.nth = 1, one.id, NULL)) AS best
     FROM (SELECT ap.album_id, p.id, p.day, ROW_NUMBER() OVER (PARTITION BY ap.album_id
             ORDER BY p.rating * 2 + p.favourite DESC, ap.position, p.id) AS nth
           FROM album_pictures ap JOIN pictures p ON p.id = ap.picture_id
           WHERE ap.album_id IN (${ids.map(() => '?').join(',')})) AS one
     GROUP BY one.album_id`,
    [...ids],
  )) as [{ album: number; n: number; f: string | null; t: string | null; best: number | null }[]];
  for (const { album, n, f, t, best } of rows) found.set(album, { pictures: Number(n), from: f, to: t, best });
  return found;
}

/** What a smart album holds: the best by stars, hearts and how late it came in. */
async function countSmart(app: App, library: number, row: AlbumRow): Promise<Facts> {
  const { join, sql, values } = await holdingOf(app, library, row);
  const [[facts]] = (await app.db.raw(
    `SET STATEMENT group_concat_max_len = 1073741824 FOR
     SELECT COUNT(*) AS pictures, MIN(p.day) AS f, MAX(p.day) AS t, MAX((p.rating * 2 + p.favourite) * 4294967296 + p.id) AS best,
            MAX(p.id) AS most, GROUP_CONCAT(p.id) AS ids
     FROM pictures p ${join} WHERE p.library_id = ? AND (${sql})`,
    [library, ...values],
  )) as [
    [
      {
        pictures: number;
        f: string | null;
        t: string | null;
        best: number | null;
        most: number | null;
        ids: string | null;
      },
    ],
  ];
  const bits = new Uint32Array((Number(facts.most ?? 0) >>> 5) + 1);
  if (facts.ids !== null) into(bits, facts.ids);
  remember(row, bits);
  const best = facts.best === null ? null : Number(BigInt(facts.best) % 4294967296n);
  return { pictures: Number(facts.pictures), from: facts.f, to: facts.t, best };
}

/**
 * Of albums of which there is news, those it may be about: where the news names some pictures, an album that neither holds nor held one of them is
 * as it was. What is only good is noted with the news it was not about.
 */
async function concerned(
  app: App,
  library: number,
  stale: readonly AlbumRow[],
  there: Map<number, Kept>,
  reading: ReadonlyMap<number, string>,
  day: string,
): Promise<AlbumRow[]> {
  const readings = stale.map((row) => {
    const before = there.get(row.id);
    return {
      row,
      then: before && !limitOf(row) ? readingOf(before.news, day) : null,
      now: readingOf(reading.get(row.id)!, day),
    };
  });
  const told = readings.filter((one) => one.then && one.now);
  if (told.length === 0) return [...stale];
  // Only topics of which there is news are read on from where they were.
  const news = new Map<string, number>();
  for (const { then, now } of told)
    for (const [topic, { last }] of then!)
      if (topic !== OWN && now!.get(topic)?.last !== last) news.set(topic, Math.min(last, news.get(topic) ?? Infinity));
  const since = news.size ? await newsSince(app, library, Math.min(...news.values()), [...news.keys()]) : [];
  if (!since) return [...stale];
  const open: AlbumRow[] = stale.filter((row) => !told.some((one) => one.row === row));
  const groups = new Map<string, { changed: Set<number>; rows: AlbumRow[] }>();
  for (const { row, then, now } of told) {
    const changed = changedPictures(then!, now!, since);
    if (!changed) {
      open.push(row);
      continue;
    }
    const key = [...changed].join();
    const group = groups.get(key) ?? { changed, rows: [] };
    group.rows.push(row);
    groups.set(key, group);
  }
  const good: AlbumRow[] = [];
  for (const { changed, rows } of groups.values()) {
    const plain = rows.some((row) => row.kind === 'plain') ? await plainAffected(app, library, changed) : new Set();
    const smart = await smartAffected(
      app,
      library,
      rows.filter((row) => row.kind === 'smart'),
      changed,
    );
    for (const row of rows) (plain.has(row.id) || smart.has(row.id) ? open : good).push(row);
  }
  const same = new Map<string, number[]>();
  for (const { id } of good) {
    there.set(id, { ...there.get(id)!, news: reading.get(id)! });
    const news = reading.get(id)!;
    same.set(news, [...(same.get(news) ?? []), id]);
  }
  for (const [news, ids] of same)
    for (const some of chunks(ids, 500))
      await app.db('album_facts').where('library_id', library).whereIn('album_id', some).update({ news });
  return open;
}

/** Counts some albums, and keeps what they hold with the news it was counted by; answers with those that hold something else than before. */
async function count(
  app: App,
  library: number,
  rows: readonly AlbumRow[],
  reading: ReadonlyMap<number, string>,
  into: Map<number, Kept>,
): Promise<number[]> {
  const changed: number[] = [];
  const keep = async (found: ReadonlyMap<number, Facts>) => {
    const all = [...found].filter(([id]) => reading.has(id));
    for (const [id, facts] of all) {
      const before = into.get(id);
      if (!before || JSON.stringify({ ...before, news: '' }) !== JSON.stringify({ ...facts, news: '' }))
        changed.push(id);
      into.set(id, { ...facts, news: reading.get(id)! });
    }
    if (all.length === 0) return;
    // An album that goes at this very moment takes what is kept of it along.
    await app.db.raw(
      `INSERT INTO album_facts (album_id, library_id, pictures, from_day, to_day, cover_id, news)
       SELECT v.* FROM (${all.map((_, i) => (i ? 'SELECT ?, ?, ?, ?, ?, ?, ?' : 'SELECT ? AS album_id, ? AS l, ? AS n, ? AS f, ? AS t, ? AS c, ? AS news')).join(' UNION ALL ')}) AS v
       JOIN albums a ON a.id = v.album_id
       ON DUPLICATE KEY UPDATE pictures = VALUES(pictures), from_day = VALUES(from_day), to_day = VALUES(to_day), cover_id = VALUES(cover_id), news = VALUES(news)`,
      all.flatMap(([id, facts]) => [id, library, facts.pictures, facts.from, facts.to, facts.best, reading.get(id)!]),
    );
  };
  for (const some of chunks(
    rows.filter((row) => row.kind === 'plain').map((row) => row.id),
    AT_ONCE,
  ))
    await keep(await countPlain(app, some));
  for (const row of rows.filter((one) => one.kind === 'smart'))
    await keep(new Map([[row.id, await countSmart(app, library, row)]]));
  return changed;
}

/** Libraries whose albums are being counted. */
const counting = new Map<number, Promise<number[]>>();

/** Waits until no albums are being counted. */
export const counted = async (): Promise<void> => void (await Promise.allSettled(counting.values()));

/**
 * What albums hold. What is kept is good as long as no news says otherwise; what may have changed is counted again, for a moment while
 * somebody waits, and else afterwards: then the feed says which albums hold something else.
 * @param day today's day. Answers with the facts by album, and those that are still being counted.
 */
export async function factsOf(
  app: App,
  library: number,
  rows: readonly AlbumRow[],
  day: string,
  patience = PATIENCE,
): Promise<{ facts: ReadonlyMap<number, Facts>; counting: ReadonlySet<number> }> {
  // What a relative sees of an album is counted as they see it, and kept nowhere; they see no smart albums.
  if (seenBy(app.db) && rows.every((row) => row.kind === 'plain'))
    return {
      facts: await countPlain(
        app,
        rows.map((row) => row.id),
      ),
      counting: new Set(),
    };
  // News first: what happens while it is counted makes it old again.
  const news = await newsOf(app.db, library);
  const there = await kept(app, library);
  const reading = new Map(rows.map((row) => [row.id, newsFor(row, news, day)]));
  const stale = rows.filter((row) => there.get(row.id)?.news !== reading.get(row.id));
  if (stale.length === 0) return { facts: there, counting: new Set() };
  const work = (counting.get(library) ?? Promise.resolve([]))
    .catch(() => [])
    .then(() => concerned(app, library, stale, there, reading, day))
    .then((open) => count(app, library, open, reading, there));
  counting.set(library, work);
  let answered = false;
  const done = work
    .then((changed) => {
      if (answered && changed.length) app.feed.say(library, 'albums', changed);
    })
    .catch(() => {
      // The database is away: they are counted when somebody asks again.
      if (!answered) throw new Error('albums could not be counted');
    })
    .finally(() => {
      if (counting.get(library) === work) counting.delete(library);
    });
  let late: ReturnType<typeof setTimeout> | undefined;
  await Promise.race([
    done,
    new Promise<void>((resolve) => {
      if (patience < Infinity) late = setTimeout(resolve, patience);
    }),
  ]);
  clearTimeout(late);
  answered = true;
  const open = new Set(stale.filter((row) => there.get(row.id)?.news !== reading.get(row.id)).map((row) => row.id));
  return { facts: new Map(there), counting: open };
}

/** What an album's answer says of its pictures. */
export const NONE: Facts = { pictures: 0, from: null, to: null, best: null };

/** The pictures that stand for some albums, by album: the one somebody chose, as long as it is there, else the best; by what their sizes are called. */
export async function coversOf(
  app: App,
  library: number,
  rows: readonly AlbumRow[],
  facts: ReadonlyMap<number, Facts>,
): Promise<ReadonlyMap<number, string>> {
  const wanted = new Set<number>();
  for (const row of rows)
    for (const id of [row.cover_id, facts.get(row.id)?.best ?? null]) if (id !== null) wanted.add(id);
  const shown = new Map<number, string>();
  for (const some of chunks([...wanted], 2000))
    for (const picture of await app
      .db('pictures')
      .where('library_id', library)
      .whereIn('id', some)
      .select('id', 'shown'))
      shown.set(picture.id, picture.shown.toString('hex'));
  const covers = new Map<number, string>();
  for (const row of rows) {
    const chosen = row.cover_id === null ? undefined : shown.get(row.cover_id);
    const best = facts.get(row.id)?.best ?? null;
    const cover = chosen ?? (best === null ? undefined : shown.get(best));
    if (cover) covers.set(row.id, cover);
  }
  return covers;
}

/** An album as it is answered. */
export function toAlbum(
  row: AlbumRow,
  names: Album['names'],
  facts: Facts,
  cover: string | undefined,
  counting: boolean,
): Album {
  return {
    id: row.id,
    kind: row.kind,
    name: row.name,
    description: row.description,
    question: questionOf(row),
    names,
    best: limitOf(row),
    pictures: facts.pictures,
    counting,
    cover: cover ?? null,
    chosenCover: row.cover_id,
    from: row.from_day ?? facts.from,
    to: row.to_day ?? facts.to,
    ownDays: row.from_day !== null,
    sorted: row.sorted,
    backwards: Boolean(row.backwards),
    shelf: row.shelf_id,
    position: row.position,
  };
}
