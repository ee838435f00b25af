import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { chmodSync, mkdirSync, writeFileSync } from 'node:fs';
import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir, userInfo } from 'node:os';
import path from 'node:path';
import type { SafePlace } from '@gemmel/contract';
import { Bucket } from './bucket';
import { DEMO, openHouse, type House } from './house';
import { describeLong } from './long';
import { freePort, pause } from './program';

/** Places that are not in the house: a bucket that speaks S3, and another machine over SFTP. Both listen on this machine's own loop. */
describeLong('safekeeping elsewhere', () => {
  let house: House;
  let folder: string;
  let bucket: Bucket;
  let sshd: ChildProcess | null = null;
  let port: number;

  const state = () => house.call('safekeeping', {});
  const placeOf = async (id: number): Promise<SafePlace> => (await state()).places.find((one) => one.id === id)!;

  beforeAll(async () => {
    house = await openHouse();
    folder = await mkdtemp(path.join(tmpdir(), 'gemmel-far-'));
    bucket = await Bucket.open(path.join(folder, 'bucket'));
    port = await freePort();
    const at = (name: string) => path.join(folder, name);
    mkdirSync(at('there'));
    execFileSync('ssh-keygen', ['-q', '-t', 'ed25519', '-N', '', '-f', at('host')]);
    writeFileSync(at('let-in'), '', { mode: 0o600 });
    chmodSync(folder, 0o700);
    writeFileSync(
      at('sshd_config'),
      [
        `Port ${port}`,
        'ListenAddress 127.0.0.1',
        `HostKey ${at('host')}`,
        `AuthorizedKeysFile ${at('let-in')}`,
        `PidFile ${at('sshd.pid')}`,
        'StrictModes no',
        'PasswordAuthentication no',
        'UsePAM no',
        'Subsystem sftp internal-sftp',
      ].join('\n'),
    );
    if (userInfo().uid === 0) mkdirSync('/run/sshd', { recursive: true });
    sshd = spawn('/usr/sbin/sshd', ['-D', '-e', '-f', at('sshd_config')], { stdio: 'ignore' });
    await house.takeIn(path.join(DEMO, 'grans-tablet'));
    await house.quiet();
    await pause(300);
  });
  afterAll(async () => {
    await house?.stop();
    await bucket?.close();
    sshd?.kill('SIGTERM');
    await rm(folder, { recursive: true, force: true });
  });

  /** Turns a byte of every pack round; answers how many there are. */
  async function rotAll(data: string): Promise<number> {
    const packs = (await readdir(data, { recursive: true, withFileTypes: true })).filter((one) => one.isFile());
    for (const pack of packs) {
      const file = path.join(pack.parentPath, pack.name);
      const bytes = await readFile(file);
      bytes[Math.floor(bytes.length / 2)]! ^= 0xff;
      chmodSync(file, 0o600);
      writeFileSync(file, bytes);
    }
    return packs.length;
  }

  test('a bucket takes a copy, is read back and restored on trial; nobody there can read anything', async () => {
    const { id } = await house.call('addSafePlace', {
      body: {
        kind: 'bucket',
        name: 'Rented',
        location: `${bucket.address}/pictures/ours`,
        often: 'weekly',
        hour: 2,
        access: 'a-key',
        secret: 'a-secret-of-it',
        phrase: 'four words and a bird',
      },
    });
    await house.quiet();
    const { pictures, two } = await state();
    expect(await placeOf(id)).toMatchObject({ there: true, waiting: 0, last: { state: 'done', wrong: 0 } });
    expect(two).toBe(pictures);
    await house.call('rehearse', { params: { id } });
    await house.quiet();
    expect((await placeOf(id)).trial).toMatchObject({ state: 'done', wrong: 0 });
    const [{ name }] = (await house.app.db('pictures').limit(1).select('name')) as [{ name: string }];
    for (const file of await readdir(path.join(folder, 'bucket'), { recursive: true, withFileTypes: true }))
      if (file.isFile()) expect((await readFile(path.join(file.parentPath, file.name))).includes(name)).toBe(false);
    // Rot there is found by restic, removed as S3 has it, and copied again.
    const packs = await rotAll(path.join(folder, 'bucket/pictures/ours/data'));
    await house.call('checkSafePlace', { params: { id } });
    await house.quiet();
    expect((await placeOf(id)).checked).toMatchObject({ state: 'done', wrong: packs });
    expect(await placeOf(id)).toMatchObject({ waiting: 0, last: { state: 'done', wrong: 0 } });
    expect((await state()).two).toBe(pictures);
    await bucket.close();
    await house.call('bringUpToDate', { params: { id } });
    await house.quiet();
    expect(await placeOf(id)).toMatchObject({ there: false, latest: { state: 'failed', why: { code: 'safe-away' } } });
    await house.call('removeSafePlace', { params: { id } });
  }, 180_000);

  test('another machine takes a copy once its keeper has let the key in, and no other machine in its place', async () => {
    const location = `${userInfo().username}@127.0.0.1:${port}${path.join(folder, 'there/gemmel')}`;
    const { id } = await house.call('addSafePlace', {
      body: { kind: 'machine', name: 'At my sister’s', location, often: 'daily', hour: 2 },
    });
    const before = await placeOf(id);
    expect(before.key).toMatch(/^ssh-ed25519 /);
    expect(before.fingerprint).toMatch(/^SHA256:/);
    await house.call('bringUpToDate', { params: { id } });
    await house.quiet();
    expect(await placeOf(id)).toMatchObject({ there: false, last: null, latest: { why: { code: 'safe-away' } } });
    writeFileSync(path.join(folder, 'let-in'), `${before.key}\n`, { mode: 0o600 });
    await house.call('bringUpToDate', { params: { id } });
    await house.quiet();
    const { pictures, two } = await state();
    expect(await placeOf(id)).toMatchObject({ there: true, waiting: 0, key: null, last: { state: 'done', wrong: 0 } });
    expect(two).toBe(pictures);
    // Rot there is found by restic, removed over SFTP, and copied again.
    const packs = await rotAll(path.join(folder, 'there/gemmel/data'));
    await house.call('checkSafePlace', { params: { id } });
    await house.quiet();
    expect((await placeOf(id)).checked).toMatchObject({ state: 'done', wrong: packs });
    expect((await placeOf(id)).last).toMatchObject({ state: 'done', wrong: 0 });
    expect((await state()).two).toBe(pictures);
    // Somebody else's machine under the same address.
    sshd!.kill('SIGTERM');
    await pause(200);
    await rm(path.join(folder, 'host'));
    execFileSync('ssh-keygen', ['-q', '-t', 'ed25519', '-N', '', '-f', path.join(folder, 'host')]);
    sshd = spawn('/usr/sbin/sshd', ['-D', '-e', '-f', path.join(folder, 'sshd_config')], { stdio: 'ignore' });
    await pause(300);
    await house.call('bringUpToDate', { params: { id } });
    await house.quiet();
    expect((await placeOf(id)).latest).toMatchObject({ state: 'failed', why: { code: 'safe-away' } });
  }, 180_000);
});
