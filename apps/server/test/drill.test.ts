import { VAULT_LAYOUTS, type Recipe } from '@gemmel/core';
import { execFileSync, spawn } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { intoBin, restore } from '../src/bin/acts';
import { addressOf, startMariadb } from '../src/db/mariadb';
import { openDb, type Db } from '../src/db/open';
import { openBatch, walk } from '../src/intake/announce';
import { ask } from '../src/jobs/jobs';
import { compareVault } from '../src/keep/compare';
import { askBackup } from '../src/safe/backup';
import { addPlace } from '../src/safe/places';
import { touchUp } from '../src/touchup/touchUp';
import { ROOT } from './house';
import { openKillable, type Killable } from './killable';
import { chances, times } from './long';
import { jpeg, shaOfFile } from './pictures';
import { pause } from './program';

const random = chances(118);
const KILLS = times(2, 200);
/** Pictures that come in with each batch. */
const EACH = 5;
/** How often the database is taken away, and how often it is the bringing back that is killed: once in so many kills. */
const DATABASE = times(1, 4);
const BACK = times(2, 5);
const PHRASE = 'a phrase for the drill';
const CLI = path.join(ROOT, 'apps/server/dist/cli.js');
const RECIPES: Recipe[] = [
  { v: 1, turn: 1 },
  { v: 1, light: { exposure: 15 } },
  { v: 1, crop: [0, 0, 0.5, 1] },
];

/** Everything that is done to files, all of it at once, by a process that is killed again and again. */
describe('the fault drill', () => {
  let house: Killable;
  let disk: string;
  let fresh: string;
  let place = 0;
  const given = new Set<string>();
  const by = { library: 1, member: null };

  beforeAll(async () => {
    house = await openKillable('drill');
    disk = path.join(house.folder, 'disk');
    fresh = path.join(house.folder, 'fresh');
    place = await addPlace(house.app, 1, {
      kind: 'folder',
      name: 'Disk',
      location: disk,
      often: 'hand',
      hour: 2,
      phrase: PHRASE,
    });
  });
  afterAll(() => house?.stop());

  /** Gives a few new pictures, as a folder that somebody names. */
  async function give(n: number): Promise<void> {
    const folder = path.join(house.folder, 'given', String(n));
    mkdirSync(folder, { recursive: true });
    for (let i = 0; i < EACH; i++) {
      const file = path.join(folder, `IMG_${i}.jpg`);
      writeFileSync(file, await jpeg(n * EACH + i, `2024:0${1 + (n % 9)}:${11 + i} 10:00:00`));
      given.add(shaOfFile(file));
    }
    await openBatch(house.app, 1, `Given ${n}`, await walk(folder), { way: 'folder' });
  }

  const works: Record<string, (n: number) => Promise<unknown>> = {
    'taking in': give,
    moving: async (n) => {
      await house.app
        .db('libraries')
        .where('id', 1)
        .update({ layout: VAULT_LAYOUTS[n % VAULT_LAYOUTS.length] });
      await ask(house.app.db, 1, 'refile');
    },
    'touching up': async (n) => touchUp(house.app, by, await some('pictures'), RECIPES[n % RECIPES.length]!),
    binning: async () => intoBin(house.app, by, await some('pictures')),
    'out of the bin': async () => restore(house.app, by, { ids: await some('binned') }),
    'backing up': () => askBackup(house.app, 1, place),
  };
  const names = Object.keys(works);
  const some = async (table: 'pictures' | 'binned'): Promise<number[]> =>
    (await house.app.db(table).select('id')).map(({ id }) => id).filter(() => random() < 0.3);

  const again = () =>
    house.app
      .db('jobs')
      .whereNot('state', 'failed')
      .update({ state: 'ready', taken_by: null, run_after: house.app.db.raw('UTC_TIMESTAMP(3)') });

  /** Lets the process work until nothing is left to do. */
  async function quiet(): Promise<void> {
    await again();
    await house.begin();
    for (let still = 0; still < 5;) {
      still = (await house.app.db('jobs').whereIn('state', ['ready', 'running']).first('id')) ? 0 : still + 1;
      await pause(100);
    }
    await house.kill();
  }

  /** Waits until the process does something other than taking in, or has nothing to do. */
  async function other(): Promise<void> {
    for (const until = Date.now() + 4000; Date.now() < until; await pause(10)) {
      const open = await house.app
        .db('jobs')
        .whereIn('state', ['ready', 'running'])
        .whereNot('kind', 'intake')
        .select('state');
      if (open.length === 0 || open.some(({ state }) => state === 'running')) return;
    }
  }

  const cli = (...words: string[]) =>
    spawn(process.execPath, [CLI, ...words], {
      env: { ...process.env, GEMMEL_ROOT: ROOT, GEMMEL_DATA: fresh, GEMMEL_PHRASE: PHRASE, LANG: 'C.UTF-8' },
      stdio: 'ignore',
    });
  /** Brings everything back into an empty folder, to its end or until it is killed after so long, in ms. */
  const back = (killed?: number) =>
    new Promise<number | null>((resolve) => {
      const child = cli('restore', disk);
      child.once('exit', (code) => resolve(code));
      if (killed) setTimeout(() => child.kill('SIGKILL'), killed).unref();
    });
  /** Ends the database that a killed process left. */
  function endLeft(): void {
    const note = path.join(`${fresh}.restoring`, 'db/db.pid');
    if (!existsSync(note)) return;
    const pid = Number(readFileSync(note, 'utf8'));
    if (existsSync(`/proc/${pid}/cmdline`) && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(fresh))
      process.kill(pid, 'SIGKILL');
  }

  /** Each original that was given is there once, whole, where its row says, and nothing else is. Answers how many. */
  async function right(data: string, db: Db): Promise<number> {
    const root = path.join(data, 'vault/home');
    const { missing, unknown } = await compareVault(db, root, 1);
    expect({ missing, unknown }).toEqual({ missing: [], unknown: [] });
    const rows = [
      ...(await db('pictures').select('vault_path', 'sha256')),
      ...(await db('binned_files').select('vault_path', 'sha256')),
    ];
    for (const { vault_path, sha256 } of rows)
      expect([vault_path, shaOfFile(path.join(root, vault_path))]).toEqual([vault_path, sha256.toString('hex')]);
    const shas = rows.map(({ sha256 }) => sha256.toString('hex'));
    expect(new Set(shas).size).toBe(shas.length);
    return shas.filter((sha) => given.has(sha)).length;
  }

  test('nothing is lost, nothing is there twice, and every check is clean', async () => {
    const { app } = house;
    const { db } = app;
    const caught: Record<string, number> = {};
    await give(0);
    await quiet();
    await askBackup(app, 1, place);
    for (let n = 1; n <= KILLS; n++) {
      if (n % BACK === 0) {
        rmSync(fresh, { recursive: true, force: true });
        await back(200 + random() * 2500);
        if (existsSync(`${fresh}.restoring`)) caught['bringing back'] = (caught['bringing back'] ?? 0) + 1;
        endLeft();
        continue;
      }
      await works[names[n % names.length]!]!(n);
      await works[names[Math.floor(random() * names.length)]!]!(KILLS + n);
      await again();
      await house.begin();
      // Pictures come first: mostly it is waited until something else is being done.
      if (random() < 0.8) await other();
      await pause(random() * 400);
      if (n % DATABASE === 0) await house.restartDb(random() * 200);
      await house.kill();
      for (const { kind } of await db('jobs').where('state', 'running').select('kind'))
        caught[kind] = (caught[kind] ?? 0) + 1;
    }
    await quiet();
    expect(await db('jobs').where('state', 'failed').select('kind', 'error')).toEqual([]);
    expect(await db('vault_moves').select('id')).toEqual([]);
    expect(await right(app.config.data, db)).toBe(given.size);
    // The copy: brought up to date, read in full, and brought back.
    await askBackup(app, 1, place);
    await quiet();
    expect(await db('safe_runs').where('place_id', place).orderBy('id', 'desc').first('state', 'wrong')).toEqual({
      state: 'done',
      wrong: 0,
    });
    expect(readdirSync(app.paths.vault).filter((name) => name.startsWith('.'))).toEqual(['.still']);
    execFileSync('restic', ['check', '--read-data', '--no-cache'], {
      env: { ...process.env, RESTIC_PASSWORD: PHRASE, RESTIC_REPOSITORY: disk },
      stdio: 'pipe',
    });
    rmSync(fresh, { recursive: true, force: true });
    expect(await back()).toBe(0);
    const { db: secret } = JSON.parse(readFileSync(path.join(fresh, 'secrets.json'), 'utf8')) as { db: string };
    const mariadb = await startMariadb(path.join(fresh, 'db'), secret);
    const brought = openDb(addressOf(path.join(fresh, 'db'), secret), 2);
    try {
      expect(await right(fresh, brought)).toBe(given.size);
    } finally {
      await brought.destroy();
      await mariadb.stop();
    }
    console.log(
      `${KILLS} kills over ${given.size} pictures, 0 lost, 0 double; cut in the middle of: ${JSON.stringify(caught)}`,
    );
  }, 1_800_000);
});
