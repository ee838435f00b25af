import { ask, cancel, jobState } from '../src/jobs/jobs';
import { Runner } from '../src/jobs/runner';
import { allKinds, defineJob, type Job, type JobDefinition, type JobKind } from '../src/jobs/kind';
import type { Saying } from '@gemmel/contract';
import { z } from 'zod';
import { openHouse, type House } from './house';
import { times } from './long';

declare module '../src/jobs/kind' {
  interface JobPayloads {
    carrying: { words: string };
  }
}

type Run = JobDefinition['run'];
const never: Run = async () => {
  throw new Error('not asked for');
};
/** Every kind there is, doing what a test wants. */
const handlers = (mine: Partial<Record<JobKind, Run>>, more: Partial<JobDefinition> = {}): JobDefinition[] =>
  allKinds().map((kind) => ({ ...kind, run: mine[kind.kind] ?? never, ...(mine[kind.kind] ? more : {}) }));

describe('jobs', () => {
  let house: House;
  beforeAll(async () => {
    // Here waiting itself is tried.
    process.env['GEMMEL_PACE'] = '1';
    house = await openHouse();
    await house.runner.stop();
  });
  afterEach(() => house.app.db('jobs').delete());
  afterAll(() => house?.stop());

  const left = () => house.app.db('jobs').orderBy('id') as unknown as Promise<Record<string, unknown>[]>;
  const until = async (so: () => Promise<boolean> | boolean) => {
    for (let i = 0; i < 400 && !(await so()); i++) await new Promise((resolve) => setTimeout(resolve, 25));
    expect(await so()).toBe(true);
  };
  const soon = () => house.app.db('jobs').update({ run_after: house.app.db.raw('UTC_TIMESTAMP(3)') });

  test('two runners share the work: every job is done once, the urgent ones first', async () => {
    const done: number[] = [];
    let both: () => void = () => undefined;
    const started = new Promise<void>((resolve) => (both = resolve));
    const slow: Run = async (_, job) => {
      done.push(job.about);
      await started;
      await new Promise((resolve) => setTimeout(resolve, 3));
    };
    await ask(
      house.app.db,
      1,
      'intake',
      Array.from({ length: 80 }, (_, i) => i + 1),
    );
    const runners = [1, 2].map(() => new Runner(house.app, handlers({ intake: slow }), 4));
    await runners[0]!.start();
    await until(() => done.length > 0);
    // What the first has in hand is not lost: its process is at work.
    await runners[1]!.start();
    both();
    await until(async () => (await left()).length === 0);
    await Promise.all(runners.map((r) => r.stop()));
    expect([...done].sort((a, b) => a - b)).toEqual(Array.from({ length: 80 }, (_, i) => i + 1));
  });

  test('the clock set back: what seems to wait for days is done now, by being asked for again or by itself', async () => {
    const days = house.app.db.raw('UTC_TIMESTAMP(3) + INTERVAL 3 DAY');
    await ask(house.app.db, 1, 'verify');
    await house.app.db('jobs').update({ run_after: days });
    // The earlier of both times counts.
    await ask(house.app.db, 1, 'verify', 0, 100);
    expect(
      await house.app
        .db('jobs')
        .where('run_after', '>', house.app.db.raw('UTC_TIMESTAMP(3) + INTERVAL 1 SECOND'))
        .select('kind'),
    ).toEqual([]);
    await ask(house.app.db, 1, 'refile');
    await house.app.db('jobs').where('kind', 'refile').update({ run_after: days });
    await ask(house.app.db, 1, 'alike');
    await house.app
      .db('jobs')
      .where('kind', 'alike')
      .update({ state: 'running', taken_by: 'elsewhere:1', taken_at: days });
    const done: string[] = [];
    const note: Run = async (_, job) => void done.push(job.kind);
    const runner = new Runner(house.app, handlers({ verify: note, refile: note }), 2);
    await runner.start();
    await until(() => done.length === 2);
    await runner.stop();
    expect(done.sort()).toEqual(['refile', 'verify']);
    // One in the hands of somebody elsewhere is lost after its lease, not in three days.
    const [held] = (await left()) as { taken_at: string }[];
    expect(Date.parse(`${held!.taken_at}Z`)).toBeLessThan(Date.now() + 60_000);
  });

  test('what has waited long is done among what is more urgent, and the rest of it afterwards', async () => {
    const ids = Array.from({ length: 40 }, (_, i) => i + 1);
    await ask(house.app.db, 1, 'intake', ids);
    for (const kind of ['backup', 'verify'] as const) await ask(house.app.db, 1, kind);
    const ago = (minutes: number) => house.app.db.raw('UTC_TIMESTAMP(3) - INTERVAL ? MINUTE', [minutes]);
    await house.app
      .db('jobs')
      .where('kind', 'verify')
      .update({ run_after: ago(20) });
    await house.app
      .db('jobs')
      .where('kind', 'backup')
      .update({ run_after: ago(30) });
    const done: string[] = [];
    const note: Run = async (_, job) => {
      await new Promise((resolve) => setTimeout(resolve, 5));
      done.push(job.kind);
    };
    const runner = new Runner(house.app, handlers({ intake: note, backup: note, verify: note }), 2);
    await runner.start();
    await until(() => done.length === 42);
    await runner.stop();
    // The one that had waited longest, among the first; the other in its turn, since one is enough for a minute.
    expect(done.indexOf('backup')).toBeLessThan(10);
    expect(done.indexOf('verify')).toBeGreaterThan(30);
  });

  test('asking twice is one piece of work; asking while it runs does it again afterwards', async () => {
    let runs = 0;
    let go: () => void = () => undefined;
    const held = new Promise<void>((resolve) => (go = resolve));
    const runner = new Runner(
      house.app,
      handlers({
        events: async () => {
          runs++;
          if (runs === 1) await held;
        },
      }),
      2,
    );
    await ask(house.app.db, 1, 'events');
    await ask(house.app.db, 1, 'events');
    expect(await left()).toHaveLength(1);
    await runner.start();
    await until(() => runs === 1);
    await ask(house.app.db, 1, 'events');
    go();
    await until(async () => runs === 2 && (await left()).length === 0);
    await runner.stop();
    expect(runs).toBe(2);
  });

  test('those that ask to be done later while they run let others go first, however few are taken at once', async () => {
    const { db } = house.app;
    const turns: number[] = [];
    const polite: Run = async (_, job) => {
      turns.push(job.about);
      if (job.about < 5 && !turns.includes(5)) await ask(db, 1, 'intake', job.about, 300);
    };
    await ask(db, 1, 'intake', [1, 2, 3, 4, 5]);
    const runner = new Runner(house.app, handlers({ intake: polite }), 2);
    await runner.start();
    await until(async () => (await left()).length === 0);
    await runner.stop();
    // Each of the four once before and once after what they waited for.
    expect(turns).toHaveLength(9);
    expect(turns[4]).toBe(5);
  });

  test('what fails is tried again more slowly each time, then kept with its reason and told', async () => {
    const luck = (n: number) => ({ code: 'unexpected', params: { why: `no luck at try ${n}` } });
    const given: [Job, Saying][] = [];
    let tries = 0;
    const runner = new Runner(
      house.app,
      handlers(
        {
          faces: async () => {
            tries++;
            throw new Error(`no luck at try ${tries}`);
          },
        },
        { gaveUp: async (_, job, reason) => void given.push([job, reason]) },
      ),
      2,
    );
    await ask(house.app.db, 1, 'faces');
    await runner.start();
    for (let n = 1; n <= 5; n++) {
      await until(async () => (await left())[0]?.['tries'] === n);
      const [job] = await left();
      expect(job).toMatchObject({ error: JSON.stringify(luck(n)), state: n === 5 ? 'failed' : 'ready' });
      await soon();
      runner.nudge();
    }
    await runner.stop();
    expect(given.map(([job, reason]) => [job.kind, reason])).toEqual([['faces', luck(5)]]);
    const { troubles } = await house.call('troubles', {});
    expect(troubles).toMatchObject([{ kind: 'faces', reason: luck(5), tries: 5 }]);
    await house.call('retryTrouble', { params: { id: troubles[0]!.id } });
    expect((await left())[0]).toMatchObject({ state: 'ready', tries: 0 });
    await expect(house.call('retryTrouble', { params: { id: troubles[0]!.id } })).rejects.toThrow('no longer here');
  });

  test('work put off waits for its time; stopping waits for what is in hand', async () => {
    let finished = false;
    let begun = false;
    const runner = new Runner(
      house.app,
      handlers({
        refile: async () => {
          begun = true;
          await new Promise((resolve) => setTimeout(resolve, 120));
          finished = true;
        },
      }),
      1,
    );
    await ask(house.app.db, 1, 'refile', 0, 60_000);
    await runner.start();
    await new Promise((resolve) => setTimeout(resolve, 600));
    expect(begun).toBe(false);
    await soon();
    runner.nudge();
    await until(() => begun);
    await runner.stop();
    expect(finished).toBe(true);
  });

  test('with 100 000 waiting a take is quick, and two takers are both busy', async () => {
    const { db } = house.app;
    const waiting = times(10_000, 100_000);
    await db.raw(
      `INSERT INTO jobs (library_id, kind, about, priority) SELECT 1, 'moving', seq, 7 FROM seq_1_to_${waiting}`,
    );
    await db.raw('ANALYZE TABLE jobs');
    const most = 400;
    const done = [0, 0];
    const seen = new Set<number>();
    let stop = false;
    const runners = done.map((_, i) => {
      const runner: Runner = new Runner(
        house.app,
        handlers({
          moving: async (__, job) => {
            expect(seen.has(job.about)).toBe(false);
            seen.add(job.about);
            done[i]!++;
            if (seen.size >= most) stop = true;
            while (stop && seen.size < most) await new Promise((resolve) => setTimeout(resolve, 5));
          },
        }),
        2,
      );
      return runner;
    });
    const began = performance.now();
    await Promise.all(runners.map((r) => r.start()));
    await until(() => stop);
    const spent = performance.now() - began;
    await Promise.all(runners.map((r) => r.stop()));
    // Measured in jobs: neither taker waits for the other.
    expect(Math.min(...done)).toBeGreaterThan(most / 4);
    // And none of what is read or locked is all that waits: rows looked at for one take.
    const [[plan]] = (await db.raw(
      `EXPLAIN SELECT id FROM jobs FORCE INDEX (queue) WHERE state = 'ready' AND run_after <= UTC_TIMESTAMP(3) ORDER BY priority, id LIMIT 1`,
    )) as [[{ key: string; Extra: string }]];
    expect([plan.key, /filesort/.test(plan.Extra)]).toEqual(['queue', false]);
    if (process.env['GEMMEL_LONG'])
      console.log(`${seen.size} jobs of ${waiting} in ${spent.toFixed(0)} ms, by two: ${done.join(' and ')}`);
    await db('jobs').delete();
  });

  test('a job carries something, tells how far it is, keeps what came of it, and can be called off', async () => {
    let seen: Job<'carrying'> | null = null;
    let go: () => void = () => undefined;
    const held = new Promise<void>((resolve) => (go = resolve));
    const carrying = defineJob({
      kind: 'carrying',
      priority: 0,
      payload: z.object({ words: z.string() }),
      keeps: true,
      run: async (_, job) => {
        seen = job;
        job.report(3, 10);
        const off = new Promise((resolve) => job.signal.addEventListener('abort', resolve));
        await Promise.race(job.about === 6 ? [off] : [held, off]);
        if (job.signal.aborted) throw new Error('stopped');
        return { said: job.payload.words.toUpperCase() };
      },
    });
    const runner = new Runner(house.app, [carrying as unknown as JobDefinition], 2);
    await runner.start();
    await ask(house.app.db, 1, 'carrying', 5, 0, { words: 'kite' });
    await until(async () => (await jobState(house.app.db, 1, 'carrying', 5))?.progress?.done === 3);
    expect(seen!.payload).toEqual({ words: 'kite' });
    go();
    await until(async () => (await jobState(house.app.db, 1, 'carrying', 5))?.state === 'done');
    expect((await jobState(house.app.db, 1, 'carrying', 5))!.result).toEqual({ said: 'KITE' });
    // Asked for again it begins anew; called off while in hand it ends and leaves nothing behind.
    await ask(house.app.db, 1, 'carrying', 6, 0, { words: 'lake' });
    await until(async () => (await jobState(house.app.db, 1, 'carrying', 6))?.state !== 'ready');
    await cancel(house.app.db, 1, 'carrying', 6);
    await until(async () => (await jobState(house.app.db, 1, 'carrying', 6)) === null);
    await ask(house.app.db, 1, 'carrying', 7, 60_000, { words: 'later' });
    expect(await cancel(house.app.db, 1, 'carrying', 7)).toBe(true);
    expect(await jobState(house.app.db, 1, 'carrying', 7)).toBeNull();
    // What it carries is checked before it is begun.
    await house.app.db('jobs').insert({ library_id: 1, kind: 'carrying', about: 8, payload: '{"words":4}' });
    runner.nudge();
    await until(async () => (await jobState(house.app.db, 1, 'carrying', 8))?.error != null);
    await runner.stop();
  });
});
