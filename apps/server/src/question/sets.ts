import { todayIn } from '../time/home';
import { EVERYTHING, type Condition, type Question } from '@gemmel/core';
import type { Topic } from '@gemmel/contract';
import { LRUCache } from 'lru-cache';
import type { App } from '../context';
import type { Db } from '../db/open';
import { KEPT_FOR, newsOf } from './news';
import { seenBy } from '../sight/through';
import { toSql, unheard, waysOf, type Sql } from './toSql';
import { worldOf } from './world';

/** A set of pictures, a bit for each number. */
export type Bits = Uint32Array;

interface Kept {
  at: string;
  bits: Promise<Bits>;
}

/** What was asked lately, one entry a condition: a set of 100 000 pictures takes 12 kB. */
const kept = new LRUCache<string, Kept>({ max: 3000, ttl: KEPT_FOR });

/** News after which the pictures of a condition may be others. */
export function topicsOf(c: Condition): readonly Topic[] {
  if ('who' in c || 'faces' in c) return ['pictures', 'people', 'said'];
  if ('tag' in c) return ['pictures', 'said', 'tags'];
  if ('album' in c || 'inNoAlbum' in c) return ['pictures', 'albums'];
  if ('event' in c) return ['pictures', 'events'];
  if ('has' in c || 'lacks' in c) return ['pictures', 'said', 'people', 'events', 'tags', 'batches'];
  if ('text' in c)
    return ['pictures', 'said', 'tags', 'people', 'events', 'albums', 'batches', 'sources', 'marks', 'filing'];
  if ('saidBy' in c || 'changed' in c) return ['pictures', 'acts'];
  if ('batch' in c || 'device' in c || 'kind' in c || 'added' in c || 'camera' in c || 'lens' in c) return ['pictures'];
  if ('format' in c || 'shape' in c || 'size' in c || 'folder' in c) return ['pictures'];
  return ['pictures', 'said', 'events'];
}

/** Numbers as the database joins them, read by hand: as quick as they come. */
export function into(bits: Bits, ids: string): void {
  let n = 0;
  for (let i = 0; i <= ids.length; i++) {
    const c = ids.charCodeAt(i);
    if (c >= 48 && c <= 57) n = n * 10 + c - 48;
    else {
      bits[n >>> 5]! |= 1 << (n & 31);
      n = 0;
    }
  }
}

/** The numbers that a statement answers, as text; and the largest of them. */
async function numbers(db: Db, { sql, values }: Sql, column: string): Promise<{ ids: string | null; most: number }> {
  const [rows] = (await db.raw(
    `SET STATEMENT group_concat_max_len = 1073741824 FOR SELECT GROUP_CONCAT(${column}) AS ids, MAX(${column}) AS most FROM ${sql}`,
    values,
  )) as [{ ids: string | null; most: number | null }[]];
  return { ids: rows[0]!.ids, most: Number(rows[0]!.most ?? 0) };
}

/** The pictures a condition asks for, straight from the database; those a text finds, way by way. */
async function readBits(app: App, library: number, question: Question): Promise<Bits> {
  const { db } = app;
  const world = await worldOf(db, library, question);
  let found: { ids: string | null; most: number }[];
  if ('text' in question) {
    const ways = waysOf(world.heard?.get(question.text) ?? unheard(question.text), library);
    found = await Promise.all(
      ways.map((way) => numbers(db, { sql: `(${way.sql}) AS found`, values: way.values }, 'found.id')),
    );
  } else {
    const { sql, values } = toSql(question, library, world);
    found = [
      await numbers(
        db,
        { sql: `pictures p WHERE p.library_id = ? AND (${sql})`, values: [library, ...values] },
        'p.id',
      ),
    ];
  }
  const bits = new Uint32Array((Math.max(0, ...found.map(({ most }) => most)) >>> 5) + 1);
  for (const { ids } of found) if (ids !== null) into(bits, ids);
  return bits;
}

function combine(sets: readonly Bits[], kind: 'all' | 'any'): Bits {
  const length = kind === 'all' ? Math.min(...sets.map((s) => s.length)) : Math.max(...sets.map((s) => s.length));
  const out = new Uint32Array(length);
  out.set(sets[0]!.subarray(0, length));
  for (const set of sets.slice(1))
    for (let i = 0; i < length; i++) out[i] = kind === 'all' ? out[i]! & set[i]! : out[i]! | (set[i] ?? 0);
  return out;
}

/** How many pictures a set holds (population count by halves, Warren, "Hacker's Delight"). */
export function sizeOf(bits: Bits): number {
  let n = 0;
  for (let v of bits) {
    v -= (v >>> 1) & 0x55555555;
    v = (v & 0x33333333) + ((v >>> 2) & 0x33333333);
    n += Math.imul((v + (v >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
  }
  return n;
}

/**
 * The pictures of a question as a set, put together from those of its conditions, which are kept while no news says that they may
 * have changed. For whoever counts many questions that are nearly the same, as typing does.
 */
export async function bitsOf(
  app: App,
  library: number,
  question: Question,
  news: ReadonlyMap<string, string>,
): Promise<Bits> {
  const day = await todayIn(app.db, library);
  const leaf = (q: Question, topics: readonly Topic[]): Promise<Bits> => {
    const key = `${library} ${seenBy(app.db)} ${JSON.stringify(q)}`;
    const at = `${day} ${topics.map((topic) => news.get(topic) ?? '').join('|')}`;
    const there = kept.get(key);
    if (there?.at === at) return there.bits;
    const bits = readBits(app, library, q);
    kept.set(key, { at, bits });
    bits.catch(() => kept.delete(key));
    return bits;
  };
  const walk = async (q: Question): Promise<Bits> => {
    if ('all' in q)
      return q.all.length ? combine(await Promise.all(q.all.map(walk)), 'all') : leaf(EVERYTHING, ['pictures']);
    if ('any' in q) return q.any.length ? combine(await Promise.all(q.any.map(walk)), 'any') : new Uint32Array(1);
    if ('not' in q) {
      const [all, inner] = await Promise.all([leaf(EVERYTHING, ['pictures']), walk(q.not)]);
      return all.map((v, i) => v & ~(inner[i] ?? 0));
    }
    return leaf(q, topicsOf(q));
  };
  return walk(question);
}

/** The pictures of a library in the order of the grid, newest first; kept as long as none comes, goes or is dated anew. */
const timelines = new LRUCache<string, { at: string; ids: Promise<Int32Array> }>({ max: 20, ttl: KEPT_FOR });

async function timeline(app: App, library: number, news: ReadonlyMap<string, string>): Promise<Int32Array> {
  const at = news.get('pictures') ?? '';
  const of = `${library} ${seenBy(app.db)}`;
  const there = timelines.get(of);
  if (there?.at === at) return there.ids;
  const ids = (async () => {
    const [rows] = (await app.db.raw(
      `SET STATEMENT group_concat_max_len = 1073741824 FOR
       SELECT GROUP_CONCAT(p.id ORDER BY p.taken_local DESC, p.id DESC) AS ids FROM pictures p WHERE p.library_id = ?`,
      [library],
    )) as [{ ids: string | null }[]];
    return Int32Array.from(rows[0]!.ids?.split(',') ?? [], Number);
  })();
  timelines.set(of, { at, ids });
  ids.catch(() => timelines.delete(of));
  return ids;
}

/** The first pictures of a question, newest first. */
export async function firstOf(app: App, library: number, question: Question, limit: number): Promise<number[]> {
  const news = await newsOf(app.db, library);
  const [bits, order] = await Promise.all([bitsOf(app, library, question, news), timeline(app, library, news)]);
  const found: number[] = [];
  for (const id of order) {
    if (bits[id >>> 5]! & (1 << (id & 31))) found.push(id);
    if (found.length === limit) break;
  }
  return found;
}
