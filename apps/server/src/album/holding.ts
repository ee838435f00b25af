import { conditionOf } from '../picture/pictures';
import type { App } from '../context';
import type { Sql } from '../question/toSql';
import { bestIds } from './best';
import { limitOf, live, questionOf, type AlbumRow } from './row';

/** The pictures of an album as a part of a query over `pictures p`: what is joined, what is asked, and in which order they stand. */
export interface Holding extends Sql {
  join: string;
  order: string;
}

/** By what each order goes; equal ones stand by time. */
const BY: Record<Exclude<AlbumRow['sorted'], 'hand'>, readonly [by: string, way: 'ASC' | 'DESC']> = {
  date: ['p.taken_local', 'ASC'],
  name: ['p.name', 'ASC'],
  stars: ['p.rating * 2 + p.favourite', 'DESC'],
  size: ['p.bytes', 'DESC'],
};

/** How the pictures of an album stand: by hand, by date from the oldest, by name, the most stars or the largest first; or the other way. */
export function orderOf({ sorted, backwards, kind }: Pick<AlbumRow, 'sorted' | 'backwards' | 'kind'>): string {
  if (sorted === 'hand' && kind === 'plain') {
    const way = backwards ? 'DESC' : 'ASC';
    return `ap.position ${way}, ap.picture_id ${way}`;
  }
  const [by, way] = BY[sorted === 'hand' ? 'date' : sorted];
  const turned = backwards ? (way === 'ASC' ? 'DESC' : 'ASC') : way;
  // What has no date stands last, whichever way.
  return `${sorted === 'date' || sorted === 'hand' ? 'p.taken_local IS NULL, ' : ''}${by} ${turned}, p.taken_local, p.id`;
}

/** The pictures a smart album asks for, with those somebody put in by hand and without those that are kept out. */
async function smartSql(app: App, library: number, row: AlbumRow): Promise<Sql> {
  const asked = await conditionOf(app, library, questionOf(row)!);
  const hand = await app.db('album_hand').where('album_id', row.id).distinct('way');
  const ways = new Set(hand.map(({ way }) => way));
  const by = (way: 'in' | 'out') =>
    `p.id IN (SELECT h.picture_id FROM album_hand h WHERE h.album_id = ? AND h.way = '${way}')`;
  let { sql, values } = asked;
  if (ways.has('out')) [sql, values] = [`(${sql}) AND NOT ${by('out')}`, [...values, row.id]];
  if (ways.has('in')) [sql, values] = [`(${sql}) OR ${by('in')}`, [...values, row.id]];
  return { sql, values };
}

/** The pictures an album holds now. A smart album of the best is looked through for them. */
export async function holdingOf(app: App, library: number, row: AlbumRow): Promise<Holding> {
  const order = orderOf(row);
  if (row.kind === 'plain')
    return { join: 'JOIN album_pictures ap ON ap.picture_id = p.id', sql: 'ap.album_id = ?', values: [row.id], order };
  const all = await smartSql(app, library, row);
  const best = limitOf(row);
  if (!best) return { join: '', ...all, order };
  const ids = await bestIds(app, library, all, best, row.id);
  return ids.length
    ? { join: '', sql: `p.id IN (${ids.map(() => '?').join(',')})`, values: ids, order }
    : { join: '', sql: 'FALSE', values: [], order };
}

/** The pictures of an album in its order. */
export async function albumIds(app: App, library: number, id: number): Promise<number[]> {
  const { join, sql, values, order } = await holdingOf(app, library, await live(app.db, library, id));
  const [rows] = (await app.db.raw(
    `SELECT p.id FROM pictures p ${join} WHERE p.library_id = ? AND (${sql}) ORDER BY ${order}`,
    [library, ...values],
  )) as [{ id: number }[]];
  return rows.map((row) => row.id);
}
