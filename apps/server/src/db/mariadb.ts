import { t } from '@lingui/core/macro';
import { spawn, type ChildProcess } from 'node:child_process';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { tmpdir, userInfo } from 'node:os';
import path from 'node:path';
import mysql from 'mysql2/promise';
import { CannotStart, LostDatabase } from '../cannotStart';
import { alive } from '../running';
import { install, tablesOf } from './install';

/** A MariaDB of our own: where it listens, which process it is now, and how to end it. */
export interface LocalDb {
  socket: string;
  pid: () => number;
  /** Ends it for good; it is not started again. */
  stop: () => Promise<void>;
}

const DATABASE = 'gemmel';
const USER = 'gemmel';

/** How a client reaches the database. */
export interface DbAddress {
  socketPath: string;
  user: string;
  password: string;
  database: string;
}

/** What is told when the database goes away by itself, and when it is back. */
export type Told = (up: boolean) => void;

/** The socket below `folder`, or in the temporary folder when that path would be too long for a socket (107 bytes). */
export function socketOf(folder: string): string {
  const near = path.join(folder, 'db.sock');
  if (Buffer.byteLength(near) < 100) return near;
  return path.join(tmpdir(), `gemmel-${createHash('sha256').update(folder).digest('hex').slice(0, 12)}.sock`);
}

export function addressOf(base: string, password: string): DbAddress {
  return { socketPath: socketOf(path.resolve(base)), user: USER, password, database: DATABASE };
}

const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

/** How long a server may take until it answers, in ms; after a crash it reads its log first. */
const PATIENCE = 120_000;
/** Pauses before a server that went away is started again, in ms; the last one is repeated. */
const BACK_OFF = [50, 300, 1000, 3000, 10_000];

/** The settings: reached through its socket alone, never over a network. */
const settingsFor = (dir: string, socket: string, more: readonly string[]) => `[mysqld]
datadir=${tablesOf(dir)}
socket=${socket}
pid-file=${path.join(dir, 'db.pid')}
tmpdir=${path.join(dir, 'tmp')}
log-error=${path.join(dir, 'error.log')}
skip-networking
skip-name-resolve=1
character-set-server=utf8mb4
collation-server=utf8mb4_unicode_ci
transaction-isolation=READ-COMMITTED
innodb_buffer_pool_size=192M
innodb_log_file_size=64M
innodb_flush_log_at_trx_commit=1
max_allowed_packet=64M
max_connections=60
performance_schema=0
${more.join('\n')}
`;

/** The process of a server that works on these tables, whoever started it; 0 when there is none. */
async function processOf(dir: string): Promise<number> {
  const pid = Number(await readFile(path.join(dir, 'db.pid'), 'utf8').catch(() => ''));
  if (!pid || !alive(pid)) return 0;
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(path.join(dir, 'my.cnf')) ? pid : 0;
  } catch {
    return pid;
  }
}

/** Makes sure that our database and its user are there; throws while the server does not answer. */
async function prepare(socket: string, user: string, password: string): Promise<void> {
  const connection = await mysql.createConnection({ socketPath: socket, user });
  try {
    const secret = mysql.escape(password);
    await connection.query(
      `CREATE DATABASE IF NOT EXISTS ${DATABASE} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`,
    );
    await connection.query(`CREATE USER IF NOT EXISTS '${USER}'@'localhost' IDENTIFIED BY ${secret}`);
    // The password may have been lost and made anew.
    await connection.query(`ALTER USER '${USER}'@'localhost' IDENTIFIED BY ${secret}`);
    await connection.query(`GRANT ALL ON *.* TO '${USER}'@'localhost'`);
  } finally {
    await connection.end();
  }
}

/** One life of a server: its process, and how to notice that it ended. */
interface Life {
  pid: number;
  ended: Promise<void>;
}

/** Waits until a process that is not our child has ended. */
async function endOf(pid: number): Promise<void> {
  while (alive(pid)) await pause(200);
}

/**
 * Brings up a server for these tables: one that outlived its parent is taken over as it runs, else a new one is started.
 * Throws a plain sentence when it does not come up.
 */
async function bringUp(dir: string, socket: string, user: string, password: string): Promise<Life> {
  const left = await processOf(dir);
  let child: ChildProcess | null = null;
  let dead: string | null = null;
  if (!left) {
    child = spawn('mariadbd', [`--defaults-file=${path.join(dir, 'my.cnf')}`, `--user=${user}`], {
      stdio: 'ignore',
      detached: true,
      env: { ...process.env, UMASK: '0600', UMASK_DIR: '0700' },
    });
    child.once('error', (error) => (dead = error.message));
    child.once('exit', (code, signal) => (dead ??= signal ?? t`exit code ${code ?? 0}`));
  }
  const until = Date.now() + PATIENCE;
  for (;;) {
    if (dead === null && left && !alive(left)) dead = t`it ended`;
    if (dead !== null) throw await whyNot(dir, dead);
    try {
      await prepare(socket, user, password);
      break;
    } catch (error) {
      const code = (error as { code?: string }).code ?? '';
      if (code === 'ER_ACCESS_DENIED_ERROR' || code === 'ER_ACCESS_DENIED_NO_PASSWORD_ERROR')
        throw new CannotStart(
          t`The database in ${dir} belongs to another user of this computer. Start Gemmel as whoever started it first.`,
        );
      if (Date.now() > until) throw await whyNot(dir, t`it doesn’t answer`);
      await pause(50);
    }
  }
  if (child) {
    const mine = child;
    const ended = new Promise<void>((resolve) => {
      if (dead !== null) resolve();
      mine.once('exit', () => resolve());
    });
    return { pid: mine.pid ?? 0, ended };
  }
  return { pid: left, ended: endOf(left) };
}

/** Why a server did not come up, and the way on. */
async function whyNot(dir: string, how: string): Promise<CannotStart> {
  const log = path.join(dir, 'error.log');
  const text = await readFile(log, 'utf8').catch(() => '');
  if (/No space left on device|Errcode: 28/.test(text.slice(-4000)))
    return new CannotStart(
      t`The disk is full, so the database can’t start. Make space and start again; nothing is lost.`,
    );
  return new LostDatabase(
    t`The database in ${dir} doesn’t start (${how}); it may be damaged, and ${log} says more. The originals and what was said about them are untouched. Make it anew from the files with ./gemmel rebuild, or bring everything back from a second copy with ./gemmel restore PLACE.`,
  );
}

async function endProcess(pid: number): Promise<void> {
  try {
    process.kill(pid, 'SIGTERM');
  } catch {
    return;
  }
  for (let i = 0; i < 600 && alive(pid); i++) await pause(50);
}

/** Makes the tables of a server below `base` where there are none yet; it need not be known yet who may read them. */
export async function makeTables(base: string, more: readonly string[] = []): Promise<void> {
  const dir = path.resolve(base);
  // A folder of its own: at its start a MariaDB clears the temporary tables it finds, another server's too.
  await mkdir(path.join(dir, 'tmp'), { recursive: true });
  const settings = path.join(dir, 'my.cnf');
  await writeFile(settings, settingsFor(dir, socketOf(dir), more));
  await install(dir, settings, userInfo().username);
}

/**
 * Starts a private MariaDB from Debian's packages below `base`: tables of its own and a socket, no network. The first start
 * makes the tables. When it goes away by itself it is started again, each time after a longer pause; `told` hears of that.
 * Throws {@link CannotStart} when it will not start. `more` are further lines for its settings.
 */
export async function startMariadb(
  base: string,
  password: string,
  told: Told = () => undefined,
  more: readonly string[] = [],
): Promise<LocalDb> {
  const dir = path.resolve(base);
  const socket = socketOf(dir);
  const user = userInfo().username;
  await makeTables(base, more);
  let life = await bringUp(dir, socket, user, password);
  let stopping = false;
  const watch = async () => {
    for (;;) {
      await life.ended;
      if (stopping) return;
      told(false);
      console.error(t`The database went away and is being restarted.`);
      for (let attempt = 0; !stopping; attempt++) {
        await pause(BACK_OFF[Math.min(attempt, BACK_OFF.length - 1)]!);
        if (stopping) return;
        try {
          life = await bringUp(dir, socket, user, password);
          told(true);
          console.error(t`The database is back.`);
          break;
        } catch (error) {
          console.error(error instanceof Error ? error.message : error);
        }
      }
      if (stopping) {
        await endProcess(life.pid);
        return;
      }
    }
  };
  const watching = watch();
  return {
    socket,
    pid: () => life.pid,
    stop: async () => {
      stopping = true;
      await endProcess(life.pid);
      await watching;
    },
  };
}
