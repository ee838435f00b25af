import { execFileSync, spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { addressOf, startMariadb } from '../src/db/mariadb';
import { openDb, type Db } from '../src/db/open';
import { hashFile } from '../src/vault/vault';
import { installFromTemplate } from './database';
import { DEMO, ROOT } from './house';
import { chances, describeLong, times } from './long';
import { freePort, pause } from './program';

const MAIN = path.join(ROOT, 'apps/server/dist/main.js');
const CLI = path.join(ROOT, 'apps/server/dist/cli.js');
const KEEPER = { email: 'keeper@house.example', password: 'a-long-password' };
const random = chances(71);
const KILLS = times(1, 50);
const CUTS = times(1, 20);

/** The real program: killed while it copies and while it brings back, restored onto a fresh machine, and its upgrade taken back. */
describeLong('safekeeping of the real program', () => {
  let folder: string;
  let data: string;
  let port: number;
  let running: ChildProcess | null = null;
  let phrase = '';
  let cookie = '';
  let token = '';

  const disk = () => path.join(folder, 'disk');
  const envOf = (at: string): NodeJS.ProcessEnv => ({
    ...process.env,
    GEMMEL_ROOT: ROOT,
    GEMMEL_DATA: at,
    GEMMEL_PORT: String(port),
    GEMMEL_PACE: '0',
    GEMMEL_PHRASE: phrase,
    LANG: 'C.UTF-8',
  });

  beforeAll(async () => {
    folder = mkdtempSync(path.join(tmpdir(), 'gemmel-safe-'));
    data = path.join(folder, 'data');
    mkdirSync(data);
    port = await freePort();
    installFromTemplate(path.join(data, 'db'));
  });
  afterAll(async () => {
    if (running) await end('SIGTERM');
    // A database that outlived a killed program.
    for (const name of readdirSync(folder)) {
      const note = path.join(folder, name, 'db/db.pid');
      if (!existsSync(note)) continue;
      const pid = Number(readFileSync(note, 'utf8'));
      if (readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(folder)) process.kill(pid, 'SIGKILL');
    }
    rmSync(folder, { recursive: true, force: true });
  });

  async function begin(at = data): Promise<void> {
    const child = spawn(process.execPath, [MAIN], { env: envOf(at), stdio: ['ignore', 'pipe', 'pipe'] });
    let said = '';
    child.stdout!.on('data', (part) => (said += part));
    child.stderr!.on('data', (part) => (said += part));
    for (let i = 0; i < 600 && !said.includes('Gemmel is ready'); i++) {
      if (child.exitCode !== null) throw new Error(said);
      // A lost database is told on a page of its own, for as long as the program runs.
      if (said.includes('with a button that rebuilds it')) {
        running = child;
        throw new Error(said);
      }
      await pause(50);
    }
    expect(said).toContain('Gemmel is ready');
    running = child;
  }
  const end = (signal: NodeJS.Signals) =>
    new Promise<void>((resolve) => {
      const child = running!;
      running = null;
      child.once('exit', () => resolve());
      child.kill(signal);
    });
  async function ask<T>(at: string, body?: object, method = body ? 'POST' : 'GET'): Promise<T> {
    const response = await fetch(`http://127.0.0.1:${port}${at}`, {
      method,
      headers: { cookie, 'x-gemmel-token': token, ...(body ? { 'content-type': 'application/json' } : {}) },
      ...(body ? { body: JSON.stringify(body) } : {}),
    });
    const set = response.headers
      .getSetCookie()
      .map((one) => one.split(';')[0]!)
      .find((one) => one.startsWith('gemmel='));
    if (set) cookie = set;
    const told = (await response.json()) as T & { token?: string };
    if (told.token) token = told.token;
    return told;
  }
  const signIn = () => ask('/api/sign-in', KEEPER);
  async function withDb<T>(at: string, act: (db: Db) => Promise<T>): Promise<T> {
    const { db: secret } = JSON.parse(readFileSync(path.join(at, 'secrets.json'), 'utf8')) as { db: string };
    const db = openDb(addressOf(path.join(at, 'db'), secret), 2);
    try {
      return await act(db);
    } finally {
      await db.destroy();
    }
  }
  /** The same on a folder where nothing runs. */
  async function withOwnDb<T>(at: string, act: (db: Db) => Promise<T>): Promise<T> {
    const { db: secret } = JSON.parse(readFileSync(path.join(at, 'secrets.json'), 'utf8')) as { db: string };
    const mariadb = await startMariadb(path.join(at, 'db'), secret);
    try {
      return await withDb(at, act);
    } finally {
      await mariadb.stop();
    }
  }
  const cli = (at: string, ...words: string[]) => {
    const { status, stdout, stderr } = spawnSync(process.execPath, [CLI, ...words], {
      env: envOf(at),
      encoding: 'utf8',
    });
    return { status, said: stdout + stderr };
  };
  type Place = {
    id: number;
    waiting: number;
    last: { id: number; state: string; wrong: number } | null;
    latest: { id: number; state: string } | null;
    now: object | null;
  };
  const place = async () => (await ask<{ places: Place[] }>('/api/safekeeping')).places[0]!;
  async function settled(): Promise<Place> {
    for (let i = 0; i < 900; i++) {
      const now = await place();
      if (!now.now && now.latest && now.latest.state !== 'running') return now;
      await pause(100);
    }
    throw new Error('it never came to an end');
  }
  /** Every file a folder's database speaks of is there, and is what it says. */
  async function whole(at: string, db: Db): Promise<number> {
    const rows = (await db('pictures as p')
      .join('libraries as l', 'l.id', 'p.library_id')
      .select('p.vault_path', 'p.sha256', 'l.slug')) as {
      vault_path: string;
      sha256: Buffer;
      slug: string;
    }[];
    for (const { vault_path, sha256, slug } of rows)
      expect([vault_path, (await hashFile(path.join(at, 'vault', slug, vault_path))).equals(sha256)]).toEqual([
        vault_path,
        true,
      ]);
    return rows.length;
  }

  test('killed at any moment while it copies: it goes on by itself, and the copy is clean', async () => {
    const source = path.join(folder, 'source');
    cpSync(path.join(DEMO, 'grans-tablet'), source, { recursive: true });
    await begin();
    await ask('/api/first-run', { library: 'Ours', name: 'Keeper', ...KEEPER });
    await withDb(data, async (db) => {
      await db('libraries').update({ recognise: false });
    });
    expect(cli(data, 'import', source).status).toBe(0);
    const { id } = await ask<{ id: number }>('/api/safekeeping/places', {
      kind: 'folder',
      name: 'Disk',
      location: disk(),
      often: 'daily',
      hour: 2,
    });
    ({ phrase } = await ask<{ phrase: string }>(`/api/safekeeping/places/${id}/phrase`, { password: KEEPER.password }));
    for (let kill = 0; kill < KILLS; kill++) {
      await pause(200 + random() * 2500);
      await end('SIGKILL');
      await begin();
      await signIn();
      // What was being done goes on; what had just ended is begun again.
      const { now, last } = await place();
      if (!now && last) await ask(`/api/safekeeping/places/${id}/backup`, {});
    }
    const { last, waiting } = await settled();
    expect([last, waiting]).toMatchObject([{ state: 'done', wrong: 0 }, 0]);
    execFileSync('restic', ['check', '--read-data', '--no-cache'], {
      env: { ...process.env, RESTIC_PASSWORD: phrase, RESTIC_REPOSITORY: disk() },
      stdio: 'pipe',
    });
    expect(existsSync(path.join(data, 'vault/.still', String(id)))).toBe(false);
    expect(readdirSync(path.join(data, 'safe', String(id))).filter((name) => /^(back|restic)-/.test(name))).toEqual([]);
  }, 600_000);

  test('everything comes back on a fresh machine by one command, killed on the way; nothing newer is overwritten', async () => {
    const pictures = await withDb(data, (db) => whole(data, db));
    await end('SIGTERM');
    const fresh = path.join(folder, 'fresh');
    expect(cli(fresh, 'restore', path.join(folder, 'nowhere'))).toMatchObject({
      status: 1,
      said: expect.stringContaining('There is no backup at'),
    });
    const right = phrase;
    phrase = 'not the pass phrase';
    expect(cli(fresh, 'restore', disk())).toMatchObject({
      status: 1,
      said: expect.stringContaining('not the pass phrase'),
    });
    phrase = right;
    for (let n = 0; n < CUTS && !existsSync(path.join(fresh, 'db')); n++) {
      const cut = spawn(process.execPath, [CLI, 'restore', disk()], { env: envOf(fresh), stdio: 'ignore' });
      await pause(500 + random() * 3000);
      cut.kill('SIGKILL');
    }
    const done = existsSync(path.join(fresh, 'db'));
    if (!done)
      expect(cli(fresh, 'restore', disk())).toMatchObject({
        status: 0,
        said: expect.stringContaining('pictures are back'),
      });
    expect(await withOwnDb(fresh, (db) => whole(fresh, db))).toBe(pictures);
    // It starts, and shows what it holds, although small pictures are in no backup.
    await begin(fresh);
    await signIn();
    expect((await ask<{ pictures: number }>('/api/library')).pictures).toBe(pictures);
    const { sha256 } = await withDb(fresh, async (db) => (await db('pictures').first('sha256'))!);
    const small = await fetch(`http://127.0.0.1:${port}/api/derived/${sha256.toString('hex')}/small`, {
      headers: { cookie },
    });
    expect([small.status, small.headers.get('content-type')]).toEqual([200, 'image/webp']);
    await end('SIGTERM');
    // Over something that is there, it only says what would change.
    writeFileSync(path.join(fresh, 'vault/home/new.txt'), 'newer');
    const asked = cli(fresh, 'restore', disk());
    expect(asked.status).toBe(1);
    expect(asked.said).toContain('newer than the backup');
    expect(existsSync(path.join(fresh, 'vault/home/new.txt'))).toBe(true);
    expect(cli(fresh, 'restore', disk(), '--over').status).toBe(0);
    const aside = readdirSync(folder).find((name) => name.startsWith('fresh.before-'))!;
    expect(existsSync(path.join(folder, aside, 'vault/home/new.txt'))).toBe(true);
    expect(existsSync(path.join(fresh, 'vault/home/new.txt'))).toBe(false);
  }, 300_000);

  test('a torn database is no end: what was kept comes back over it', async () => {
    const torn = path.join(folder, 'fresh');
    for (const name of ['ibdata1', 'ib_logfile0']) {
      const [file] = execFileSync('find', [path.join(torn, 'db'), '-name', name], { encoding: 'utf8' }).split('\n');
      if (file) writeFileSync(file, Buffer.alloc(50_000, 7));
    }
    await expect(begin(torn)).rejects.toThrow(/doesn’t start|can’t be read/);
    const page = await fetch(`http://127.0.0.1:${port}/`);
    expect([page.status, await page.text()]).toEqual([503, expect.stringContaining('Your pictures are not')]);
    await end('SIGTERM');
    expect(cli(torn, 'restore', disk(), '--over').status).toBe(0);
    expect(await withOwnDb(torn, (db) => whole(torn, db))).toBeGreaterThan(0);
  }, 180_000);

  test('before an upgrade the database is kept, and the upgrade can be taken back', async () => {
    // As the version before it left the database.
    const latest = await withOwnDb(data, async (db) => {
      const { name } = (await db('knex_migrations').orderBy('id', 'desc').first('name'))! as { name: string };
      await db('knex_migrations').where({ name }).delete();
      return name;
    });
    await begin();
    await signIn();
    const kept = () => readdirSync(path.join(data, 'upgrades')).filter((name) => name.includes(' before '));
    expect(kept()).toEqual([expect.stringContaining(`before ${latest}.sql.gz`)]);
    const { id } = await withDb(data, async (db) => (await db('pictures').first('id'))!);
    await ask('/api/pictures/change', { ids: [id], change: { rating: 5 } });
    expect(cli(data, 'undo-upgrade').said).toContain('Stop it first');
    await end('SIGTERM');
    const asked = cli(data, 'undo-upgrade');
    expect(asked).toMatchObject({
      status: 1,
      said: expect.stringMatching(/1 thing said or done since would no longer be known/),
    });
    expect(kept().length).toBe(1);
    // Cut in the middle, it is brought to its end before anything else is done.
    const note = path.join(data, 'upgrades/taking-back');
    const cut = spawn(process.execPath, [CLI, 'undo-upgrade', '--yes'], { env: envOf(data), stdio: 'ignore' });
    for (let i = 0; i < 6000 && !existsSync(note); i++) await pause(2);
    cut.kill('SIGKILL');
    expect(existsSync(note)).toBe(true);
    await expect(begin()).rejects.toThrow('Finish it first');
    expect(cli(data, 'undo-upgrade', '--yes').status).toBe(0);
    await withOwnDb(data, async (db) => {
      expect(await db('knex_migrations').where('name', latest).first('id')).toBeUndefined();
      expect((await db('pictures').where('id', id).first('rating'))!.rating).not.toBe(5);
    });
    expect(readdirSync(path.join(data, 'upgrades')).some((name) => name.includes('undone upgrade'))).toBe(true);
  }, 180_000);
});
