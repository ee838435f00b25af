import type { Db } from '../db/open';
import { markDirty } from '../vault/sidecar';

/** How sure a time can be that another picture gave. */
const CERTAINTY = 0.8;

/**
 * Gives pictures that only know their day the time of the one they are a copy of, when that is of the same day; and has those
 * that took it before follow it when it is mended. What people dated stays.
 */
export async function copiesTakeTheTime(db: Db, library: number): Promise<void> {
  const rows = (await db('pictures as c')
    .join('pictures as o', 'o.id', 'c.alike_id')
    .where('c.library_id', library)
    .whereNull('o.taken_exact')
    .whereNotNull('o.taken_local')
    .where((q) =>
      q
        .where((day) =>
          day
            .where({ 'c.taken_exact': 'day', 'c.taken_about': false })
            .whereNot('c.taken_source', 'hand')
            .whereRaw('o.day = c.day'),
        )
        .orWhere((taken) => taken.where('c.taken_source', 'copy').whereRaw('o.taken_local <> c.taken_local')),
    )
    .select('c.id')) as { id: number }[];
  if (rows.length === 0) return;
  const ids = rows.map(({ id }) => id);
  for (let i = 0; i < ids.length; i += 1000) {
    const some = ids.slice(i, i + 1000);
    await db.raw(
      `UPDATE pictures c JOIN pictures o ON o.id = c.alike_id
       SET c.taken_local = o.taken_local, c.day = DATE(o.taken_local), c.offset_minutes = o.offset_minutes,
           c.taken_source = 'copy', c.taken_certainty = LEAST(o.taken_certainty, ?),
           c.taken_exact = NULL, c.taken_from = NULL, c.taken_to = NULL, c.taken_about = FALSE
       WHERE c.id IN (${some.map(() => '?').join(',')}) AND o.taken_exact IS NULL AND o.taken_local IS NOT NULL
         AND c.taken_source <> 'hand'`,
      [CERTAINTY, ...some],
    );
  }
  await markDirty(db, library, ids);
}
