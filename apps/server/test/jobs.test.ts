import { ask, Runner, type Handler, type Job, type JobKind } from '../src/jobs/jobs';
import { openHouse, type House } from './house';

const never: Handler = async () => {
  throw new Error('not asked for');
};
const handlers = (mine: Partial<Record<JobKind, Handler>>): Record<JobKind, Handler> => ({
  intake: never,
  events: never,
  clocks: never,
  faces: never,
  seek: never,
  sidecars: never,
  refile: never,
  follow: never,
  list: never,
  alike: never,
  verify: never,
  moving: never,
  transcode: never,
  ...mine,
});

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
    const slow: Handler = async (_, job) => {
      done.push(job.about);
      await new Promise((resolve) => setTimeout(resolve, 3));
    };
    await ask(
      house.app.db,
      1,
      'intake',
      Array.from({ length: 80 }, (_, i) => i + 1),
    );
    const runners = [1, 2].map(() => new Runner(house.app, handlers({ intake: slow }), 4));
    await Promise.all(runners.map((r) => r.start()));
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
    const note: Handler = async (_, job) => void done.push(job.kind);
    const runner = new Runner(house.app, handlers({ verify: note, refile: note }), 2);
    await runner.start();
    await until(() => done.length === 2);
    await runner.stop();
    expect(done.sort()).toEqual(['refile', 'verify']);
    // One in the hands of somebody elsewhere is lost after its lease, not in three days.
    const [held] = (await left()) as { taken_at: string }[];
    expect(Date.parse(`${held!.taken_at}Z`)).toBeLessThan(Date.now() + 60_000);
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

  test('what fails is tried again more slowly each time, then kept with its reason and told', async () => {
    const given: [Job, string][] = [];
    let tries = 0;
    const runner = new Runner(
      house.app,
      handlers({
        faces: async () => {
          tries++;
          throw new Error(`no luck at try ${tries}`);
        },
      }),
      2,
      async (job, reason) => void given.push([job, reason]),
    );
    await ask(house.app.db, 1, 'faces');
    await runner.start();
    for (let n = 1; n <= 5; n++) {
      await until(async () => (await left())[0]?.['tries'] === n);
      const [job] = await left();
      expect(job).toMatchObject({ error: `no luck at try ${n}`, state: n === 5 ? 'failed' : 'ready' });
      await soon();
      runner.nudge();
    }
    await runner.stop();
    expect(given.map(([job, reason]) => [job.kind, reason])).toEqual([['faces', 'no luck at try 5']]);
    const { troubles } = await house.call('troubles', {});
    expect(troubles).toMatchObject([{ what: 'Gathering faces', reason: 'no luck at try 5', tries: 5 }]);
    await house.call('retryTrouble', { params: { id: troubles[0]!.id } });
    expect((await left())[0]).toMatchObject({ state: 'ready', tries: 0 });
    await expect(house.call('retryTrouble', { params: { id: troubles[0]!.id } })).rejects.toThrow('not here any more');
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
});
