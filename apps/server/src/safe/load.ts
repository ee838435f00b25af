import { spawn } from 'node:child_process';
import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import type { DbAddress } from '../db/mariadb';

/** Reads a dump into a database (the `mariadb` client). @throws with what the client said. */
export async function loadDump(address: DbAddress, file: string, signal?: AbortSignal): Promise<void> {
  const child = spawn(
    'mariadb',
    [
      '--no-defaults',
      `--socket=${address.socketPath}`,
      `--user=${address.user}`,
      '--default-character-set=utf8mb4',
      '--init-command=SET SESSION unique_checks=0, foreign_key_checks=0',
      '--max-allowed-packet=64M',
      address.database,
    ],
    { env: { PATH: process.env['PATH'], MYSQL_PWD: address.password }, stdio: ['pipe', 'ignore', 'pipe'] },
  );
  let said = '';
  child.stderr.setEncoding('utf8').on('data', (text: string) => (said = (said + text).slice(-2000)));
  const ended = new Promise<number>((resolve, reject) => {
    child.once('error', reject);
    child.once('close', (code) => resolve(code ?? -1));
  });
  ended.catch(() => undefined);
  const stop = () => child.kill('SIGKILL');
  signal?.addEventListener('abort', stop, { once: true });
  try {
    // A client that ends early breaks the pipe; why it did is what it said.
    const source = createReadStream(file, { highWaterMark: 1 << 20 });
    const piped = file.endsWith('.gz') ? pipeline(source, createGunzip(), child.stdin) : pipeline(source, child.stdin);
    await piped.catch((error: NodeJS.ErrnoException) => {
      if (error.code !== 'EPIPE') throw error;
    });
    const code = await ended;
    signal?.throwIfAborted();
    if (code !== 0) throw new Error(`mariadb: ${said.trim() || code}`);
  } finally {
    signal?.removeEventListener('abort', stop);
    if (child.exitCode === null) child.kill('SIGKILL');
  }
}
