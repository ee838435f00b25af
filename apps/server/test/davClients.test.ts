import { serve, type ServerType } from '@hono/node-server';
import { execFile, execFileSync, spawn } from 'node:child_process';
import { copyFileSync, mkdirSync, mkdtempSync, readdirSync, rmSync, statSync, truncateSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import { DEMO, openHouse, type House } from './house';
import { describeLong } from './long';

const run = promisify(execFile);
const PHONE = path.join(DEMO, 'later/noors-phone/DCIM/100');
const NAMES = ['IMG_0811.jpg', 'IMG_0812.jpg', 'IMG_0813.jpg'];
/** A clip as long as an evening, in bytes. */
const LARGE = 1_000_000_000;

/** Clients of WebDAV that others wrote, as Debian has them; the long form alone. */
describeLong('clients that others wrote', () => {
  let house: House;
  let server: ServerType;
  let folder: string;
  let base: string;
  let key: { slug: string; password: string };
  let env: NodeJS.ProcessEnv;
  const names = async () =>
    ((await house.app.db('pictures').orderBy('name').select('name')) as { name: string }[]).map((p) => p.name);
  const rclone = (...words: string[]) => run('rclone', [...words, '--retries', '1'], { env });

  beforeAll(async () => {
    house = await openHouse();
    const port = await new Promise<number>((resolve) => {
      server = serve({ fetch: house.http.fetch, port: 0, hostname: '127.0.0.1' }, (info) => resolve(info.port));
    });
    key = await house.call('addPhone', { body: { name: 'Clients' } });
    base = `http://127.0.0.1:${port}/dav/${key.slug}`;
    folder = mkdtempSync(path.join(tmpdir(), 'gemmel-clients-'));
    const obscured = execFileSync('rclone', ['obscure', key.password], { encoding: 'utf8' }).trim();
    env = {
      ...process.env,
      RCLONE_CONFIG: path.join(folder, 'none.conf'),
      RCLONE_CONFIG_G_TYPE: 'webdav',
      RCLONE_CONFIG_G_URL: base,
      RCLONE_CONFIG_G_VENDOR: 'other',
      RCLONE_CONFIG_G_USER: key.slug,
      RCLONE_CONFIG_G_PASS: obscured,
    };
  });
  afterAll(async () => {
    server?.close();
    await house?.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  test('litmus: basic, copymove and http', async () => {
    const { stdout } = await run('litmus', ['-k', base, key.slug, key.password], {
      cwd: folder,
      env: { ...process.env, TESTS: 'basic copymove http' },
    }).catch((error: { stdout: string }) => error);
    const said = [...stdout.matchAll(/summary for `(\w+)': of (\d+) tests run: (\d+) passed, (\d+) failed/g)];
    console.log(said.map(([line]) => line).join('\n'));
    expect(said.map(([, suite, , , failed]) => [suite, failed])).toEqual([
      ['basic', '0'],
      ['copymove', '0'],
      ['http', '0'],
    ]);
  }, 120_000);

  test('rclone: copied, synchronised, renamed; nothing is sent twice', async () => {
    const from = path.join(folder, 'from');
    mkdirSync(from);
    for (const name of NAMES) copyFileSync(path.join(PHONE, name), path.join(from, name));
    await rclone('copy', from, 'g:Camera');
    await house.quiet();
    expect(await names()).toEqual(NAMES);
    rmSync(path.join(from, NAMES[0]!));
    await rclone('sync', from, 'g:Camera');
    const { stdout } = await rclone('lsf', 'g:Camera');
    expect(stdout.trim().split('\n').sort()).toEqual(NAMES.slice(1));
    await rclone('moveto', `g:Camera/${NAMES[1]}`, 'g:Camera/renamed.jpg');
    await house.quiet();
    // What a client deletes stays; what it calls otherwise is called so.
    expect(await names()).toEqual([NAMES[0], NAMES[2], 'renamed.jpg']);
    const { stderr } = await run('rclone', ['copy', path.join(from), 'g:Camera', '-v'], { env });
    expect(stderr).not.toContain(`${NAMES[2]}: Copied`);
  }, 120_000);

  test('a clip of a gigabyte that breaks off leaves nothing; sent again it is whole', async () => {
    const from = path.join(folder, 'large');
    mkdirSync(from);
    const clip = path.join(from, 'evening.mp4');
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-f', 'lavfi', '-i', 'testsrc=size=160x96:rate=25:duration=2'],
      ...['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-movflags', '+faststart', clip],
    ]);
    truncateSync(clip, LARGE);
    const cut = spawn('rclone', ['copy', from, 'g:Camera', '--retries', '1', '--bwlimit', '100M'], {
      env,
      stdio: 'ignore',
    });
    await new Promise((resolve) => setTimeout(resolve, 3000));
    cut.kill('SIGKILL');
    const parts = () => readdirSync(house.app.paths.uploads).filter((name) => name.endsWith('.part'));
    for (let i = 0; i < 60 && parts().length; i++) await new Promise((resolve) => setTimeout(resolve, 500));
    expect(parts()).toEqual([]);
    expect(await names()).not.toContain('evening.mp4');
    await rclone('copy', from, 'g:Camera');
    await house.quiet();
    expect(await names()).toContain('evening.mp4');
    const { vault_path } = (await house.app.db('pictures').where('name', 'evening.mp4').first('vault_path'))!;
    expect(statSync(path.join(house.app.paths.vault, 'home', vault_path)).size).toBe(LARGE);
  }, 400_000);
});
