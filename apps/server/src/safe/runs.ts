import type { App } from '../context';
import type { SafePlacesRow, SafeRunsRow } from '../db/tables';

/** A run in hand. */
export interface RunId {
  id: number;
  library: number;
}

/** Begins a run at a place; what was left running by a process that is gone was cut. */
export async function beginRun(app: App, row: SafePlacesRow, kind: SafeRunsRow['kind']): Promise<RunId> {
  const { db } = app;
  await db('safe_runs')
    .where({ place_id: row.id, kind, state: 'running' })
    .update({ state: 'stopped', ended_at: db.raw('UTC_TIMESTAMP(3)') });
  // A place that is away is tried often: what came of it is told for a month, what was done there for ever.
  await db('safe_runs')
    .where({ place_id: row.id })
    .whereIn('state', ['failed', 'stopped'])
    .whereRaw('began_at < UTC_TIMESTAMP(3) - INTERVAL 30 DAY')
    .delete();
  const [id] = (await db('safe_runs').insert({ library_id: row.library_id, place_id: row.id, kind })) as [number];
  app.changed(row.library_id, 'safe');
  return { id, library: row.library_id };
}

/** Says what a run does now, and what is known of it so far. */
export async function stepTo(
  app: App,
  run: RunId,
  step: NonNullable<SafeRunsRow['step']>,
  known: Partial<
    Pick<SafeRunsRow, 'still_at' | 'act_id' | 'snapshot' | 'files' | 'bytes' | 'added' | 'proven' | 'wrong'>
  > = {},
): Promise<void> {
  await app
    .db('safe_runs')
    .where('id', run.id)
    .update({ step, ...known });
  app.changed(run.library, 'safe');
}

/** Ends a run. */
export async function endRun(
  app: App,
  run: RunId,
  state: 'done' | 'stopped' | 'failed',
  error: string | null = null,
  known: Partial<Pick<SafeRunsRow, 'snapshot' | 'files' | 'proven' | 'wrong'>> = {},
): Promise<void> {
  await app
    .db('safe_runs')
    .where('id', run.id)
    .update({ state, error, ended_at: app.db.raw('UTC_TIMESTAMP(3)'), ...known })
    // A database that is away for a moment finds the run cut at the next one.
    .catch(() => undefined);
}
