import { halves, NearHashes } from '@gemmel/core';
import type { DbAddress } from '../db/mariadb';
import { connectionTo } from '../db/threads';

/** Two pictures this close (differing bits of 64) nearly show the same. */
const NEAR = 5;

/** New pictures of a library that nearly show the same as an earlier one, with that one. Runs in a thread of its own. */
export async function alikeTask({
  library,
  after,
  address,
}: {
  library: number;
  /** Pictures up to this number were looked at before. */
  after: number;
  address: DbAddress;
}): Promise<{ id: number; like: number }[]> {
  const db = connectionTo(address);
  const found: { id: number; like: number }[] = [];
  for (const kind of ['photo', 'video'] as const) {
    const rows = (await db('pictures')
      .where({ library_id: library, kind })
      .whereNotNull('likeness')
      .orderBy('id')
      .select('id', db.raw('CAST(likeness AS CHAR) AS likeness'))) as { id: number; likeness: string }[];
    const index = new NearHashes(halves(rows.map((row) => row.likeness)), NEAR);
    for (const [i, { id }] of rows.entries()) {
      if (id > after) {
        const like = index.nearest(i);
        if (like >= 0) found.push({ id, like: rows[like]!.id });
      }
      index.add(i);
    }
  }
  return found;
}
