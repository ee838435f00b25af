import { todayIn } from '../time/home';
import type { LibraryState, Running, Trouble, WorkKind } from '@gemmel/contract';
import type { App } from '../context';
import type { Db } from '../db/open';
import { ask, atWork } from '../jobs/jobs';
import { safeNow } from '../safe/state';
import { kindOf, type JobKind } from '../jobs/kind';
import { notFound, sayingIn } from '../problem';

/** What runs in a library, and how far it is: `arriving` files of the batches that come in are still to be taken in. */
async function runningIn(app: App, library: number, arriving: number): Promise<Running[]> {
  const work = await atWork(app.db, library);
  const running: Running[] = [];
  if (arriving || work.some(({ kind }) => kind === 'intake')) {
    const [{ total }] = (await app
      .db('batch_items as i')
      .join('batches as b', 'b.id', 'i.batch_id')
      .where({ 'b.library_id': library, 'b.state': 'coming' })
      .count('* as total')) as [{ total: number }];
    const of = Math.max(Number(total), arriving);
    running.push({ kind: 'intake', done: of - arriving, of, answers: true });
  }
  for (const { kind, pieces, progress } of work)
    if (kind !== 'intake')
      running.push({
        kind: kind as WorkKind,
        done: progress?.done ?? 0,
        of: progress?.of ?? pieces,
        answers: kindOf(kind).answers ?? false,
      });
  return running;
}

/** How many pictures there are, and what they take, in bytes. */
export interface Figures {
  pictures: number;
  bytes: number;
}

/** How many pictures there are, and what they take. */
export async function figures(db: Db, library: number): Promise<Figures> {
  const [{ n, bytes }] = (await db('pictures')
    .where('library_id', library)
    .select(db.raw('COUNT(*) AS n, COALESCE(SUM(bytes), 0) AS bytes'))) as unknown as [{ n: number; bytes: number }];
  return { pictures: Number(n), bytes: Number(bytes) };
}

/** The library's figures and what waits in it. */
export async function libraryState(app: App, library: number, counted: Figures): Promise<LibraryState> {
  const [[row]] = (await app.db.raw(
    `SELECT l.name,
       (SELECT COUNT(*) FROM batch_items i JOIN batches b ON b.id = i.batch_id WHERE b.library_id = l.id AND b.state = 'coming' AND i.state IN ('waiting','received')) AS arriving,
       (SELECT COUNT(*) FROM batches b WHERE b.library_id = l.id AND b.offer = 'open' AND b.state = 'done'
         AND EXISTS (SELECT 1 FROM batch_items i JOIN pictures p ON p.id = i.picture_id WHERE i.batch_id = b.id)) AS batchesWaiting,
       (SELECT COUNT(*) FROM events e WHERE e.library_id = l.id AND e.title IS NULL) AS unnamedEvents,
       (SELECT COUNT(*) FROM (SELECT group_key FROM faces f WHERE f.library_id = ? AND f.state = 'waiting' AND f.group_key IS NOT NULL
         AND (f.later_until IS NULL OR f.later_until < UTC_TIMESTAMP(3)) GROUP BY group_key) g) AS introductions,
       (SELECT COUNT(*) FROM shares s WHERE s.library_id = l.id AND s.closed_at IS NULL AND (s.until_day IS NULL OR s.until_day >= ?)) AS openShares,
       (SELECT COUNT(*) FROM (SELECT run_id FROM pictures WHERE library_id = ? AND run_id IS NOT NULL AND COALESCE(pair_id, 0) = 0 GROUP BY run_id HAVING COUNT(*) > 1 AND MIN(chosen) = 0) r) AS runs,
       (SELECT COUNT(DISTINCT alike_id) FROM pictures d WHERE d.library_id = l.id AND d.alike_id IS NOT NULL) AS doubles,
       (SELECT COUNT(*) FROM glasses g JOIN pictures p ON p.id = g.picture_id WHERE g.library_id = l.id AND g.found = 1 AND g.denied = 0
         AND p.recipe IS NULL AND p.of_sha IS NULL) AS scans,
       (SELECT COUNT(*) FROM jobs j WHERE j.library_id = l.id AND j.state = 'failed') AS troubles,
       (SELECT COUNT(*) FROM clock_offers c WHERE c.library_id = l.id AND c.state = 'open') AS clocks,
       (SELECT COUNT(*) FROM sources s WHERE s.library_id = l.id AND s.kind = 'card' AND s.present AND NOT s.put_off AND s.removed_at IS NULL
         AND EXISTS (SELECT 1 FROM source_files f WHERE f.source_id = s.id AND f.listed AND f.item_id IS NULL
           AND NOT EXISTS (SELECT 1 FROM pictures p WHERE p.library_id = f.library_id AND p.sha256 = f.sha256)
           AND NOT EXISTS (SELECT 1 FROM binned g WHERE g.library_id = f.library_id AND g.sha256 = f.sha256)
           AND NOT EXISTS (SELECT 1 FROM binned_files g WHERE g.library_id = f.library_id AND g.sha256 = f.sha256)
           AND NOT EXISTS (SELECT 1 FROM picture_files q WHERE q.library_id = f.library_id AND q.sha256 = f.sha256))) AS cards
     FROM libraries l WHERE l.id = ?`,
    [library, await todayIn(app.db, library), library, library],
  )) as [[LibraryState]];
  const running = await runningIn(app, library, Number(row.arriving));
  return {
    ...(Object.fromEntries(
      Object.entries(row).map(([key, value]) => [key, key === 'name' ? value : Number(value)]),
    ) as LibraryState),
    ...counted,
    safe: await safeNow(app, library),
    full: app.full.has(library),
    running,
    final: !running.some(({ answers }) => answers),
  };
}

/** What a relative is told of a library: its name and the pictures they see, and nothing of what waits in it or runs. */
export async function relativesState({ db }: App, library: number, counted: Figures): Promise<LibraryState> {
  const { name } = (await db('libraries').where('id', library).first('name'))!;
  return {
    name,
    ...counted,
    arriving: 0,
    batchesWaiting: 0,
    unnamedEvents: 0,
    introductions: 0,
    openShares: 0,
    runs: 0,
    doubles: 0,
    scans: 0,
    troubles: 0,
    clocks: 0,
    cards: 0,
    safe: false,
    full: false,
    running: [],
    final: true,
  };
}

/** Work that failed for good, with its reason. */
export async function listTroubles(app: App, library: number): Promise<Trouble[]> {
  const rows = (await app
    .db('jobs as j')
    .leftJoin('batch_items as i', (on) => on.on('i.id', 'j.about').andOnVal('j.kind', 'intake'))
    .where({ 'j.library_id': library, 'j.state': 'failed' })
    .orderBy('j.id', 'desc')
    .limit(200)
    .select('j.id', 'j.about', 'j.kind', 'j.error', 'j.tries', 'j.taken_at', 'i.path')) as {
    id: number;
    about: number;
    kind: JobKind;
    error: string | null;
    tries: number;
    taken_at: string | null;
    path: string | null;
  }[];
  return rows.map((r) => ({
    id: r.id,
    kind: r.kind as WorkKind,
    about: r.about,
    path: r.path,
    reason: sayingIn(r.error) ?? { code: 'unexpected', params: { why: '' } },
    tries: r.tries,
    at: `${(r.taken_at ?? '').replace(' ', 'T')}Z`,
  }));
}

/** Tries failed work again. */
export async function retryTrouble(app: App, library: number, id: number): Promise<void> {
  const row = (await app.db('jobs').where({ id, library_id: library, state: 'failed' }).first('kind', 'about')) as
    { kind: JobKind; about: number } | undefined;
  if (!row) throw notFound('work');
  if (row.kind === 'intake') {
    await app
      .db('batch_items')
      .where({ id: row.about, state: 'failed' })
      .update({ state: 'received', reason: null, finished_at: null });
    await app.db.raw(
      "UPDATE batches SET state = 'coming' WHERE id = (SELECT batch_id FROM batch_items WHERE id = ?) AND state = 'done'",
      [row.about],
    );
  }
  await ask(app.db, library, row.kind, row.about);
}
