import type { App } from '../context';
import { addressIn } from '../db/open';
import { setMany } from '../db/setMany';
import { ask } from '../jobs/jobs';
import { defineJob, type Job } from '../jobs/kind';
import { chunks } from '../lists';
import type { Regrouped } from './alikeTask';

/**
 * Groups what came in, or whose time has changed: the same picture twice, and shots of one moment. Exact doubles never come in; near
 * ones do, to be chosen between later. Safe to repeat.
 */
export async function groupAlike(app: App, { library, signal }: Pick<Job, 'library' | 'signal'>): Promise<void> {
  const { db } = app;
  let doubles = false;
  let any = false;
  while (!signal.aborted) {
    const { changes, looked } = (await app.pool.run({ library, address: addressIn(db) }, { name: 'alike' })) as {
      changes: Regrouped[];
      looked: { id: number; at: string }[];
    };
    if (looked.length === 0) break;
    for (const column of ['alike_id', 'run_id', 'run_first'] as const)
      await setMany(
        db,
        library,
        'pictures',
        changes
          .filter(({ set }) => column in set)
          .map(({ id, set }) => ({ id, set: { [column]: set[column] as number | null } })),
      );
    // One whose time has changed meanwhile is looked at once more.
    await setMany(
      db,
      library,
      'pictures',
      looked.map(({ id, at }) => ({ id, set: { grouped_at: at } })),
    );
    any ||= changes.length > 0;
    doubles ||= changes.some((change) => 'alike_id' in change.set);
  }
  if (!any) return;
  app.worked(library, 'batches', 'pictures', 'runs', 'library');
  // A copy that only knows its day takes the time of what it is a copy of.
  if (doubles) await ask(db, library, 'events');
}

/** Has some pictures grouped once more: something that tells how good they are, or what they are grouped with, has changed. */
export async function groupAgain(db: App['db'], library: number, ids: readonly number[]): Promise<void> {
  for (const some of chunks(ids, 1000))
    await db('pictures').where('library_id', library).whereIn('id', some).update({ grouped_at: null });
  if (ids.length) await ask(db, library, 'alike', 0, 500);
}

declare module '../jobs/kind' {
  interface JobPayloads {
    alike: null;
  }
}

/** Finding runs and doubles. */
export const alikeJob = defineJob({
  kind: 'alike',
  answers: true,
  priority: 6,
  run: groupAlike,
});
