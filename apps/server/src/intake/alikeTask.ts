import { halves, mostOpen, NearHashes, type BurstFace } from '@gemmel/core';
import type { DbAddress } from '../db/mariadb';
import type { Db } from '../db/open';
import type { FacesRow } from '../db/tables';
import { connectionTo } from '../db/threads';

/** Two pictures this close (differing bits of 64) nearly show the same. */
const NEAR = 5;

interface Row {
  id: number;
  likeness: string;
  width: number;
  height: number;
  sharpness: number | null;
  camera: string | null;
  taken: string | null;
  alike: number | null;
}

/** A picture half as large again, or more, is another size; one a fifth sharper is another sharpness. */
const sizeOf = ({ width, height }: Row) => Math.round(2 * Math.log2(Math.max(1, width * height)));
const sharpOf = ({ sharpness }: Row) => Math.round(5 * Math.log(Math.max(1e-6, sharpness ?? 0)));

/** Which of two is rather kept: the larger, the one that still knows its camera, the sharper, the earlier. */
const better = (a: Row, b: Row): number =>
  sizeOf(b) - sizeOf(a) ||
  Number(b.camera !== null) - Number(a.camera !== null) ||
  sharpOf(b) - sharpOf(a) ||
  (a.taken ?? '9').localeCompare(b.taken ?? '9') ||
  a.id - b.id;

/** Shots of one moment are at most this far apart, in ms. */
const MOMENT = 60_000;

/** Of shots of one moment that are as good otherwise, the one in which nobody blinks is kept. */
async function openEyed(db: Db, likes: ReadonlyMap<Row, Row[]>): Promise<{ kept: Row; all: Row[] }[]> {
  const at = (row: Row) => Date.parse(`${row.taken?.replace(' ', 'T')}Z`);
  const groups = [...likes].map(([kept, others]) => ({
    kept,
    all: [kept, ...others],
    equals: [
      kept,
      ...others.filter(
        (row) =>
          sizeOf(row) === sizeOf(kept) &&
          row.camera === kept.camera &&
          sharpOf(row) >= sharpOf(kept) - 1 &&
          Math.abs(at(row) - at(kept)) <= MOMENT,
      ),
    ],
  }));
  const bursts = groups.filter(({ equals }) => equals.length > 1);
  const ids = bursts.flatMap(({ equals }) => equals.map(({ id }) => id));
  const faces = new Map<number, BurstFace[]>();
  for (let i = 0; i < ids.length; i += 1000)
    for (const f of (await db('faces')
      .whereIn('picture_id', ids.slice(i, i + 1000))
      .whereNot('state', 'not a face')
      .whereNotNull('eyes')
      .select('picture_id', 'x', 'y', 'w', 'h', 'eyes')) as FacesRow[]) {
      const of = faces.get(f.picture_id) ?? [];
      faces.set(f.picture_id, of);
      of.push({ x: f.x + f.w / 2, y: f.y + f.h / 2, eyes: f.eyes! });
    }
  for (const burst of bursts) burst.kept = burst.equals[mostOpen(burst.equals.map(({ id }) => faces.get(id) ?? []))]!;
  return groups;
}

/**
 * Pictures whose mark of nearly showing the same as another is to change, with the one they are to point at. The best come
 * first and are kept; each of the others points at the nearest of those, so that no mark ever points at a marked picture,
 * whatever came in when. Runs in a thread of its own.
 */
export async function alikeTask({
  library,
  address,
}: {
  library: number;
  address: DbAddress;
}): Promise<{ id: number; like: number | null }[]> {
  const db = connectionTo(address);
  const found: { id: number; like: number | null }[] = [];
  for (const kind of ['photo', 'video'] as const) {
    const rows = (
      (await db('pictures')
        .where({ library_id: library, kind })
        .whereNotNull('likeness')
        .select(
          'id',
          db.raw('CAST(likeness AS CHAR) AS likeness'),
          'width',
          'height',
          'sharpness',
          'camera',
          'taken_local as taken',
          'alike_id as alike',
        )) as Row[]
    ).sort(better);
    const kept = new NearHashes(halves(rows.map((row) => row.likeness)), NEAR);
    const likes = new Map<Row, Row[]>();
    for (const [i, row] of rows.entries()) {
      const nearest = kept.nearest(i);
      if (nearest >= 0) likes.get(rows[nearest]!)!.push(row);
      else {
        kept.add(i);
        likes.set(row, []);
      }
    }
    for (const best of await openEyed(db, likes))
      for (const row of best.all) {
        const like = row === best.kept ? null : best.kept.id;
        if (like !== row.alike) found.push({ id: row.id, like });
      }
  }
  return found;
}
