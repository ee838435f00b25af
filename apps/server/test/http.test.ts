import { api, fileRoutes, type Endpoint, type Part } from '@gemmel/contract';
import path from 'node:path';
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { readFileSync, writeFileSync } from 'node:fs';
import { readRange } from '../src/files/send';
import { contentPolicy, inlineHashes } from '../src/http/web';
import { may } from '../src/account/part';
import { FailLimit } from '../src/account/limit';
import { exiftool } from '../src/media/metadata';
import { DEMO, openHouse, type House } from './house';

const PARTS: Part[] = ['nobody', 'account', 'relative', 'helper', 'keeper'];
const routes = [...Object.values(api).map((e) => e as Endpoint), ...fileRoutes];

describe('the interface', () => {
  let house: House;
  let ids: number[];

  beforeAll(async () => {
    house = await openHouse();
    await house.takeIn(path.join(DEMO, 'grans-tablet'));
    ids = ((await house.app.db('pictures').orderBy('id').select('id')) as { id: number }[]).map((r) => r.id);
  });
  afterAll(() => house?.stop());

  describe('every route against every part', () => {
    test.each(routes.map((r) => [r.method, r.path, r.part] as const))(
      '%s %s is for %s and above',
      async (method, at, least) => {
        for (const part of PARTS) {
          // Signing out is among the routes, so everybody comes anew.
          const caller = part === 'nobody' ? null : await house.member(part);
          // A path that leads nowhere: whoever may pass is told that it is wrong, never that it is forbidden.
          const response = await house.fetch(
            at.replace(/:token/g, 'x'.repeat(30)).replace(/:\w+/g, '999999'),
            { method, ...(method === 'GET' || method === 'HEAD' ? {} : { body: '{"ids":"none"}' }) },
            caller,
          );
          const passed = response.status !== 401 && response.status !== 403;
          void response.body?.cancel();
          if (at === '/api/sign-in') expect(response.status).not.toBe(403);
          else expect([part, passed]).toEqual([part, may(part, least as Part)]);
        }
      },
    );
  });

  test('the description speaks of every route', async () => {
    const doc = (await (await house.fetch('/api/openapi.json')).json()) as {
      openapi: string;
      paths: Record<string, Record<string, unknown>>;
    };
    expect(doc.openapi).toBe('3.1.0');
    for (const r of routes)
      expect(doc.paths[r.path.replace(/:(\w+)/g, '{$1}')]?.[r.method.toLowerCase()]).toBeDefined();
  });

  test('the description is valid, its references lead somewhere, and it says how to sign in', async () => {
    const text = await (await house.fetch('/api/openapi.json')).text();
    const said = execFileSync(process.execPath, [path.join(__dirname, 'openapi.mjs')], {
      input: text,
      encoding: 'utf8',
    });
    expect(JSON.parse(said)).toEqual({ valid: true, errors: null });
    interface Operation {
      security: object[];
      parameters: { $ref?: string; name?: string }[];
    }
    const doc = JSON.parse(text) as {
      paths: Record<string, Record<string, Operation>>;
      components: Record<string, object>;
    };
    const refs = [...text.matchAll(/"\$ref":"#\/([^"]+)"/g)].map((m) => m[1]!.split('/'));
    for (const path of refs) {
      const found = path.reduce<unknown>((at, name) => (at as Record<string, unknown> | undefined)?.[name], doc);
      expect([path, found]).toEqual([path, expect.any(Object)]);
    }
    expect(refs.some((path) => path.at(-1) === 'Question')).toBe(true);
    const { post } = doc.paths['/api/pictures/change']!;
    expect(post!.security).toEqual([{ session: [] }]);
    expect(post!.parameters).toContainEqual({ $ref: '#/components/parameters/Token' });
    expect(doc.paths['/api/sign-in']!['post']!.security).toEqual([]);
    expect(doc.paths['/api/acts']!['get']!.parameters.map((p) => p.name)).toContain('picture');
  });

  test('nothing changes without this session’s own token, nor from another page', async () => {
    const body = JSON.stringify({ ids: [ids[0]] });
    const put = (headers: Record<string, string>) => house.fetch('/api/pile', { method: 'PUT', body, headers });
    expect((await put({ 'x-gemmel-token': 'wrong' })).status).toBe(403);
    expect((await put({ 'sec-fetch-site': 'cross-site' })).status).toBe(403);
    expect((await put({ origin: 'https://elsewhere.example', host: 'localhost' })).status).toBe(403);
    expect((await put({})).status).toBe(200);
  });

  test('signing in: cookie out of reach of scripts, wrong words slowed down, hashed tokens', async () => {
    const at = (password: string) =>
      house.fetch(
        '/api/sign-in',
        { method: 'POST', body: JSON.stringify({ email: 'keeper@house.example', password }) },
        null,
      );
    const right = await at('a-long-password');
    expect(right.status).toBe(200);
    const cookie = right.headers.get('set-cookie')!;
    expect(cookie).toMatch(/HttpOnly/);
    expect(cookie).toMatch(/SameSite=Lax/);
    const token = cookie.match(/gemmel=([^;]+)/)![1]!;
    expect(
      await house.app
        .db('sessions')
        .where('token_hash', createHash('sha256').update(token).digest())
        .first('account_id'),
    ).toBeDefined();
    const statuses: number[] = [];
    for (let i = 0; i < 12; i++) statuses.push((await at('wrong')).status);
    expect(statuses.slice(0, 10).every((s) => s === 401)).toBe(true);
    expect(statuses[11]).toBe(429);
    const { password_hash } = (await house.app
      .db('accounts')
      .where('email', 'keeper@house.example')
      .first('password_hash'))!;
    expect(password_hash).toMatch(/^\$argon2id\$/);
    const first = await house.fetch(
      '/api/first-run',
      {
        method: 'POST',
        body: JSON.stringify({ library: 'Mine', name: 'X', email: 'x@y.example', password: '1234567890' }),
      },
      null,
    );
    expect(first.status).toBe(409);
  });

  test('secure headers and errors in plain words', async () => {
    const missing = await house.fetch('/api/pictures/999999');
    expect(missing.status).toBe(404);
    expect(missing.headers.get('content-type')).toContain('application/problem+json');
    expect(await missing.json()).toMatchObject({ title: 'The picture is no longer here.', status: 404 });
    expect(missing.headers.get('x-content-type-options')).toBe('nosniff');
    expect(missing.headers.get('referrer-policy')).toBe('no-referrer');
    const wrong = await house.fetch('/api/skeleton', { method: 'POST', body: '{"question":{"rating":{}}}' });
    expect(wrong.status).toBe(400);
    const garbled = await house.fetch('/api/skeleton', { method: 'POST', body: '{' });
    expect(await garbled.json()).toMatchObject({ title: 'What was sent is not JSON.' });
  });

  test('pages allow only their own scripts', () => {
    const html = '<style>a{}</style><script>go()</script><script src="/x.js"></script>';
    expect(inlineHashes(html, 'script')).toHaveLength(1);
    const policy = contentPolicy(html);
    expect(policy).toContain("default-src 'none'");
    expect(policy).toContain(`'sha256-${createHash('sha256').update('go()').digest('base64')}'`);
    expect(policy.match(/script-src [^;]*/)![0]).not.toContain('unsafe');
  });

  test('files: derived for ever, originals in ranges, not modified', async () => {
    const row = (await house.app.db('pictures').where('id', ids[0]!).first())!;
    const sha = row.sha256.toString('hex');
    const small = await house.fetch(`/api/derived/${sha}/small`);
    expect(small.headers.get('cache-control')).toContain('immutable');
    expect(small.headers.get('content-type')).toBe('image/webp');
    const etag = small.headers.get('etag')!;
    expect((await house.fetch(`/api/derived/${sha}/small`, { headers: { 'if-none-match': etag } })).status).toBe(304);
    const part = await house.fetch(`/api/pictures/${ids[0]}/original`, { headers: { range: 'bytes=10-19' } });
    expect([part.status, part.headers.get('content-range')]).toEqual([206, `bytes 10-19/${row.bytes}`]);
    const whole = readFileSync(path.join(DEMO, 'grans-tablet', row.name));
    expect(Buffer.from(await part.arrayBuffer()).equals(whole.subarray(10, 20))).toBe(true);
    expect(
      (await house.fetch(`/api/pictures/${ids[0]}/original`, { headers: { range: 'bytes=99999999-' } })).status,
    ).toBe(416);
    expect((await house.fetch(`/api/derived/${'0'.repeat(64)}/small`)).status).toBe(404);
  });

  test.each([
    ['bytes=0-3', 10, { from: 0, to: 3 }],
    ['bytes=5-', 10, { from: 5, to: 9 }],
    ['bytes=-4', 10, { from: 6, to: 9 }],
    ['bytes=-40', 10, { from: 0, to: 9 }],
    ['bytes=3-99', 10, { from: 3, to: 9 }],
    ['bytes=10-', 10, 'bad'],
    ['bytes=4-2', 10, 'bad'],
    ['bytes=-0', 10, 'bad'],
    ['bytes=0-1,4-5', 10, null],
    [undefined, 10, null],
  ])('range %s of %i', (header, size, expected) => {
    expect(readRange(header, size as number)).toEqual(expected);
  });

  test('wrong tries are counted within their minutes, refused ones are not, and can be cleared', async () => {
    const limit = new FailLimit({ most: 2, minutes: 1 });
    jest.useFakeTimers({ now: 0 });
    try {
      expect([await limit.begin('a'), await limit.begin('a')]).toEqual([true, true]);
      expect([await limit.begin('a'), await limit.begin('b')]).toEqual([false, true]);
      jest.advanceTimersByTime(59_000);
      expect(await limit.begin('a')).toBe(false);
      jest.advanceTimersByTime(1100);
      expect([await limit.begin('a'), await limit.begin('a')]).toEqual([true, true]);
      await limit.pardon('a');
      expect([await limit.begin('a'), await limit.begin('a')]).toEqual([true, false]);
      await limit.clear('a');
      expect(await limit.begin('a')).toBe(true);
    } finally {
      jest.useRealTimers();
    }
  });

  describe('shares', () => {
    const DAY = 86_400_000;
    const on = (days: number) => new Date(Date.now() + days * DAY).toISOString().slice(0, 10);
    const guest = (at: string) => house.fetch(at, {}, null);

    test('a guest’s thumbnail is looked up by itself: one row of pictures, however many the share holds', async () => {
      const { share } = await house.call('openShare', {
        body: { title: 'Many', of: { ids: [...ids] }, reach: 'house', until: on(3) },
      });
      const token = share.path!.split('/').pop()!;
      const asked: string[] = [];
      const bound: unknown[][] = [];
      const note = ({ sql, bindings }: { sql: string; bindings: unknown[] }) => {
        asked.push(sql);
        bound.push(bindings);
      };
      house.app.db.on('query', note);
      expect((await guest(`/api/guest/${token}/pictures/${ids[0]}/small`)).status).toBe(200);
      house.app.db.off('query', note);
      const pictures = asked.filter((sql) => sql.includes('FROM pictures'));
      expect(pictures).toHaveLength(1);
      const bindings = bound[asked.indexOf(pictures[0]!)] as number[];
      const [plan] = (await house.app.db.raw(`EXPLAIN ${pictures[0]}`, bindings)) as [{ rows: number }[]];
      expect(plan.every((table) => Number(table.rows) === 1)).toBe(true);
    });

    test('members save originals as one ZIP, byte for byte; another member does not get it by its address', async () => {
      const { path: at, pictures, bytes } = await house.call('makeZip', { body: { ids: ids.slice(0, 2) } });
      expect(pictures).toBe(2);
      const zip = Buffer.from(await (await house.fetch(at)).arrayBuffer());
      expect(zip.subarray(0, 2).toString()).toBe('PK');
      expect(zip.length).toBeGreaterThan(bytes);
      const rows = (await house.app.db('pictures').whereIn('id', ids.slice(0, 2)).select('name', 'vault_path')) as {
        name: string;
        vault_path: string;
      }[];
      for (const row of rows) {
        expect(zip.includes(row.name)).toBe(true);
        expect(zip.includes(readFileSync(path.join(house.app.paths.vault, 'home', row.vault_path)))).toBe(true);
      }
      expect((await house.fetch(at, {}, await house.member('relative'))).status).toBe(404);
      await expect(house.call('makeZip', { body: { ids: [999_999] } })).rejects.toMatchObject({ status: 404 });
    });

    test('a guest sees the shared pictures and nothing else, until it is closed', async () => {
      const { share } = await house.call('openShare', {
        body: { title: 'For Gran', of: { ids: ids.slice(0, 3) }, reach: 'house', until: on(3) },
      });
      const token = share.path!.split('/').pop()!;
      expect(Buffer.from(token, 'base64url').length * 8).toBeGreaterThanOrEqual(128);
      const row = await house.app.db('shares').where('id', share.id).first();
      expect(row!.token_hash!.equals(createHash('sha256').update(token).digest())).toBe(true);
      const seen = (await (await guest(`/api/guest/${token}`)).json()) as {
        pictures: Record<string, unknown>[];
        from: string;
      };
      expect(seen.pictures.map((p) => p['id'])).toEqual(ids.slice(0, 3));
      expect(Object.keys(seen.pictures[0]!).sort()).toEqual([
        'bytes',
        'caption',
        'comments',
        'day',
        'heart',
        'hearts',
        'id',
        'kind',
        'names',
        'seconds',
        'shape',
        'thumb',
        'title',
        'town',
      ]);
      const untold = { day: null, title: null, caption: null, names: [], hearts: 0, comments: 0, town: null };
      expect(seen.pictures[0]).toMatchObject(untold);
      // This share tells no places, wherever the pictures were taken.
      expect(seen.pictures.every((p) => p['town'] === null)).toBe(true);
      expect((await guest(`/api/guest/${token}/pictures/${ids[0]}/large`)).status).toBe(200);
      expect((await guest(`/api/guest/${token}/pictures/${ids[5]}/large`)).status).toBe(404);
      expect((await guest(`/api/pictures/${ids[0]}/original`)).status).toBe(401);
      const { share: closed } = await house.call('closeShare', { params: { id: share.id } });
      expect([closed.state, closed.path]).toEqual(['closed', null]);
      const refused = await guest(`/api/guest/${token}`);
      expect(refused.status).toBeGreaterThanOrEqual(404);
      expect(((await refused.json()) as { title: string }).title).toMatch(/closed/);
      expect((await guest(`/api/guest/${token}/zip`)).status).toBe(refused.status);
      expect((await house.call('reopenShare', { params: { id: share.id } })).share.path).toBe(share.path);
      expect((await guest(`/api/guest/${token}`)).status).toBe(200);
      await house.app
        .db('shares')
        .where('id', share.id)
        .update({ until_day: on(-2) });
      expect((await guest(`/api/guest/${token}`)).status).toBe(refused.status);
      expect((await house.call('shares', {})).shares[0]).toMatchObject({ state: 'over', path: null });
    });

    test('the day must be to come, and there must be something to share', async () => {
      await expect(
        house.call('openShare', { body: { title: 'x', of: { ids: ids.slice(0, 1) }, reach: 'house', until: on(-2) } }),
      ).rejects.toThrow('That day is over.');
      await expect(
        house.call('openShare', { body: { title: 'x', of: { ids: [] }, reach: 'house', until: null } }),
      ).rejects.toThrow('Too small');
    });

    test('what a guest saves has its pixels whole and says nothing on the side', async () => {
      const { share } = await house.call('openShare', {
        body: { title: 'All', of: { ids: ids.slice(0, 2) }, reach: 'house', until: null },
      });
      const token = share.path!.split('/').pop()!;
      const one = await guest(`/api/guest/${token}/pictures/${ids[0]}/original?save`);
      expect(one.headers.get('content-disposition')).toContain('attachment');
      const bytes = Buffer.from(await one.arrayBuffer());
      const file = path.join(house.app.config.data, 'guest-test.jpg');
      writeFileSync(file, bytes);
      const tags = (await exiftool().read(file)) as unknown as Record<string, unknown>;
      for (const key of ['GPSLatitude', 'Make', 'Model', 'SerialNumber', 'DateTimeOriginal', 'Creator'])
        expect(tags[key]).toBeUndefined();
      const zip = Buffer.from(await (await guest(`/api/guest/${token}/zip`)).arrayBuffer());
      expect(zip.subarray(0, 4).toString('latin1')).toBe('PK\u0003\u0004');
      expect(zip.indexOf(Buffer.from('PK\u0005\u0006', 'latin1'))).toBeGreaterThan(0);
      expect(zip.length).toBeGreaterThan(bytes.length);
    });
  });
});
