import type { ServerType } from '@hono/node-server';
import argon2 from '@node-rs/argon2';
import { connect } from 'node:net';
import { hostname, networkInterfaces } from 'node:os';
import { Guessing } from '../src/account/guessing';
import { makeApp } from '../src/context';
import { makeHttp } from '../src/http/app';
import { masked } from '../src/http/guard';
import { fromHere, nameIn } from '../src/http/hosts';
import { listen } from '../src/http/listen';
import { pack } from '../src/act/record';
import { openHouse, type House } from './house';
import { pictureRow } from './pictures';

describe('the doors', () => {
  let house: House;
  let server: ServerType;
  let port: number;
  beforeAll(async () => {
    house = await openHouse();
    server = listen(house.http.fetch, 0, '127.0.0.1', {
      patience: { head: 600, whole: 3000, still: 2500, between: 2500 },
    });
    await new Promise<void>((resolve) => server.once('listening', () => resolve()));
    port = (server.address() as { port: number }).port;
  });
  afterAll(async () => {
    server?.close();
    await house?.stop();
  });

  const post = (at: string, body: object, headers: Record<string, string> = {}, as: null | undefined = null) =>
    house.fetch(at, { method: 'POST', body: JSON.stringify(body), headers }, as);
  const titleOf = async (response: Response) => ((await response.json()) as { title: string }).title;

  /** Sends some bytes and hears what comes back until the line is closed, or says that it stayed open. */
  function talk(bytes: string, patience: number): Promise<{ said: string; closed: boolean; ms: number }> {
    return new Promise((resolve) => {
      const began = Date.now();
      const line = connect(port, '127.0.0.1', () => line.write(bytes));
      let said = '';
      const end = (closed: boolean) => {
        clearTimeout(timer);
        line.destroy();
        resolve({ said, closed, ms: Date.now() - began });
      };
      const timer = setTimeout(() => end(false), patience);
      line.on('data', (data) => (said += data.toString()));
      line.on('close', () => end(true));
      line.on('error', () => undefined);
    });
  }

  describe('before anybody is signed in', () => {
    test('a body is not read further than it may be long, whatever it says of itself', async () => {
      const long = 'x'.repeat(40_000);
      for (const at of ['/api/sign-in', '/api/first-run']) {
        const refused = await post(at, { email: long, password: long });
        expect([at, refused.status]).toEqual([at, 413]);
        expect(await titleOf(refused)).toMatch(/more than can be sent at once/);
      }
      // Without saying how long it is, and without an end.
      let sent = 0;
      const endless = new ReadableStream<Uint8Array>({
        pull: (to) => {
          sent += 8192;
          to.enqueue(new Uint8Array(8192).fill(32));
        },
      });
      const refused = await house.http.request('/api/sign-in', {
        method: 'POST',
        body: endless,
        duplex: 'half',
      } as RequestInit);
      expect(refused.status).toBe(413);
      expect(sent).toBeLessThan(200_000);
    });

    test('where a session is needed nothing of a body is read without one', async () => {
      let read = 0;
      const body = new ReadableStream<Uint8Array>(
        {
          pull: (to) => {
            read++;
            to.enqueue(new Uint8Array(65_536));
          },
        },
        { highWaterMark: 0 },
      );
      const refused = await house.http.request('/api/pictures/change', {
        method: 'POST',
        body,
        duplex: 'half',
      } as RequestInit);
      expect([refused.status, read]).toEqual([401, 0]);
    });

    test('half a head, half a body, and silence are not waited for', async () => {
      const head = `POST /api/sign-in HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\n`;
      const [half, silent, body] = await Promise.all([
        talk(head, 8000),
        talk('', 8000),
        talk(`${head}Content-Length: 5000\r\n\r\n{"email":`, 8000),
      ]);
      expect([half!.closed, silent!.closed, body!.closed]).toEqual([true, true, true]);
      for (const { ms } of [half!, silent!, body!]) expect(ms).toBeLessThan(7500);
    }, 20_000);

    test('a first run that comes too late is told so before its password is hashed', async () => {
      const hashing = jest.spyOn(argon2, 'hash');
      const words = { library: 'x', name: 'x', email: 'x@house.example', password: 'a-long-password' };
      const all = await Promise.all(Array.from({ length: 20 }, () => post('/api/first-run', words)));
      expect(new Set(all.map((a) => a.status))).toEqual(new Set([409]));
      expect(hashing).not.toHaveBeenCalled();
      hashing.mockRestore();
    });
  });

  describe('guessing', () => {
    const wrong = () => Promise.reject(Object.assign(new Error('wrong'), { status: 401 }));
    test('others’ guessing keeps nobody out who was let in from here before', async () => {
      const statuses: number[] = [];
      for (let i = 0; i < 13; i++)
        statuses.push((await post('/api/sign-in', { email: 'keeper@house.example', password: `wrong ${i}` })).status);
      expect(statuses.slice(0, 10)).toEqual(Array(10).fill(401));
      expect(statuses.slice(10)).toEqual([429, 429, 429]);
      const right = { email: 'keeper@house.example', password: 'a-long-password' };
      expect((await post('/api/sign-in', right)).status).toBe(429);
      const mark = new Guessing(house.app.config.secrets.links).markFor('keeper@house.example');
      const known = { cookie: `gemmel-known=${mark}` };
      const let_in = await post('/api/sign-in', right, known);
      expect(let_in.status).toBe(200);
      expect(let_in.headers.getSetCookie().some((c) => c.startsWith('gemmel-known=') && c.includes('HttpOnly'))).toBe(
        true,
      );
      // A mark of another address helps nobody.
      const other = new Guessing(house.app.config.secrets.links).markFor('else@house.example');
      expect((await post('/api/sign-in', right, { cookie: `gemmel-known=${other}` })).status).toBe(429);
    });

    test('an accent in the address is another address: it neither signs in nor has tries of its own', async () => {
      for (const email of ['kéeper@house.example', 'KEEPER@house.example ', 'keepér@house.example']) {
        const answer = await post('/api/sign-in', { email, password: 'a-long-password' });
        expect([email, answer.status]).toEqual([email, /é/.test(email) ? 401 : 429]);
      }
    });

    test('refused tries do not count, many at one moment are no more than one after another, time lets in again', async () => {
      jest.useFakeTimers({ now: 0 });
      const guessing = new Guessing('secret');
      const { refused } = jest.requireActual<typeof import('../src/problem')>('../src/problem');
      const who = { place: '10.0.0.9', address: 'a@b.example', mark: undefined };
      const tries = (n: number) =>
        Promise.allSettled(
          Array.from({ length: n }, () => guessing.attempt(who, () => Promise.reject(refused('wrong-password')))),
        );
      const first = await tries(25);
      expect(first.filter((t) => t.status === 'rejected' && t.reason.status === 401)).toHaveLength(10);
      jest.advanceTimersByTime(4 * 60_000);
      await tries(5);
      jest.advanceTimersByTime(60_001);
      await expect(guessing.attempt(who, async () => 'in')).resolves.toBe('in');
      // Something else going wrong is nobody's guess.
      for (let i = 0; i < 30; i++)
        await guessing.attempt({ ...who, address: 'c@d.example' }, wrong).catch(() => undefined);
      await expect(guessing.attempt({ ...who, address: 'c@d.example' }, async () => 'in')).resolves.toBe('in');
      jest.useRealTimers();
    });
  });

  describe('the set-up code', () => {
    const fresh = async (setUpCode: string | null) => {
      const other = await openHouse();
      await other.app.db('sessions').delete();
      await other.app.db('members').delete();
      const app = makeApp({ ...other.app.config, host: '0.0.0.0', setUpCode }, other.app.db, '');
      return { other, http: makeHttp(app) };
    };
    const words = { library: 'Mine', name: 'X', email: 'x@y.example', password: '1234567890' };
    test('whoever comes over the network must know it; this machine itself need not', async () => {
      const { other, http } = await fresh('1234-5678');
      const ask = (body: object, headers = {}, env = {}) =>
        http.request('/api/first-run', { method: 'POST', body: JSON.stringify(body), headers }, env);
      const from = (address: string) => ({
        incoming: { socket: { remoteAddress: address, remotePort: 1, remoteFamily: 'IPv4' } },
      });
      const me = async (env: object, headers = {}) =>
        ((await (await http.request('/api/me', { headers }, env)).json()) as { setUpCode: boolean }).setUpCode;
      expect(await me(from('192.168.1.7'))).toBe(true);
      expect(await me(from('127.0.0.1'))).toBe(false);
      expect(await me(from('::1'))).toBe(false);
      // A reverse proxy on this machine is not the person at it.
      expect(await me(from('127.0.0.1'), { 'x-forwarded-for': '203.0.113.9' })).toBe(true);
      const refused = await ask(words, {}, from('192.168.1.7'));
      expect([refused.status, await titleOf(refused)]).toEqual([
        401,
        'That is not the set-up code Gemmel printed when it was started.',
      ]);
      const statuses: number[] = [];
      for (let i = 0; i < 12; i++)
        statuses.push((await ask({ ...words, code: `0000-000${i % 10}` }, {}, from('192.168.1.7'))).status);
      expect(statuses.at(-1)).toBe(429);
      expect((await ask({ ...words, code: '12345678' }, {}, from('192.168.1.8'))).status).toBe(200);
      await other.stop();
    });
  });

  describe('names it answers to', () => {
    const status = async (host: string) => (await house.http.request('/api/me', { headers: { host } })).status;
    test('its own and no others; whoever is refused is told how to be let in', async () => {
      const own = Object.values(networkInterfaces()).flatMap((list) => list ?? []);
      for (const host of [
        'localhost:4870',
        '127.0.0.1:4870',
        '[::1]:4870',
        hostname(),
        `${hostname().split('.')[0]}.local:4870`,
        ...own.map((a) => (a.family === 'IPv6' ? `[${a.address}]` : a.address)),
      ])
        expect([host, await status(host)]).toEqual([host, 200]);
      for (const host of [
        'evil.example',
        'localhost.evil.example',
        '127.0.0.1.evil.example',
        '8.8.8.8',
        '',
        'a b',
        '[::1].evil',
      ])
        expect([host, await status(host)]).toEqual([host, 421]);
      const refused = await house.http.request('/', { headers: { host: 'pictures.example' } });
      expect(refused.headers.get('x-content-type-options')).toBe('nosniff');
      expect(await titleOf(refused)).toMatch(
        /does not answer to the name “pictures.example”.*\{"names":\["pictures.example"\]\}.*settings\.json/,
      );
      const open = makeHttp({ ...house.app, config: { ...house.app.config, names: ['pictures.example'] } });
      expect((await open.request('/api/me', { headers: { host: 'pictures.example' } })).status).toBe(200);
    });
    test.each([
      ['Gemmel.Local:80', 'gemmel.local'],
      ['[FE80::1]:4870', 'fe80::1'],
      ['localhost.', 'localhost'],
      ['a:b:c', ''],
    ])('the name in %s is %s', (host, name) => expect(nameIn(host)).toBe(name));
    test('this machine by all its ways', () => {
      expect(['127.0.0.1', '::1', '::ffff:127.0.0.1', '127.9.9.9'].every(fromHere)).toBe(true);
      expect(['10.0.0.1', '127.0.0.1.evil', ''].some(fromHere)).toBe(false);
    });
  });

  describe('odd requests', () => {
    test('are refused in the four hundreds, never with a stack', async () => {
      const quiet = jest.spyOn(console, 'error').mockImplementation(() => undefined);
      expect(
        (await house.fetch('/api/pile', { method: 'PUT', body: '{"ids":[]}', headers: { origin: 'null' } })).status,
      ).toBe(403);
      expect((await house.fetch('/%', {}, null)).status).toBe(400);
      expect((await house.fetch('/%00', {}, null)).status).toBe(400);
      const key = await house.call('addPhone', { body: { name: 'A phone' } });
      const authorization = `Basic ${Buffer.from(`${key.slug}:${key.password}`).toString('base64')}`;
      for (const destination of ['http://[', '::', '', '/dav/somebody-else/x.jpg', `/dav/${key.slug}/../../x`]) {
        const moved = await house.http.request(`/dav/${key.slug}/a.jpg`, {
          method: 'MOVE',
          headers: { authorization, destination },
        });
        expect([destination, moved.status]).toEqual([destination, destination.endsWith('../x') ? 400 : moved.status]);
        expect(moved.status).toBeGreaterThanOrEqual(400);
        expect(moved.status).toBeLessThan(500);
      }
      expect(quiet).not.toHaveBeenCalled();
      quiet.mockRestore();
    });

    test('what belongs to another library, or has gone, is refused: in what is made, and to be taken back', async () => {
      const quiet = jest.spyOn(console, 'error').mockImplementation(() => undefined);
      const { app } = house;
      const [other] = await app.db('libraries').insert({ slug: 'club', name: 'Club' });
      const own = await pictureRow(app, 77_001);
      const [theirPerson] = await app.db('people').insert({ library_id: other, name: 'Theirs' });
      const [theirEvent] = await app
        .db('events')
        .insert({ library_id: other, start_day: '2026-01-01', end_day: '2026-01-01' });
      const [theirTag] = await app.db('tags').insert({ library_id: other, name: 't', folded: 't', branch: '0 t' });
      const theirs = await pictureRow(app, 77_002, { library_id: other });
      const send = (at: string, body: object, method = 'POST') =>
        house.fetch(at, { method, body: JSON.stringify(body) });
      const [theirAct] = await app.db('acts').insert({
        library_id: other,
        kind: 'say',
        words: '{}',
        changes: await pack([{ table: 'pictures', key: [own], before: { rating: 5 }, after: { rating: 0 } }]),
      });
      // However it came there, an act of this library touches nothing of another one.
      const [crossing] = await app.db('acts').insert({
        library_id: 1,
        kind: 'say',
        words: '{}',
        changes: await pack([
          { table: 'pictures', key: [theirs], before: { rating: 5 }, after: { rating: 0 } },
          {
            table: 'pictures',
            key: [own],
            before: { event_id: theirEvent!, event_by_hand: 1 },
            after: { event_id: null, event_by_hand: 0 },
          },
          { table: 'people', key: [theirPerson!], before: { name: 'Ours' }, after: { name: 'Theirs' } },
        ]),
      });
      const asked: [string, object][] = [
        [`/api/acts/${theirAct}/undo`, {}],
        ['/api/acts/999999/undo', {}],
        ['/api/albums', { name: 'x', event: theirEvent }],
        ['/api/albums', { name: 'x', folder: 999_999 }],
        ['/api/albums', { name: 'x', ids: [theirs] }],
        ['/api/albums', { name: 'x', question: { who: { people: [theirPerson], mode: 'all' } } }],
        ['/api/albums', { name: 'x', question: { not: { tag: theirTag } } }],
        ['/api/circles', { name: 'x', people: [theirPerson] }],
        ['/api/shares', { title: 'x', of: { ids: [theirs] }, reach: 'house', until: null }],
      ];
      for (const [at, body] of asked) {
        const response = await send(at, body);
        const { title } = (await response.json()) as { title: string };
        expect([
          at,
          JSON.stringify(body).slice(0, 90),
          response.status >= 400 && response.status < 500,
          (title ?? '').length > 5,
        ]).toEqual([at, JSON.stringify(body).slice(0, 90), true, true]);
      }
      expect(await house.call('undo', { params: { id: crossing! } })).toEqual({
        act: null,
        back: 0,
        left: 3,
        gone: [],
      });
      expect(await app.db('pictures').where('id', theirs).first('rating')).toEqual({ rating: 0 });
      expect(await app.db('people').where('id', theirPerson!).first('name')).toEqual({ name: 'Theirs' });
      expect(quiet).not.toHaveBeenCalled();
      quiet.mockRestore();
      expect(await app.db('pictures').where('id', own).first('event_id')).toEqual({ event_id: null });
      expect(await app.db('albums').where('name', 'x').select('id')).toEqual([]);
      expect(await app.db('circles').where('name', 'x').select('id')).toEqual([]);
    });

    test('nobody who reads the log can open a share', () => {
      expect(masked('/api/guest/secret-token/pictures/4/large')).toBe('/api/guest/…/pictures/4/large');
      expect(masked('/s/secret-token')).toBe('/s/…');
      expect(masked('/api/pictures/4')).toBe('/api/pictures/4');
    });
  });
});
