import { execFile } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import { mkdir, rename, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { promisify } from 'node:util';
import { syncFolder } from '../vault/vault';

const run = promisify(execFile);

/** Where a server's tables lie below its folder. */
export const tablesOf = (dir: string): string => path.join(dir, 'data');

/** A file that is written when the tables are whole. */
const MARK = 'installed-whole';

/**
 * Makes a server's tables unless they are there: in a folder of their own, which gets its name when it is whole, so that a cut
 * at any moment leaves nothing half made behind. What an earlier way of installing left half made is thrown away: without our
 * database nothing can be in it. `settings` is the server's settings file, `user` whose the tables are.
 */
export async function install(dir: string, settings: string, user: string): Promise<void> {
  const data = tablesOf(dir);
  const has = (name: string) => existsSync(path.join(data, name));
  if (has('gemmel') || (has('mysql') && has(MARK))) return;
  for (const name of existsSync(dir) ? readdirSync(dir) : [])
    if (name.startsWith('data.new')) await rm(path.join(dir, name), { recursive: true, force: true });
  const fresh = path.join(dir, `data.new-${process.pid}`);
  await mkdir(fresh, { recursive: true });
  await run('mariadb-install-db', [
    `--defaults-file=${settings}`,
    `--datadir=${fresh}`,
    '--auth-root-authentication-method=socket',
    `--auth-root-socket-user=${user}`,
    '--skip-test-db',
    `--user=${user}`,
  ]);
  await writeFile(path.join(fresh, MARK), '');
  await syncFolder(fresh);
  await rm(data, { recursive: true, force: true });
  await rename(fresh, data);
  await syncFolder(dir);
}
