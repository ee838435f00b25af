import { existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { ask } from '../src/jobs/jobs';
import type { JobKind, JobPayloads } from '../src/jobs/kind';
import { compareVault } from '../src/keep/compare';
import { splitOff } from '../src/keep/split';
import { hashFile, libraryFolder } from '../src/vault/vault';
import { openKillable, type Killable } from './killable';
import { chances, describeLong, times } from './long';
import { jpeg } from './pictures';
import { plant } from './planted';
import { pause } from './program';

const random = chances(91);
const KILLS = times(1, 6);
const PICTURES = 120;

/** Libraries moved, split, copied out, opened, removed and tidied by a process that is ended again and again. */
describeLong('keeping house, killed', () => {
  let house: Killable;
  let disk: string;
  beforeAll(async () => {
    disk = mkdtempSync(path.join(existsSync('/dev/shm') ? '/dev/shm' : tmpdir(), 'gemmel-kill-'));
    house = await openKillable('keep');
    const { db } = house.app;
    const [account] = await db('accounts').insert({ name: 'Keeper', email: 'k@house.example', password_hash: 'none' });
    await db('libraries').insert({ id: 2, slug: 'club', name: 'Club', recognise: false });
    for (const library_id of [1, 2])
      await db('members').insert({ library_id, account_id: account!, name: 'Keeper', part: 'keeper' });
    await plant(house.app, libraryFolder(house.app, 'home'), PICTURES, (i) => jpeg(i, '2021:06:01 10:00:00'));
    await db('sidecars').delete();
  });
  afterAll(async () => {
    await house?.stop();
    rmSync(disk, { recursive: true, force: true });
  });

  /** Has one piece of work done by a process that is ended so many times on the way; answers what is left when all is quiet. */
  async function through(begin: () => Promise<unknown>, kills = KILLS): Promise<void> {
    const { db } = house.app;
    await begin();
    const open = () =>
      db('jobs')
        .whereIn('state', ['ready', 'running'])
        .where(
          (q) =>
            void q.where('state', 'running').orWhere('tries', 0).orWhere('run_after', '<', db.raw('UTC_TIMESTAMP(3)')),
        )
        .first('id');
    for (let n = 0; n < kills; n++) {
      await house.begin();
      await pause(60 + random() * 1200);
      await house.kill();
      await db('jobs').update({ run_after: db.raw('UTC_TIMESTAMP(3)') });
    }
    await house.begin();
    for (let quiet = 0; quiet < 10;) {
      quiet = (await open()) ? 0 : quiet + 1;
      await pause(50);
    }
    await house.kill();
    expect(await db('jobs').where('state', 'failed').select('kind', 'error')).toEqual([]);
    await db('jobs').where('state', 'done').delete();
  }
  const work = <K extends JobKind>(kind: K, payload: JobPayloads[K] | null = null) =>
    through(() => ask(house.app.db, 1, kind, 0, 0, payload));

  /** Disk and database agree about every library, and no name of the vault is left over. */
  async function clean(): Promise<void> {
    const { db, paths } = house.app;
    const slugs = await db('libraries').orderBy('id').select('id', 'slug');
    for (const { id, slug } of slugs) {
      const { missing, unknown } = await compareVault(db, libraryFolder(house.app, slug), id);
      expect({ slug, missing, unknown }).toEqual({ slug, missing: [], unknown: [] });
      for (const { vault_path, sha256 } of await db('pictures').where('library_id', id).select('vault_path', 'sha256'))
        expect((await hashFile(path.join(libraryFolder(house.app, slug), vault_path))).equals(sha256)).toBe(true);
    }
    expect(readdirSync(paths.vault).filter((name) => name.startsWith('.'))).toEqual([]);
  }
  const count = async (library: number) =>
    (await house.app.db('pictures').where('library_id', library).select('id')).length;

  test('moved to another disk and back, pictures given away, copied out and opened, removed for good, tidied', async () => {
    const { app } = house;
    const { db } = app;
    await work('moveLibrary', { to: disk });
    await clean();
    expect(await count(1)).toBe(PICTURES);
    const ids = (await db('pictures').where('library_id', 1).orderBy('id').limit(15).select('id')).map(({ id }) => id);
    const account = (await db('accounts').first('id'))!.id;
    await through(() => splitOff(app, { library: 1, member: 1, account }, ids, 'club'));
    expect([await count(1), await count(2), (await db('binned').where({ library_id: 1, state: 'in' })).length]).toEqual(
      [PICTURES - 15, 15, 15],
    );
    await clean();
    await work('exportLibrary', { to: path.join(disk, 'out') });
    await work('openLibrary', { from: path.join(disk, 'out'), account });
    const opened = await db('libraries').where('id', '>', 2).select('id', 'slug');
    expect(opened).toHaveLength(1);
    expect(await count(opened[0]!.id)).toBe(PICTURES - 15);
    await clean();
    await work('moveLibrary', { to: null });
    await clean();
    await work('tidy');
    await clean();
    await db('libraries')
      .where('id', opened[0]!.id)
      .update({ removed_at: db.raw('UTC_TIMESTAMP(3)'), erased_at: db.raw('UTC_TIMESTAMP(3)') });
    await through(() => ask(db, opened[0]!.id, 'erase'));
    expect(await db('libraries').where('id', opened[0]!.id).first('id')).toBeUndefined();
    await clean();
    expect([await count(1), await count(2)]).toEqual([PICTURES - 15, 15]);
  }, 900_000);
});
