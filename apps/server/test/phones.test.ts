import { serve, type ServerType } from '@hono/node-server';
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { cpSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { davPath } from '../src/gather/dav';
import { giveUpHeld, takeUpNamed } from '../src/gather/held';
import { devicePassword } from '../src/gather/sources';
import { watchFolders } from '../src/gather/watched';
import { recover } from '../src/intake/recover';
import { DEMO, openHouse, type House } from './house';
import { testLong } from './long';

const PHONE = path.join(DEMO, 'later/noors-phone/DCIM/100');
const shaOf = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex');
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

describe('ways in that come by themselves', () => {
  let house: House;
  let server: ServerType;
  let port: number;
  let key: { id: number; slug: string; password: string };

  beforeAll(async () => {
    house = await openHouse();
    await new Promise<void>((resolve) => {
      server = serve({ fetch: house.http.fetch, port: 0, hostname: '127.0.0.1' }, (info) => {
        port = info.port;
        resolve();
      });
    });
    key = await house.call('addPhone', { body: { name: 'Noor’s phone' } });
  });
  afterAll(async () => {
    server?.close();
    await house?.stop();
  });

  /** Has the independent client do something, and hears what came of it. */
  function phone(acts: unknown[][], password = key.password): Promise<unknown[]> {
    return new Promise((resolve, reject) => {
      const child = spawn(process.execPath, [path.join(__dirname, 'phone.mjs')], {
        stdio: ['pipe', 'pipe', 'inherit'],
      });
      let said = '';
      child.stdout.on('data', (data: Buffer) => (said += data.toString()));
      child.on('close', () => (said ? resolve(JSON.parse(said) as unknown[]) : reject(new Error('no answer'))));
      child.stdin.end(
        JSON.stringify({ address: `http://127.0.0.1:${port}/dav/${key.slug}`, username: key.slug, password, acts }),
      );
    });
  }
  const names = async () =>
    ((await house.app.db('pictures').orderBy('id').select('name')) as { name: string }[]).map((p) => p.name);

  test('a phone delivers with a client that knows nothing of Gemmel; what it sent it can read again', async () => {
    expect([key.slug, key.password.length]).toEqual(['noors-phone', 23]);
    const file = path.join(PHONE, 'IMG_0811.jpg');
    const told = await phone([
      ['createDirectory', '/DCIM'],
      ['createDirectory', '/DCIM/100'],
      ['put', '/DCIM/100/IMG_0811.jpg', file],
      ['exists', '/DCIM/100/IMG_0811.jpg'],
      ['list', '/DCIM/100'],
      ['get', '/DCIM/100/IMG_0811.jpg'],
      ['createDirectory', '/no/such/parent'],
    ]);
    expect(told.slice(0, 5)).toEqual([
      null,
      null,
      true,
      true,
      [['/DCIM/100/IMG_0811.jpg', 'file', statSync(file).size]],
    ]);
    expect(Buffer.from(told[5] as string, 'base64').equals(readFileSync(file))).toBe(true);
    expect(told[6]).toEqual({ status: 409 });
    await house.quiet();
    expect(await names()).toEqual(['IMG_0811.jpg']);
    expect(await phone([['get', '/DCIM/100/IMG_0811.jpg']])).toEqual([readFileSync(file).toString('base64')]);
    const { batches } = await house.call('batches', {});
    expect(batches[0]).toMatchObject({ way: 'phone', state: 'done', counts: { stored: 1 } });
  });

  test('half-written files are held until they get their name; empty ones are no pictures', async () => {
    writeFileSync(path.join(tmpdir(), 'empty-of-phone'), '');
    await phone([
      ['put', '/DCIM/100/IMG_0812.jpg.part', path.join(PHONE, 'IMG_0812.jpg')],
      ['put', '/DCIM/100/IMG_0899.jpg', path.join(tmpdir(), 'empty-of-phone')],
    ]);
    await house.quiet();
    expect(await names()).toEqual(['IMG_0811.jpg']);
    expect(
      await phone([
        ['moveFile', '/DCIM/100/IMG_0812.jpg.part', '/DCIM/100/IMG_0812.jpg'],
        ['list', '/DCIM/100'],
      ]),
    ).toEqual([
      null,
      expect.arrayContaining([['/DCIM/100/IMG_0812.jpg', 'file', statSync(path.join(PHONE, 'IMG_0812.jpg')).size]]),
    ]);
    await house.quiet();
    expect(await names()).toEqual(['IMG_0811.jpg', 'IMG_0812.jpg']);
    rmSync(path.join(tmpdir(), 'empty-of-phone'));
  });

  test('an upload that breaks off never becomes a picture', async () => {
    const bytes = readFileSync(path.join(PHONE, 'IMG_0813.jpg'));
    await new Promise<void>((resolve) => {
      const cut = request({
        port,
        method: 'PUT',
        path: `/dav/${key.slug}/DCIM/100/IMG_0813.jpg`,
        headers: {
          authorization: `Basic ${Buffer.from(`x:${key.password}`).toString('base64')}`,
          'content-length': bytes.length,
        },
      });
      cut.on('error', () => resolve());
      cut.write(bytes.subarray(0, 20_000), () => setTimeout(() => cut.destroy(), 100));
      cut.on('close', () => resolve());
    });
    await pause(300);
    await house.quiet();
    expect(await names()).toHaveLength(2);
    expect(await phone([['exists', '/DCIM/100/IMG_0813.jpg']])).toEqual([false]);
    expect(readdirSync(house.app.paths.uploads)).toEqual([]);
  });

  test('what a phone deletes or overwrites stays in the library', async () => {
    await phone([
      ['deleteFile', '/DCIM/100/IMG_0811.jpg'],
      ['put', '/DCIM/100/IMG_0812.jpg', path.join(PHONE, 'IMG_0814.jpg')],
    ]);
    await house.quiet();
    const rows = (await house.app.db('pictures').select('sha256')) as { sha256: Buffer }[];
    const kept = rows.map((r) => r.sha256.toString('hex')).sort();
    expect(kept).toEqual(
      ['IMG_0811.jpg', 'IMG_0812.jpg', 'IMG_0814.jpg'].map((n) => shaOf(readFileSync(path.join(PHONE, n)))).sort(),
    );
    expect(await phone([['exists', '/DCIM/100/IMG_0811.jpg']])).toEqual([false]);
    // Sent again after all, it is known and kept once.
    await phone([['put', '/DCIM/100/IMG_0811.jpg', path.join(PHONE, 'IMG_0811.jpg')]]);
    await house.quiet();
    expect(await names()).toHaveLength(3);
  });

  test('a phone whose pictures name no camera is said to have delivered them', async () => {
    const bare = path.join(tmpdir(), 'bare-of-phone.jpg');
    await sharp({ create: { width: 90, height: 60, channels: 3, background: '#3a6' } })
      .jpeg()
      .toFile(bare);
    const before = (await house.call('ledger', {})).devices.find((d) => d.sources.some((s) => s.slug === key.slug));
    await phone([['put', '/DCIM/100/bare.jpg', bare]]);
    await house.quiet();
    const after = (await house.call('ledger', {})).devices.find((d) => d.sources.some((s) => s.slug === key.slug))!;
    expect([after.cameIn, after.bytes]).toEqual([
      (before?.cameIn ?? 0) + 1,
      (before?.bytes ?? 0) + statSync(bare).size,
    ]);
    rmSync(bare);
  });

  test('renamed and copied as WebDAV says, onto names that were there before, and never into themselves', async () => {
    const base = `http://127.0.0.1:${port}/dav/${key.slug}`;
    const dav = async (method: string, at: string, headers: Record<string, string> = {}, body?: Buffer) => {
      const { destination, ...more } = headers;
      const response = await fetch(base + at, {
        method,
        body: body && new Uint8Array(body),
        headers: {
          authorization: `Basic ${Buffer.from(`x:${key.password}`).toString('base64')}`,
          ...(destination ? { destination: base + destination } : {}),
          ...more,
        },
      });
      await response.arrayBuffer();
      return response;
    };
    const status = async (...asked: Parameters<typeof dav>) => (await dav(...asked)).status;
    const bytes = (n: string) => readFileSync(path.join(PHONE, n));
    expect(await status('MKCOL', '/again', {}, Buffer.from('<odd/>'))).toBe(415);
    expect(await status('PROPFIND', '/', { depth: '0' }, Buffer.from('<foo>'))).toBe(400);
    await dav('MKCOL', '/again');
    // An application that sends to a name of its own and then renames, after the picture was deleted there before.
    for (const round of [1, 2]) {
      const one = bytes(round === 1 ? 'IMG_0820.jpg' : 'IMG_0821.jpg');
      expect(await status('PUT', '/again/.pending-a.jpg.part', {}, one)).toBe(201);
      expect(await status('MOVE', '/again/.pending-a.jpg.part', { destination: '/again/a.jpg' })).toBe(201);
      await house.quiet();
      expect(await status('DELETE', '/again/a.jpg')).toBe(204);
    }
    expect((await names()).filter((n) => /^a\b/.test(n))).toHaveLength(2);
    expect(await status('PUT', '/again/b.jpg', {}, bytes('IMG_0822.jpg'))).toBe(201);
    expect(await status('MOVE', '/again/b.jpg', { destination: '/again/b.jpg' })).toBe(403);
    expect(await status('MOVE', '/again', { destination: '/again/inner' })).toBe(403);
    expect(await status('MOVE', '/again/b.jpg', { destination: '/nowhere/b.jpg' })).toBe(409);
    expect(await status('COPY', '/again/b.jpg', { destination: '/again/c.jpg' })).toBe(201);
    expect(await status('COPY', '/again/b.jpg', { destination: '/again/c.jpg', overwrite: 'F' })).toBe(412);
    expect(await status('COPY', '/again/b.jpg', { destination: '/again/c.jpg', overwrite: 'T' })).toBe(204);
    expect(await status('GET', '/again/c.jpg')).toBe(200);
    // A folder onto one that was deleted, and onto one that is there.
    expect(await status('COPY', '/again', { destination: '/other' })).toBe(201);
    expect(await status('DELETE', '/other')).toBe(204);
    expect(await status('MOVE', '/again', { destination: '/other' })).toBe(201);
    expect(await status('MKCOL', '/third')).toBe(201);
    expect(await status('MOVE', '/other', { destination: '/third', overwrite: 'T' })).toBe(204);
    expect([await status('GET', '/third/b.jpg'), await status('GET', '/other/b.jpg')]).toEqual([200, 404]);
    // Only if it is not there; only if it is what was known; and when it was changed.
    expect(await status('PUT', '/third/b.jpg', { 'if-none-match': '*' }, bytes('IMG_0818.jpg'))).toBe(412);
    expect(await status('PUT', '/third/b.jpg', { 'if-match': '"0"' }, bytes('IMG_0818.jpg'))).toBe(412);
    const dated = await dav('PUT', '/third/d.jpg', { 'x-oc-mtime': '1700000000' }, bytes('IMG_0819.jpg'));
    expect([dated.status, dated.headers.get('x-oc-mtime')]).toEqual([201, 'accepted']);
    expect(Number((await house.app.db('source_files').where('path', 'third/d.jpg').first('modified'))!.modified)).toBe(
      1_700_000_000_000,
    );
    await house.quiet();
    expect(readdirSync(house.app.paths.uploads)).toEqual([]);
  });

  testLong(
    'a name for the time being that nobody knows is left behind; what a sudden end left between two names is taken in',
    async () => {
      const base = `http://127.0.0.1:${port}/dav/${key.slug}`;
      const authorization = `Basic ${Buffer.from(`x:${key.password}`).toString('base64')}`;
      const dav = async (method: string, at: string, destination?: string, body?: Buffer) =>
        (
          await fetch(base + at, {
            method,
            body: body && new Uint8Array(body),
            headers: { authorization, ...(destination && { destination: base + destination }) },
          })
        ).status;
      const fresh = (n: number) =>
        Buffer.concat([readFileSync(path.join(PHONE, 'IMG_0811.jpg')), Buffer.from(`tail ${n}`)]);
      expect(await dav('PUT', '/DCIM/tail.jpg.sending', undefined, fresh(1))).toBe(201);
      await house.quiet();
      expect(await names()).toContain('tail.jpg');
      expect(await dav('PUT', '/DCIM/8f3a.bin', undefined, fresh(2))).toBe(201);
      await house.quiet();
      expect(await dav('MOVE', '/DCIM/8f3a.bin', '/DCIM/named later.jpg')).toBe(201);
      await house.quiet();
      expect(await names()).toContain('named later.jpg');
      // As if the process had ended after the name was given and before anything came of it.
      expect(await dav('PUT', '/DCIM/late.jpg.part', undefined, fresh(3))).toBe(201);
      expect(await dav('PUT', '/DCIM/given-up.jpg.part', undefined, fresh(4))).toBe(201);
      const { db } = house.app;
      await db('source_files').where('path', 'DCIM/late.jpg.part').update({ path: 'DCIM/late.jpg' });
      const gone = (await db('source_files').where('path', 'DCIM/given-up.jpg.part').first('id'))!;
      // What is no picture can be read back for a day.
      const note = Buffer.from('a note and no picture');
      expect(await dav('PUT', '/DCIM/note.txt', undefined, note)).toBe(201);
      await house.quiet();
      expect(await phone([['get', '/DCIM/note.txt']])).toEqual([note.toString('base64')]);
      await takeUpNamed(house.app);
      await giveUpHeld(house.app, Date.now() + 2 * 86_400_000);
      expect(await phone([['get', '/DCIM/note.txt']])).toEqual([{ status: 404 }]);
      expect(await db('source_files').where('id', gone.id).first('id')).toBeDefined();
      await giveUpHeld(house.app, Date.now() + 15 * 86_400_000);
      await house.quiet();
      expect(await names()).toContain('late.jpg');
      expect(await names()).not.toContain('given-up.jpg');
      expect(await db('source_files').where('id', gone.id).first('id')).toBeUndefined();
      expect(readdirSync(house.app.paths.uploads)).toEqual([]);
    },
  );

  test('only its own password opens it, wrong ones are slowed down, and a new one ends the old', async () => {
    expect(await phone([['list', '/']], 'wrong')).toEqual([{ status: 401 }]);
    const at = (password: string) =>
      house.fetch(
        `/dav/${key.slug}/`,
        {
          method: 'PROPFIND',
          headers: { depth: '0', authorization: `Basic ${Buffer.from(`x:${password}`).toString('base64')}` },
        },
        null,
      );
    const statuses: number[] = [];
    for (let i = 0; i < 24; i++) statuses.push((await at('guess')).status);
    expect(statuses[0]).toBe(401);
    expect(statuses[23]).toBe(429);
    const fresh = await house.call('renewPassword', { params: { id: key.id } });
    expect((await at(fresh.password)).status).toBe(207);
    expect((await at(key.password)).status).toBe(401);
    key = { ...key, password: fresh.password };
    expect(new Set(Array.from({ length: 50 }, devicePassword)).size).toBe(50);
    const options = await house.fetch(`/dav/${key.slug}/`, { method: 'OPTIONS' }, null);
    expect([options.status, options.headers.get('dav')]).toEqual([200, '1']);
    const { token } = house.keeper;
    expect(
      (await house.fetch(`/dav/${key.slug}/`, { method: 'PROPFIND', headers: { 'x-gemmel-token': token } })).status,
    ).toBe(401);
  });

  test('paths stay below the device', () => {
    expect(davPath('http://x/dav/a/DCIM/%C3%A9.jpg', 'a')).toBe('DCIM/é.jpg');
    expect(davPath('http://x/dav/a/', 'a')).toBe('');
    expect(davPath('http://x/dav/a/..%2f..%2fetc', 'a')).toBeNull();
    expect(davPath('http://x/dav/a/%00.jpg', 'a')).toBeNull();
    expect(davPath('http://x/dav/a/%E0%A4%A', 'a')).toBeNull();
  });

  test('whatever settles in a watched folder is taken, once, by the folder of its device', async () => {
    const [root] = house.app.config.watched as [string];
    const had = (await names()).length;
    const watching = watchFolders(house.app, 1);
    try {
      await pause(400);
      mkdirSync(path.join(root, 'Emil'));
      cpSync(path.join(PHONE, 'IMG_0815.jpg'), path.join(root, 'Emil/IMG_0815.jpg'));
      writeFileSync(
        path.join(root, 'Emil/IMG_0816.jpg.part'),
        readFileSync(path.join(PHONE, 'IMG_0816.jpg')).subarray(0, 9000),
      );
      cpSync(path.join(PHONE, 'IMG_0817.jpg'), path.join(root, 'loose.jpg'));
      for (let i = 0; i < 100 && (await names()).length < had + 2; i++) await pause(100);
      await house.quiet();
      expect((await names()).slice(had).sort()).toEqual(['IMG_0815.jpg', 'loose.jpg']);
      const sources = (await house.app.db('sources').where('kind', 'folder').orderBy('name').select('name')) as {
        name: string;
      }[];
      expect(sources.map((s) => s.name)).toEqual(['Emil', 'watched']);
      expect(existsSync(path.join(root, 'Emil/IMG_0815.jpg'))).toBe(true);
    } finally {
      await watching.stop();
    }
    const again = watchFolders(house.app, 1);
    await pause(3500);
    await again.stop();
    await house.quiet();
    expect((await house.app.db('batch_items').where('path', 'like', 'Emil/%')).length).toBe(1);
  }, 60_000);

  testLong('what a sudden end left half done is put right at the next start', async () => {
    const { id, items } = await house.call('openBatch', {
      body: {
        name: 'Whole',
        files: [
          { path: 'a.jpg', bytes: 0 },
          { path: 'b.jpg', bytes: 7 },
        ],
      },
    });
    const bytes = readFileSync(path.join(PHONE, 'IMG_0818.jpg'));
    await house.app.db('batch_items').where('id', items[0]!).update({ bytes: bytes.length });
    // The last byte was here, but nobody had taken the upload over yet; the other had hardly begun.
    writeFileSync(path.join(house.app.paths.uploads, String(items[0])), bytes);
    writeFileSync(path.join(house.app.paths.uploads, String(items[1])), 'abc');
    writeFileSync(path.join(house.app.paths.uploads, '999999'), 'nobody waits for it');
    writeFileSync(path.join(house.app.paths.uploads, 'dav-1.part'), 'cut off');
    await recover(house.app);
    await house.quiet();
    expect((await names()).includes('a.jpg')).toBe(true);
    expect(readdirSync(house.app.paths.uploads)).toEqual([String(items[1])]);
    expect((await house.call('batch', { params: { id } })).counts).toMatchObject({ stored: 1, waiting: 1 });
  });
});
