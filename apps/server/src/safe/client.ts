import { spawn, type ChildProcess, type StdioOptions } from 'node:child_process';
import type { DbAddress } from '../db/mariadb';

/** A client of the database that runs. */
export interface Client {
  child: ChildProcess;
  /** Waits until it has ended. @throws with what it said when it did not end well. */
  ended: () => Promise<void>;
  /** Ends it if it still runs. */
  end: () => void;
}

/**
 * Starts a program of MariaDB's (`mariadb`, `mariadb-dump`) on a database. The password is never among its arguments. However this process
 * ends, the system ends it as well (prctl(2), PR_SET_PDEATHSIG): a dump that writes its file itself would go on to its end.
 */
export function clientOf(
  program: 'mariadb' | 'mariadb-dump',
  address: DbAddress,
  args: readonly string[],
  stdio: StdioOptions,
  signal?: AbortSignal,
): Client {
  const child = spawn(
    'setpriv',
    [
      '--pdeathsig',
      'KILL',
      program,
      '--no-defaults',
      `--socket=${address.socketPath}`,
      `--user=${address.user}`,
      '--default-character-set=utf8mb4',
      ...args,
      address.database,
    ],
    { env: { PATH: process.env['PATH'], MYSQL_PWD: address.password }, stdio },
  );
  let said = '';
  child.stderr?.setEncoding('utf8').on('data', (text: string) => (said = (said + text).slice(-2000)));
  const code = new Promise<number>((resolve, reject) => {
    child.once('error', reject);
    child.once('close', (status) => resolve(status ?? -1));
  });
  // Whoever waits hears of it, even when its pipe breaks first.
  code.catch(() => undefined);
  const end = () => void (child.exitCode === null && child.kill('SIGKILL'));
  signal?.addEventListener('abort', end, { once: true });
  return {
    child,
    end: () => {
      signal?.removeEventListener('abort', end);
      end();
    },
    ended: async () => {
      const status = await code;
      signal?.throwIfAborted();
      if (status !== 0) throw new Error(`${program}: ${said.trim() || status}`);
    },
  };
}
