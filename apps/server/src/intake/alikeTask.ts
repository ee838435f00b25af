import { halves, NearHashes } from '@gemmel/core';
import type { DbAddress } from '../db/mariadb';
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
    for (const [i, { id, alike }] of rows.entries()) {
      const nearest = kept.nearest(i);
      const like = nearest >= 0 ? rows[nearest]!.id : null;
      if (like === null) kept.add(i);
      if (like !== alike) found.push({ id, like });
    }
  }
  return found;
}
