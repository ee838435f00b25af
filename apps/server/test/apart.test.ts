import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { stepBack } from '../src/apart/behind';
import { Once } from '../src/apart/once';
import { Apart, Ended } from '../src/apart/pool';
import { jpeg } from './pictures';

const worker = path.resolve(__dirname, '../dist/worker.js');
const gone = (pid: number) => {
  try {
    process.kill(pid, 0);
    return false;
  } catch {
    return true;
  }
};
const until = async (so: () => boolean) => {
  for (let i = 0; i < 400 && !so(); i++) await new Promise((resolve) => setTimeout(resolve, 25));
  expect(so()).toBe(true);
};

/** How far the session of a process steps back. */
const niceOf = (pid: number) => Number(/nice (\S+)/.exec(readFileSync(`/proc/${pid}/autogroup`, 'utf8'))?.[1]);
/** Systems without shares of sessions have nothing to step back in. */
const shares = existsSync('/proc/self/autogroup');

/** Heavy work has a process of its own: it begins when there is something to do, and what becomes of it is told to whoever waits. */
describe('work apart', () => {
  const made: Apart[] = [];
  const make = (idle = 60_000) => {
    const one = new Apart({ worker, most: 2, idle });
    made.push(one);
    return one;
  };
  afterAll(() => Promise.all(made.map((one) => one.destroy())));

  test('what is asked is answered, each by itself, and what goes wrong is told', async () => {
    const apart = make();
    expect(apart.pids).toEqual([]);
    const asked = Array.from({ length: 20 }, () => apart.run([{ lat: 57.64, lon: 18.3 }], { name: 'places' }));
    for (const one of asked) expect(await one).toMatchObject([{ place: 'Visby' }]);
    await expect(apart.run(null, { name: 'places' })).rejects.toThrow('Cannot read');
    await expect(apart.run(null, { name: 'no such work' })).rejects.toThrow();
    expect(await apart.run(null, { name: 'ready' })).toBe(true);
    expect(apart.pids.length).toBe(2);
  });

  test('a process that is brought down takes only what it was doing with it', async () => {
    const apart = make();
    await apart.run(null, { name: 'ready' });
    const [first] = apart.pids as [number];
    const lost = apart.run([{ lat: 1, lon: 1 }], { name: 'places' });
    const others = [1, 2, 3].map(() => apart.run(null, { name: 'ready' }));
    process.kill(first, 'SIGKILL');
    await expect(lost).rejects.toThrow(Ended);
    expect(await Promise.all(others)).toEqual([true, true, true]);
    expect(apart.pids).not.toContain(first);
  });

  test('what is called off is not begun; what was begun ends with its process, and the others are done', async () => {
    const apart = make();
    await apart.run(null, { name: 'ready' });
    const [first] = apart.pids as [number];
    const off = new AbortController();
    const asked = (signal?: AbortSignal) => apart.run(null, { name: 'ready', signal });
    // Two are begun, one waits.
    const begun = asked(off.signal);
    const others = [asked(), asked()];
    const waiting = asked(off.signal);
    const kept = asked(new AbortController().signal);
    off.abort(new Error('not wanted now'));
    await expect(begun).rejects.toThrow('not wanted now');
    await expect(waiting).rejects.toThrow('not wanted now');
    expect(await Promise.all([...others, kept])).toEqual([true, true, true]);
    await until(() => gone(first));
    await expect(asked(off.signal)).rejects.toThrow('not wanted now');
    // What is called off when it is done changes nothing.
    const late = new AbortController();
    expect(await asked(late.signal)).toBe(true);
    const there = apart.pids;
    late.abort();
    expect(apart.pids).toEqual(there);
    expect(await asked()).toBe(true);
  });

  (shares ? test : test.skip)('it stands back behind everybody else, and nobody with it', async () => {
    const { GEMMEL_BEHIND: said } = process.env;
    process.env.GEMMEL_BEHIND = '15';
    const apart = make();
    await apart.run(null, { name: 'ready' });
    const [own] = apart.pids as [number];
    await until(() => niceOf(own) === 15);
    const before = niceOf(process.pid);
    // One that shares a session with others may not have all of them stand back.
    const shared = spawn('sleep', ['60']);
    stepBack(shared.pid!);
    expect(niceOf(shared.pid!)).toBe(before);
    expect(niceOf(process.pid)).toBe(before);
    shared.kill();
    if (said === undefined) delete process.env.GEMMEL_BEHIND;
    else process.env.GEMMEL_BEHIND = said;
  });

  test('it ends when nothing has been asked of it for a while, and begins again', async () => {
    const apart = make(200);
    await apart.run(null, { name: 'ready' });
    const [first] = apart.pids as [number];
    await until(() => gone(first));
    expect(apart.pids).toEqual([]);
    expect(await apart.run(null, { name: 'ready' })).toBe(true);
  });

  test('what is under way when it is put away is told to whoever waits, and nothing is begun after it', async () => {
    const apart = make();
    const lost = apart.run(null, { name: 'ready' });
    const waiting = [1, 2].map(() => expect(apart.run(null, { name: 'ready' })).rejects.toThrow(Ended));
    const [error] = await Promise.all([lost.catch((why: unknown) => why), apart.destroy()]);
    expect(error).toBeInstanceOf(Ended);
    await Promise.all(waiting);
    await expect(apart.run(null, { name: 'ready' })).rejects.toThrow(Ended);
  });

  test('it does not stay behind when whoever began it is brought down', async () => {
    const keeper = spawn(
      process.execPath,
      [
        '-e',
        `const child = require('node:child_process').fork(${JSON.stringify(path.join(path.dirname(worker), 'apart.js'))}, [${JSON.stringify(worker)}], { serialization: 'advanced' });
         child.on('message', () => console.log(child.pid));
         child.send({ id: 1, name: 'ready', task: null });
         process.on('SIGTERM', () => undefined);`,
      ],
      { stdio: ['ignore', 'pipe', 'inherit'] },
    );
    const pid = await new Promise<number>((resolve) => keeper.stdout.once('data', (told) => resolve(Number(told))));
    expect(gone(pid)).toBe(false);
    keeper.kill('SIGKILL');
    await until(() => gone(pid));
  });

  test('what one run made of a picture is not made again, but of another picture, and of one that cannot be opened', async () => {
    const folder = mkdtempSync(path.join(tmpdir(), 'gemmel-once-'));
    const making = { worker, most: 1, idle: 60_000 };
    const [first, again] = [new Once(making, path.join(folder, 'seen')), new Once(making, path.join(folder, 'seen'))];
    made.push(first, again);
    const file = path.join(folder, 'a.jpg');
    const ask = (by: Once, to: string) =>
      by.run(
        {
          file,
          kind: { format: 'jpg', kind: 'photo', mime: 'image/jpeg' },
          derived: path.join(folder, to),
          models: '',
          faces: false,
          inside: null,
        },
        { name: 'prepare' },
      );
    writeFileSync(file, await jpeg(1));
    const answer = await ask(first, 'one/a');
    expect(answer).toMatchObject({ ok: true, prepared: { width: 64, height: 48 } });
    expect(await ask(again, 'two/b')).toEqual(answer);
    expect(again.pids).toEqual([]);
    for (const ending of ['-small.webp', '-large.jpg'])
      expect(readFileSync(path.join(folder, `two/b${ending}`))).toEqual(
        readFileSync(path.join(folder, `one/a${ending}`)),
      );
    writeFileSync(file, await jpeg(2));
    expect(await ask(again, 'two/c')).not.toEqual(answer);
    expect(again.pids.length).toBe(1);
    const seen = readdirSync(path.join(folder, 'seen')).length;
    writeFileSync(file, (await jpeg(3)).subarray(0, 40));
    for (const one of [first, again]) expect(await ask(one, 'one/d')).toMatchObject({ ok: false });
    expect(readdirSync(path.join(folder, 'seen')).length).toBe(seen);
    rmSync(folder, { recursive: true });
  });
});
