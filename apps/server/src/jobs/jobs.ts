import os from 'node:os';
import type { App } from '../context';
import type { Db } from '../db/open';
import { isFull } from '../intake/space';
import { alive } from '../running';

/**
 * Work that is done behind people's backs. `about` is what it is about: a batch item for intake, a batch for what follows
 * from it, a source to be listed, a picture whose clip is worked on, else 0.
 */
export type JobKind =
  | 'intake'
  | 'follow'
  | 'list'
  | 'events'
  | 'clocks'
  | 'faces'
  | 'seek'
  | 'sidecars'
  | 'refile'
  | 'alike'
  | 'verify'
  | 'moving'
  | 'transcode';

/** A job in hand. */
export interface Job {
  id: number;
  library: number;
  kind: JobKind;
  about: number;
  tries: number;
}

/** Does one job. Must be idempotent: after a crash it is done again from the start. */
export type Handler = (app: App, job: Job) => Promise<void>;

/** A factor for all waits that only gather many askings into one piece of work. */
const pace = (): number => Number(process.env['GEMMEL_PACE'] ?? 1);
/** How often a runner looks for work of its own accord, with room for more in hand and without, in ms. */
const LOOK = { free: 400, busy: 2000, least: 20 };
/** How often what waits too long is looked for, in ms. */
const ROUND = 10 * 60_000;

const MOST_TRIES = 5;
const LEASE_MINUTES = 10;

/** Less urgent than new pictures: work over the whole library. */
const PRIORITY: Record<JobKind, number> = {
  list: 0,
  transcode: 0,
  intake: 1,
  follow: 2,
  events: 2,
  clocks: 4,
  faces: 3,
  seek: 7,
  refile: 4,
  sidecars: 5,
  alike: 6,
  moving: 7,
  verify: 8,
};

/** How long work waits that met a full disk, in seconds. */
const ROOM_SECONDS = 15;

/** How a job ended is written again and again while the database is away: this many times, with this pause in milliseconds. */
const WRITE_TRIES = 60;
const WRITE_PAUSE = 500;

/**
 * Asks for a job, once: a job of the same kind about the same thing that is already waiting serves for both, and one
 * that is running is done again afterwards.
 * @param delay milliseconds to wait first, so that many askings become one piece of work.
 */
export async function ask(
  db: Db,
  library: number,
  kind: JobKind,
  about: number | readonly number[] = 0,
  delay = 0,
): Promise<void> {
  const abouts = typeof about === 'number' ? [about] : about;
  for (let i = 0; i < abouts.length; i += 500) {
    const some = abouts.slice(i, i + 500);
    await db.raw(
      `INSERT INTO jobs (library_id, kind, about, priority, run_after) VALUES ${some.map(() => '(?, ?, ?, ?, UTC_TIMESTAMP(3) + INTERVAL ? MICROSECOND)').join(',')}
       ON DUPLICATE KEY UPDATE again = (state = 'running'), run_after = LEAST(run_after, VALUES(run_after)), tries = IF(state = 'failed', 0, tries), state = IF(state = 'failed', 'ready', state)`,
      some.flatMap((a) => [library, kind, a, PRIORITY[kind], Math.round(delay * pace() * 1000)]),
    );
  }
  nudgeRunners();
}

/** Tells the runners of this process that there is new work: after a transaction that asked for some. */
export function nudgeRunners(): void {
  for (const wake of wakers) wake();
}

/** Runners of this process, told when there is new work. */
const wakers = new Set<() => void>();

/** Nothing waits or is held longer than this by itself, in minutes: what seems to was noted before the clock was set back. */
const LONGEST_WAIT = 60;

/** Takes jobs from the table and does them, several at once, until stopped. */
export class Runner {
  private readonly me = `${os.hostname()}:${process.pid}`;
  private readonly running = new Set<Promise<void>>();
  private stopping = false;
  private mended = 0;
  /** Whether there was news while it looked. */
  private called = false;
  private wake: (() => void) | null = null;
  private loop: Promise<void> | null = null;

  constructor(
    private readonly app: App,
    private readonly handlers: Record<JobKind, Handler>,
    private readonly atOnce: number,
    /** Told when a job has failed for good. */
    private readonly gaveUp: (job: Job, reason: string) => Promise<void> = async () => undefined,
  ) {}

  /** Takes back what processes that are gone had in hand, and begins. */
  async start(): Promise<void> {
    const held = (await this.app.db('jobs').where('state', 'running').select('id', 'taken_by')) as {
      id: number;
      taken_by: string;
    }[];
    const lost = held.filter(({ taken_by }) => {
      const [host, pid] = taken_by.split(':');
      return host === os.hostname() && !(Number(pid) !== process.pid && alive(Number(pid)));
    });
    if (lost.length)
      await this.app
        .db('jobs')
        .whereIn(
          'id',
          lost.map((j) => j.id),
        )
        .update({ state: 'ready', taken_by: null });
    await this.mendTimes();
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

  /** Looks for work now instead of at the next round. */
  readonly nudge = (): void => {
    this.called = true;
    this.wake?.();
  };

  /** Takes no more jobs and waits for those in hand. */
  async stop(): Promise<void> {
    this.stopping = true;
    wakers.delete(this.nudge);
    this.nudge();
    await this.loop;
    await Promise.allSettled(this.running);
  }

  private async run(): Promise<void> {
    let told = '';
    while (!this.stopping) {
      let job: Job | null = null;
      this.called = false;
      try {
        if (Math.abs(Date.now() - this.mended) > ROUND) await this.mendTimes();
        if (this.running.size < this.atOnce) job = await this.take();
      } catch (error) {
        // The database may be restarting: wait and go on, and say so once.
        const why = error instanceof Error ? error.message : String(error);
        if (why !== told) console.error('jobs:', why);
        told = why;
      }
      if (job) {
        const work: Promise<void> = this.work(job).finally(() => {
          this.running.delete(work);
          this.nudge();
        });
        this.running.add(work);
      } else if (!this.called) {
        await new Promise<void>((resolve) => {
          const wait = this.running.size < this.atOnce ? LOOK.free : LOOK.busy;
          const timer = setTimeout(resolve, Math.max(LOOK.least, wait * pace()));
          this.wake = () => (clearTimeout(timer), resolve());
        });
        this.wake = null;
      }
    }
  }

  private async take(): Promise<Job | null> {
    return this.app.db.transaction(async (trx) => {
      const [rows] = (await trx.raw(
        `SELECT id, library_id AS library, kind, about, tries FROM jobs
         WHERE (state = 'ready' AND run_after <= UTC_TIMESTAMP(3)) OR (state = 'running' AND taken_at < UTC_TIMESTAMP(3) - INTERVAL ${LEASE_MINUTES} MINUTE)
         ORDER BY priority, id LIMIT 1 FOR UPDATE SKIP LOCKED`,
      )) as [Job[]];
      const job = rows[0];
      if (!job) return null;
      await trx('jobs')
        .where('id', job.id)
        .update({ state: 'running', again: false, taken_by: this.me, taken_at: trx.raw('UTC_TIMESTAMP(3)') });
      return job;
    });
  }

  /** A full disk is nobody's mistake: the work waits, uncounted, and goes on when there is room. */
  private async waitForRoom(job: Job, reason: string): Promise<void> {
    const { db } = this.app;
    await db('jobs')
      .where('id', job.id)
      .update({
        state: 'ready',
        error: reason,
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

  private async work(job: Job): Promise<void> {
    const { db } = this.app;
    const lease = setInterval(
      () =>
        void db('jobs')
          .where('id', job.id)
          .update({ taken_at: db.raw('UTC_TIMESTAMP(3)') })
          .catch(() => undefined),
      60_000,
    );
    try {
      await this.handlers[job.kind](this.app, job);
      await this.persist(async () => {
        const done = await db('jobs').where({ id: job.id, again: false }).delete();
        if (!done)
          await db('jobs').where('id', job.id).update({ state: 'ready', again: false, tries: 0, taken_by: null });
      });
      if (job.kind === 'intake') this.app.full.delete(job.library);
    } catch (error) {
      const reason = (error instanceof Error ? error.message : String(error)).slice(0, 400);
      if (isFull(error)) {
        await this.waitForRoom(job, reason).catch(() => undefined);
        return;
      }
      const tries = job.tries + 1;
      const over = tries >= MOST_TRIES;
      await this.persist(() =>
        db('jobs')
          .where('id', job.id)
          .update({
            state: over ? 'failed' : 'ready',
            tries,
            error: reason,
            taken_by: null,
            run_after: db.raw('UTC_TIMESTAMP(3) + INTERVAL ? SECOND', [2 ** tries]),
          }),
      );
      if (over) await this.gaveUp(job, reason).catch(() => undefined);
      if (over) this.app.changed(job.library, 'library');
    } finally {
      clearInterval(lease);
    }
  }
}
