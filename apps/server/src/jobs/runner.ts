import type { Saying } from '@gemmel/contract';
import { sayingOf } from '../problem';
import { randomBytes } from 'node:crypto';
import os from 'node:os';
import type { App } from '../context';
import type { Db } from '../db/open';
import { isFull } from '../intake/space';
import { alive } from '../running';
import { LEAST, pace, wakers, type JobProgress } from './jobs';
import type { Job, JobDefinition, JobKind } from './kind';

/** How often a runner looks for work of its own accord, with room for more in hand and without, in ms. */
const LOOK = { free: 400, busy: 2000 };
/** How often what waits too long is looked for, in ms. */
const ROUND = 10 * 60_000;

/** How often a job is tried when its kind does not say. */
const TRIES = 5;
const LEASE_MINUTES = 10;
/** How often jobs are looked for whose process is gone, and whether one in hand has been called off, in ms. */
const SWEEP = 15_000;
const CALLED_OFF = 1000;
/** How often it is written how far a job is, in ms. */
const REPORT = 500;

/** How long work waits that met a full disk, in seconds. */
const ROOM_SECONDS = 15;

/** How a job ended is written again and again while the database is away: this many times, with this pause in milliseconds. */
const WRITE_TRIES = 60;
const WRITE_PAUSE = 500;

/** Names of the runners of this process that are at work. */
const runners = new Set<string>();

/** Nothing waits or is held longer than this by itself, in minutes: what seems to was noted before the clock was set back. */
const LONGEST_WAIT = 60;

/**
 * What has waited so long behind more urgent work, in minutes, is done among it, one piece at a time: pictures may come in for days, and no backup
 * must wait for the last of them. It is looked for so often, in ms.
 */
const LONG_WAITED = 10;
const LOOK_BACK = 60_000;

/** A job as it was taken from the table. */
interface Taken {
  id: number;
  priority: number;
  library: number;
  kind: JobKind;
  about: number;
  tries: number;
  payload: string | null;
  /** Taken before its turn, since it had waited long. */
  patient?: true;
}

const TAKEN = 'id, priority, library_id AS library, kind, about, tries, payload';

/** Takes jobs from the table and does them, several at once, until stopped. */
export class Runner {
  /** Its name in the table: a process before this one may have had the same number, and a process may have several runners. */
  private readonly me = `${os.hostname()}:${process.pid}:${randomBytes(3).toString('hex')}`;
  private readonly running = new Set<Promise<void>>();
  /** Of the jobs in hand, what calls them off. */
  private readonly stops = new Set<AbortController>();
  private stopping = false;
  private mended = 0;
  /** Whether there was news while it looked. */
  private called = false;
  private wake: (() => void) | null = null;
  private loop: Promise<void> | null = null;

  private swept = 0;
  private lookedBack = 0;
  /** The job in hand that was taken before its turn since it had waited long. */
  private patient: number | null = null;
  private readonly kinds: Map<JobKind, JobDefinition>;
  /** The last piece of each library's work that is done one piece at a time. */
  private readonly last = new Map<number, Promise<unknown>>();

  constructor(
    private readonly app: App,
    kinds: Iterable<JobDefinition>,
    private readonly atOnce: number,
  ) {
    this.kinds = new Map([...kinds].map((kind) => [kind.kind, kind]));
  }

  /** Takes back what processes that are gone had in hand, and begins. */
  async start(): Promise<void> {
    const held = (await this.app
      .db('jobs')
      .where('state', 'running')
      .whereNotNull('taken_by')
      .distinct('taken_by')) as {
      taken_by: string;
    }[];
    const lost = new Set(
      held
        .map((job) => job.taken_by)
        .filter((by) => {
          const [host, pid] = by.split(':');
          return host === os.hostname() && !(Number(pid) === process.pid ? runners.has(by) : alive(Number(pid)));
        }),
    );
    if (lost.size)
      await this.app
        .db('jobs')
        .where('state', 'running')
        .whereIn('taken_by', [...lost])
        .update({ state: 'ready', taken_by: null });
    await this.mendTimes();
    runners.add(this.me);
    wakers.add(this.nudge);
    this.loop = this.run();
  }

  /** Has work done now that a clock which was set back would keep waiting, or keep in the hands of a process that is gone. */
  private async mendTimes(): Promise<void> {
    this.mended = Date.now();
    const { db } = this.app;
    const now = db.raw('UTC_TIMESTAMP(3)');
    const late = db.raw('UTC_TIMESTAMP(3) + INTERVAL ? MINUTE', [LONGEST_WAIT]);
    await db('jobs').where('run_after', '>', late).update({ run_after: now });
    await db('jobs').where('taken_at', '>', late).update({ taken_at: now });
  }

  /** Gives back what was taken so long ago that whoever took it must be gone. */
  private async sweep(): Promise<void> {
    this.swept = Date.now();
    const { db } = this.app;
    await db('jobs')
      .where('state', 'running')
      .where('taken_at', '<', db.raw('UTC_TIMESTAMP(3) - INTERVAL ? MINUTE', [LEASE_MINUTES]))
      .update({ state: 'ready', taken_by: null });
  }

  /** Looks for work now instead of at the next round. */
  readonly nudge = (): void => {
    this.called = true;
    this.wake?.();
  };

  /** Takes no more jobs and waits for those in hand; long ones that can are broken off, to go on at the next start. */
  async stop(): Promise<void> {
    this.stopping = true;
    for (const stop of this.stops) stop.abort();
    wakers.delete(this.nudge);
    this.nudge();
    await this.loop;
    await Promise.allSettled(this.running);
    runners.delete(this.me);
  }

  private async run(): Promise<void> {
    let told = '';
    while (!this.stopping) {
      let job: Taken | null = null;
      this.called = false;
      try {
        if (Math.abs(Date.now() - this.mended) > ROUND) await this.mendTimes();
        if (Math.abs(Date.now() - this.swept) > SWEEP) await this.sweep();
        if (this.running.size < this.atOnce) job = await this.take();
      } catch (error) {
        // The database may be restarting: wait and go on, and say so once.
        const why = error instanceof Error ? error.message : String(error);
        if (why !== told) console.error('jobs:', why);
        told = why;
      }
      if (job) {
        if (job.patient) this.patient = job.id;
        const work: Promise<void> = this.work(job).finally(() => {
          this.running.delete(work);
          if (this.patient === job.id) this.patient = null;
          this.nudge();
        });
        this.running.add(work);
      } else if (!this.called) {
        await new Promise<void>((resolve) => {
          const wait = this.running.size < this.atOnce ? LOOK.free : LOOK.busy;
          const timer = setTimeout(resolve, Math.max(LEAST, wait * pace()));
          this.wake = () => (clearTimeout(timer), resolve());
        });
        this.wake = null;
      }
    }
  }

  /** What waits behind work of some urgency since long before now, the longest first; null when nothing does or one such job is in hand. */
  private async longWaiting(trx: Db, behind: number): Promise<Taken | null> {
    if (this.patient !== null || Date.now() - this.lookedBack < LOOK_BACK * pace()) return null;
    this.lookedBack = Date.now();
    // Looked for without holding anything: only the one that is found is locked.
    const [found] = (await trx.raw(
      `SELECT id FROM jobs FORCE INDEX (queue) WHERE state = 'ready' AND priority > ?
       AND run_after <= UTC_TIMESTAMP(3) - INTERVAL ? MINUTE ORDER BY run_after LIMIT 1`,
      [behind, LONG_WAITED],
    )) as [{ id: number }[]];
    if (!found[0]) return null;
    const [rows] = (await trx.raw(
      `SELECT ${TAKEN} FROM jobs WHERE id = ? AND state = 'ready' AND run_after <= UTC_TIMESTAMP(3) FOR UPDATE SKIP LOCKED`,
      [found[0].id],
    )) as [Taken[]];
    return rows[0] ? { ...rows[0], patient: true } : null;
  }

  private async take(): Promise<Taken | null> {
    return this.app.db.transaction(
      async (trx) => {
        // One index read in its order, so that one row is locked and not all that wait; see `queue` in the tables.
        const [rows] = (await trx.raw(
          `SELECT ${TAKEN} FROM jobs FORCE INDEX (queue)
           WHERE state = 'ready' AND run_after <= UTC_TIMESTAMP(3) ORDER BY priority, id LIMIT 1 FOR UPDATE SKIP LOCKED`,
        )) as [Taken[]];
        const next = rows[0];
        if (!next) return null;
        const job = (await this.longWaiting(trx, next.priority)) ?? next;
        await trx('jobs')
          .where('id', job.id)
          .update({
            state: 'running',
            again: false,
            cancelled: false,
            progress: null,
            taken_by: this.me,
            taken_at: trx.raw('UTC_TIMESTAMP(3)'),
          });
        return job;
      },
      { isolationLevel: 'read committed' },
    );
  }

  /** A full disk is nobody's mistake: the work waits, uncounted, and goes on when there is room. */
  private async waitForRoom(job: Taken, why: Saying): Promise<void> {
    const { db } = this.app;
    await db('jobs')
      .where('id', job.id)
      .update({
        state: 'ready',
        error: JSON.stringify(why),
        taken_by: null,
        run_after: db.raw('UTC_TIMESTAMP(3) + INTERVAL ? SECOND', [ROOM_SECONDS]),
      });
    if (!this.app.full.has(job.library)) {
      this.app.full.add(job.library);
      this.app.changed(job.library, 'library', 'batches');
    }
  }

  /** Writes how a job ended, also when the database is away for a moment: otherwise it would stay taken until its lease is over. */
  private async persist(act: () => PromiseLike<unknown>): Promise<void> {
    for (let attempt = 0; attempt < WRITE_TRIES; attempt++) {
      try {
        await act();
        return;
      } catch {
        if (this.stopping) return;
        await new Promise((resolve) => setTimeout(resolve, WRITE_PAUSE));
      }
    }
  }

  /** Writes how far a job is, now and then, and tells whoever watches. */
  private reporter(job: Taken, { topic }: JobDefinition): Job['report'] {
    let since = 0;
    let from = 0;
    let told = 0;
    return (done, of) => {
      if (!since) [since, from] = [Date.now(), done];
      if (Date.now() - told < REPORT) return;
      told = Date.now();
      const progress: JobProgress = { done, of, since, from };
      void this.app
        .db('jobs')
        .where({ id: job.id, taken_by: this.me })
        .update({ progress: JSON.stringify(progress), taken_at: this.app.db.raw('UTC_TIMESTAMP(3)') })
        .then(() => topic && this.app.changed(job.library, topic))
        .catch(() => undefined);
    };
  }

  /** Does a job, after other work of its library if its kind says so. */
  private async doOne(definition: JobDefinition, job: Job): Promise<unknown> {
    if (!definition.alone) return definition.run(this.app, job);
    const before = this.last.get(job.library) ?? Promise.resolve();
    const mine = before.catch(() => undefined).then(() => definition.run(this.app, job));
    this.last.set(job.library, mine);
    return mine;
  }

  private async work(taken: Taken): Promise<void> {
    const { db } = this.app;
    const row = () => db('jobs').where('id', taken.id);
    const definition = this.kinds.get(taken.kind);
    const stop = new AbortController();
    this.stops.add(stop);
    const lease = setInterval(
      () =>
        void row()
          .update({ taken_at: db.raw('UTC_TIMESTAMP(3)') })
          .catch(() => undefined),
      60_000,
    );
    const watch = setInterval(
      () =>
        void row()
          .first('cancelled')
          .then((now) => void (now?.cancelled && stop.abort()))
          .catch(() => undefined),
      CALLED_OFF,
    );
    try {
      if (!definition) throw new Error('this version does not know this work');
      const payload = taken.payload === null ? null : (JSON.parse(taken.payload) as unknown);
      const job: Job = {
        ...taken,
        payload: (definition.payload ? definition.payload.parse(payload) : payload) as Job['payload'],
        report: this.reporter(taken, definition),
        signal: stop.signal,
      };
      const result = await this.doOne(definition, job).catch((error: unknown) => {
        // Whoever called it off does not want to hear that it did not come to its end.
        if (!stop.signal.aborted) throw error;
      });
      if (this.stopping && stop.signal.aborted) {
        await row().where('cancelled', false).update({ state: 'ready', taken_by: null });
        return;
      }
      await this.persist(async () => {
        const ended = definition.keeps && !stop.signal.aborted;
        const done = ended
          ? await row()
              .where('again', false)
              .update({ state: 'done', result: JSON.stringify(result ?? null), taken_by: null, error: null, tries: 0 })
          : await row().where('again', false).delete();
        if (!done) await row().update({ state: 'ready', again: false, tries: 0, taken_by: null });
      });
      if (definition.topic) this.app.changed(taken.library, definition.topic);
      if (definition.answers && taken.kind !== 'intake') this.app.changed(taken.library, 'library');
      if (taken.kind === 'intake') this.app.full.delete(taken.library);
    } catch (error) {
      await this.failed(taken, definition, error);
    } finally {
      clearInterval(lease);
      clearInterval(watch);
      this.stops.delete(stop);
    }
  }

  /** What failed waits longer each time; what has failed too often is given up and told. */
  private async failed(job: Taken, definition: JobDefinition | undefined, error: unknown): Promise<void> {
    const { db } = this.app;
    const why = sayingOf(error);
    if (isFull(error)) {
      await this.waitForRoom(job, why).catch(() => undefined);
      return;
    }
    const tries = job.tries + 1;
    const over = tries >= (definition?.tries ?? TRIES);
    await this.persist(() =>
      db('jobs')
        .where('id', job.id)
        .update({
          state: over ? 'failed' : 'ready',
          tries,
          error: JSON.stringify(why),
          taken_by: null,
          run_after: db.raw('UTC_TIMESTAMP(3) + INTERVAL ? SECOND', [2 ** tries]),
        }),
    );
    if (!over) return;
    await definition?.gaveUp?.(this.app, job as unknown as Job, why).catch(() => undefined);
    this.app.changed(job.library, 'library');
  }
}
