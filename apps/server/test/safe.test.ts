import { execFileSync, spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync } from 'node:fs';
import { mkdir, mkdtemp, open, readdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { SafePlace } from '@gemmel/contract';
import { secretsIn } from '../src/safe/places';
import { restoreAll } from '../src/safe/restore';
import { STILLS } from '../src/safe/still';
import { askDue } from '../src/safe/watch';
import { hashFile } from '../src/vault/vault';
import { testLong } from './long';
import { DEMO, openHouse, type House } from './house';

/** Safekeeping: second copies that are read back, what a place tells, rot on both sides, and coming back from nothing. */
describe('safekeeping', () => {
  let house: House;
  let disk: string;
  let place: number;

  const state = () => house.call('safekeeping', {});
  const at = async (id = place): Promise<SafePlace> => (await state()).places.find((one) => one.id === id)!;
  const phraseOf = async (id = place) =>
    secretsIn(house.app, (await house.app.db('safe_places').where('id', id).first())!).phrase;
  const vault = () => path.join(house.app.paths.vault, 'home');
  const originals = () => house.app.db('pictures').orderBy('id').select('id', 'vault_path', 'sha256');

  /** Turns a byte in the middle of a file round, as a disk does that grows old. */
  async function rot(file: string): Promise<void> {
    execFileSync('chmod', ['u+w', file]);
    const handle = await open(file, 'r+');
    const { size } = await handle.stat();
    const byte = Buffer.alloc(1);
    await handle.read(byte, 0, 1, Math.floor(size / 2));
    await handle.write(Buffer.from([byte[0]! ^ 0xff]), 0, 1, Math.floor(size / 2));
    await handle.close();
  }

  beforeAll(async () => {
    house = await openHouse();
    disk = await mkdtemp(path.join(tmpdir(), 'gemmel-disk-'));
    await house.takeIn(path.join(DEMO, 'grans-tablet'));
    await house.quiet();
  });
  afterAll(async () => {
    await house?.stop();
    await rm(disk, { recursive: true, force: true });
  });

  test('before there is a place, everything would be lost', async () => {
    const { pictures, two, one, none, house: other, places, since } = await state();
    expect(pictures).toBeGreaterThan(5);
    expect({ two, one, none, other, places }).toEqual({ two: 0, one: pictures, none: 0, other: null, places: [] });
    expect(since).not.toBeNull();
  });

  test('a folder takes a second copy of everything, and each picture counts once its copy has been read back', async () => {
    const { id } = await house.call('addSafePlace', {
      body: {
        kind: 'folder',
        name: 'The disk in the hall',
        location: path.join(disk, 'gemmel'),
        often: 'daily',
        hour: 2,
      },
    });
    place = id;
    await house.quiet();
    const { pictures, two, one, since, words } = await state();
    expect({ two, one, since, words: words.n }).toEqual({ two: pictures, one: 0, since: null, words: 0 });
    const told = await at();
    expect(told).toMatchObject({ there: true, waiting: 0, last: { state: 'done', wrong: 0 } });
    expect(told.last!.proven).toBeGreaterThan(pictures);
    expect(existsSync(path.join(house.app.paths.vault, STILLS, String(place)))).toBe(false);
    // It opens with its phrase alone, and holds plain files.
    const env = { ...process.env, RESTIC_PASSWORD: await phraseOf(), RESTIC_REPOSITORY: path.join(disk, 'gemmel') };
    const files = execFileSync('restic', ['ls', 'latest', '--no-cache'], { env, encoding: 'utf8' });
    expect(files).toContain('/database.sql');
    for (const { vault_path } of await originals()) expect(files).toContain(`/vault/home/${vault_path}`);
  });

  test('what is said afterwards counts until the next time, which copies only what has changed', async () => {
    const [first] = await originals();
    await house.call('change', { body: { ids: [first!.id], change: { title: 'On the swing' } } });
    expect((await state()).words.n).toBe(1);
    await house.quiet();
    const before = (await at()).last!;
    await house.call('bringUpToDate', { params: { id: place } });
    await house.quiet();
    const told = await at();
    expect(told.last!.id).not.toBe(before.id);
    expect(told.last!.wrong).toBe(0);
    expect(told.last!.proven).toBeLessThan(10);
    expect((await state()).words.n).toBe(0);
  });

  test('a picture that moved to another folder is still in two places, and found there', async () => {
    const { db } = house.app;
    const [event] = await db('events').orderBy('id');
    await house.call('nameEvent', { params: { id: event!.id }, body: { title: 'A summer by the water' } });
    await house.quiet();
    // A process was ended while it put the library's book in its place.
    const left = path.join(house.app.config.data, 'said', 'home', 'gemmel.json.kept-99999999');
    await mkdir(path.dirname(left), { recursive: true });
    await writeFile(left, '{}');
    await house.call('bringUpToDate', { params: { id: place } });
    await house.quiet();
    expect(await readdir(path.dirname(left))).toEqual(['gemmel.json']);
    const { pictures, two } = await state();
    expect(two).toBe(pictures);
    const held = (await db('safe_copies').where('place_id', place).select('path')).map((one) => one.path);
    for (const { vault_path } of await originals()) expect(held).toContain(`home/${vault_path}`);
  });

  test('what was said of a picture in an earlier state is said again, wherever its file lay then', async () => {
    const [first] = await originals();
    const id = first!.id;
    await house.call('change', {
      body: { ids: [id], change: { title: 'Somewhere else', rating: 2, addTags: ['garden › swing', 'by mistake'] } },
    });
    const { states } = await house.call('earlierStates', {});
    expect(states.length).toBeGreaterThan(2);
    const [before, oldest] = [states.at(-2)!, states.at(-1)!];
    const words = await house.call('earlierWords', { params: { id }, body: { place, state: before.state } });
    expect(words.then).toMatchObject({ title: 'On the swing', rating: 0, tags: [] });
    expect(words.now.tags.sort()).toEqual(['by mistake', 'garden › swing']);
    expect(
      (await house.call('earlierWords', { params: { id }, body: { place, state: oldest.state } })).then?.title,
    ).toBeNull();
    const did = await house.call('bringWordsBack', { params: { id }, body: { place, state: before.state } });
    const now = async () => (await house.app.db('pictures').where('id', id).first('title', 'rating'))!;
    expect(await now()).toEqual({ title: 'On the swing', rating: 0 });
    expect(await house.app.db('picture_tags').where('picture_id', id)).toEqual([]);
    await house.undo(did);
    expect(await now()).toEqual({ title: 'Somewhere else', rating: 2 });
    await expect(
      house.call('earlierWords', { params: { id }, body: { place, state: '--help' } }),
    ).rejects.toMatchObject({ status: 400 });
    await house.quiet();
  });

  test('rotten and missing originals are found by reading them back, and mended from the place', async () => {
    const all = await originals();
    const [rotten, gone] = [all[1]!, all[2]!];
    await rot(path.join(vault(), rotten.vault_path));
    await rm(path.join(vault(), gone.vault_path));
    await house.call('readOriginals', {});
    await house.quiet();
    const { originals: told } = await state();
    expect(told).toMatchObject({ damaged: 0, whole: told.pictures });
    expect(told.mended.map(({ name, place: from }) => [name, from]).sort()).toEqual(
      [rotten, gone].map((one) => [path.basename(one.vault_path), 'The disk in the hall']).sort(),
    );
    for (const one of [rotten, gone])
      expect((await hashFile(path.join(vault(), one.vault_path))).equals(one.sha256)).toBe(true);
  });

  test('what has rotted at the place is found, copied again, and believed only when it has been read back', async () => {
    const packs: string[] = [];
    for (const two of await readdir(path.join(disk, 'gemmel/data')))
      for (const name of await readdir(path.join(disk, 'gemmel/data', two)))
        packs.push(path.join(disk, 'gemmel/data', two, name));
    for (const pack of packs) await rot(pack);
    await house.call('checkSafePlace', { params: { id: place } });
    await house.quiet();
    const told = await at();
    expect(told.checked!.wrong).toBe(packs.length);
    expect(told.last).toMatchObject({ state: 'done', wrong: 0 });
    const { pictures, two } = await state();
    expect(two).toBe(pictures);
    await house.call('checkSafePlace', { params: { id: place } });
    await house.quiet();
    expect((await at()).checked).toMatchObject({ state: 'done', wrong: 0 });
  });

  test('a copy goes on after one that was cut, also while somebody else uses the place', async () => {
    const { db } = house.app;
    const env = { ...process.env, RESTIC_PASSWORD: await phraseOf(), RESTIC_REPOSITORY: path.join(disk, 'gemmel') };
    // It waits for what it is to keep, and holds its lock for as long.
    const other = spawn('restic', ['backup', '--stdin', '--tag', 'other', '--no-cache'], {
      env,
      stdio: ['pipe', 'ignore', 'ignore'],
    });
    const ended = once(other, 'exit');
    try {
      for (let i = 0; i < 200 && !(await readdir(path.join(disk, 'gemmel/locks'))).length; i++)
        await new Promise((resolve) => setTimeout(resolve, 50));
      expect(await readdir(path.join(disk, 'gemmel/locks'))).toHaveLength(1);
      const { last } = await at();
      await db('safe_runs').where('id', last!.id).update({ state: 'failed', step: 'copying' });
      await house.call('bringUpToDate', { params: { id: place } });
      await house.quiet();
      const told = await at();
      expect(told).toMatchObject({ latest: { state: 'done', wrong: 0 } });
      expect(told.latest!.id).not.toBe(last!.id);
      expect(other.exitCode).toBeNull();
    } finally {
      other.stdin.end();
      await ended;
      execFileSync('restic', ['forget', '--tag', 'other', '--keep-tag', 'none', '--no-cache'], { env });
    }
  });

  test('everything comes back onto a fresh machine, and over nothing that is there', async () => {
    const data = path.join(disk, 'fresh');
    const restore = (more = {}) =>
      restoreAll({ from: path.join(disk, 'gemmel'), data, over: false, dryRun: false, ...more });
    process.env['GEMMEL_PHRASE'] = 'not the phrase of it';
    await expect(restore()).rejects.toThrow('That is not the pass phrase');
    process.env['GEMMEL_PHRASE'] = await phraseOf();
    await expect(restore({ from: path.join(disk, 'nowhere') })).rejects.toThrow('There is no backup at');
    await restore();
    for (const { vault_path, sha256 } of await originals())
      expect((await hashFile(path.join(data, 'vault/home', vault_path))).equals(sha256)).toBe(true);
    expect(existsSync(path.join(data, 'db'))).toBe(true);
    expect(existsSync(path.join(data, 'database.sql'))).toBe(false);
    await expect(restore()).rejects.toThrow('Nothing has been changed');
    delete process.env['GEMMEL_PHRASE'];
  });

  testLong('restored on trial: a database of its own is started on it, and every file compared', async () => {
    await house.call('rehearse', { params: { id: place } });
    await house.quiet();
    const { pictures } = await state();
    const { trial, latestTrial } = await at();
    expect(trial).toMatchObject({ state: 'done', wrong: 0 });
    expect(trial!.files).toBeGreaterThanOrEqual(pictures);
    expect(trial!.proven).toBe(trial!.files);
    expect(latestTrial!.id).toBe(trial!.id);
    expect(existsSync(path.join(house.app.config.data, 'safe', String(place), 'trial'))).toBe(false);
  });

  test('a disk that is away is no empty disk: nothing is begun anew, and it is noticed when it shows up', async () => {
    const home = path.join(disk, 'gemmel');
    execFileSync('mv', [home, path.join(disk, 'elsewhere')]);
    execFileSync('mkdir', [home]);
    await house.call('bringUpToDate', { params: { id: place } });
    await house.quiet();
    expect(await at()).toMatchObject({ there: false, latest: { state: 'failed', why: { code: 'safe-away' } } });
    expect(await readdir(home)).toEqual([]);
    await house.call('changeSafePlace', { params: { id: place }, body: { often: 'shows' } });
    await askDue(house.app, Date.now() + 5 * 3_600_000);
    await house.quiet();
    expect((await at()).there).toBe(false);
    execFileSync('rmdir', [home]);
    execFileSync('mv', [path.join(disk, 'elsewhere'), home]);
    await askDue(house.app, Date.now() + 5 * 3_600_000);
    await house.quiet();
    expect(await at()).toMatchObject({ there: true, latest: { state: 'done' } });
  });

  test('what cannot be a place is refused in words, and nothing is left of it', async () => {
    const add = (location: string, more = {}) =>
      house.call('addSafePlace', {
        body: { kind: 'folder', name: 'X', location, often: 'hand', hour: 2, ...more },
      });
    await expect(add('relative/folder')).rejects.toMatchObject({ status: 400 });
    await expect(add(path.join(house.app.config.data, 'safe/inside'))).rejects.toMatchObject({ status: 400 });
    await expect(add('/no/such/folder/here')).rejects.toMatchObject({ status: 400 });
    await expect(add(path.join(disk, 'gemmel'), { phrase: 'not the phrase of it' })).rejects.toMatchObject({
      status: 403,
    });
    await expect(add('https://127.0.0.1:1/bucket', { kind: 'bucket', access: 'a', secret: 'b' })).rejects.toMatchObject(
      { status: 503 },
    );
    await expect(add('nobody', { kind: 'machine' })).rejects.toMatchObject({ status: 400 });
    expect((await state()).places.length).toBe(1);
  });

  test('another library’s keepers see their own pictures, and nothing of the places', async () => {
    const { slug } = (await house.call('makeLibrary', { body: { name: 'The club' } })).library!;
    const response = await house.fetch('/api/safekeeping', { headers: { 'x-gemmel-library': slug } });
    expect(await response.json()).toMatchObject({ pictures: 0, house: 'Test library', places: [] });
    const refused = await house.fetch(`/api/safekeeping/places/${place}/backup`, {
      method: 'POST',
      headers: { 'x-gemmel-library': slug },
    });
    expect(refused.status).toBe(409);
  });

  test('the recovery sheet is for the keeper’s own password, and says what brings everything back', async () => {
    const ask = (password: string) =>
      house.fetch('/api/safekeeping/sheet', {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ password, language: 'en' }),
      });
    expect((await ask('wrong')).status).toBe(403);
    const response = await ask('a-long-password');
    expect(response.headers.get('content-type')).toBe('application/pdf');
    const file = path.join(disk, 'sheet.pdf');
    await writeFile(file, Buffer.from(await response.arrayBuffer()));
    expect((await stat(file)).size).toBeGreaterThan(10_000);
    expect((await readFile(file)).subarray(0, 5).toString()).toBe('%PDF-');
    expect(await house.call('safePhrase', { params: { id: place }, body: { password: 'a-long-password' } })).toEqual({
      phrase: await phraseOf(),
    });
  });

  test('a library as it was in an earlier state is opened beside the one that is here', async () => {
    const { db } = house.app;
    const [first] = await originals();
    const { states } = await house.call('earlierStates', {});
    const { state: then } = states.find((one) => one.place === place)!;
    const titleNow = 'Said after that state';
    await house.call('change', { body: { ids: [first!.id], change: { title: titleNow } } });
    await house.call('openState', { body: { place, state: then } });
    for (let i = 0; i < 600; i++) {
      const open = await db('jobs').whereIn('state', ['ready', 'running']).where('tries', 0).first('id');
      if (!open) break;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    const copy = (await db('libraries').orderBy('id', 'desc').first('id', 'slug', 'name'))!;
    expect(copy.slug).not.toBe('home');
    const there = await db('pictures').where('library_id', copy.id).select('sha256', 'title', 'vault_path');
    expect(there).toHaveLength((await db('pictures').where('library_id', 1).select('id')).length);
    const same = there.find((one) => one.sha256.equals(first!.sha256))!;
    expect(same.title).not.toBe(titleNow);
    expect((await db('pictures').where('id', first!.id).first('title'))!.title).toBe(titleNow);
    for (const { vault_path, sha256 } of there)
      expect((await hashFile(path.join(house.app.paths.vault, copy.slug, vault_path))).equals(sha256)).toBe(true);
    expect((await readdir(house.app.paths.vault)).filter((name) => name.startsWith('.'))).toEqual([STILLS]);
  });

  test('a place that is let go keeps what it holds', async () => {
    await house.call('removeSafePlace', { params: { id: place } });
    const { pictures, two, places } = await state();
    expect({ two, places }).toEqual({ two: 0, places: [] });
    expect(pictures).toBeGreaterThan(0);
    expect(existsSync(path.join(disk, 'gemmel/config'))).toBe(true);
  });
});
