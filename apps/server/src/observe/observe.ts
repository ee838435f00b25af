import { type FaceShot, LOOKS, MEASURED, OBSERVABLE, type Notice, type Observable, type Observed } from '@gemmel/core';
import { existsSync } from 'node:fs';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import { addressIn, type Db } from '../db/open';
import { ask } from '../jobs/jobs';
import { defineJob, type Job } from '../jobs/kind';
import { refuseForeign } from '../library/own';
import { askLooks, keepNoticed, LOOKED, observeAsSaid, observesOf, WORK_OF } from './kinds';
import { forgetLooks, lookAtAll, lookState } from './looks';

/** A face, and what it is like. */
interface Seen extends FaceShot {
  face: number;
}

/** What those faces of a picture are like of which that is not known. */
async function facesSeen(app: App, picture: number, file: string): Promise<Seen[]> {
  const faces = await app
    .db('faces')
    .where('picture_id', picture)
    .whereIn('state', ['waiting', 'named'])
    .where((q) => q.whereNull('eyes').orWhereNull('sharp'))
    .select('id', 'x', 'y', 'w', 'h');
  if (faces.length === 0 || !existsSync(file)) return [];
  const shots = (await app.pool.run(
    { file, boxes: faces.map(({ x, y, w, h }) => [x, y, w, h]), models: app.config.models },
    { name: 'faceShots' },
  )) as (FaceShot | null)[];
  return faces.flatMap(({ id }, i) => (shots[i] ? [{ face: id, ...shots[i] }] : []));
}

/**
 * Looks at pictures nobody has looked at, a few at a time, and goes on where it was after a crash; then at what faces tell, over
 * the whole library.
 */
export async function observeLibrary(app: App, job: Job): Promise<void> {
  const { db } = app;
  const { library } = job;
  await forgetLooks(db, library, 'measured');
  await lookAtAll<{ noticed: Notice[]; faces: Seen[] }>(app, job, 'measured', {
    at: app.config.threads,
    see: async (base, { id, width, height }) => ({
      noticed:
        ((await app.pool.run({ file: `${base}-small.webp`, width, height }, { name: 'observe' })) as Notice[] | null) ??
        [],
      faces: await facesSeen(app, id, `${base}-large.jpg`),
    }),
    keep: async (trx, picture, { noticed, faces }) => {
      await keepNoticed(trx, library, picture, noticed);
      for (const { face, ...shot } of faces) await trx('faces').where('id', face).update(shot);
      // Which shot of a run is the best is told by its faces.
      if (faces.length) await trx('pictures').where('id', picture).whereNotNull('run_id').update({ grouped_at: null });
    },
  });
  if (job.signal.aborted) return;
  await app.pool.run(
    { library, kinds: (await observesOf(db, library)).noticed, address: addressIn(db) },
    { name: 'noticeFaces' },
  );
  await ask(db, library, 'alike', 0, 1000);
  app.worked(library, 'said');
}

declare module '../jobs/kind' {
  interface JobPayloads {
    observe: null;
  }
}

/** Noticing what can be measured: blurred, dark, screenshots, shut eyes. */
export const observeJob = defineJob({ kind: 'observe', priority: 8, run: observeLibrary });

/** What a library's keeper is told: each kind with whether it is looked for, and in how many pictures it was noticed. */
export async function observing(app: App, library: number) {
  const { noticed } = await observesOf(app.db, library);
  const rows = (await app
    .db('picture_observations')
    .where('library_id', library)
    .whereIn('kind', [...MEASURED])
    .groupBy('kind')
    .select('kind', app.db.raw('COUNT(*) AS n'))) as unknown as { kind: string; n: number | string }[];
  const counts = new Map(rows.map((row) => [row.kind, Number(row.n)]));
  return {
    kinds: MEASURED.map((kind) => ({
      kind,
      on: noticed.includes(kind),
      pictures: counts.get(kind) ?? 0,
    })),
    looks: await Promise.all(LOOKS.map((look) => lookState(app, library, look))),
  };
}

/** Has a kind looked for, or no longer: what was noticed of it goes at once, and is found again when it is looked for again. */
export const setObserving = (app: App, by: By, kind: Observable, on: boolean): Promise<{ act: number | null }> =>
  perform(app, by, 'observing', async ({ trx, library, hold, words, then }) => {
    const [row] = await hold('libraries', [library]);
    const now = new Set(String(row!['observes']).split(',').filter(Boolean));
    if (on) now.add(kind);
    else now.delete(kind);
    words({ what: [kind], favourite: on });
    const observes = OBSERVABLE.filter((one) => now.has(one)).join(',');
    await trx('libraries').where('id', library).update({ observes });
    const look = LOOKS.find((one) => one === kind);
    await observeAsSaid(trx, library, observes, on && !look);
    then(look ? WORK_OF[look] : 'observe', 500);
  });

/** Says that what was noticed of some pictures is not so: it is taken away and not noticed again. */
export const sayNotSo = (app: App, by: By, ids: readonly number[], kind: Observed): Promise<{ act: number | null }> =>
  perform(app, by, 'not so', async ({ trx, library, hold, words }) => {
    await refuseForeign(trx, library, 'pictures', ids, 'picture');
    await hold('observation_denied', ids);
    await hold('picture_observations', ids);
    words({ what: [kind] });
    await trx('observation_denied')
      .insert(ids.map((picture_id) => ({ library_id: library, picture_id, kind })))
      .onConflict()
      .ignore();
    await trx('picture_observations').whereIn('picture_id', ids).where({ library_id: library, kind }).delete();
  });

/** Has pictures looked at that came in before this could be noticed, or since a look was asked for. */
export async function observeOlder(db: Db): Promise<void> {
  for (const { id, observes } of await db('libraries').select('id', 'observes')) {
    const open = await db('pictures')
      .where({ library_id: id, kind: 'photo' })
      .where('observed_by', '<', LOOKED.measured.version)
      .first('id');
    if (open) await ask(db, id, 'observe', 0, 3000);
    await askLooks(db, id, observes);
  }
}
