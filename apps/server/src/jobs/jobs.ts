import type { Db } from '../db/open';
import { kindOf, type JobKind, type JobPayloads } from './kind';

/** A factor for all waits that only gather many askings into one piece of work. */
export const pace = (): number => Number(process.env['GEMMEL_PACE'] ?? 1);
/** The shortest such wait, and how soon a runner looks again at the least, in ms. */
export const LEAST = 60;

/**
 * Asks for a job, once: a job of the same kind about the same thing that is already waiting serves for both, and one
 * that is running is done again afterwards.
 * @param delay milliseconds to wait first, so that many askings become one piece of work.
 */
export async function ask<K extends JobKind>(
  db: Db,
  library: number,
  kind: K,
  about: number | readonly number[] = 0,
  delay = 0,
  payload: JobPayloads[K] | null = null,
): Promise<void> {
  const abouts = typeof about === 'number' ? [about] : about;
  const { priority } = kindOf(kind);
  const carried = payload === null ? null : JSON.stringify(payload);
  // Who waits for others lets them go first, however hasty all is.
  const wait = delay && Math.max(LEAST, delay * pace());
  for (let i = 0; i < abouts.length; i += 500) {
    const some = abouts.slice(i, i + 500);
    await db.raw(
      `INSERT INTO jobs (library_id, kind, about, priority, payload, run_after) VALUES ${some.map(() => '(?, ?, ?, ?, ?, UTC_TIMESTAMP(3) + INTERVAL ? MICROSECOND)').join(',')}
       ON DUPLICATE KEY UPDATE run_after = IF(state = 'running' AND NOT again, VALUES(run_after), LEAST(run_after, VALUES(run_after))),
         again = (state = 'running'), payload = VALUES(payload), cancelled = FALSE, tries = IF(state = 'failed', 0, tries), state = IF(state IN ('failed', 'done'), 'ready', state)`,
      some.flatMap((a) => [library, kind, a, priority, carried, Math.round(wait * 1000)]),
    );
  }
  nudgeRunners();
}

/** How far a job is, kept with it. */
export interface JobProgress {
  done: number;
  of: number;
  /** When it began, in ms since 1970, or first told how far it was; and how far that was. */
  since: number;
  from?: number;
}

/** What of a library's work waits or runs, by kind: how many pieces, and how far the one in hand is. */
export async function atWork(
  db: Db,
  library: number,
): Promise<{ kind: JobKind; pieces: number; progress: JobProgress | null }[]> {
  const rows = (await db('jobs')
    .where('library_id', library)
    .whereIn('state', ['ready', 'running'])
    .groupBy('kind')
    .orderBy('kind')
    .select(
      'kind',
      db.raw('COUNT(*) AS pieces'),
      db.raw("MAX(IF(state = 'running', progress, NULL)) AS progress"),
    )) as unknown as { kind: JobKind; pieces: number; progress: string | null }[];
  return rows.map(({ kind, pieces, progress }) => ({
    kind,
    pieces: Number(pieces),
    progress: progress === null ? null : (JSON.parse(progress) as JobProgress),
  }));
}

/** How a job stands: waiting, in hand and how far, failed and why, or done with what came of it; null when it was never asked for. */
export async function jobState(
  db: Db,
  library: number,
  kind: JobKind,
  about = 0,
): Promise<{
  state: 'ready' | 'running' | 'failed' | 'done';
  progress: JobProgress | null;
  result: unknown;
  error: string | null;
} | null> {
  const row = await db('jobs')
    .where({ library_id: library, kind, about })
    .first('state', 'progress', 'result', 'error');
  return row
    ? {
        ...row,
        progress: row.state === 'running' && row.progress ? (JSON.parse(row.progress) as JobProgress) : null,
        result: row.result === null ? null : (JSON.parse(row.result) as unknown),
      }
    : null;
}

/** Calls a job off: one that waits goes, one in hand is told to stop. False when there is none. */
export async function cancel(db: Db, library: number, kind: JobKind, about = 0): Promise<boolean> {
  const which = { library_id: library, kind, about };
  const gone = await db('jobs')
    .where({ ...which, state: 'ready' })
    .delete();
  const told = await db('jobs')
    .where({ ...which, state: 'running' })
    .update({ cancelled: true, again: false });
  return gone + told > 0;
}

/** What the runners of this process are told by that there is new work. */
export const wakers = new Set<() => void>();

/** Tells them that there is: after a transaction that asked for some. */
export function nudgeRunners(): void {
  for (const wake of wakers) wake();
}
