import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import {
  chmodSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { buildSync } from 'esbuild';
import { alive, beganAt, mayLive, noteRunning, ownName, runningOn } from '../src/running';
import { ResticError, restic, tidyFolder } from '../src/safe/restic';
import { pause } from './program';

/** Processes that are started end with whoever started them, and one that has ended is not taken for one that lives. */
describe('what ends with what', () => {
  const folder = mkdtempSync(path.join(tmpdir(), 'gemmel-ends-'));
  const bin = path.join(folder, 'bin');
  const children: ChildProcess[] = [];
  const { PATH } = process.env;
  const until = async (so: () => boolean) => {
    for (let i = 0; i < 400 && !so(); i++) await pause(25);
    expect(so()).toBe(true);
  };
  /** A program that notes its number and does nothing for long. */
  function idle(name: string): () => number {
    const note = path.join(folder, `${name}.pid`);
    writeFileSync(
      path.join(bin, name),
      `#!/bin/sh\necho $$ > ${note}.part && mv ${note}.part ${note}\nexec sleep 300\n`,
    );
    chmodSync(path.join(bin, name), 0o755);
    return () => (existsSync(note) ? Number(readFileSync(note, 'utf8')) : 0);
  }
  /** Starts a process that calls a function of a file of the server's. */
  function calling(file: string, code: string): ChildProcess {
    const outfile = path.join(folder, `${path.basename(file)}.cjs`);
    buildSync({ entryPoints: [path.join(__dirname, '../src', file)], bundle: true, platform: 'node', outfile });
    const child = spawn(process.execPath, ['-e', `const its = require(${JSON.stringify(outfile)}); ${code}`], {
      env: { ...process.env, PATH: `${bin}:${PATH}` },
      stdio: ['ignore', 'ignore', 'inherit'],
    });
    children.push(child);
    return child;
  }

  beforeAll(() => mkdirSync(bin));
  afterAll(() => {
    for (const child of children) child.kill('SIGKILL');
    rmSync(folder, { recursive: true, force: true });
  });

  test.each([
    [
      'restic',
      'safe/restic.ts',
      `its.restic({ repository: '/nowhere', env: {}, options: [], folder: ${JSON.stringify(folder)} }, ['backup', '.'])`,
    ],
    [
      'mariadb-dump',
      'safe/client.ts',
      `its.clientOf('mariadb-dump', { socketPath: '/nowhere', user: 'u', password: 'p', database: 'd' }, [], 'ignore')`,
    ],
  ])('%s ends with the process that started it, however that ends', async (program, file, code) => {
    const pid = idle(program);
    const starter = calling(file, code);
    await until(() => pid() > 0 && beganAt(pid()) !== null);
    const gone = once(starter, 'exit');
    starter.kill('SIGKILL');
    await gone;
    await until(() => beganAt(pid()) === null);
  });

  test('where restic is not installed, that is said, and not that a place is empty', async () => {
    const few = path.join(folder, 'few');
    mkdirSync(few);
    for (const name of ['setpriv', 'nice', 'ionice'])
      symlinkSync(
        PATH!
          .split(':')
          .map((at) => path.join(at, name))
          .find(existsSync)!,
        path.join(few, name),
      );
    process.env['PATH'] = few;
    const way = { repository: '/nowhere', env: {}, options: [], folder };
    try {
      for (const gentle of [true, false]) {
        const error = await restic(way, ['snapshots'], { gentle }).catch((one: unknown) => one);
        expect(error).toBeInstanceOf(ResticError);
        expect(error).toMatchObject({ fault: 'other', said: expect.stringContaining('not installed') as string });
      }
    } finally {
      process.env['PATH'] = PATH;
    }
  });

  test('one that has ended and that nobody has taken note of does not live', async () => {
    // Its parent becomes another program, which waits for nobody.
    const parent = spawn('sh', ['-c', 'sleep 0 & exec sleep 300']);
    children.push(parent);
    const childrenOf = () => readFileSync(`/proc/${parent.pid}/task/${parent.pid}/children`, 'utf8').trim();
    await until(() => childrenOf() !== '' && readFileSync(`/proc/${childrenOf()}/stat`, 'utf8').includes(') Z '));
    const pid = Number(childrenOf());
    expect(alive(pid)).toBe(true);
    expect(beganAt(pid)).toBeNull();
    const [host, , since] = ownName().split(':') as [string, string, string];
    expect(mayLive(ownName())).toBe(true);
    expect(mayLive(`${host}:${pid}:${since}`)).toBe(false);
    expect(mayLive(`${host}x:${pid}:${since}`)).toBe(true);
    // A data folder that it worked on may be worked on by another.
    writeFileSync(path.join(folder, 'running.json'), JSON.stringify({ pid, port: 1, since }));
    expect(await runningOn(folder)).toBeNull();
  });

  test('who works on a data folder is known by its number and its beginning', async () => {
    const other = spawn('sleep', ['300']);
    children.push(other);
    const note = (more: object) =>
      writeFileSync(path.join(folder, 'running.json'), JSON.stringify({ pid: other.pid, port: 4870, ...more }));
    note({ since: beganAt(other.pid!) });
    expect(await runningOn(folder)).toMatchObject({ pid: other.pid, port: 4870 });
    // A number that another process has by now.
    note({ since: `${beganAt(other.pid!)}0` });
    expect(await runningOn(folder)).toBeNull();
    writeFileSync(path.join(folder, 'running.json'), '{"pid":');
    expect(await runningOn(folder)).toBeNull();
    await noteRunning(folder, 4870);
    expect(JSON.parse(readFileSync(path.join(folder, 'running.json'), 'utf8'))).toEqual({
      pid: process.pid,
      port: 4870,
      since: beganAt(process.pid),
    });
  });

  test('of folders for looking at files, those of processes that are gone are removed', async () => {
    const place = path.join(folder, 'place');
    const [mine, gone, other] = [`back-${process.pid}-a`, 'back-99999999-b', 'cache'];
    for (const name of [mine, gone, other]) mkdirSync(path.join(place, name, 'vault'), { recursive: true });
    await tidyFolder(place);
    expect([mine, gone, other].map((name) => existsSync(path.join(place, name)))).toEqual([true, false, true]);
    await tidyFolder(path.join(folder, 'nowhere'));
  });
});
