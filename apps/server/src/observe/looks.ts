import { THING_NAMES, type Look, type Observed } from '@gemmel/core';
import { derivedBase, type App } from '../context';
import type { Db } from '../db/open';
import { ask, cancel, jobState } from '../jobs/jobs';
import { defineJob, type Job } from '../jobs/kind';
import { readAgain } from '../question/words';
import { keepNoticed, LOOKED, observesOf, WORK_OF, type Looked } from './kinds';

/** Pictures that are fetched, or forgotten, at a time. */
const SOME = 40;
const MANY = 1000;
/** How long it waits, in ms, before it looks whether people's work is done. */
const WAIT = 1000;

/** Photos that are still to be looked at in one way. */
const open = (db: Db, library: number, look: Looked) =>
  db('pictures').where({ library_id: library, kind: 'photo' }).where(LOOKED[look].column, '<', LOOKED[look].version);

/** How many photos there are, and how many of them were looked at. */
export async function lookedAt(db: Db, library: number, look: Looked): Promise<{ done: number; of: number }> {
  const all = db('pictures').where({ library_id: library, kind: 'photo' });
  const [[row], [left]] = (await Promise.all([
    all.clone().count('id as n'),
    open(db, library, look).count('id as n'),
  ])) as unknown as [[{ n: number | string }], [{ n: number | string }]];
  return { done: Number(row.n) - Number(left.n), of: Number(row.n) };
}

/** Has every picture of a library looked at once more in one way, or forgets what was read, some at a time; safe to repeat. */
export async function forgetLooks(db: Db, library: number, look: Looked): Promise<void> {
  if (!(await observesOf(db, library)).again.includes(look)) return;
  const { column } = LOOKED[look];
  for (let after = 0; ;) {
    const ids = await db('pictures')
      .where({ library_id: library, kind: 'photo' })
      .where('id', '>', after)
      .where(
        (q) => void q.where(column, '>', 0).orWhere((r) => void (look === 'words' && r.whereNotNull('seen_words'))),
      )
      .orderBy('id')
      .limit(MANY)
      .select('id');
    if (ids.length === 0) break;
    const some = ids.map((row) => row.id);
    after = some[some.length - 1]!;
    await db.transaction(async (trx) => {
      await trx('pictures')
        .whereIn('id', some)
        .update({ [column]: 0, ...(look === 'words' ? { seen_words: null } : {}) });
      if (look === 'words') await readAgain(trx, library, some);
    });
  }
  await db.transaction(async (trx) => {
    await trx('libraries').where('id', library).forUpdate().first('id');
    const { again } = await observesOf(trx, library);
    await trx('libraries')
      .where('id', library)
      .update({ observes_again: again.filter((one) => one !== look).join(',') });
  });
}

/**
 * Looks at every picture nobody has looked at in one way, the newest first, and goes on where it was after a crash.
 * @param at how many are looked at side by side. @param keep what is kept of a picture, in the transaction that notes it was done.
 */
export async function lookAtAll<T>(
  app: App,
  job: Job,
  look: Looked,
  {
    at,
    see,
    keep,
    before,
  }: {
    at: number;
    see: (base: string, row: { id: number; width: number; height: number }) => Promise<T | null>;
    keep: (trx: Db, picture: number, seen: T) => Promise<void>;
    /** Asked before each of them whether to go on. */
    before?: () => Promise<boolean>;
  },
): Promise<void> {
  const { db } = app;
  const { library } = job;
  const { column, version } = LOOKED[look];
  const state = await lookedAt(db, library, look);
  let { done } = state;
  // A start after a crash passes over those that were looked at once.
  for (let last = Infinity; ;) {
    const rows = (await open(db, library, look)
      .where((q) => void (Number.isFinite(last) && q.where('id', '<', last)))
      .orderBy('id', 'desc')
      .limit(SOME)
      .select(
        'id',
        // What is measured goes by the original, with its faces; things and words are those of what is shown of a look.
        db.raw(
          look === 'measured' ? 'COALESCE(of_sha, sha256) AS sha256' : 'IF(of_sha IS NULL, sha256, shown) AS sha256',
        ),
        db.raw('COALESCE(whole_width, width) AS width, COALESCE(whole_height, height) AS height'),
      )) as unknown as { id: number; sha256: Buffer; width: number; height: number }[];
    if (rows.length === 0) return;
    last = rows[rows.length - 1]!.id;
    for (let i = 0; i < rows.length; i += at) {
      if (before && !(await before())) return;
      if (job.signal.aborted) return;
      const some = rows.slice(i, i + at);
      const seen = await Promise.all(some.map((row) => see(derivedBase(app, row.sha256.toString('hex')), row)));
      await db.transaction(async (trx) => {
        for (const [j, row] of some.entries()) if (seen[j] !== null) await keep(trx, row.id, seen[j]!);
        await trx('pictures')
          .whereIn(
            'id',
            some.map((row) => row.id),
          )
          .update({ [column]: version });
      });
      done += some.length;
      job.report(done, Math.max(state.of, done));
    }
  }
}

/** Whether other work waits or runs that comes before. */
const busy = async (db: Db, priority: number): Promise<boolean> =>
  (await db('jobs')
    .where('priority', '<', priority)
    .where(
      (q) =>
        void q
          .where('state', 'running')
          .orWhere((r) => void r.where('state', 'ready').where('run_after', '<=', db.raw('UTC_TIMESTAMP(3)'))),
    )
    .first('id')) !== undefined;

const PRIORITY = { things: 12, words: 13 } as const satisfies Record<Look, number>;

/** Looks for things, or reads, in idle time, one picture at a time: any other work comes first. */
async function lookFor<T>(
  app: App,
  job: Job,
  look: Look,
  see: (file: string) => Promise<T | null>,
  keep: (trx: Db, picture: number, seen: T) => Promise<void>,
): Promise<void> {
  const { db } = app;
  await forgetLooks(db, job.library, look);
  const { looks, paused } = await observesOf(db, job.library);
  if (looks.includes(look) && !paused.includes(look)) {
    let gaveWay = false;
    await lookAtAll(app, job, look, {
      at: 1,
      see: (base) => see(`${base}-large.jpg`),
      keep,
      // Whoever only waited would keep a place in which other work could be done: it ends instead, and is asked for again.
      before: async () => {
        if (!(await busy(db, PRIORITY[look]))) return true;
        await new Promise((resolve) => setTimeout(resolve, WAIT * Number(process.env['GEMMEL_PACE'] ?? 1)));
        gaveWay = await busy(db, PRIORITY[look]);
        return !gaveWay;
      },
    });
    if (gaveWay && !job.signal.aborted) await ask(db, job.library, WORK_OF[look]);
  }
  app.worked(job.library, 'said');
}

declare module '../jobs/kind' {
  interface JobPayloads {
    things: null;
    reading: null;
  }
}

/** Seeing everyday things, when the keeper has asked for it. */
export const thingsJob = defineJob({
  kind: 'things',
  priority: PRIORITY.things,
  topic: 'observing',
  run: (app, job) =>
    lookFor(
      app,
      job,
      'things',
      async (file) =>
        (await app.pool.run({ file, models: app.config.models }, { name: 'things' })) as
          { kind: Observed; sure: number }[] | null,
      (trx, picture, seen) => keepNoticed(trx, job.library, picture, seen),
    ),
});

/** Reading signs, menus, letters and screenshots, when the keeper has asked for it. */
export const readingJob = defineJob({
  kind: 'reading',
  priority: PRIORITY.words,
  topic: 'observing',
  run: (app, job) =>
    lookFor(
      app,
      job,
      'words',
      async (file) => (await app.pool.run({ file, models: app.config.models }, { name: 'read' })) as string | null,
      async (trx, picture, text) => {
        if (!text) return;
        // Held, so that it is not written after somebody has switched reading off.
        const { observes } = (await trx('libraries').where('id', job.library).forShare().first('observes'))!;
        if (!observes.split(',').includes('words')) return;
        await keepNoticed(trx, job.library, picture, [{ kind: 'words', sure: 1 }]);
        await trx('pictures')
          .where('id', picture)
          .update({ seen_words: text.slice(0, 8000) });
        await readAgain(trx, job.library, [picture]);
      },
    ),
});

/** Holds a look, or lets it go on where it was. */
export async function pauseLook(app: App, library: number, look: Look, paused: boolean): Promise<void> {
  await app.db.transaction(async (trx) => {
    await trx('libraries').where('id', library).forUpdate().first('id');
    const now = new Set((await observesOf(trx, library)).paused);
    if (paused) now.add(look);
    else now.delete(look);
    await trx('libraries')
      .where('id', library)
      .update({ observes_paused: [...now].join(',') });
  });
  if (paused) await cancel(app.db, library, WORK_OF[look]);
  else await ask(app.db, library, WORK_OF[look]);
  app.changed(library, 'said');
}

/** How a look stands. */
export async function lookState(app: App, library: number, look: Look) {
  const { db } = app;
  const { looks, paused } = await observesOf(db, library);
  const kinds: string[] = look === 'things' ? THING_NAMES : ['words'];
  const [row] = (await db('picture_observations')
    .where('library_id', library)
    .whereIn('kind', kinds)
    .countDistinct('picture_id as n')) as unknown as [{ n: number | string }];
  const progress = (await jobState(db, library, WORK_OF[look]))?.progress;
  const { done, of } = await lookedAt(db, library, look);
  const quick = progress && progress.done > (progress.from ?? 0);
  return {
    look,
    on: looks.includes(look),
    paused: paused.includes(look),
    pictures: Number(row.n),
    done,
    of,
    left: quick
      ? Math.round(((of - done) * (Date.now() - progress.since)) / 1000 / (progress.done - (progress.from ?? 0)))
      : null,
  };
}
