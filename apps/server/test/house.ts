import { randomBytes } from 'node:crypto';
import { mkdtemp, mkdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Hono } from 'hono';
import { api, type Answer, type Api, type CallInput, type Endpoint } from '@gemmel/contract';
import { beginSession, makeKeeper, sessionOf } from '../src/account/accounts';
import type { Config } from '../src/config';
import { endApp, makeApp, type App } from '../src/context';
import { makeHttp } from '../src/http/app';
import type { Vars } from '../src/http/guard';
import { openBatch, walk } from '../src/intake/announce';
import { makeRunner } from '../src/jobs/all';
import type { Runner } from '../src/jobs/runner';
import { endMetadata } from '../src/media/metadata';
import { ownDatabase } from './database';

export const ROOT = path.resolve(__dirname, '../../..');
export const DEMO = path.join(ROOT, 'demo');

/** What a relative is shown who is to see all that the house sees. */
const SEES_ALL = '{"v":1,"question":{"all":[]}}';

/** Somebody at the interface: a cookie and the token that goes with it. */
export interface Caller {
  cookie: string;
  token: string;
}

/** A whole server on a new data folder with a database of its own, without a port. */
export interface House {
  app: App;
  runner: Runner;
  http: Hono<Vars>;
  keeper: Caller;
  /** Calls a route of the table as somebody; throws what the server told. */
  call: <K extends keyof Api>(name: K, input: CallInput<Api[K]>, as?: Caller) => Promise<Answer<Api[K]>>;
  /** Takes back what an act did, by its answer. */
  undo: (did: { act: number | null }, as?: Caller) => Promise<Answer<Api['undo']>>;
  /** A raw request, with this caller's cookie and token. */
  fetch: (path: string, init?: RequestInit, as?: Caller | null) => Promise<Response>;
  /** Makes a member of a part and signs them in; `account` belongs to no library, a relative sees what the house sees. */
  member: (part: 'keeper' | 'helper' | 'relative' | 'account') => Promise<Caller>;
  /** Takes in files of this machine and waits until all work is done. */
  takeIn: (folder: string, name?: string) => Promise<number>;
  /** Waits until nothing is left to do. */
  quiet: () => Promise<void>;
  /** Sends the bytes of an announced file as a resumable upload. */
  send: (item: number, bytes: Buffer, as?: Caller) => Promise<Response>;
  stop: () => Promise<void>;
}

/** Opens a house for tests. The bundled worker must have been built. Faces are looked for only when `recognise` says so. */
export async function openHouse({ recognise = false } = {}): Promise<House> {
  const data = await mkdtemp(path.join(tmpdir(), 'gemmel-'));
  const secrets = { db: 'none', links: randomBytes(12).toString('hex') };
  const { db, drop } = await ownDatabase();
  for (const folder of ['vault', 'derived', 'incoming', 'aside', 'uploads', 'inbox', 'watched'])
    await mkdir(path.join(data, folder));
  const config = {
    data,
    port: 0,
    host: '127.0.0.1',
    roots: [path.join(data, 'inbox')],
    watched: [path.join(data, 'watched')],
    reserve: 0,
    // Suites run side by side: one thread each, as starting another takes longer than it saves.
    threads: 1,
    web: path.join(ROOT, 'apps/web/dist'),
    models: path.join(ROOT, 'apps/server/models'),
    demo: null,
    names: [],
    proxies: ['192.0.2.7'],
    tls: null,
    mail: null as Config['mail'],
    standInMail: null,
    shop: null as string | null,
    setUpCode: null,
    secrets,
  };
  const app = makeApp(config, db, path.join(ROOT, 'apps/server/dist/worker.js'));
  const runner = makeRunner(app);
  await runner.start();
  const http = makeHttp(app);
  const id = await makeKeeper(app, {
    library: 'Test library',
    name: 'Keeper',
    email: 'keeper@house.example',
    password: 'a-long-password',
  });
  await db('libraries').where('id', 1).update({ recognise });
  const enter = async (account: number): Promise<Caller> => {
    const token = await beginSession(app, account);
    return { cookie: `gemmel=${token}`, token: (await sessionOf(app, token))!.csrf };
  };
  const keeper = await enter((await db('members').where('id', id).first('account_id'))!.account_id!);
  const fetch: House['fetch'] = async (at, init = {}, as = keeper) =>
    http.request(at, {
      ...init,
      headers: {
        ...(as ? { cookie: as.cookie, 'x-gemmel-token': as.token } : {}),
        ...(init.headers as Record<string, string> | undefined),
      },
    });
  const quiet = async () => {
    for (let still = 0; still < 3;) {
      still = (await db('jobs').whereNot('state', 'failed').first('id')) ? 0 : still + 1;
      await new Promise((resolve) => setTimeout(resolve, 15));
    }
  };
  const house: House = {
    app,
    runner,
    http,
    keeper,
    fetch,
    quiet,
    undo: (did, as = keeper) => house.call('undo', { params: { id: did.act! } }, as),
    call: async (name, input, as = keeper) => {
      const route = api[name] as Endpoint;
      const { params, body } = input as { params?: Record<string, unknown>; body?: unknown };
      const at = route.path.replace(/:(\w+)/g, (_, key: string) => encodeURIComponent(String(params?.[key])));
      const response = await fetch(
        at,
        {
          method: route.method,
          ...(body === undefined
            ? {}
            : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
        },
        as,
      );
      const answer = (await response.json()) as { title?: string };
      if (!response.ok) throw Object.assign(new Error(answer.title), { status: response.status });
      return route.answer.parse(answer) as never;
    },
    member: async (part) => {
      const [account] = await db('accounts').insert({
        name: part,
        email: `${part}-${randomBytes(4).toString('hex')}@house.example`,
        password_hash: 'none',
      });
      if (part !== 'account')
        await db('members').insert({
          library_id: 1,
          account_id: account!,
          name: part,
          part,
          ...(part === 'relative' ? { view: SEES_ALL, reach: 'house' } : {}),
        });
      return enter(account!);
    },
    send: (item, bytes, as = keeper) =>
      fetch(
        '/api/uploads',
        {
          method: 'POST',
          body: new Uint8Array(bytes),
          headers: {
            'tus-resumable': '1.0.0',
            'upload-length': String(bytes.length),
            'upload-metadata': `item ${Buffer.from(String(item)).toString('base64')}`,
            'content-type': 'application/offset+octet-stream',
            'content-length': String(bytes.length),
          },
        },
        as,
      ),
    takeIn: async (folder, name = path.basename(folder)) => {
      const batch = await openBatch(app, 1, name, await walk(folder));
      house.runner.nudge();
      await quiet();
      return batch.id;
    },
    stop: async () => {
      await house.runner.stop();
      await endApp(app);
      await endMetadata();
      await drop();
      await rm(data, { recursive: true, force: true });
    },
  };
  return house;
}
