import { NOTICED, THING_NAMES, type Notice, type Noticed } from '@gemmel/core';
import { perform, type By } from '../act/perform';
import { chunks, derivedBase, type App } from '../context';
import { addressIn, type Db } from '../db/open';
import { ask } from '../jobs/jobs';
import { defineJob, type Job } from '../jobs/kind';

/** The version of what is measured of a picture; those looked at by an older one are looked at again. */
export const OBSERVED_BY = 1;

/** What a library has looked for. */
export const observesOf = async (db: Db, library: number): Promise<Noticed[]> => {
  const { observes } = (await db('libraries').where('id', library).first('observes'))!;
  const wanted = new Set(observes.split(','));
  return NOTICED.filter((kind) => wanted.has(kind));
};

/** Keeps what was noticed of a picture, as far as the library has it looked for. */
export async function keepNoticed(
  trx: Db,
  library: number,
  picture: number,
  noticed: readonly Notice[],
): Promise<void> {
  const wanted = noticed.length ? new Set<string>(await observesOf(trx, library)) : new Set<string>();
  const rows = noticed.filter(({ kind }) => wanted.has(kind));
  if (rows.length)
    await trx('picture_observations')
      .insert(rows.map(({ kind, sure }) => ({ library_id: library, picture_id: picture, kind, sure })))
      .onConflict()
      .ignore();
}

/**
 * Looks at pictures nobody has looked at, a few at a time, and goes on where it was after a crash; then at what faces tell, over
 * the whole library.
 */
export async function observeLibrary(app: App, job: Job): Promise<void> {
  const { db } = app;
  const { library } = job;
  const open = () =>
    db('pictures').where({ library_id: library, kind: 'photo' }).where('observed_by', '<', OBSERVED_BY);
  const [{ n }] = (await open().count('id as n')) as [{ n: number | string }];
  const of = Number(n);
  // From the newest on; a start after a crash passes over those that were looked at once.
  for (let done = 0, last = Infinity; ;) {
    if (job.signal.aborted) return;
    const rows = await open()
      .where((q) => void (Number.isFinite(last) && q.where('id', '<', last)))
      .orderBy('id', 'desc')
      .limit(40)
      .select('id', 'sha256', 'width', 'height');
    if (rows.length === 0) break;
    last = rows[rows.length - 1]!.id;
    for (const some of chunks(rows, app.config.threads)) {
      const noticed = (await Promise.all(
        some.map((row) =>
          app.pool.run(
            {
              file: `${derivedBase(app, row.sha256.toString('hex'))}-small.webp`,
              width: row.width,
              height: row.height,
            },
            { name: 'observe' },
          ),
        ),
      )) as (Notice[] | null)[];
      await db.transaction(async (trx) => {
        for (const [i, row] of some.entries()) await keepNoticed(trx, library, row.id, noticed[i] ?? []);
        await trx('pictures')
          .whereIn(
            'id',
            some.map((row) => row.id),
          )
          .update({ observed_by: OBSERVED_BY });
      });
    }
    done += rows.length;
    job.report(done, Math.max(of, done));
  }
  await app.pool.run(
    { library, kinds: await observesOf(db, library), address: addressIn(db) },
    { name: 'noticeFaces' },
  );
  app.changed(library, 'said');
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
  const on = new Set<string>(await observesOf(app.db, library));
  const rows = (await app
    .db('picture_observations')
    .where('library_id', library)
    .groupBy('kind')
    .select('kind', app.db.raw('COUNT(*) AS n'))) as unknown as { kind: string; n: number | string }[];
  const counts = new Map(rows.map((row) => [row.kind, Number(row.n)]));
  return {
    kinds: NOTICED.filter((kind) => kind !== 'words').map((kind) => ({
      kind,
      on: on.has(kind),
      pictures: counts.get(kind) ?? 0,
    })),
    things: [...counts].filter(([kind]) => (THING_NAMES as string[]).includes(kind)).reduce((sum, [, n]) => sum + n, 0),
  };
}

/** Has a kind looked for, or no longer: what was noticed of it goes at once, and is found again when it is looked for again. */
export const setObserving = (app: App, by: By, kind: Noticed, on: boolean): Promise<{ act: number | null }> =>
  perform(app, by, 'observing', async ({ trx, library, hold, words, then }) => {
    const [row] = await hold('libraries', [library]);
    const now = new Set(String(row!['observes']).split(',').filter(Boolean));
    if (on) now.add(kind);
    else now.delete(kind);
    words({ what: [kind], favourite: on });
    await trx('libraries')
      .where('id', library)
      .update({ observes: [...now].join(',') });
    if (on) {
      // Pictures are looked at once more; what else is noticed of them stays as it is.
      await trx('pictures').where({ library_id: library, kind: 'photo' }).update({ observed_by: 0 });
    } else await trx('picture_observations').where({ library_id: library, kind }).delete();
    then('observe', 500);
  });

/** Has pictures looked at that came in before this could be noticed. */
export async function observeOlder(db: Db): Promise<void> {
  for (const { library_id } of await db('pictures')
    .where('kind', 'photo')
    .where('observed_by', '<', OBSERVED_BY)
    .distinct('library_id'))
    await ask(db, library_id, 'observe', 0, 3000);
}
