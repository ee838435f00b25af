import type { App } from '../context';
import type { SafePlacesRow } from '../db/tables';
import { ask } from '../jobs/jobs';
import { defineJob, type Job } from '../jobs/kind';
import { Refused } from '../problem';
import { forgetBroken } from './broken';
import { prove } from './prove';
import { openPlace, placeRow } from './places';
import { tidyFolder, HOST, restic, ResticError, TAG, type Way, snapshotsOf } from './restic';
import { beginRun, endRun, stepTo, type RunId } from './runs';
import { dropStill, DUMP, makeStill, type Still } from './still';
import { thin } from './thin';

/** What restic tells while it copies (`backup --json --verbose`). */
type Told =
  | { message_type: 'status'; total_files?: number; files_done?: number }
  | { message_type: 'verbose_status'; action: string; item: string }
  | { message_type: 'error'; item: string; error?: unknown }
  | {
      message_type: 'summary';
      snapshot_id: string;
      data_added: number;
      total_files_processed: number;
      total_bytes_processed: number;
    };

/** What came of copying. */
interface Copied {
  snapshot: string;
  files: number;
  bytes: number;
  added: number;
  /** Files that are new or have changed, and are no originals: below the still, with a slash before. */
  fresh: string[];
  /** Files that could not be read. */
  unread: Set<string>;
}

/** Whether a place was told to hold still. */
const pausedAt = (app: App, id: number) => async (): Promise<boolean> =>
  Boolean((await app.db('safe_places').where('id', id).first('paused'))?.paused);

/** Gets a repository ready when the run before this one was cut: a lock of a process that is gone, packs that nobody listed. */
async function tidy(app: App, row: SafePlacesRow, way: Way, signal: AbortSignal): Promise<void> {
  const last = await app
    .db('safe_runs')
    .where({ place_id: row.id, kind: 'backup' })
    .orderBy('id', 'desc')
    .offset(1)
    .first('state', 'step');
  if (!last || last.state === 'done') return;
  await restic(way, ['unlock'], { signal });
  // What was copied before it was cut is there, but in no index: it is listed now instead of being copied again.
  if (last.step !== 'copying') return;
  await restic(way, ['rebuild-index'], { signal }).catch((error: unknown) => {
    // Somebody else uses the place just now: then it is copied again.
    if (!(error instanceof ResticError && error.fault === 'locked')) throw error;
  });
}

/** Does something at a place; a lock that a process left behind which is gone is taken away first when it stands in the way. */
async function pastLocks<T>(way: Way, signal: AbortSignal, act: () => Promise<T>): Promise<T> {
  try {
    return await act();
  } catch (error) {
    if (!(error instanceof ResticError && error.fault === 'locked')) throw error;
    await restic(way, ['unlock'], { signal });
    return act();
  }
}

/**
 * Copies a still: what has changed since the last one, or, `anew`, every file from its first byte, so that what a place has lost of it comes
 * back. Names of originals get second names for each still, which changes their inodes' times and nothing else.
 */
async function copy(
  app: App,
  row: SafePlacesRow,
  way: Way,
  still: Still,
  job: Pick<Job, 'signal' | 'report'>,
  anew: boolean,
): Promise<Copied> {
  const originals = new Set(
    ((await app.db('safe_listed').where('place_id', row.id).select('path')) as { path: string }[]).map(
      ({ path }) => `/vault/${path}`,
    ),
  );
  const parent = still.parts ? ((await snapshotsOf(way, { signal: job.signal })).at(-1)?.id ?? null) : null;
  const fresh: string[] = [];
  const unread = new Set<string>();
  let summary: Extract<Told, { message_type: 'summary' }> | undefined;
  // Before everything has been counted, a share of it says nothing.
  let counted = false;
  await restic(
    way,
    [
      'backup',
      ...(still.parts ?? ['.']),
      ...['--json', '--verbose=2', '--host', HOST, '--tag', TAG, anew ? '--force' : '--ignore-ctime'],
      // What is copied may be named otherwise than the last time: it is compared with that all the same.
      ...(still.parts && parent && !anew ? ['--parent', parent] : []),
    ],
    {
      cwd: still.folder,
      signal: job.signal,
      paused: pausedAt(app, row.id),
      line: (line) => {
        if (!line.startsWith('{')) return;
        const told = JSON.parse(line) as Told;
        if (told.message_type === 'status') {
          if (counted && told.total_files) job.report(told.files_done ?? 0, told.total_files);
        } else if (told.message_type === 'summary') summary = told;
        else if (told.message_type === 'error') unread.add(told.item.startsWith('/') ? told.item : `/${told.item}`);
        else if (told.action === 'scan_finished') counted = true;
        else if (
          (told.action === 'new' || told.action === 'modified') &&
          !told.item.endsWith('/') &&
          !originals.has(told.item)
        )
          fresh.push(told.item);
      },
    },
  ).catch((error: unknown) => {
    // Some files could not be read: the rest is there, and is worth having.
    if (!(error instanceof ResticError && error.some && summary)) throw error;
  });
  if (!summary) throw new ResticError('other', 'restic ended without a word');
  return {
    snapshot: summary.snapshot_id,
    files: summary.total_files_processed,
    bytes: summary.total_bytes_processed,
    added: summary.data_added,
    fresh,
    unread,
  };
}

/** Notes which originals a place holds now, where each lies in its latest state, and which of them were never read back. */
async function noteCopies({ db }: App, place: number, run: number, unread: ReadonlySet<string>): Promise<void> {
  const lost = [...unread].flatMap((at) => (at.startsWith('/vault/') ? [at.slice('/vault/'.length)] : []));
  for (let i = 0; i < lost.length; i += 500)
    await db('safe_listed')
      .where('place_id', place)
      .whereIn('path', lost.slice(i, i + 500))
      .delete();
  await db.transaction(async (trx) => {
    await trx.raw(
      `INSERT INTO safe_copies (place_id, library_id, sha256, path, bytes, run_id)
       SELECT place_id, library_id, sha256, path, bytes, ? FROM safe_listed WHERE place_id = ?
       ON DUPLICATE KEY UPDATE path = VALUES(path), run_id = VALUES(run_id)`,
      [run, place],
    );
    await trx('safe_copies').where('place_id', place).whereNot('run_id', run).delete();
    await trx('safe_listed').where('place_id', place).delete();
  });
}

/** Why a run ended early, for whoever looks: in the words of a problem's code, or of restic. */
export function whyOf(error: unknown): string {
  if (error instanceof Refused) return JSON.stringify(error.saying);
  const why =
    error instanceof ResticError
      ? error.said.split('\n').pop()!
      : error instanceof Error
        ? error.message
        : String(error);
  return JSON.stringify({ code: 'safe-refused', params: { why: why.slice(0, 300) } });
}

/** Brings a place up to date, reads back what is new there, and thins old states. Safe to repeat after an end at any point. */
export async function backUp(
  app: App,
  { library, about: place, signal, report }: Pick<Job, 'library' | 'about' | 'signal' | 'report'>,
  { anew = false } = {},
): Promise<void> {
  const row = await placeRow(app, place).catch(() => null);
  if (!row) return;
  await app
    .db('safe_places')
    .where('id', place)
    .update({ tried_at: app.db.raw('UTC_TIMESTAMP(3)') });
  const run: RunId = await beginRun(app, row, 'backup');
  try {
    const way = await openPlace(app, row, signal);
    await tidyFolder(way.folder);
    await tidy(app, row, way, signal);
    await stepTo(app, run, 'still');
    const still = await makeStill(app, place, signal);
    await stepTo(app, run, 'copying', { still_at: still.at, act_id: still.act });
    const copied = await pastLocks(way, signal, () => copy(app, row, way, still, { signal, report }, anew));
    await noteCopies(app, place, run.id, copied.unread);
    // What a place had lost is believed again only once it has been read back, and all of it may have been.
    if (anew) await app.db('safe_copies').where('place_id', place).update({ read_at: null });
    const { snapshot, files, bytes, added } = copied;
    await stepTo(app, run, 'proving', { snapshot, files, bytes, added });
    const paused = pausedAt(app, place);
    const { right, wrong } = await prove(
      { app, row, way, snapshot, signal, paused, report },
      { files: copied.fresh, still: still.folder, known: new Map([[`/${DUMP}`, still.dump]]) },
    );
    await stepTo(app, run, 'thinning', { proven: right, wrong: wrong + copied.unread.size });
    // Old states go only once what replaces them has been read back.
    if (wrong === 0) {
      if (anew) await forgetBroken(way, signal);
      await thin(app, row, way, signal);
    }
    await endRun(app, run, 'done');
  } catch (error) {
    await endRun(app, run, signal.aborted ? 'stopped' : 'failed', signal.aborted ? null : whyOf(error));
    // A place that does not answer is tried again by the timetable; it is shown with its place, not among failures.
    if (!signal.aborted && !(error instanceof Refused) && !(error instanceof ResticError)) throw error;
  } finally {
    await dropStill(app, place);
    app.changed(library, 'safe', 'copied');
  }
}

declare module '../jobs/kind' {
  interface JobPayloads {
    backup: { anew: boolean } | null;
  }
}

/** Bringing a place of safekeeping up to date. */
export const backupJob = defineJob({
  kind: 'backup',
  priority: 8,
  tries: 3,
  topic: 'safe',
  run: (app, job) => backUp(app, job, job.payload ?? {}),
});

/** Has a place brought up to date now. */
export async function askBackup(app: App, library: number, place: number, anew = false): Promise<void> {
  await ask(app.db, library, 'backup', place, 0, anew ? { anew } : null);
  app.changed(library, 'safe');
}
