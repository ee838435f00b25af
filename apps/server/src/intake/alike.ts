import { halves, nearestBefore } from '@gemmel/core';
import type { App } from '../context';
import { defineJob, type Job } from '../jobs/kind';

/** Two pictures this close (differing bits of 64) nearly show the same. */
const NEAR = 5;

/**
 * Marks new pictures that nearly show the same as an earlier one, to be chosen between later. Exact doubles never come in;
 * these do.
 */
export async function markAlike(app: App, { library }: Job): Promise<void> {
  const { db } = app;
  const { alike_upto } = (await db('libraries').where('id', library).first('alike_upto')) as { alike_upto: number };
  let marked = 0;
  for (const kind of ['photo', 'video']) {
    const rows = (await db('pictures')
      .where({ library_id: library, kind })
      .whereNotNull('likeness')
      .orderBy('id')
      .select('id', db.raw('CAST(likeness AS CHAR) AS likeness'))) as { id: number; likeness: string }[];
    const hashes = halves(rows.map((row) => row.likeness));
    for (const [i, { id }] of rows.entries()) {
      if (id <= alike_upto) continue;
      const like = nearestBefore(hashes, i, NEAR);
      if (like >= 0)
        marked += await db('pictures').where({ id, library_id: library }).update({ alike_id: rows[like]!.id });
    }
  }
  await db.raw(
    'UPDATE libraries SET alike_upto = (SELECT COALESCE(MAX(id), 0) FROM pictures WHERE library_id = ?) WHERE id = ?',
    [library, library],
  );
  if (marked) app.changed(library, 'batches', 'pictures');
}

declare module '../jobs/kind' {
  interface JobPayloads {
    alike: null;
  }
}

/** Finding pictures that nearly show the same. */
export const alikeJob = defineJob({
  kind: 'alike',
  what: 'Finding pictures that nearly show the same',
  priority: 6,
  run: markAlike,
});
