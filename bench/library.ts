import { serve } from '@hono/node-server';
import { link, mkdir } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { makeKeeper } from '../apps/server/src/account/accounts';
import { derivedBase } from '../apps/server/src/context';
import { makeHttp } from '../apps/server/src/http/app';
import { benchEngine } from './engine';
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

/** A library of so many made-up pictures, each with small and large files, served at a port; `end` puts everything away. */
export async function benchLibrary(pictures: number, port: number) {
  const engine = await benchEngine(port);
  const { app } = engine;
  await makeKeeper(app, ACCOUNT);
  await fill(app, pictures, true);
  const random = steady(3);
  const pool: string[] = [];
  for (let i = 0; i < POOL; i++) {
    const file = path.join(engine.data, `pool-${i}.webp`);
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
  const server = serve({ fetch: makeHttp(app).fetch, port, hostname: '127.0.0.1' });
  return {
    ...engine,
    end: async () => {
      server.close();
      if ('closeAllConnections' in server) server.closeAllConnections();
      await engine.end();
    },
  };
}
