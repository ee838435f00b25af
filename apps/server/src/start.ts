import { t } from '@lingui/core/macro';
import { chmod, mkdir } from 'node:fs/promises';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { forgetOldActs } from './act/diary';
import { askEmpty } from './bin/empty';
import { CannotStart, LostDatabase } from './cannotStart';
import { readConfig, type Config } from './config';
import { endApp, makeApp, type App } from './context';
import { Gate } from './db/gate';
import { addressOf, startMariadb, type LocalDb } from './db/mariadb';
import { migrate, openDb } from './db/open';
import { observeOlder } from './observe/observe';
import { recover } from './intake/recover';
import { askErase } from './library/erase';
import { makeRunner } from './jobs/all';
import { ask } from './jobs/jobs';
import type { Runner } from './jobs/runner';
import { endMetadata } from './media/metadata';
import { settleHomes } from './keep/move';
import { refuseHalfBuilt } from './keep/rebuild';
import { noteRunning, noteStopped, runningOn } from './running';
import { keepBefore, refuseHalfBack } from './safe/upgrade';
import { renewLinks } from './share/links';
import { withFiles } from './vault/lock';
import { replayMoves } from './vault/moves';
import { holdsFiles } from './vault/vault';

/** A running Gemmel without its HTTP side. */
export interface Engine {
  app: App;
  runner: Runner;
  stop: () => Promise<void>;
}

/** The bundled worker beside the bundled server. */
export const WORKER = path.join(path.dirname(fileURLToPath(import.meta.url)), 'worker.js');

/** How often what is too old to be taken back is forgotten, and what has been in the bin for long enough goes, in ms. */
const DAILY = 24 * 60 * 60_000;

/** The folders of a data folder. What is in them is for this household's own user alone. */
const FOLDERS = ['vault', 'derived', 'incoming', 'aside', 'uploads', 'inbox', 'watched', 'safe'];

/** From here on, files and folders this process and its helpers make are readable by nobody else on this machine. */
export const keepToOurselves = (): void => void process.umask(0o077);

/**
 * Never begins an empty library over a full vault: when the database knows nobody and nothing but originals are there, the
 * database was lost, and a first run would hide that.
 */
async function refuseEmptyOverFull({ db, paths, config }: App): Promise<void> {
  for (const table of ['members', 'pictures', 'batches']) if (await db(table).first('id')) return;
  // One that was rebuilt takes in what lies there.
  if (await db('jobs').where('kind', 'settle').first('id')) return;
  if (await holdsFiles(paths.vault))
    throw new LostDatabase(
      t`The database is empty, but the vault in ${config.data} holds originals: the database was lost. Make it anew from the files with ./gemmel rebuild, which brings back all that was said; or bring everything back from a second copy with ./gemmel restore PLACE.`,
    );
}

/** Starts database, threads and job runner on a data folder. Throws {@link CannotStart} and leaves nothing running when it cannot. */
export async function startEngine(config: Config = readConfig(), worker = WORKER): Promise<Engine> {
  const other = await runningOn(config.data);
  if (other)
    throw new CannotStart(
      t`Gemmel is already running on this data folder (address ${`http://127.0.0.1:${other.port}`}).`,
    );
  for (const folder of FOLDERS) await mkdir(path.join(config.data, folder), { recursive: true });
  await chmod(config.data, 0o700);
  await refuseHalfBack(config.data);
  await refuseHalfBuilt(config.data);
  await noteRunning(config.data, config.port);
  const gate = new Gate();
  let mariadb: LocalDb | null = null;
  let app: App | null = null;
  let runner: Runner | null = null;
  let daily: NodeJS.Timeout | undefined;
  const end = async () => {
    clearInterval(daily);
    try {
      await runner?.stop();
      if (app) await endApp(app);
      await endMetadata();
      await app?.db.destroy();
    } finally {
      // Whatever went wrong with the rest: no database is left running that nobody uses.
      await mariadb?.stop();
      await noteStopped(config.data);
    }
  };
  try {
    mariadb = await startMariadb(path.join(config.data, 'db'), config.secrets.db, (up) => gate.set(up));
    const db = openDb(addressOf(path.join(config.data, 'db'), config.secrets.db));
    const started = makeApp(config, db, worker, gate);
    app = started;
    await migrate(db, (first) => keepBefore(config.data, db, first));
    await refuseEmptyOverFull(app);
    if (await renewLinks(app))
      console.log(
        t`The key for share links was lost and a new one was made: links sent before no longer work. Copy them again under Sharing.`,
      );
    await settleHomes(started);
    for (const { id } of await db('libraries').select('id'))
      // A move that cannot be finished keeps nobody from starting: it is tried again, and told among the troubles.
      if ((await withFiles(app, id, () => replayMoves(started, id))).length) await ask(db, id, 'refile');
    await recover(app);
    await observeOlder(db);
    runner = makeRunner(app);
    await runner.start();
    await forgetOldActs(app);
    await askEmpty(app);
    await askErase(app);
    const rounds = async () => {
      await forgetOldActs(started);
      await askEmpty(started);
      await askErase(started);
    };
    daily = setInterval(() => void rounds().catch(() => undefined), DAILY).unref();
    let stopped: Promise<void> | null = null;
    return { app, runner, stop: () => (stopped ??= end()) };
  } catch (error) {
    await end().catch(() => undefined);
    throw error;
  }
}

/** What MariaDB says of tables that are gone or can't be read (mysqld_error.h). */
const DAMAGED: ReadonlySet<string> = new Set([
  'ER_NO_SUCH_TABLE',
  'ER_NO_SUCH_TABLE_IN_ENGINE',
  'ER_CRASHED_ON_USAGE',
  'ER_CRASHED_ON_REPAIR',
  'ER_NOT_KEYFILE',
  'ER_OLD_KEYFILE',
  'ER_GET_ERRNO',
  'ER_GET_ERRMSG',
  'ER_TABLE_CORRUPT',
]);

/** Whether an error means that the database is lost or damaged, so that it may be made anew from the files. */
export const isLost = (error: unknown): boolean =>
  error instanceof LostDatabase || DAMAGED.has((error as NodeJS.ErrnoException | null)?.code ?? '');

/** The sentence for an error that keeps Gemmel from starting. */
export function sentenceFor(error: unknown): string {
  if (error instanceof CannotStart) return error.message;
  const { code, message, path: at } = error as NodeJS.ErrnoException;
  if (code === 'EADDRINUSE')
    return t`The port is used by another program. Choose another with --port, for example --port 4880.`;
  if (code === 'ENOSPC') return t`The disk is full. Make space and start again; nothing is lost.`;
  if (code === 'EACCES' || code === 'EROFS') return t`The data folder can’t be written to (${message}).`;
  if (code === 'ENOENT' && /mariadb|mysqld/.test(`${at} ${message}`))
    return t`MariaDB is missing. Install it with: apt-get install mariadb-server`;
  if (code?.startsWith('ER_'))
    return t`The database can’t be read properly (${message}). It may be damaged; the originals and what was said about them are untouched. Make it anew from the files with ./gemmel rebuild, or bring everything back from a second copy with ./gemmel restore PLACE.`;
  return message;
}
