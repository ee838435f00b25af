/** How much memory a 2 GB upload takes, and how fast it goes against writing the same bytes to the same disk. */
import { serve, type ServerType } from '@hono/node-server';
import { randomBytes } from 'node:crypto';
import { open, rm } from 'node:fs/promises';
import { request } from 'node:http';
import path from 'node:path';
import { beginSession, makeKeeper, signIn, sessionOf } from '../apps/server/src/account/accounts';
import { makeHttp } from '../apps/server/src/http/app';
import { openBatch } from '../apps/server/src/intake/announce';
import { benchEngine, line } from './engine';

const BYTES = Number(process.env['BYTES'] ?? 2_000_000_000);
const PIECE = randomBytes(4 << 20);

/** Writes so many bytes to a file and syncs it: what no program could avoid. */
async function floor(file: string): Promise<number> {
  const began = performance.now();
  const handle = await open(file, 'w');
  for (let at = 0; at < BYTES; at += PIECE.length) await handle.write(PIECE, 0, Math.min(PIECE.length, BYTES - at));
  await handle.sync();
  await handle.close();
  const took = performance.now() - began;
  await rm(file);
  return took;
}

async function main(): Promise<void> {
  const engine = await benchEngine();
  const { app } = engine;
  await engine.runner.stop();
  const words = { library: 'Bench', name: 'K', email: 'k@bench.example', password: 'long-enough' };
  await makeKeeper(app, words);
  const cookie = await beginSession(app, await signIn(app, words.email, words.password));
  const token = (await sessionOf(app, cookie))!.csrf;
  let port = 0;
  const server = await new Promise<ServerType>((resolve) => {
    const made = serve(
      { fetch: makeHttp(app).fetch, port: 0, hostname: '127.0.0.1', serverOptions: { requestTimeout: 0 } },
      (info) => {
        port = info.port;
        resolve(made);
      },
    );
  });
  const raw = await floor(path.join(app.config.data, 'floor'));
  const { items } = await openBatch(app, 1, 'Clip', [{ path: 'long.mp4', bytes: BYTES }]);
  globalThis.gc?.();
  const before = process.memoryUsage().rss;
  let most = before;
  const watch = setInterval(() => (most = Math.max(most, process.memoryUsage().rss)), 50);
  const began = performance.now();
  const status = await new Promise<number>((resolve, reject) => {
    const sending = request(
      {
        port,
        method: 'POST',
        path: '/api/uploads',
        headers: {
          cookie: `gemmel=${cookie}`,
          'x-gemmel-token': token,
          'tus-resumable': '1.0.0',
          'upload-length': BYTES,
          'upload-metadata': `item ${Buffer.from(String(items[0])).toString('base64')}`,
          'content-type': 'application/offset+octet-stream',
          'content-length': BYTES,
        },
      },
      (response) => {
        response.resume();
        resolve(response.statusCode ?? 0);
      },
    );
    sending.on('error', reject);
    let at = 0;
    const push = () => {
      while (at < BYTES) {
        const n = Math.min(PIECE.length, BYTES - at);
        at += n;
        if (!sending.write(PIECE.subarray(0, n))) return void sending.once('drain', push);
      }
      sending.end();
    };
    push();
  });
  const took = performance.now() - began;
  clearInterval(watch);
  line('upload answered', String(status));
  line(
    `uploading ${(BYTES / 1e9).toFixed(1)} GB`,
    `${(took / 1000).toFixed(1)} s, ${(took / raw).toFixed(2)} x writing the same bytes`,
  );
  line(
    'memory during it',
    `${Math.round(most / 1e6)} MB resident, ${Math.round((most - before) / 1e6)} MB more than before (sender and server in one process)`,
  );
  server.close();
  await engine.stop();
}

void main().then(() => process.exit(0));
