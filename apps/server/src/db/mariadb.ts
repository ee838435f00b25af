import { execFile, spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir, userInfo } from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import mysql from 'mysql2/promise';

const run = promisify(execFile);

/** A MariaDB of our own: where it listens, and how to end it. */
export interface LocalDb {
  socket: string;
  pid: number;
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

/** The socket below `folder`, or in the temporary folder when that path would be too long for a socket (107 bytes). */
export function socketOf(folder: string): string {
  const near = path.join(folder, 'db.sock');
  if (Buffer.byteLength(near) < 100) return near;
  return path.join(tmpdir(), `gemmel-${createHash('sha256').update(folder).digest('hex').slice(0, 12)}.sock`);
}

async function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const address = server.address();
      server.close(() => resolve(typeof address === 'object' && address ? address.port : 0));
    });
  });
}

export function addressOf(base: string, password: string): DbAddress {
  return { socketPath: socketOf(path.resolve(base)), user: USER, password, database: DATABASE };
}

/** A server of ours that outlived its parent, after a crash of the application: it is taken over as it runs. */
async function adopt(dir: string, socket: string, password: string): Promise<LocalDb | null> {
  try {
    const connection = await mysql.createConnection({ socketPath: socket, user: USER, password, database: DATABASE });
    await connection.end();
    const pid = Number(await readFile(path.join(dir, 'db.pid'), 'utf8'));
    return { socket, pid, stop: () => endProcess(pid) };
  } catch {
    return null;
  }
}

/** Ends a process politely and waits until it is gone. */
async function endProcess(pid: number): Promise<void> {
  try {
    process.kill(pid, 'SIGTERM');
    for (let i = 0; i < 300; i++) {
      await new Promise((resolve) => setTimeout(resolve, 100));
      process.kill(pid, 0);
    }
  } catch {
    // gone
  }
}

/**
 * Starts a private MariaDB from Debian's packages: its own data directory and socket below `base`, loopback only.
 * The first start makes the data directory. Throws an error in plain words when the server is missing or will not start.
 */
export async function startMariadb(base: string, password: string): Promise<LocalDb> {
  const dir = path.resolve(base);
  const data = path.join(dir, 'data');
  const socket = socketOf(dir);
  // A folder of its own: at its start a MariaDB clears the temporary tables it finds, another server's too.
  const temporary = path.join(dir, 'tmp');
  await mkdir(temporary, { recursive: true });
  const cnf = path.join(dir, 'my.cnf');
  const user = userInfo().username;
  await writeFile(
    cnf,
    `[mysqld]
datadir=${data}
socket=${socket}
pid-file=${path.join(dir, 'db.pid')}
tmpdir=${temporary}
log-error=${path.join(dir, 'error.log')}
port=${await freePort()}
bind-address=127.0.0.1
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
`,
  );
  if (!existsSync(path.join(data, 'mysql'))) {
    await mkdir(data, { recursive: true });
    await run('mariadb-install-db', [
      `--defaults-file=${cnf}`,
      '--auth-root-authentication-method=socket',
      `--auth-root-socket-user=${user}`,
      '--skip-test-db',
      `--user=${user}`,
    ]);
  }
  const left = await adopt(dir, socket, password);
  if (left) return left;
  const child = spawn('mariadbd', [`--defaults-file=${cnf}`, `--user=${user}`], { stdio: 'ignore', detached: true });
  let dead: string | undefined;
  child.once('error', (error) => (dead = error.message));
  child.once('exit', (code) => (dead ??= `exit code ${code}`));
  const until = Date.now() + 60_000;
  for (;;) {
    if (dead !== undefined) throw new Error(`The database did not start (${dead}). Its log is ${dir}/error.log.`);
    try {
      const connection = await mysql.createConnection({ socketPath: socket, user });
      await connection.query(
        `CREATE DATABASE IF NOT EXISTS ${DATABASE} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`,
      );
      await connection.query(`CREATE USER IF NOT EXISTS '${USER}'@'localhost' IDENTIFIED BY '${password}'`);
      await connection.query(`GRANT ALL ON *.* TO '${USER}'@'localhost'`);
      await connection.end();
      break;
    } catch (error) {
      if (Date.now() > until) throw error;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  }
  return {
    socket,
    pid: child.pid ?? 0,
    stop: () =>
      new Promise((resolve) => {
        if (dead !== undefined) return resolve();
        child.once('exit', () => resolve());
        child.kill('SIGTERM');
      }),
  };
}
