import path from 'node:path';
import { chunks } from '../lists';
import type { Db } from '../db/open';
import type { JobKind } from '../jobs/kind';
import { compareVault } from './compare';

/** What is made again of a library that came from its book, in the order of its priority. */
const MADE_AGAIN: readonly (readonly [JobKind, number])[] = [
  ['settle', 3],
  ['derive', 6],
  ['verify', 8],
  ['seek', 7],
  ['observe', 8],
  ['things', 9],
  ['reading', 9],
  ['prints', 9],
  ['views', 7],
  ['alike', 9],
  ['clocks', 9],
  ['manifests', 6],
];

/**
 * Puts a library that came from its book to rights: ways in that were of the moment are closed, missing files are noted, and what the machine makes of
 * pictures is asked for.
 * @param written the moment its book tells of, in ms; null where it had none.
 */
export async function afterBook(
  db: Db,
  data: string,
  library: number,
  slug: string,
  written: number | null,
): Promise<{ pictures: number; missing: number }> {
  const { missing } = await compareVault(db, path.join(data, 'vault', slug), library);
  await db.transaction(async (trx) => {
    for (const table of ['pictures', 'picture_files', 'binned_files'] as const)
      for (const some of chunks(
        missing.filter((one) => one.table === table),
        500,
      ))
        await trx(table)
          .whereIn(
            'id',
            some.map(({ id }) => id),
          )
          .update({ broken_at: trx.raw('UTC_TIMESTAMP(3)') });
    // Their links were no part of the book.
    await trx('shares')
      .where('library_id', library)
      .whereNull('closed_at')
      .update({ closed_at: trx.raw('UTC_TIMESTAMP(3)') });
    await trx('share_guests')
      .where('library_id', library)
      .whereNull('closed_at')
      .update({ closed_at: trx.raw('UTC_TIMESTAMP(3)') });
    // What was coming in then does not come any longer.
    await trx('batches').where({ library_id: library, state: 'coming' }).update({ state: 'stopped' });
    await trx('albums').where('library_id', library).update({ unwritten: 1 });
    // What describes faces is in no book.
    await trx('pictures').where('library_id', library).update({ faces_sought: false });
    for (const [kind, priority] of MADE_AGAIN)
      await trx('jobs')
        .insert({
          library_id: library,
          kind,
          about: 0,
          priority,
          payload: kind === 'settle' ? JSON.stringify({ since: written }) : null,
        })
        .onConflict()
        .ignore();
    for (const { id } of await trx('pictures').where({ library_id: library, kind: 'video' }).select('id'))
      await trx('jobs').insert({ library_id: library, kind: 'moving', about: id, priority: 7 }).onConflict().ignore();
  });
  const [{ n }] = (await db('pictures').where('library_id', library).count('* as n')) as unknown as [{ n: number }];
  return { pictures: Number(n), missing: missing.filter(({ table }) => table === 'pictures').length };
}
