import type { Safekeeping, SafePlace, SafeRun } from '@gemmel/contract';
import type { App } from '../context';
import type { SafePlacesRow, SafeRunsRow } from '../db/tables';
import { jobState } from '../jobs/jobs';
import { sayingIn } from '../problem';
import { fingerprintOf, houseLibrary, keyLine } from './places';

const iso = (at: string | null): string | null => at && `${at.replace(' ', 'T')}Z`;

/** True for a file of `t` of which a place holds a copy that was read back. */
const COPIED = (t: string): string =>
  `EXISTS (SELECT 1 FROM safe_copies c WHERE c.library_id = ${t}.library_id AND c.sha256 = ${t}.sha256 AND c.read_at IS NOT NULL)`;

/** How many pictures are in two places, and since when others are not. A picture is there with all its files or not at all. */
export async function countTwo(
  { db }: App,
  library: number,
): Promise<{ pictures: number; two: number; none: number; since: string | null }> {
  const [[row]] = (await db.raw(
    `SELECT COUNT(*) AS pictures, COALESCE(SUM(copied AND whole), 0) AS two, COALESCE(SUM(NOT copied AND NOT whole), 0) AS none,
       CAST(MIN(IF(copied AND whole, NULL, created_at)) AS CHAR) AS since
     FROM (SELECT p.created_at, p.broken_at IS NULL AS whole,
       ${COPIED('p')} AND NOT EXISTS (SELECT 1 FROM picture_files f WHERE f.picture_id = p.id AND NOT ${COPIED('f')}) AS copied
       FROM pictures p WHERE p.library_id = ?) k`,
    [library],
  )) as [[{ pictures: number; two: number; none: number; since: string | null }]];
  return { pictures: Number(row.pictures), two: Number(row.two), none: Number(row.none), since: iso(row.since) };
}

/** Whether every picture of a library is in two places. Most often one row answers: the first that is not. */
export async function safeNow({ db }: App, library: number): Promise<boolean> {
  if (!(await db('safe_copies').where('library_id', library).first('run_id'))) return false;
  const [[row]] = (await db.raw(
    `SELECT p.id FROM pictures p WHERE p.library_id = ? AND (p.broken_at IS NOT NULL OR NOT ${COPIED('p')}
       OR EXISTS (SELECT 1 FROM picture_files f WHERE f.picture_id = p.id AND NOT ${COPIED('f')})) ORDER BY p.id DESC LIMIT 1`,
    [library],
  )) as [[{ id: number } | undefined]];
  return row === undefined;
}

/** What was said and done in a library since the last moment of which a place holds the words. */
async function wordsSince({ db }: App, library: number): Promise<Safekeeping['words']> {
  const last = await db('safe_runs')
    .where({ kind: 'backup', state: 'done', wrong: 0 })
    .orderBy('still_at', 'desc')
    .first('still_at', 'act_id');
  const [{ n }] = (await db('acts')
    .where('library_id', library)
    .where('id', '>', last?.act_id ?? 0)
    .whereNotNull('member_id')
    .count('* as n')) as unknown as [{ n: number }];
  return { n: Number(n), since: iso(last?.still_at ?? null) };
}

/** How reading the originals back goes. */
async function originalsOf({ db }: App, library: number): Promise<Safekeeping['originals']> {
  const [[row]] = (await db.raw(
    `SELECT COUNT(*) AS n, COALESCE(SUM(broken_at IS NULL AND verified_at IS NOT NULL), 0) AS whole, COALESCE(SUM(broken_at IS NOT NULL), 0) AS broken,
       CAST(MAX(verified_at) AS CHAR) AS last, CAST(MIN(verified_at) AS CHAR) AS first FROM pictures WHERE library_id = ?`,
    [library],
  )) as [[{ n: number; whole: number; broken: number; last: string | null; first: string | null }]];
  const mends = await db('safe_mends')
    .where('library_id', library)
    .whereNotNull('mended_at')
    .orderBy('id', 'desc')
    .limit(20)
    .select('mended_at', 'place', 'path');
  return {
    pictures: Number(row.n),
    whole: Number(row.whole),
    damaged: Number(row.broken),
    last: iso(row.last),
    first: iso(row.first),
    mended: mends.map(({ mended_at, place, path: at }) => ({ at: iso(mended_at)!, place, name: at.split('/').pop()! })),
    now: await nowOf({ db } as App, library, 'readBack', 0),
  };
}

async function nowOf(
  { db }: App,
  library: number,
  kind: 'backup' | 'rehearse' | 'safePart' | 'readBack',
  about: number,
): Promise<SafePlace['now']> {
  const job = await jobState(db, library, kind, about);
  if (!job || job.state === 'failed' || job.state === 'done') return null;
  const { progress } = job;
  return {
    kind,
    step: null,
    begun: job.state === 'running',
    done: progress?.done ?? 0,
    of: progress?.of ?? 0,
    since: progress?.since ?? null,
    from: progress?.from ?? 0,
  };
}

/** A run as it is told. */
export const toRun = (row: SafeRunsRow): SafeRun => ({
  id: row.id,
  kind: row.kind,
  state: row.state,
  began: iso(row.began_at)!,
  ended: iso(row.ended_at),
  still: iso(row.still_at),
  files: row.files,
  bytes: Number(row.bytes),
  added: Number(row.added),
  proven: row.proven,
  wrong: row.wrong,
  why: sayingIn(row.error),
});

async function toPlace(app: App, row: SafePlacesRow, library: number, total: number): Promise<SafePlace> {
  const { db } = app;
  const runs = (kind: SafeRunsRow['kind']) => db('safe_runs').where({ place_id: row.id, kind }).orderBy('id', 'desc');
  const [last, latest, rehearsed, lastTrial, checked, [{ n }]] = await Promise.all([
    runs('backup').where('state', 'done').first(),
    runs('backup').first(),
    runs('rehearsal').where('state', 'done').first(),
    runs('rehearsal').first(),
    runs('part').first(),
    db
      .raw(
        `SELECT COUNT(*) AS n FROM pictures p WHERE p.library_id = ? AND EXISTS (SELECT 1 FROM safe_copies c WHERE c.place_id = ? AND c.library_id = p.library_id AND c.sha256 = p.sha256 AND c.read_at IS NOT NULL)`,
        [library, row.id],
      )
      .then(([rows]: [[{ n: number }]]) => rows),
  ]);
  let now: SafePlace['now'] = null;
  for (const kind of ['backup', 'rehearse', 'safePart'] as const) {
    now = await nowOf(app, row.library_id, kind, row.id);
    if (now) {
      const running = kind === 'backup' ? latest : kind === 'rehearse' ? lastTrial : null;
      if (running?.state === 'running') now = { ...now, step: running.step };
      break;
    }
  }
  return {
    id: row.id,
    kind: row.kind,
    name: row.name,
    location: row.location,
    often: row.often,
    hour: row.hour,
    kilobytes: row.kilobytes,
    paused: Boolean(row.paused),
    there: Boolean(row.there),
    seen: iso(row.seen_at),
    pictures: Number(n),
    waiting: total - Number(n),
    last: last ? toRun(last) : null,
    latest: latest ? toRun(latest) : null,
    trial: rehearsed ? toRun(rehearsed) : null,
    latestTrial: lastTrial ? toRun(lastTrial) : null,
    checked: checked ? toRun(checked) : null,
    now,
    key: row.kind === 'machine' && row.repository === null ? await keyLine(app, row).catch(() => null) : null,
    fingerprint: row.kind === 'machine' ? await fingerprintOf(app, row).catch(() => null) : null,
  };
}

/** How safe a library's pictures are, and the places that hold copies of them. */
export async function safekeeping(app: App, library: number): Promise<Safekeeping> {
  const { db } = app;
  const house = await houseLibrary(app);
  const [two, words, originals] = await Promise.all([
    countTwo(app, library),
    wordsSince(app, library),
    originalsOf(app, library),
  ]);
  const rows = await db('safe_places').orderBy('id');
  return {
    ...two,
    one: two.pictures - two.two - two.none,
    words,
    originals,
    house: house === library ? null : (await db('libraries').where('id', house).first('name'))!.name,
    places: house === library ? await Promise.all(rows.map((row) => toPlace(app, row, library, two.pictures))) : [],
  };
}

/** What was done at a place, the latest first. */
export async function listRuns({ db }: App, library: number, place: number): Promise<SafeRun[]> {
  return (await db('safe_runs').where({ library_id: library, place_id: place }).orderBy('id', 'desc').limit(100)).map(
    toRun,
  );
}
