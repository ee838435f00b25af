import type { App } from '../context';
import type { SafePlacesRow } from '../db/tables';
import { restic, ResticError, TAG, type Way } from './restic';

/** Which old states are kept: one of each of so many days, weeks, months, and one of every year. */
export const KEPT = { daily: 7, weekly: 5, monthly: 12, yearly: 200 } as const;
/** Room is made at a place at most once in so many days: it reads and writes much there. */
const PRUNE_DAYS = 7;

/**
 * Lets old states go by the plan, and makes room for new ones now and then. Only states with our mark are looked at. Restic writes what
 * is still needed anew before it removes anything, so that an end in the middle loses nothing.
 */
export async function thin({ db }: App, row: SafePlacesRow, way: Way, signal: AbortSignal): Promise<void> {
  const due = await db('safe_places')
    .where('id', row.id)
    .whereRaw('COALESCE(pruned_at, created_at) < UTC_TIMESTAMP(3) - INTERVAL ? DAY', [PRUNE_DAYS])
    .first('id');
  // One state a day is what the plan keeps: it is looked at once a day.
  const today = await db('safe_runs')
    .where({ place_id: row.id, kind: 'backup', state: 'done' })
    .whereRaw('began_at > UTC_DATE()')
    .first('id');
  if (today && !due) return;
  try {
    await restic(
      way,
      [
        'forget',
        ...['--tag', TAG, '--group-by', 'host'],
        ...['--keep-last', '1', '--keep-daily', String(KEPT.daily), '--keep-weekly', String(KEPT.weekly)],
        ...['--keep-monthly', String(KEPT.monthly), '--keep-yearly', String(KEPT.yearly)],
        ...(due ? ['--prune'] : []),
      ],
      { signal },
    );
    if (due)
      await db('safe_places')
        .where('id', row.id)
        .update({ pruned_at: db.raw('UTC_TIMESTAMP(3)') });
  } catch (error) {
    // Somebody else uses it just now: another day will do.
    if (!(error instanceof ResticError && error.fault === 'locked')) throw error;
  }
}
