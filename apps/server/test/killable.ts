import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { readConfig } from '../src/config';
import { endApp, makeApp, type App } from '../src/context';
import { addressOf, startMariadb } from '../src/db/mariadb';
import { migrate, openDb } from '../src/db/open';
import { installFromTemplate } from './database';
import { ROOT } from './house';
import { pause } from './program';

/** A library whose work is done by a process of its own, which can be ended at any moment. */
export interface Killable {
  folder: string;
  app: App;
  /** Starts the process; it has begun when this answers. */
  begin: () => Promise<void>;
  /** Ends it without a warning. */
  kill: () => Promise<void>;
  /** Takes the database away, and brings it back after `pause` milliseconds. */
  restartDb: (pause: number) => Promise<void>;
  stop: () => Promise<void>;
}

/** All files below a folder. */
export const filesBelow = (at: string): string[] =>
  readdirSync(at).flatMap((name) => {
    const full = path.join(at, name);
    return statSync(full).isDirectory() ? filesBelow(full) : [full];
  });

/** Opens a library with one process that works in it. @param name tells tests apart that run at once. */
export async function openKillable(name: string): Promise<Killable> {
  const folder = mkdtempSync(path.join(tmpdir(), `gemmel-${name}-`));
  const data = path.join(folder, 'data');
  for (const part of ['vault', 'derived', 'incoming', 'aside', 'uploads'])
    mkdirSync(path.join(data, part), { recursive: true });
  process.env['GEMMEL_ROOT'] = ROOT;
  process.env['GEMMEL_DATA'] = data;
  // All is made, whatever other suites made before, so that it is ended in the midst of making.
  delete process.env['GEMMEL_SEEN'];
  // Beside the server's own bundle, where its packages are found.
  const bundle = path.join(ROOT, `apps/server/dist/${name}-taker.js`);
  execFileSync('node', [path.join(ROOT, 'scripts/build-server.mjs'), path.join(__dirname, 'taker.ts'), bundle]);
  const worker = path.join(ROOT, 'apps/server/dist/worker.js');
  const config = readConfig();
  installFromTemplate(path.join(data, 'db'));
  let mariadb = await startMariadb(path.join(data, 'db'), config.secrets.db);
  const db = openDb(addressOf(path.join(data, 'db'), config.secrets.db));
  await migrate(db);
  await db('libraries').insert({ id: 1, slug: 'home', name: 'Home', recognise: false });
  const app = makeApp(config, db, worker);
  let taker: ChildProcess | null = null;
  return {
    folder,
    app,
    begin: () => {
      const made = spawn(process.execPath, [bundle, worker], {
        env: { ...process.env, GEMMEL_THREADS: '2' },
        stdio: ['ignore', 'pipe', 'inherit'],
      });
      taker = made;
      return new Promise<void>((resolve) => made.stdout.once('data', () => resolve()));
    },
    kill: () =>
      new Promise<void>((resolve) => {
        taker!.once('exit', () => resolve());
        taker!.kill('SIGKILL');
      }),
    restartDb: async (ms) => {
      await mariadb.stop();
      await pause(ms);
      mariadb = await startMariadb(path.join(data, 'db'), config.secrets.db);
    },
    stop: async () => {
      taker?.kill('SIGKILL');
      await endApp(app);
      await db.destroy();
      await mariadb.stop();
      rmSync(folder, { recursive: true, force: true });
      rmSync(bundle, { force: true });
    },
  };
}
