import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { startMariadb } from '../src/db/mariadb';
import { HASTY, installFromTemplate, makeTemplate, PASSWORD, writeTables } from './database';

/** Before all suites: one database server for all of them, and what a further one is copied from. */
export default async function begin(): Promise<void> {
  const base = mkdtempSync(path.join(tmpdir(), 'gemmel-tests-'));
  await makeTemplate(base);
  installFromTemplate(path.join(base, 'db'), base);
  const server = await startMariadb(path.join(base, 'db'), PASSWORD, undefined, HASTY);
  await writeTables(base);
  process.env.GEMMEL_TEST_DB = base;
  (globalThis as { endOfTests?: () => Promise<void> }).endOfTests = () => server.stop();
}
