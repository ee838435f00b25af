import { LRUCache } from 'lru-cache';
import { chunks, type App } from '../context';
import { toSql } from '../question/toSql';
import { worldOf } from '../question/world';
import { questionOf, type AlbumRow } from './row';

/** Topics whose news names pictures. Any other news may change what any album holds. */
const OF_PICTURES: ReadonlySet<string> = new Set(['pictures', 'said']);
/** Beyond so many changed pictures, or pieces of news, everything is counted again. */
const MOST = 200;

/** In a reading, the album's own version stands where the last piece of news of a topic does. */
export const OWN = 'own';

/** A piece of news: what it names, or null for too many. */
export interface Since {
  topic: string;
  id: number;
  ids: number[] | null;
}

/** The news of some topics after one piece of it, if that is not much. */
export async function newsSince(
  app: App,
  library: number,
  after: number,
  topics: readonly string[],
): Promise<Since[] | null> {
  const rows = await app
    .db('changes')
    .where('library_id', library)
    .where('id', '>', after)
    .whereIn('topic', [...topics])
    .orderBy('id')
    .limit(MOST + 1)
    .select('id', 'topic', 'ids');
  if (rows.length > MOST) return null;
  return rows.map((row) => ({
    id: Number(row.id),
    topic: row.topic,
    ids: row.ids === null ? null : row.ids === '' ? [] : row.ids.split(',').map(Number),
  }));
}

/** The news an album was counted by, topic by topic: the last piece, and how many there were. */
export type Reading = ReadonlyMap<string, { last: number; count: number }>;

/**
 * The pictures by which an album may hold something else than when it was counted; null when that cannot be told: news that names no pictures,
 * that has been forgotten meanwhile, or that was written late.
 */
export function changedPictures(then: Reading, now: Reading, since: readonly Since[]): Set<number> | null {
  const changed = new Set<number>();
  for (const [topic, { last, count }] of then) {
    const newer = since.filter((one) => one.topic === topic && one.id > last);
    const there = now.get(topic) ?? { last: 0, count: 0 };
    if (topic === OWN && there.last !== last) return null;
    if (there.count !== count + newer.length) return null;
    if (newer.length && !OF_PICTURES.has(topic)) return null;
    for (const { ids } of newer) {
      if (ids === null) return null;
      for (const id of ids) changed.add(id);
    }
  }
  return changed.size > MOST ? null : changed;
}

/** What smart albums held when they were counted last here, a bit a picture. What they ask for is part of the key. */
const held = new LRUCache<string, Uint32Array>({ max: 1000 });
const keyOf = ({ id, question }: Pick<AlbumRow, 'id' | 'question'>): string => `${id} ${question}`;

/** Remembers which pictures a smart album held. */
export const remember = (row: AlbumRow, bits: Uint32Array): void => void held.set(keyOf(row), bits);

const has = (bits: Uint32Array, id: number): boolean => ((bits[id >>> 5] ?? 0) & (1 << (id & 31))) !== 0;

/** Of some smart albums, those that hold one of some pictures now, or held one of them when they were counted last. */
export async function smartAffected(
  app: App,
  library: number,
  rows: readonly AlbumRow[],
  changed: ReadonlySet<number>,
): Promise<Set<number>> {
  const affected = new Set<number>();
  if (changed.size === 0) return affected;
  const ids = [...changed];
  const open: AlbumRow[] = [];
  for (const row of rows) {
    const bits = held.get(keyOf(row));
    if (!bits || ids.some((id) => has(bits, id))) affected.add(row.id);
    else open.push(row);
  }
  for (const some of chunks(open, 20)) {
    const parts = await Promise.all(
      some.map(async (row) => {
        const question = questionOf(row)!;
        return toSql(question, library, await worldOf(app.db, library, question));
      }),
    );
    const [[found]] = (await app.db.raw(
      `SELECT ${parts.map((part, i) => `MAX(COALESCE((${part.sql}), FALSE)) AS c${i}`).join(', ')} FROM pictures p
       WHERE p.library_id = ? AND p.id IN (${ids.map(() => '?').join(',')})`,
      [...parts.flatMap((part) => part.values), library, ...ids],
    )) as [[Record<string, number | null>]];
    some.forEach((row, i) => {
      if (Number(found[`c${i}`] ?? 0)) affected.add(row.id);
    });
  }
  return affected;
}

/** Of all plain albums, those in which one of some pictures stands. */
export async function plainAffected(app: App, library: number, changed: ReadonlySet<number>): Promise<Set<number>> {
  if (changed.size === 0) return new Set();
  const rows = await app
    .db('album_pictures')
    .where('library_id', library)
    .whereIn('picture_id', [...changed])
    .distinct('album_id');
  return new Set(rows.map((row) => row.album_id));
}
