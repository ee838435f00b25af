import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { copyFileSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type AddressInfo, type Server } from 'node:net';
import { request } from 'node:https';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { ServerType } from '@hono/node-server';
import { proxies } from '../src/http/from';
import { makeHttp } from '../src/http/app';
import { listen } from '../src/http/listen';
import { openHouse, ROOT, type House } from './house';

/** Finds a port nobody has. */
const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const probe: Server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo;
      probe.close(() => resolve(port));
    });
  });

/** A certificate made on the spot, for a name. */
function certificate(folder: string, name: string): { cert: string; key: string } {
  mkdirSync(folder, { recursive: true });
  const [cert, key] = [path.join(folder, 'cert.pem'), path.join(folder, 'key.pem')];
  execFileSync(
    'openssl',
    [
      ...['req', '-x509', '-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:prime256v1', '-nodes', '-days', '2'],
      ...['-subj', `/CN=${name}`, '-addext', `subjectAltName=DNS:${name},IP:127.0.0.1`, '-keyout', key, '-out', cert],
    ],
    { stdio: 'ignore' },
  );
  return { cert, key };
}

interface Told {
  status: number;
  headers: Record<string, string | string[] | undefined>;
  text: string;
  subject: string;
}

/** Asks over an encrypted way whose certificate nobody vouches for. */
const ask = (
  port: number,
  at: string,
  { host = 'localhost', body = null as object | null, headers = {} } = {},
): Promise<Told> =>
  new Promise((resolve, reject) => {
    const asked = request(
      {
        port,
        path: at,
        host: '127.0.0.1',
        method: body ? 'POST' : 'GET',
        rejectUnauthorized: false,
        agent: false,
        headers: { host, ...(body ? { 'content-type': 'application/json' } : {}), ...headers },
      },
      (response) => {
        let text = '';
        const { subject } = (response.socket as import('node:tls').TLSSocket).getPeerCertificate();
        response.on('data', (part: Buffer) => (text += part.toString()));
        response.on('end', () =>
          resolve({ status: response.statusCode!, headers: response.headers, text, subject: String(subject?.CN) }),
        );
      },
    );
    asked.on('error', reject);
    asked.end(body ? JSON.stringify(body) : undefined);
  });

describe('how guests reach it', () => {
  let house: House;
  let folder: string;
  let server: ServerType;
  let port: number;
  const signIn = { email: 'keeper@house.example', password: 'a-long-password' };

  beforeAll(async () => {
    house = await openHouse();
    folder = mkdtempSync(path.join(tmpdir(), 'gemmel-reach-'));
    port = await freePort();
    house.app.config.proxies = ['loopback'];
    server = listen(makeHttp(house.app).fetch, port, '127.0.0.1');
  });
  afterAll(async () => {
    server?.close();
    await house?.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  test('a proxy is believed only where it is named', async () => {
    const list = proxies(['loopback', '10.0.0.0/8', 'fe80::/10']);
    expect([list.check('127.3.2.1', 'ipv4'), list.check('11.0.0.1', 'ipv4'), list.check('fe80::1', 'ipv6')]).toEqual([
      true,
      false,
      true,
    ]);
    expect(() => proxies(['nonsense'])).toThrow(RangeError);
    // Called without a socket nobody is believed.
    const said = { 'x-forwarded-proto': 'https', 'x-forwarded-host': 'pictures.example' };
    const response = await house.fetch('/api/me', { headers: said });
    expect(response.status).toBe(200);
    const signed = await house.fetch(
      '/api/sign-in',
      { method: 'POST', headers: said, body: JSON.stringify(signIn) },
      null,
    );
    expect(signed.headers.get('set-cookie')).not.toMatch(/Secure/);
  });

  test('an address given to the library is one of its names, is asked whether it leads here, and can be taken back', async () => {
    const at = `http://127.0.0.1:${port}`;
    expect(await house.call('reach', {})).toEqual({ address: null, who: 'machine', answers: null, secure: false });
    await house.call('setAddress', { body: { address: `${at}/` } });
    expect(await house.call('reach', {})).toEqual({ address: at, who: 'machine', answers: true, secure: false });
    const other = await freePort();
    await house.call('setAddress', { body: { address: `http://127.0.0.1:${other}` } });
    expect(await house.call('reach', {})).toMatchObject({ who: null, answers: false });
    for (const address of [
      'pictures.example',
      'ftp://x.example',
      'https://x.example/pictures',
      'https://me:x@x.example',
    ])
      await expect(house.call('setAddress', { body: { address } })).rejects.toMatchObject({ status: 400 });
    await house.undo(await house.call('setAddress', { body: { address: null } }));
  });

  test('with a certificate of its own it speaks encrypted, and takes a renewed one while it runs', async () => {
    const files = certificate(path.join(folder, 'own'), 'before.example');
    const secure = await freePort();
    const own = listen(makeHttp(house.app).fetch, secure, '127.0.0.1', { tls: files });
    try {
      const first = await ask(secure, '/api/sign-in', { body: signIn });
      expect([first.status, first.subject]).toEqual([200, 'before.example']);
      expect(String(first.headers['set-cookie'])).toMatch(/Secure/);
      const renewed = certificate(path.join(folder, 'renewed'), 'after.example');
      copyFileSync(renewed.key, files.key);
      copyFileSync(renewed.cert, files.cert);
      let subject = '';
      for (let i = 0; i < 50 && subject !== 'after.example'; i++) {
        await new Promise((resolve) => setTimeout(resolve, 100));
        ({ subject } = await ask(secure, '/api/me'));
      }
      expect(subject).toBe('after.example');
    } finally {
      own.close();
    }
  });

  test('behind a proxy as docs/reach.md sets it up: its name, secure cookies, the guest’s own address, ranges and a stream', async () => {
    const files = certificate(path.join(folder, 'proxy'), 'pictures.example');
    const [front, plain] = [await freePort(), await freePort()];
    const written = readFileSync(path.join(ROOT, 'docs/reach.md'), 'utf8');
    const site = /```nginx\n([\s\S]*?)```/.exec(written)![1]!;
    const conf = site
      .replace(/listen 443 ssl[^;]*;/g, `listen 127.0.0.1:${front} ssl;`)
      .replace(/listen 80[^;]*;/g, `listen 127.0.0.1:${plain};`)
      .replace(/listen \[::\][^;]*;\n/g, '')
      .replace(/ssl_certificate [^;]*;/, `ssl_certificate ${files.cert};`)
      .replace(/ssl_certificate_key [^;]*;/, `ssl_certificate_key ${files.key};`)
      .replaceAll('http://127.0.0.1:4870', `http://127.0.0.1:${port}`);
    const home = path.join(folder, 'nginx');
    mkdirSync(path.join(home, 'tmp'), { recursive: true });
    const temp = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi']
      .map((one) => `${one}_temp_path ${home}/tmp/${one};`)
      .join('\n');
    writeFileSync(
      path.join(home, 'nginx.conf'),
      `daemon off; pid ${home}/pid; error_log ${home}/error.log; worker_processes 1;\nevents {}\nhttp {\naccess_log off; ${temp}\n${site ? conf : ''}\n}\n`,
    );
    let proxy: ChildProcess | null = null;
    try {
      proxy = spawn('nginx', ['-c', path.join(home, 'nginx.conf'), '-p', home], { stdio: 'ignore' });
      await house.call('setAddress', { body: { address: 'https://pictures.example' } });
      const via = { host: 'pictures.example' };
      let signed: Told | null = null;
      for (let i = 0; i < 50 && !signed; i++) {
        await new Promise((resolve) => setTimeout(resolve, 100));
        signed = await ask(front, '/api/sign-in', {
          ...via,
          body: signIn,
          headers: { origin: 'https://pictures.example' },
        }).catch(() => null);
      }
      expect([signed!.status, signed!.subject]).toEqual([200, 'pictures.example']);
      const cookie = String(signed!.headers['set-cookie']);
      expect(cookie).toMatch(/Secure/);
      const own = { cookie: /gemmel=[^;]+/.exec(cookie)![0] };
      expect((await ask(front, '/api/library', { ...via, headers: own })).status).toBe(200);
      // Another page is refused, however it calls itself; and a name nobody gave leads nowhere.
      const foreign = await ask(front, '/api/sign-out', {
        ...via,
        body: {},
        headers: { ...own, origin: 'https://elsewhere.example' },
      });
      expect(foreign.status).toBe(403);
      const range = await ask(front, '/favicon.ico', { ...via, headers: { range: 'bytes=0-3' } });
      expect([200, 206]).toContain(range.status);
      // What a guest says of where they come from is not believed: guessing counts by the proxy's word.
      const wrong = { email: 'keeper@house.example', password: 'wrong' };
      const statuses: number[] = [];
      for (let i = 0; i < 11; i++)
        statuses.push(
          (await ask(front, '/api/sign-in', { ...via, body: wrong, headers: { 'x-forwarded-for': `9.9.9.${i}` } }))
            .status,
        );
      expect(statuses.at(-1)).toBe(429);
    } finally {
      proxy?.kill('SIGTERM');
    }
  });
});
