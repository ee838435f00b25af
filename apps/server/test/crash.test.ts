import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { createHash } from 'node:crypto';
import { cpSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { addressOf } from '../src/db/mariadb';
import { openDb, type Db } from '../src/db/open';
import { installFromTemplate } from './database';
import { DEMO, ROOT } from './house';
import { LONG, times, testLong } from './long';
import { freePort, pause } from './program';

const main = path.join(ROOT, 'apps/server/dist/main.js');
const cli = path.join(ROOT, 'apps/server/dist/cli.js');
/** All files below a folder. */
function files(at: string): string[] {
  if (!existsSync(at)) return [];
  return readdirSync(at).flatMap((name) => {
    const full = path.join(at, name);
    return statSync(full).isDirectory() ? files(full) : [full];
  });
}

describe('the real program', () => {
  let folder: string;
  let env: NodeJS.ProcessEnv;
  let running: ChildProcess | null = null;
  let base: string;

  beforeAll(async () => {
    folder = mkdtempSync(path.join(tmpdir(), 'gemmel-crash-'));
    const port = await freePort();
    base = `http://127.0.0.1:${port}`;
    installFromTemplate(path.join(folder, 'data/db'));
    env = { ...process.env, GEMMEL_ROOT: ROOT, GEMMEL_DATA: path.join(folder, 'data'), GEMMEL_PORT: String(port) };
    // All is made, whatever other suites made before, so that it is ended in the midst of making.
    delete env['GEMMEL_SEEN'];
  });
  afterAll(async () => {
    if (running) await end(running, 'SIGTERM');
    rmSync(folder, { recursive: true, force: true });
  });

  async function begin(): Promise<ChildProcess> {
    const child = spawn(process.execPath, [main], { env, stdio: ['ignore', 'pipe', 'pipe'] });
    let said = '';
    child.stdout!.on('data', (data) => (said += data));
    child.stderr!.on('data', (data) => (said += data));
    for (let i = 0; i < 400 && !said.includes('Gemmel is ready'); i++) {
      if (child.exitCode !== null) throw new Error(said);
      await pause(50);
    }
    expect(said).toContain(`Gemmel is ready: ${base}`);
    running = child;
    return child;
  }
  const end = (child: ChildProcess, signal: NodeJS.Signals) =>
    new Promise<void>((resolve) => {
      running = null;
      child.once('exit', () => resolve());
      child.kill(signal);
    });
  async function withDb<T>(work: (db: Db) => PromiseLike<T>): Promise<T> {
    const { db } = JSON.parse(readFileSync(path.join(folder, 'data/secrets.json'), 'utf8')) as { db: string };
    const database = openDb(addressOf(path.join(folder, 'data/db'), db));
    try {
      return await work(database);
    } finally {
      await database.destroy();
    }
  }
  /** Faces take most of the time, and are not what this is about. */
  const withoutFaces = () => withDb((db) => db('libraries').update({ recognise: false }));
  const count = (table: 'pictures' | 'batch_items', states?: string[]) =>
    withDb(async (db) => {
      const [{ n }] = (await db(table)
        .modify((q) => void (states && q.whereIn('state', states)))
        .count('* as n')) as unknown as [{ n: number }];
      return Number(n);
    });
  const arriving = () => count('batch_items', ['waiting', 'received']);
  const status = () =>
    JSON.parse(execFileSync(process.execPath, [cli, 'status', '--json'], { env, encoding: 'utf8' })) as {
      running: boolean;
      libraries?: {
        pictures: number;
        arriving: number;
        troubles: number;
        running: { kind: string }[];
        final: boolean;
      }[];
    };

  testLong(
    'killed again and again while pictures come in: nothing lost, nothing double, work goes on by itself',
    async () => {
      const source = path.join(folder, 'source');
      for (const name of LONG ? ['grans-tablet', 'box-of-scans'] : ['grans-tablet'])
        cpSync(path.join(DEMO, name), path.join(source, name), { recursive: true });
      const originals = files(source);
      let child = await begin();
      if (!LONG) await withoutFaces();
      const importing = spawn(process.execPath, [cli, 'import', source], { env, stdio: 'ignore' });
      // As soon as the batch is announced, the server is killed at moments that cannot be foreseen.
      for (let i = 0; i < 200 && !(await arriving()); i++) await pause(50);
      // While something is still to be taken in, nothing is final.
      expect(status().libraries![0]).toMatchObject({ final: false });
      importing.kill('SIGKILL');
      for (let kill = 0; kill < times(1, 8); kill++) {
        await pause(150 + Math.random() * 1200);
        await end(child, 'SIGKILL');
        child = await begin();
      }
      for (let i = 0; i < 400 && ((await arriving()) || (await count('pictures')) < originals.length); i++)
        await pause(500);
      const [library] = status().libraries!;
      expect(library).toMatchObject({ pictures: originals.length, arriving: 0, troubles: 0 });
      const sha = (file: string) => createHash('sha256').update(readFileSync(file)).digest('hex');
      const kept = files(path.join(folder, 'data/vault')).filter((file) => !file.endsWith('.xmp'));
      expect(kept.map(sha).sort()).toEqual(originals.map(sha).sort());
      expect(files(path.join(folder, 'data/incoming'))).toEqual([]);
      await end(child, 'SIGTERM');
      expect(status()).toEqual({ running: false });
      expect(existsSync(path.join(folder, 'data/db/db.pid'))).toBe(false);
    },
    300_000,
  );

  test('what keeps it from starting is one plain sentence', async () => {
    const port = Number(new URL(base).port);
    const taken = createServer();
    await new Promise<void>((resolve) => taken.listen(port, '127.0.0.1', () => resolve()));
    const fails = (args: string[], more: NodeJS.ProcessEnv = {}) => {
      try {
        execFileSync(process.execPath, args, { env: { ...env, ...more }, encoding: 'utf8', stdio: 'pipe' });
        return 'it started';
      } catch (error) {
        return (error as { stderr: string }).stderr.trim();
      }
    };
    expect(fails([main])).toBe(
      `Port ${port} is used by another program. Choose another, for example --port ${port + 10}.`,
    );
    await new Promise((resolve) => taken.close(resolve));
    expect(fails([cli, 'import', '/no/such/folder'])).toBe('There is no folder /no/such/folder.');
    expect(fails([cli, 'import'])).toMatch(/^Use: \.\/gemmel import /);
    const script = (args: string[]) => {
      try {
        return execFileSync(path.join(ROOT, 'gemmel'), args, { env, encoding: 'utf8', stdio: 'pipe' }).trim();
      } catch (error) {
        return (error as { stderr: string }).stderr.trim();
      }
    };
    expect(script(['dance'])).toBe('There is no command “dance”. See ./gemmel help.');
    expect(script(['start', '--port', 'x'])).toBe('A port is a number: x');
    expect(script(['help'])).toContain('./gemmel demo');
    expect(script(['stop'])).toBe('Gemmel is not running.');
  });

  testLong('a folder becomes albums, one a folder, and sending it again keeps one copy', async () => {
    const child = await begin();
    const source = path.join(folder, 'trips');
    cpSync(path.join(DEMO, 'later/noors-phone/DCIM/100/IMG_0811.jpg'), path.join(source, 'Lake/a.jpg'));
    cpSync(path.join(DEMO, 'later/noors-phone/DCIM/100/IMG_0812.jpg'), path.join(source, 'Hill/deep/b.jpg'));
    const before = status().libraries![0]!.pictures;
    const run = () =>
      execFileSync(process.execPath, [cli, 'import', source, '--album-per-folder'], { env, encoding: 'utf8' });
    const first = run();
    expect(first).toContain('2 new pictures stored.');
    expect(first).toContain('Made the album “Lake”.');
    expect(first).toContain('Made the album “deep”.');
    expect(run()).toContain('2 were already here.');
    expect(status().libraries![0]!.pictures).toBe(before + 2);
    cpSync(path.join(DEMO, 'later/noors-phone/DCIM/100/IMG_0813.jpg'), path.join(source, 'Hill/c.jpg'));
    cpSync(path.join(DEMO, 'later/noors-phone/DCIM/100/IMG_0813.jpg'), path.join(source, 'Hill/c again.jpg'));
    cpSync(path.join(DEMO, 'bad/view.ini'), path.join(source, 'view.ini'));
    const rehearse = (...more: string[]) =>
      execFileSync(process.execPath, [cli, 'import', source, '--dry-run', ...more], { env, encoding: 'utf8' });
    expect(JSON.parse(rehearse('--json'))).toMatchObject({
      dryRun: true,
      files: 5,
      new: 1,
      known: 2,
      twice: 1,
      leftOut: [{ code: 'not-a-picture', params: {}, reason: 'is not a picture or clip' }],
      equals: expect.arrayContaining([
        { path: 'trips/Lake/a.jpg', picture: expect.any(Number), keptAt: expect.stringMatching(/a\.jpg$/) },
        expect.objectContaining({ picture: null, file: expect.stringMatching(/Hill\/c/) }),
      ]) as object,
    });
    expect(rehearse()).toContain('Nothing was brought in. 1 file would be new. 2 are already here. 1 is in it twice.');
    expect(status().libraries![0]!.pictures).toBe(before + 2);
    const report = JSON.parse(
      execFileSync(process.execPath, [cli, 'import', source, '--json'], { env, encoding: 'utf8' }),
    );
    expect(report).toMatchObject({ dryRun: false, new: 1, known: 3, leftOut: [{ path: 'trips/view.ini' }] });
    expect((report as { equals: object[] }).equals).toEqual(
      expect.arrayContaining([
        { path: 'trips/Lake/a.jpg', picture: expect.any(Number), keptAt: expect.stringMatching(/a\.jpg$/) },
      ]),
    );
    for (let i = 0; i < 60 && !status().libraries![0]!.final; i++) await pause(1000);
    expect(status().libraries![0]).toMatchObject({ final: true });
    await end(child, 'SIGTERM');
  });
});
