/**
 * What a relative sees of a made-up library of 100 000 pictures, against what its keeper does; and 200 guests on one share of 500
 * pictures at one moment while pictures come in.
 */
import type { AddressInfo } from 'node:net';
import { copyFileSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fork } from 'node:child_process';
import sharp from 'sharp';
import { beginSession, sessionOf } from '../apps/server/src/account/accounts';
import { derivedBase } from '../apps/server/src/context';
import { listEvents } from '../apps/server/src/event/events';
import { makeHttp } from '../apps/server/src/http/app';
import { listen } from '../apps/server/src/http/listen';
import { openBatch, walk } from '../apps/server/src/intake/announce';
import { listPeople } from '../apps/server/src/person/people';
import { countOf, pageOf } from '../apps/server/src/picture/pictures';
import { skeleton } from '../apps/server/src/picture/skeleton';
import { facetsOf } from '../apps/server/src/question/facets';
import { openShare } from '../apps/server/src/share/shares';
import { LOOK_AND_SAVE, TELLS_NOTHING } from '../packages/contract/src';
import { Eyes } from '../apps/server/src/sight/eyes';
import { benchEngine, line, quantile } from './engine';
import { fill } from './synthetic';

const N = Number(process.env['PICTURES'] ?? 100_000);
const GUESTS = Number(process.env['GUESTS'] ?? 200);
const SHARED = 500;
const ms = (value: number): string => `${value.toFixed(1)} ms`;

const engine = await benchEngine();
const folder = mkdtempSync(path.join(tmpdir(), 'gemmel-bench-share-'));
try {
  const { app } = engine;
  const { db } = app;
  await fill(app, N);
  const account = async (part: 'keeper' | 'relative', view: object | null) => {
    const [id] = await db('accounts').insert({ name: part, email: `${part}@b.example`, password_hash: 'none' });
    await db('members').insert({
      library_id: 1,
      account_id: id!,
      name: part,
      part,
      view: view && JSON.stringify({ v: 1, question: view }),
      reach: 'house',
    });
    return (await sessionOf(app, await beginSession(app, id!)))!;
  };
  const people = (await db('people').orderBy('id').limit(6).select('id')).map(({ id }) => id);
  const keeper = await account('keeper', null);
  const relative = await account('relative', { who: { people, mode: 'any' } });
  const eyes = new Eyes(app);
  const median = async (work: () => Promise<unknown>, times = 9): Promise<number> => {
    const took: number[] = [];
    for (let i = 0; i < times; i++) {
      const began = performance.now();
      await work();
      took.push(performance.now() - began);
    }
    return quantile(took, 0.5);
  };
  const all = { all: [] };
  line('the sight of a relative, made for one request', ms(await median(() => eyes.of(relative, true))));
  line('the same for a keeper', ms(await median(() => eyes.of(keeper, false))));
  line('pictures the relative sees', String(await countOf(await eyes.of(relative, true), 1, all)));
  for (const [name, work] of [
    ['count of everything', (a) => countOf(a, 1, all)],
    ['skeleton of everything', (a) => skeleton(a, 1, all)],
    ['first page', (a) => pageOf(a, 1, all, undefined, 100)],
    ['facets of everything', (a) => facetsOf(a, 1, all)],
    ['events', (a) => listEvents(a, 1)],
    ['people', (a) => listPeople(a, 1)],
  ] as [string, (a: typeof app) => Promise<unknown>][]) {
    const theirs = await median(async () => work(await eyes.of(relative, true)));
    const own = await median(async () => work(app));
    line(`${name}: relative, keeper`, `${ms(theirs)}, ${ms(own)} (${(theirs / own).toFixed(1)} times)`);
  }

  // A share, its thumbnails on disk, and pictures that come in meanwhile.
  const ids = (await db('pictures').where({ library_id: 1, kind: 'photo' }).limit(SHARED).select('id', 'shown')) as {
    id: number;
    shown: Buffer;
  }[];
  const thumb = await sharp({ create: { width: 320, height: 240, channels: 3, background: '#567' } })
    .webp()
    .toBuffer();
  const large = await sharp({ create: { width: 1600, height: 1200, channels: 3, background: '#567' } })
    .jpeg()
    .toBuffer();
  for (const { shown } of ids) {
    const base = derivedBase(app, shown.toString('hex'));
    mkdirSync(path.dirname(base), { recursive: true });
    writeFileSync(`${base}-small.webp`, thumb);
    writeFileSync(`${base}-large.jpg`, large);
  }
  const { share } = await openShare(app, keeper, {
    title: 'Load',
    of: { ids: ids.map(({ id }) => id) },
    frozen: true,
    until: null,
    visits: null,
    may: LOOK_AND_SAVE,
    tells: { ...TELLS_NOTHING, dates: true },
    reach: 'house',
    anybody: true,
    word: null,
    people: [],
    members: [],
  });
  const server = listen(makeHttp(app).fetch, 0, '127.0.0.1');
  await new Promise<void>((resolve) => server.once('listening', () => resolve()));
  const { port } = server.address() as AddressInfo;
  const coming = path.join(folder, 'coming');
  mkdirSync(coming);
  const source = path.join(folder, 'one.jpg');
  for (let i = 0; i < 60; i++) {
    const noise = { mean: 110 + i, sigma: 20, type: 'gaussian' as const };
    await sharp({ create: { width: 2400, height: 1800, channels: 3, background: '#000', noise } })
      .jpeg()
      .toFile(source);
    copyFileSync(source, path.join(coming, `IMG_${i}.jpg`));
  }
  await openBatch(app, 1, 'coming', await walk(coming));
  engine.runner.nudge();
  const at = `http://127.0.0.1:${port}/api/guest/${share.path!.split('/').pop()}`;
  // The guests are another process, so that they do not share this one's time.
  const guests = fork(path.resolve('bench/guests.mjs'), [at, String(GUESTS), ids.map(({ id }) => id).join(',')]);
  const told = await new Promise<{ small: number[]; view: number[]; errors: number }>((resolve, reject) => {
    guests.on('message', (message) => resolve(message as never));
    guests.on('error', reject);
  });
  line(`${GUESTS} guests, ${told.small.length} thumbnails while pictures come in, errors`, String(told.errors));
  line(
    '  a thumbnail',
    `${ms(quantile(told.small, 0.5))} median, ${ms(quantile(told.small, 0.99))} at the 99th percentile (150)`,
  );
  line(
    '  the share itself',
    `${ms(quantile(told.view, 0.5))} median, ${ms(quantile(told.view, 0.99))} at the 99th percentile`,
  );
  server.close();
} finally {
  await engine.end();
  rmSync(folder, { recursive: true, force: true });
}
