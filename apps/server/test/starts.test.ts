import { execFile, execFileSync, spawn, type ChildProcess } from 'node:child_process';
import {
  chmodSync,
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import { LOOK_AND_SAVE } from '@gemmel/contract';
import { addressOf } from '../src/db/mariadb';
import { openDb } from '../src/db/open';
import { installFromTemplate } from './database';
import { DEMO, ROOT } from './house';
import { chances, testLong, times } from './long';
import { freePort, pause } from './program';

const MAIN = path.join(ROOT, 'apps/server/dist/main.js');
const random = chances(21);
const CUTS = times(1, 21);
const DEATHS = times(1, 10);

/** A Gemmel on a data folder of its own, as a household starts it. */
interface Started {
  child: ChildProcess;
  said: () => string;
  end: (signal?: NodeJS.Signals) => Promise<void>;
}

describe('starting, whatever was left behind', () => {
  let folder: string;
  let data: string;
  let base: string;
  let env: NodeJS.ProcessEnv;
  let running: Started | null = null;

  beforeEach(async () => {
    folder = mkdtempSync(path.join(tmpdir(), 'gemmel-starts-'));
    data = path.join(folder, 'data');
    const port = await freePort();
    base = `http://127.0.0.1:${port}`;
    env = { ...process.env, GEMMEL_ROOT: ROOT, GEMMEL_DATA: data, GEMMEL_PORT: String(port), GEMMEL_PACE: '0' };
  });
  afterEach(async () => {
    await running?.end();
    endDatabase('SIGKILL');
    rmSync(folder, { recursive: true, force: true });
  });

  const databasePid = () => {
    const note = path.join(data, 'db/db.pid');
    return existsSync(note) ? Number(readFileSync(note, 'utf8')) : 0;
  };
  /** Ends the database of this folder; what else of its number there may be is left alone. */
  function endDatabase(signal: NodeJS.Signals): void {
    const pid = databasePid();
    try {
      if (pid && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(data)) process.kill(pid, signal);
    } catch {
      // it has gone
    }
  }

  /** Starts the program; answers when it is ready or has ended. */
  async function start(patience = 60_000): Promise<Started> {
    const child = spawn(process.execPath, [MAIN], { env, stdio: ['ignore', 'pipe', 'pipe'] });
    let said = '';
    child.stdout!.on('data', (d: Buffer) => (said += d.toString()));
    child.stderr!.on('data', (d: Buffer) => (said += d.toString()));
    const ended = new Promise<void>((resolve) => child.once('exit', () => resolve()));
    const made: Started = {
      child,
      said: () => said,
      end: async (signal = 'SIGTERM') => {
        if (running === made) running = null;
        child.kill(signal);
        await ended;
      },
    };
    running = made;
    const until = Date.now() + patience;
    while (
      !said.includes('Gemmel is ready') &&
      child.exitCode === null &&
      child.signalCode === null &&
      Date.now() < until
    )
      await pause(20);
    if (child.exitCode !== null) {
      running = null;
      await ended;
    }
    return made;
  }
  const ready = async () => {
    const made = await start();
    expect(made.said()).toContain('Gemmel is ready');
    return made;
  };
  /** What it says when it will not start. Nothing is left running. */
  const refused = async () => {
    const made = await start();
    expect([made.said(), made.child.exitCode]).toEqual([made.said(), 1]);
    expect(existsSync(path.join(data, 'db/db.pid')) && databasePid() > 0 && existsSync(`/proc/${databasePid()}`)).toBe(
      false,
    );
    return made.said().trim();
  };
  const keeper = { library: 'Home', name: 'K', email: 'k@house.example', password: 'a-long-password' };
  const post = (at: string, body: object) =>
    fetch(base + at, { method: 'POST', body: JSON.stringify(body), headers: { 'content-type': 'application/json' } });
  const firstRun = async () => ((await (await fetch(`${base}/api/me`)).json()) as { firstRun: boolean }).firstRun;
  const database = () => {
    const { db } = JSON.parse(readFileSync(path.join(data, 'secrets.json'), 'utf8')) as { db: string };
    return openDb(addressOf(path.join(data, 'db'), db));
  };

  testLong(
    `cut at ${CUTS} moments of the very first start, it starts the next time`,
    async () => {
      for (let cut = 0; cut < CUTS; cut++) {
        rmSync(data, { recursive: true, force: true });
        const child = spawn(process.execPath, [MAIN], { env, stdio: 'ignore' });
        await pause(300 + random() * 5000);
        // Everything at once, as when the power goes.
        child.kill('SIGKILL');
        endDatabase('SIGKILL');
        try {
          execFileSync('pkill', ['-KILL', '-f', path.join(data, 'db')]);
        } catch {
          // nothing of it runs
        }
        await pause(100);
        const made = await ready();
        expect(await firstRun()).toBe(true);
        expect((await post('/api/first-run', keeper)).status).toBe(200);
        await made.end();
      }
    },
    900_000,
  );

  testLong('tables half installed, the earlier way and the present one: installed anew', async () => {
    installFromTemplate(path.join(data, 'db'));
    const tables = path.join(data, 'db/data');
    // As installing in place left it: the server's own tables are not all there, and nothing says that they are.
    for (const name of readdirSync(path.join(tables, 'mysql')).filter((_, i) => i % 2))
      rmSync(path.join(tables, 'mysql', name), { recursive: true });
    rmSync(path.join(tables, 'installed-whole'));
    mkdirSync(path.join(data, 'db/data.new-1/mysql'), { recursive: true });
    await ready();
    expect(await firstRun()).toBe(true);
    expect(readdirSync(path.join(data, 'db')).filter((name) => name.startsWith('data.new'))).toEqual([]);
  });

  testLong(
    'tables half made, a lock nobody holds, steps of a newer Gemmel: begun again, cleared, left as they are',
    async () => {
      installFromTemplate(path.join(data, 'db'));
      let made = await ready();
      const change = async (how: (db: ReturnType<typeof openDb>) => Promise<unknown>) => {
        const db = database();
        await how(db);
        await db.destroy();
        await made.end();
      };
      // As a first start leaves it that was cut: some tables, a list of steps that is behind, a lock.
      await change(async (db) => {
        await db('knex_migrations').whereNot('name', '0001_foundations').delete();
        await db('knex_migrations_lock').update({ is_locked: 1 });
        await db.schema.dropTable('turns');
      });
      made = await ready();
      expect(await firstRun()).toBe(true);
      expect((await post('/api/first-run', keeper)).status).toBe(200);
      // As a start leaves it that was cut while it brought the tables of a library up to date.
      await change(async (db) => {
        expect(await db.schema.hasTable('turns')).toBe(true);
        await db('knex_migrations').where('name', '0007_ground').delete();
        await db('knex_migrations_lock').update({ is_locked: 1 });
      });
      made = await ready();
      expect(await firstRun()).toBe(false);
      await change((db) => db('knex_migrations').insert({ name: '9999_later', batch: 99 }));
      expect(await refused()).toMatch(/^This library has been opened by a newer Gemmel.*nothing has been changed\.$/);
    },
    120_000,
  );

  testLong(
    'lost or empty secrets: a new password for the database, new links for shares, and the library is there',
    async () => {
      installFromTemplate(path.join(data, 'db'));
      let made = await ready();
      await post('/api/first-run', keeper);
      const db = database();
      await db('shares').insert({
        library_id: 1,
        title: 'For Gran',
        created_by: 1,
        may: JSON.stringify(LOOK_AND_SAVE),
        token_hash: Buffer.alloc(32, 1),
      });
      await db.destroy();
      await made.end();
      for (const lose of [
        () => rmSync(path.join(data, 'secrets.json')),
        () => writeFileSync(path.join(data, 'secrets.json'), ''),
      ]) {
        lose();
        made = await ready();
        expect(made.said()).toContain('links sent before no longer work');
        expect(await firstRun()).toBe(false);
        const signedIn = await post('/api/sign-in', { email: keeper.email, password: keeper.password });
        const cookie = signedIn.headers.get('set-cookie')!.split(';')[0]!;
        const { shares } = (await (await fetch(`${base}/api/shares`, { headers: { cookie } })).json()) as {
          shares: { path: string }[];
        };
        expect((await fetch(`${base}/api/guest/${shares[0]!.path.split('/').pop()}`)).status).toBe(200);
        await made.end();
      }
    },
  );

  testLong('a damaged database is said with the way on, and the originals are not touched', async () => {
    installFromTemplate(path.join(data, 'db'));
    const made = await ready();
    await made.end();
    mkdirSync(path.join(data, 'vault/home'), { recursive: true });
    writeFileSync(path.join(data, 'vault/home/a.jpg'), 'original');
    writeFileSync(path.join(data, 'db/data/ibdata1'), Buffer.alloc(100_000, 7));
    const broken = await start(15_000);
    expect(broken.said()).toMatch(
      /The database in .* doesn’t start .* are untouched\. Make it anew from the files with \.\/gemmel rebuild/,
    );
    expect((await fetch(base)).status).toBe(503);
    await broken.end('SIGKILL');
    expect(readFileSync(path.join(data, 'vault/home/a.jpg'), 'utf8')).toBe('original');
  });

  test('never an empty first page over a full vault: a page that says so rebuilds it, and the picture is back', async () => {
    installFromTemplate(path.join(data, 'db'));
    mkdirSync(path.join(data, 'vault/home/2026'), { recursive: true });
    cpSync(path.join(DEMO, 'grans-tablet/photo_2026-05-16_13-02-39.jpg'), path.join(data, 'vault/home/2026/one.jpg'));
    const starting = start();
    const page = async () => fetch(base).catch(() => null);
    let told = await page();
    while (!told) {
      await pause(50);
      told = await page();
    }
    const html = await told.text();
    expect([told.status, html]).toEqual([503, expect.stringContaining('./gemmel rebuild')]);
    expect((await fetch(`${base}/healthz`)).status).toBe(503);
    const token = /name="token" value="([^"]+)"/.exec(html)![1]!;
    const press = (given: string) =>
      fetch(`${base}/rebuild`, { method: 'POST', body: new URLSearchParams({ token: given }), redirect: 'manual' });
    expect((await press('another')).status).toBe(403);
    // Somebody elsewhere is told, and cannot.
    const away = await fetch(base, { headers: { 'x-forwarded-for': '198.51.100.7' } });
    expect(await away.text()).not.toContain('name="token"');
    expect((await press(token)).status).toBe(303);
    expect((await starting).said()).toContain('Gemmel is ready');
    const figures = () => fetch(`${base}/metrics`).then((r) => r.text());
    for (let i = 0; i < 200 && !(await figures()).includes('gemmel_pictures{library="home"} 1'); i++) await pause(100);
    expect(await figures()).toContain('gemmel_pictures{library="home"} 1');
    expect(await (await fetch(`${base}/healthz`)).json()).toEqual({ ok: true, database: 'up' });
    expect((await fetch(`${base}/metrics`, { headers: { 'x-forwarded-for': '198.51.100.7' } })).status).toBe(404);
    expect(readdirSync(data).filter((name) => name.startsWith('db.before-'))).toHaveLength(1);
  });

  testLong(
    'a note of a process whose number another one has by now keeps nobody from starting, and stop leaves that one alone',
    async () => {
      installFromTemplate(path.join(data, 'db'));
      mkdirSync(data, { recursive: true });
      const other = spawn('sleep', ['60'], { stdio: 'ignore' });
      const note = JSON.stringify({ pid: other.pid, port: 1, since: 'another start of this machine/1' });
      writeFileSync(path.join(data, 'running.json'), note);
      // Not waited for in one piece: this process is the one that must see its child end.
      const stop = async () =>
        (await promisify(execFile)(path.join(ROOT, 'gemmel'), ['stop', '--data', data], { env })).stdout.trim();
      expect(await stop()).toBe('Gemmel is not running.');
      expect(other.exitCode).toBeNull();
      await ready();
      other.kill();
      running!.child.once('exit', () => (running = null));
      expect(await stop()).toBe('Stopped.');
    },
  );

  testLong(
    `the database dying ${DEATHS} times: requests wait for it, and work goes on without anybody's hand`,
    async () => {
      installFromTemplate(path.join(data, 'db'));
      await ready();
      await post('/api/first-run', keeper);
      const signedIn = await post('/api/sign-in', { email: keeper.email, password: keeper.password });
      const cookie = signedIn.headers.get('set-cookie')!.split(';')[0]!;
      const slowest: number[] = [];
      for (let n = 0; n < DEATHS; n++) {
        process.kill(databasePid(), 'SIGKILL');
        await pause(random() * 60);
        const began = Date.now();
        const asked = await Promise.all(
          ['/api/library', '/api/albums', '/api/me', '/api/people'].map((at) =>
            fetch(base + at, { headers: { cookie } }),
          ),
        );
        slowest.push(Date.now() - began);
        expect(asked.map((a) => a.status)).toEqual([200, 200, 200, 200]);
      }
      // What changes something is told in a plain sentence, if not done; never with a stack.
      process.kill(databasePid(), 'SIGKILL');
      const told = await post('/api/sign-in', { email: keeper.email, password: keeper.password });
      if (told.status !== 200)
        expect([told.status, ((await told.json()) as { title: string }).title]).toEqual([
          503,
          'The database is being restarted. Nothing is lost; try again in a moment.',
        ]);
      const source = path.join(folder, 'later');
      cpSync(path.join(DEMO, 'grans-tablet/photo_2026-05-16_13-02-39.jpg'), path.join(source, 'one.jpg'));
      const cli = path.join(ROOT, 'apps/server/dist/cli.js');
      for (let i = 0; i < 100 && (await fetch(`${base}/api/me`)).status !== 200; i++) await pause(100);
      expect(execFileSync(process.execPath, [cli, 'import', source], { env, encoding: 'utf8' })).toContain(
        '1 new picture stored.',
      );
      console.log(`the database died ${DEATHS + 1} times; the slowest answers took ${Math.max(...slowest)} ms`);
    },
    240_000,
  );

  test('what lies in the data folder is for its owner alone, and the database is reached through its socket alone', async () => {
    installFromTemplate(path.join(data, 'db'));
    mkdirSync(data, { recursive: true });
    chmodSync(data, 0o755);
    await ready();
    const mode = (at: string) => (statSync(path.join(data, at)).mode & 0o777).toString(8);
    expect([mode('.'), mode('running.json'), mode('secrets.json'), mode('db/my.cnf')]).toEqual([
      '700',
      '600',
      '600',
      '600',
    ]);
    const db = database();
    const [[{ value }]] = (await db.raw('SELECT @@skip_networking AS value')) as [[{ value: number }]];
    await db.destroy();
    expect(value).toBe(1);
  });
});
