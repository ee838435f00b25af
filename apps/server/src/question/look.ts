import { nodes, type Question } from '@gemmel/core';
import type { Db } from '../db/open';

/** Bits of 64 in which the perceptual hashes of pictures that look alike differ at most. Those of strangers differ in 32, give or take 4. */
const NEAR = 18;
/** How far apart their mean colours may be, each of brightness and two colours in parts of a thumbhash's 63. */
const SHADE = 14;
/** Most pictures that look like one. */
const MOST = 200;

/** The mean brightness and colours of a blurred view: the first eighteen bits of a thumbhash (evanw, 2023). */
export function shadeOf(thumb: Buffer): [number, number, number] {
  const head = (thumb[0] ?? 0) | ((thumb[1] ?? 0) << 8) | ((thumb[2] ?? 0) << 16);
  return [head & 63, (head >> 6) & 63, (head >> 12) & 63];
}

/** The pictures that look like one: alike in light and dark, and in their mean colours; itself among them. */
export async function lookingLike(db: Db, library: number, id: number): Promise<Set<number>> {
  const one = await db('pictures')
    .where({ id, library_id: library })
    .first('thumb', db.raw('CAST(likeness AS CHAR) AS likeness'));
  if (!one) return new Set();
  const { thumb, likeness } = one as unknown as { thumb: Buffer; likeness: string | null };
  if (likeness === null) return new Set([id]);
  const [rows] = (await db.raw(
    `SELECT p.id, p.thumb FROM pictures p WHERE p.library_id = ? AND p.likeness IS NOT NULL AND BIT_COUNT(p.likeness ^ CAST(? AS UNSIGNED)) <= ?
     ORDER BY BIT_COUNT(p.likeness ^ CAST(? AS UNSIGNED)), p.id LIMIT ${3 * MOST}`,
    [library, likeness, NEAR, likeness],
  )) as [{ id: number; thumb: Buffer }[]];
  const shade = shadeOf(thumb);
  const alike = rows.filter((row) => shadeOf(row.thumb).every((v, i) => Math.abs(v - shade[i]!) <= SHADE));
  return new Set([id, ...alike.slice(0, MOST).map((row) => row.id)]);
}

/** What the pictures that a question speaks of look like, by each of them. */
export async function alikeIn(db: Db, library: number, question: Question): Promise<Map<number, Set<number>>> {
  const found = new Map<number, Set<number>>();
  for (const q of nodes(question))
    if ('like' in q && !found.has(q.like)) found.set(q.like, await lookingLike(db, library, q.like));
  return found;
}
