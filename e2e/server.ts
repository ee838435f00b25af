import { spawn, type ChildProcess } from 'node:child_process';
import { createServer } from 'node:net';
import path from 'node:path';

export const ROOT = path.resolve(import.meta.dirname, '..');
export const OUT = path.join(import.meta.dirname, 'out');
/** Where servers of a run have their data. */
export const ROOM = process.env['E2E_ROOM'] ?? OUT;
const MAIN = path.join(ROOT, 'apps/server/dist/main.js');

/** A running server of a test: where it is reached, and where its data lies. */
export interface Served {
  url: string;
  data: string;
  /** What it has printed so far. */
  said: () => string;
  stop: () => Promise<void>;
}

/** A port nobody listens on, below those a system gives to connections that go out: one of these can be taken before it is used. */
const freePort = () =>
  new Promise<number>((resolve) => {
    const port = 20_000 + Math.floor(Math.random() * 12_000);
    const probe = createServer();
    probe.once('error', () => resolve(freePort()));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(port)));
  });

/** What a program that works on a data folder of the tests is told. Only what a test puts in counts as a card. */
export const envOf = (data: string, more: Record<string, string> = {}): NodeJS.ProcessEnv => ({
  ...process.env,
  GEMMEL_ROOT: ROOT,
  GEMMEL_DATA: data,
  GEMMEL_ROOTS: path.join(data, 'inbox'),
  GEMMEL_PACE: '0',
  LC_ALL: 'C.UTF-8',
  ...more,
});

/** Starts the built server on a data folder and waits until it can be asked. */
export async function startServer(data: string, more: Record<string, string> = {}): Promise<Served> {
  const port = await freePort();
  const child: ChildProcess = spawn(process.execPath, [MAIN], {
    env: envOf(data, { GEMMEL_PORT: String(port), ...more }),
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  const ended = new Promise<void>((resolve) => child.once('exit', () => resolve()));
  await new Promise<void>((resolve, reject) => {
    const hear = (text: Buffer) => {
      said += text.toString();
      if (said.includes('Gemmel is ready')) resolve();
    };
    child.stdout!.on('data', hear);
    child.stderr!.on('data', hear);
    void ended.then(() => reject(new Error(`The server ended: ${said}`)));
  });
  return {
    url: `http://127.0.0.1:${port}`,
    data,
    said: () => said,
    stop: async () => {
      child.kill('SIGTERM');
      await ended;
    },
  };
}
