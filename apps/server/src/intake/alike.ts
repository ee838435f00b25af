import type { App } from '../context';
import { addressIn } from '../db/open';
import { setMany } from '../db/setMany';
import { ask } from '../jobs/jobs';
import { defineJob, type Job } from '../jobs/kind';

/**
 * Marks pictures that nearly show the same as a better one, to be chosen between later; one that is better than what was kept
 * so far takes its place. Exact doubles never come in; these do.
 */
export async function markAlike(app: App, { library }: Job): Promise<void> {
  const { db } = app;
  const { alike_upto: after } = (await db('libraries').where('id', library).first('alike_upto'))!;
  const [{ last }] = (await db('pictures').where('library_id', library).max('id as last')) as [{ last: number | null }];
  if ((last ?? 0) <= after) return;
  const found = (await app.pool.run({ library, address: addressIn(db) }, { name: 'alike' })) as {
    id: number;
    like: number | null;
  }[];
  await setMany(
    db,
    library,
    'pictures',
    found.map(({ id, like }) => ({ id, set: { alike_id: like } })),
  );
  // What came in since waits for the next look.
  await db('libraries')
    .where('id', library)
    .update({ alike_upto: last ?? 0 });
  if (found.length === 0) return;
  app.changed(library, 'batches', 'pictures');
  // A copy that only knows its day takes the time of what it is a copy of.
  await ask(db, library, 'events');
}

declare module '../jobs/kind' {
  interface JobPayloads {
    alike: null;
  }
}

/** Finding pictures that nearly show the same. */
export const alikeJob = defineJob({
  kind: 'alike',
  answers: true,
  priority: 6,
  run: markAlike,
});
