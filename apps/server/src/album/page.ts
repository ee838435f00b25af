import type { Answer, Api } from '@gemmel/contract';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { describeAlbums } from './albums';
import { holdingOf } from './holding';
import { live, type AlbumRow } from './row';

type AlbumAnswer = Answer<Api['album']>;

/** How many people and places an album's page names. */
const NAMED = 8;
/** The pictures by which people, places and other albums are told; beyond, they would hardly be others. */
const TOLD_BY = 6000;

interface Row {
  id: number;
  width: number;
  height: number;
  position: string | null;
}

/** Headings and notes with how many pictures stand before each. They belong to the order by hand. */
async function chaptersOf(db: Db, album: AlbumRow, rows: readonly Row[]): Promise<AlbumAnswer['chapters']> {
  if (album.kind === 'smart' || album.sorted !== 'hand' || album.backwards) return [];
  const chapters = await db('album_chapters').where('album_id', album.id).orderBy(['position', 'id']).select();
  let at = 0;
  return chapters.map(({ id, heading, note, position }) => {
    while (at < rows.length && rows[at]!.position! < position) at++;
    return { id, at, heading, note };
  });
}

/** Counts what several lists say, the most often said first. */
function most<T>(said: Iterable<readonly [T, number]>): T[] {
  const counts = new Map<T, number>();
  for (const [what, n] of said) counts.set(what, (counts.get(what) ?? 0) + n);
  return [...counts]
    .sort((a, b) => b[1] - a[1])
    .slice(0, NAMED)
    .map(([what]) => what);
}

/** Who is in pictures, where they were taken, and in which other albums they stand. */
async function around(db: Db, library: number, album: number, ids: readonly number[]) {
  const people: [number, number][] = [];
  const places: [string, number][] = [];
  const elsewhere = new Map<number, string>();
  for (const some of chunks(ids.slice(0, TOLD_BY), 2000)) {
    const marks = some.map(() => '?').join(',');
    const [faces] = (await db.raw(
      `SELECT f.person_id AS who, COUNT(DISTINCT f.picture_id) AS n FROM faces f JOIN people s ON s.id = f.person_id AND NOT s.hidden
       WHERE f.picture_id IN (${marks}) GROUP BY f.person_id`,
      some,
    )) as [{ who: number; n: number }[]];
    for (const { who, n } of faces) people.push([who, Number(n)]);
    const [where] = (await db.raw(
      `SELECT COALESCE(o.name, p.place) AS place, COUNT(*) AS n FROM pictures p LEFT JOIN own_places o ON o.id = p.own_place_id
       WHERE p.id IN (${marks}) AND (o.name IS NOT NULL OR p.place IS NOT NULL) GROUP BY 1`,
      some,
    )) as [{ place: string; n: number }[]];
    for (const { place, n } of where) places.push([place, Number(n)]);
    const [others] = (await db.raw(
      `SELECT DISTINCT a.id, a.name FROM album_pictures ap JOIN albums a ON a.id = ap.album_id AND a.removed_at IS NULL
       WHERE a.library_id = ? AND a.id <> ? AND ap.picture_id IN (${marks})`,
      [library, album, ...some],
    )) as [{ id: number; name: string }[]];
    for (const { id, name } of others) elsewhere.set(id, name);
  }
  return {
    people: most(people),
    places: most(places),
    elsewhere: [...elsewhere].map(([id, name]) => ({ id, name })).sort((a, b) => a.name.localeCompare(b.name)),
  };
}

/** One album as its page shows it: its pictures in order, chapters, who and where, and who put what in. */
export async function albumOf(app: App, library: number, id: number): Promise<AlbumAnswer> {
  const { db } = app;
  const row = await live(db, library, id);
  const { join, sql, values, order } = await holdingOf(app, library, row);
  const [rows] = (await db.raw(
    `SELECT p.id, p.width, p.height, ${row.kind === 'plain' ? 'ap.position' : 'NULL AS position'} FROM pictures p ${join}
     WHERE p.library_id = ? AND (${sql}) ORDER BY ${order}`,
    [library, ...values],
  )) as [Row[]];
  const ids = rows.map((one) => one.id);
  const [[album], chapters, told, givers, hand] = await Promise.all([
    describeAlbums(app, library, [row], Infinity),
    chaptersOf(db, row, rows),
    around(db, library, id, ids),
    db('album_pictures as ap')
      .leftJoin('members as m', 'm.id', 'ap.added_by')
      .where('ap.album_id', id)
      .groupBy('m.name')
      .orderBy('pictures', 'desc')
      .select('m.name', db.raw('COUNT(*) AS pictures')) as unknown as Promise<
      { name: string | null; pictures: number }[]
    >,
    db('album_hand').where('album_id', id).orderBy('picture_id').select('picture_id', 'way'),
  ]);
  const by = (way: 'in' | 'out') => hand.filter((one) => one.way === way).map((one) => one.picture_id);
  return {
    // What was just read is what it holds.
    album: { ...album!, pictures: ids.length, counting: false },
    ids,
    shapes: rows.map((one) => Math.round((100 * one.width) / one.height)),
    chapters,
    ...told,
    givers: givers.map(({ name, pictures }) => ({ name, pictures: Number(pictures) })),
    putIn: by('in'),
    keptOut: by('out'),
  };
}

/** What is in no album yet, by event and by folder, most first. */
export async function looseOf(app: App, library: number): Promise<Answer<Api['looseAlbums']>> {
  const { db } = app;
  const LOOSE = `NOT EXISTS (SELECT 1 FROM album_pictures ap JOIN albums a ON a.id = ap.album_id AND a.removed_at IS NULL WHERE ap.picture_id = p.id)`;
  const COVER = `MAX((p.rating * 2 + p.favourite) * 4294967296 + p.id) AS best`;
  const [events] = (await db.raw(
    `SELECT p.event_id AS id, e.title AS name, COUNT(*) AS n, MIN(p.day) AS f, MAX(p.day) AS t, ${COVER}
     FROM pictures p LEFT JOIN events e ON e.id = p.event_id WHERE p.library_id = ? AND ${LOOSE}
     GROUP BY p.event_id ORDER BY p.event_id IS NULL, f DESC`,
    [library],
  )) as [LooseRow[]];
  const [folders] = (await db.raw(
    `SELECT p.folder_id AS id, f.name, COUNT(*) AS n, MIN(p.day) AS f, MAX(p.day) AS t, ${COVER}
     FROM pictures p LEFT JOIN folders f ON f.id = p.folder_id WHERE p.library_id = ? AND ${LOOSE}
     GROUP BY p.folder_id ORDER BY p.folder_id IS NULL, f.name`,
    [library],
  )) as [LooseRow[]];
  const best = ({ best: packed }: LooseRow) => Number(BigInt(packed) % 4294967296n);
  const shown = new Map<number, string>();
  for (const some of chunks([...new Set([...events, ...folders].map(best))], 2000))
    for (const picture of await db('pictures').whereIn('id', some).select('id', 'shown'))
      shown.set(picture.id, picture.shown.toString('hex'));
  const one = (row: LooseRow) => ({
    id: row.id,
    name: row.name,
    pictures: Number(row.n),
    cover: shown.get(best(row)) ?? null,
  });
  return {
    pictures: events.reduce((sum, row) => sum + Number(row.n), 0),
    events: events.map((row) => ({ ...one(row), from: row.f, to: row.t })),
    folders: folders.map(one),
  };
}

interface LooseRow {
  id: number | null;
  name: string | null;
  n: number;
  f: string | null;
  t: string | null;
  best: number;
}
