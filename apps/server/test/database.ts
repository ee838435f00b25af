import { randomBytes } from 'node:crypto';
import { cpSync, existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { userInfo } from 'node:os';
import path from 'node:path';
import knexLib from 'knex';
import { install, tablesOf } from '../src/db/install';
import { addressOf } from '../src/db/mariadb';
import { migrate, openDb, type Db } from '../src/db/open';

/** Where the tests' one database server lies; said by the set-up of the run. */
export const baseOf = (): string => {
  const base = process.env.GEMMEL_TEST_DB;
  if (!base) throw new Error('The database server of the tests is not running.');
  return base;
};

export const PASSWORD = 'password-of-the-tests';
/** Tests need not survive a power cut. */
export const HASTY = [
  'innodb_flush_log_at_trx_commit=0',
  'innodb_doublewrite=0',
  'innodb_file_per_table=0',
  'max_connections=120',
];

const templateOf = (base: string) => path.join(base, 'template');

/** Installs a server's tables once, to be copied from then on. */
export async function makeTemplate(base: string): Promise<void> {
  const dir = templateOf(base);
  mkdirSync(path.join(dir, 'tmp'), { recursive: true });
  const settings = path.join(dir, 'my.cnf');
  writeFileSync(settings, `[mysqld]\ntmpdir=${path.join(dir, 'tmp')}\ninnodb_log_file_size=64M\n`);
  await install(dir, settings, userInfo().username);
}

/** Puts the tables of a fresh server where one is going to be started, as installing them would. */
export function installFromTemplate(dir: string, base = baseOf()): void {
  if (existsSync(tablesOf(dir))) return;
  mkdirSync(dir, { recursive: true });
  cpSync(tablesOf(templateOf(base)), tablesOf(dir), { recursive: true });
}

/** Writes down how the tables are made, so that a further database takes a moment. */
export async function writeTables(base: string): Promise<void> {
  const db = openDb(addressOf(path.join(base, 'db'), PASSWORD));
  await migrate(db);
  const [tables] = (await db.raw('SHOW TABLES')) as [Record<string, string>[]];
  const statements: string[] = [];
  for (const table of tables.map((row) => Object.values(row)[0]!)) {
    const [[made]] = (await db.raw('SHOW CREATE TABLE ??', [table])) as [[Record<string, string>]];
    statements.push(made['Create Table']!.replace(/ AUTO_INCREMENT=\d+/, ''));
  }
  for (const table of ['knex_migrations', 'knex_migrations_lock'])
    for (const row of (await db(table)) as object[]) statements.push(db(table).insert(row).toString());
  writeFileSync(path.join(base, 'tables.json'), JSON.stringify(statements));
  await db.destroy();
}

/** A database of this suite's own on the tests' server, with all tables, empty. */
export async function ownDatabase(): Promise<{ db: Db; drop: () => Promise<void> }> {
  const base = baseOf();
  const address = addressOf(path.join(base, 'db'), PASSWORD);
  const name = `t_${randomBytes(6).toString('hex')}`;
  const maker = knexLib({ client: 'mysql2', connection: address, pool: { min: 1, max: 1 } });
  await maker.raw('CREATE DATABASE ?? CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci', [name]);
  await maker.raw('USE ??', [name]);
  await maker.raw('SET FOREIGN_KEY_CHECKS = 0');
  for (const statement of JSON.parse(readFileSync(path.join(base, 'tables.json'), 'utf8')) as string[])
    await maker.raw(statement.replace(/\?/g, '\\?'));
  await maker.destroy();
  const db = openDb({ ...address, database: name });
  return {
    db,
    // The server goes at the end of the run with all it has: dropping one table after another takes longer.
    drop: () => db.destroy(),
  };
}

/** Removes everything the tests' server left. */
export const removeAll = (base: string): void => rmSync(base, { recursive: true, force: true });
