import { serve } from '@hono/node-server';
import { spawn } from 'node:child_process';
import { link, mkdir, rm } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { makeKeeper } from '../apps/server/src/account/accounts';
import { derivedBase, endApp, makeApp } from '../apps/server/src/context';
import { addressOf } from '../apps/server/src/db/mariadb';
import { openDb } from '../apps/server/src/db/open';
import { makeHttp } from '../apps/server/src/http/app';
import { makeAllReady } from '../apps/server/src/http/lists';
import { WORKER } from '../apps/server/src/start';
import { benchEngine, ROOT } from './engine';
import { fill, steady } from './synthetic';

/** Who looks after the library of a benchmark. */
export const ACCOUNT = {
  library: 'Home library',
  name: 'Keeper',
  email: 'keeper@bench.example',
  password: 'a-long-password',
};

/** How many real files stand in for all derived ones. */
const POOL = 200;

/** Fills an engine with so many made-up pictures, each with small and large files. */
async function fillFiles({ app, data }: Awaited<ReturnType<typeof benchEngine>>, pictures: number): Promise<void> {
  await makeKeeper(app, ACCOUNT);
  await fill(app, pictures, true);
  const random = steady(3);
  const pool: string[] = [];
  for (let i = 0; i < POOL; i++) {
    const file = path.join(data, `pool-${i}.webp`);
    const noise = Buffer.from(Uint8Array.from({ length: 20 * 15 * 3 }, () => random() * 255));
    await sharp(noise, { raw: { width: 20, height: 15, channels: 3 } })
      .resize(400, 300)
      .webp({ quality: 75 })
      .toFile(file);
    pool.push(file);
  }
  const shas = ((await app.db('pictures').select('sha256')) as { sha256: Buffer }[]).map((r) =>
    r.sha256.toString('hex'),
  );
  for (const folder of new Set(shas.map((sha) => sha.slice(0, 2))))
    await mkdir(path.join(app.paths.derived, folder), { recursive: true });
  for (const [i, sha] of shas.entries()) {
    await link(pool[i % pool.length]!, `${derivedBase(app, sha)}-small.webp`);
    await link(pool[i % pool.length]!, `${derivedBase(app, sha)}-large.jpg`);
  }
}

/** A library of so many made-up pictures, served by this process at a port; `end` puts everything away. */
export async function benchLibrary(pictures: number, port: number) {
  const engine = await benchEngine(port);
  await fillFiles(engine, pictures);
  const server = serve({ fetch: makeHttp(engine.app).fetch, port, hostname: '127.0.0.1' });
  // As a server that has been started.
  await makeAllReady(engine.app);
  return {
    ...engine,
    end: async () => {
      server.close();
      if ('closeAllConnections' in server) server.closeAllConnections();
      await engine.end();
    },
  };
}

/** How long a server is waited for, in ms. */
const STARTS = 120_000;

/**
 * The same library, served by a process of its own as a household has it, so that what it takes is its own; `app` is another process on
 * the same database, as a command is.
 */
export async function servedLibrary(pictures: number, port: number) {
  const engine = await benchEngine(port);
  await fillFiles(engine, pictures);
  const { data, app } = engine;
  await engine.stop();
  const server = spawn(process.execPath, [path.join(ROOT, 'apps/server/dist/main.js')], {
    env: { ...process.env, GEMMEL_DATA: data, GEMMEL_PORT: String(port), GEMMEL_ROOT: ROOT, GEMMEL_THREADS: '2' },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  const ended = new Promise<void>((resolve) => server.once('exit', () => resolve()));
  const there = () =>
    fetch(`http://127.0.0.1:${port}/healthz`).then(
      (answer) => answer.ok,
      () => false,
    );
  for (const began = Date.now(); !(await there()); await new Promise((resolve) => setTimeout(resolve, 200)))
    if (Date.now() - began > STARTS) throw new Error('The server does not answer.');
  const beside = makeApp(app.config, openDb(addressOf(path.join(data, 'db'), app.config.secrets.db)), WORKER);
  return {
    app: beside,
    pid: server.pid!,
    end: async () => {
      await endApp(beside);
      await beside.db.destroy();
      server.kill('SIGTERM');
      await ended;
      await rm(data, { recursive: true, force: true });
    },
  };
}
