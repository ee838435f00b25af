import { execFileSync } from 'node:child_process';
import { randomFillSync } from 'node:crypto';
import { mkdtemp, open, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { hashFile, libraryFolder } from '../src/vault/vault';
import { openHouse, type House } from './house';
import { chances, describeLong } from './long';
import { plant } from './planted';

const random = chances(53);
const PICTURES = 60;
const BYTES = 8_000_000;
const ROTTEN = 20;

/** Bit rot at size: twenty originals, and twenty files of the place that holds the copies. */
describeLong('rot', () => {
  let house: House;
  let disk: string;
  let place = 0;
  beforeAll(async () => {
    house = await openHouse();
    disk = await mkdtemp(path.join(tmpdir(), 'gemmel-rot-'));
    const bytes = Buffer.allocUnsafe(BYTES);
    await plant(house.app, libraryFolder(house.app, 'home'), PICTURES, async () => Buffer.from(randomFillSync(bytes)));
    const { id } = await house.call('addSafePlace', {
      body: { kind: 'folder', name: 'Hall', location: path.join(disk, 'gemmel'), often: 'hand', hour: 2 },
    });
    place = id;
    await house.call('bringUpToDate', { params: { id } });
    await house.quiet();
  }, 300_000);
  afterAll(async () => {
    await house?.stop();
    await rm(disk, { recursive: true, force: true });
  });

  /** Turns a byte somewhere in a file round. */
  async function rot(file: string): Promise<void> {
    execFileSync('chmod', ['u+w', file]);
    const handle = await open(file, 'r+');
    const { size } = await handle.stat();
    const at = Math.floor(random() * size);
    const byte = Buffer.alloc(1);
    await handle.read(byte, 0, 1, at);
    await handle.write(Buffer.from([byte[0]! ^ (1 << Math.floor(random() * 8))]), 0, 1, at);
    await handle.close();
  }
  const some = <T>(all: readonly T[], n: number): T[] => [...all].sort(() => random() - 0.5).slice(0, n);
  const wholeHere = async () => {
    const root = libraryFolder(house.app, 'home');
    let whole = 0;
    for (const { vault_path, sha256 } of await house.app.db('pictures').select('vault_path', 'sha256'))
      if ((await hashFile(path.join(root, vault_path))).equals(sha256)) whole++;
    return whole;
  };

  test(`${ROTTEN} originals: all found, all mended`, async () => {
    const rows = await house.app.db('pictures').select('vault_path');
    for (const { vault_path } of some(rows, ROTTEN)) await rot(path.join(libraryFolder(house.app, 'home'), vault_path));
    expect(await wholeHere()).toBe(PICTURES - ROTTEN);
    await house.call('readOriginals', {});
    await house.quiet();
    expect(await wholeHere()).toBe(PICTURES);
    const { originals } = await house.call('safekeeping', {});
    expect([originals.damaged, originals.mended.length]).toEqual([0, expect.any(Number)]);
    expect((await house.app.db('safe_mends').whereNotNull('mended_at').select('id')).length).toBe(ROTTEN);
  }, 300_000);

  test(`${ROTTEN} files of the place: all found, copied anew, and everything read back again`, async () => {
    const data = path.join(disk, 'gemmel/data');
    const packs: string[] = [];
    for (const shelf of await readdir(data))
      for (const name of await readdir(path.join(data, shelf))) packs.push(path.join(data, shelf, name));
    expect(packs.length).toBeGreaterThan(ROTTEN);
    for (const file of some(packs, ROTTEN)) await rot(file);
    await house.call('checkSafePlace', { params: { id: place } });
    await house.quiet();
    const env = {
      ...process.env,
      RESTIC_REPOSITORY: path.join(disk, 'gemmel'),
      RESTIC_PASSWORD: (
        await house.call('safePhrase', { params: { id: place }, body: { password: 'a-long-password' } })
      ).phrase,
    };
    expect(execFileSync('restic', ['check', '--read-data', '--no-cache'], { env, encoding: 'utf8' })).toContain(
      'no errors were found',
    );
    const { two, pictures } = await house.call('safekeeping', {});
    expect(two).toBe(pictures);
  }, 300_000);
});
