import { mkdir, readFile, unlink, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { readConfig, type Config } from './config';
import { endPool, makeApp, type App } from './context';
import { addressOf, startMariadb, type LocalDb } from './db/mariadb';
import { migrate, openDb } from './db/open';
import { recover } from './intake/recover';
import { makeRunner } from './jobs/handlers';
import type { Runner } from './jobs/jobs';
import { endMetadata } from './media/metadata';
import { replayMoves } from './vault/refile';

/** Something that keeps Gemmel from starting, in one plain sentence. */
export class CannotStart extends Error {}

/** A running Gemmel without its HTTP side. */
export interface Engine {
  app: App;
  runner: Runner;
  stop: () => Promise<void>;
}

/** Who is running on a data folder, if anybody. */
export async function runningOn(data: string): Promise<{ pid: number; port: number } | null> {
  try {
    const note = JSON.parse(await readFile(path.join(data, 'running.json'), 'utf8')) as { pid: number; port: number };
    process.kill(note.pid, 0);
    return note.pid === process.pid ? null : note;
  } catch {
    return null;
  }
}

/** The bundled worker beside the bundled server. */
export const WORKER = path.join(path.dirname(fileURLToPath(import.meta.url)), 'worker.js');

/** Starts database, threads and job runner on a data folder. `threads` 0 leaves the runner out. */
export async function startEngine(config: Config = readConfig(), worker = WORKER): Promise<Engine> {
  const other = await runningOn(config.data);
  if (other)
    throw new CannotStart(`Gemmel is already running on this data folder (address http://127.0.0.1:${other.port}).`);
  for (const folder of ['vault', 'derived', 'incoming', 'aside', 'uploads', 'inbox', 'watched'])
    await mkdir(path.join(config.data, folder), { recursive: true });
  const mark = path.join(config.data, 'running.json');
  await writeFile(mark, JSON.stringify({ pid: process.pid, port: config.port }));
  let mariadb: LocalDb;
  try {
    mariadb = await startMariadb(path.join(config.data, 'db'), config.secrets.db);
  } catch (error) {
    await unlink(mark).catch(() => undefined);
    const code = (error as NodeJS.ErrnoException).code;
    if (code === 'ENOENT') throw new CannotStart('MariaDB is missing. Install it with: apt-get install mariadb-server');
    throw error;
  }
  const db = openDb(addressOf(path.join(config.data, 'db'), config.secrets.db));
  await migrate(db);
  const app = makeApp(config, db, worker);
  for (const { id } of (await db('libraries').select('id')) as { id: number }[]) await replayMoves(app, id);
  await recover(app);
  const runner = makeRunner(app);
  await runner.start();
  let stopped: Promise<void> | null = null;
  const stop = async () => {
    await runner.stop();
    await endPool(app);
    await endMetadata();
    await db.destroy();
    await mariadb.stop();
    await unlink(mark).catch(() => undefined);
  };
  return { app, runner, stop: () => (stopped ??= stop()) };
}

/** The sentence for an error that keeps Gemmel from starting. */
export function sentenceFor(error: unknown): string {
  if (error instanceof CannotStart) return error.message;
  const { code, message } = error as NodeJS.ErrnoException;
  if (code === 'EADDRINUSE')
    return 'The port is taken by another program. Choose another with --port, for example --port 4880.';
  if (code === 'ENOSPC') return 'The disk is full. Make room and start again; nothing is lost.';
  if (code === 'EACCES' || code === 'EROFS') return `The data folder cannot be written to (${message}).`;
  return message;
}
