import knexLib, { type Knex } from 'knex';
import './tables';
import { CannotStart } from '../cannotStart';
import type { DbAddress } from './mariadb';
import * as m0001 from './migrations/0001_foundations';
import * as m0002 from './migrations/0002_face_counts';
import * as m0003 from './migrations/0003_gather';
import * as m0004 from './migrations/0004_time';
import * as m0005 from './migrations/0005_places';
import * as m0006 from './migrations/0006_people';
import * as m0007 from './migrations/0007_ground';
import * as m0008 from './migrations/0008_acts';
import * as m0009 from './migrations/0009_perhaps';
import * as m0010 from './migrations/0010_tags';
import * as m0011 from './migrations/0011_reach';
import * as m0012 from './migrations/0012_eyes';
import * as m0013 from './migrations/0013_words';
import * as m0014 from './migrations/0014_describe';
import * as m0015 from './migrations/0015_seen';
import * as m0016 from './migrations/0016_not_again';
import * as m0017 from './migrations/0017_eyes';
import * as m0018 from './migrations/0018_who_in';
import * as m0019 from './migrations/0019_bin';
import * as m0020 from './migrations/0020_runs';
import * as m0021 from './migrations/0021_views';
import * as m0022 from './migrations/0022_scans';
import * as m0023 from './migrations/0023_albums';
import * as m0024 from './migrations/0024_shows';
import * as m0025 from './migrations/0025_accounts';
import * as m0026 from './migrations/0026_zones';
import * as m0027 from './migrations/0027_links';
import * as m0028 from './migrations/0028_audience';
import * as m0029 from './migrations/0029_shares';
import * as m0030 from './migrations/0030_parlour';
import * as m0031 from './migrations/0031_reach';
import * as m0032 from './migrations/0032_second';
import * as m0033 from './migrations/0033_notices';
import * as m0034 from './migrations/0034_passkeys';
import * as m0035 from './migrations/0035_safekeeping';
import * as m0036 from './migrations/0036_libraries';
import * as m0037 from './migrations/0037_pieces';
import * as m0038 from './migrations/0038_once';
import * as m0039 from './migrations/0039_quick';
import * as m0040 from './migrations/0040_counts';

export type Db = Knex;

const migrations = [
  { name: '0001_foundations', steps: m0001 },
  { name: '0002_face_counts', steps: m0002 },
  { name: '0003_gather', steps: m0003 },
  { name: '0004_time', steps: m0004 },
  { name: '0005_places', steps: m0005 },
  { name: '0006_people', steps: m0006 },
  { name: '0007_ground', steps: m0007 },
  { name: '0008_acts', steps: m0008 },
  { name: '0009_perhaps', steps: m0009 },
  { name: '0010_tags', steps: m0010 },
  { name: '0011_reach', steps: m0011 },
  { name: '0012_eyes', steps: m0012 },
  { name: '0013_words', steps: m0013 },
  { name: '0014_describe', steps: m0014 },
  { name: '0015_seen', steps: m0015 },
  { name: '0016_not_again', steps: m0016 },
  { name: '0017_eyes', steps: m0017 },
  { name: '0018_who_in', steps: m0018 },
  { name: '0019_bin', steps: m0019 },
  { name: '0020_runs', steps: m0020 },
  { name: '0021_views', steps: m0021 },
  { name: '0022_scans', steps: m0022 },
  { name: '0023_albums', steps: m0023 },
  { name: '0024_shows', steps: m0024 },
  { name: '0025_accounts', steps: m0025 },
  { name: '0026_zones', steps: m0026 },
  { name: '0027_links', steps: m0027 },
  { name: '0028_audience', steps: m0028 },
  { name: '0029_shares', steps: m0029 },
  { name: '0030_parlour', steps: m0030 },
  { name: '0031_reach', steps: m0031 },
  { name: '0032_second', steps: m0032 },
  { name: '0033_notices', steps: m0033 },
  { name: '0034_passkeys', steps: m0034 },
  { name: '0035_safekeeping', steps: m0035 },
  { name: '0036_libraries', steps: m0036 },
  { name: '0037_pieces', steps: m0037 },
  { name: '0038_once', steps: m0038 },
  { name: '0039_quick', steps: m0039 },
  { name: '0040_counts', steps: m0040 },
];

/** A static list instead of a directory scan: works the same from sources, in a bundle and in tests. Only forward. */
const migrationSource: Knex.MigrationSource<(typeof migrations)[number]> = {
  getMigrations: async () => migrations,
  getMigrationName: (m) => m.name,
  getMigration: async (m) => ({ up: m.steps.up, down: async () => undefined }),
};

/** Opens the database, with so many connections at most. Dates come and go as plain strings, so that no time zone can creep in. */
export function openDb(address: DbAddress, most = 10): Db {
  return knexLib({
    client: 'mysql2',
    connection: { ...address, charset: 'utf8mb4', timezone: 'Z', dateStrings: true, supportBigNumbers: true },
    pool: { min: 0, max: most },
    migrations: { migrationSource },
  });
}

/** Where an open database is, for a thread that opens it, too. */
export function addressIn(db: Db): DbAddress {
  // The password is kept out of what is listed of a connection.
  const { socketPath, user, password, database } = (db.client as { config: { connection: DbAddress } }).config
    .connection;
  return { socketPath, user, password, database };
}

/** The last change of the tables there is. */
export const NEWEST = migrations.at(-1)!.name;

/** Whether this Gemmel knows a change of the tables. */
export const knowsSchema = (name: string): boolean => migrations.some((one) => one.name === name);

/** Brings the tables of a database nobody else uses up to one change, and not further: to read in what was written then. */
export async function migrateTo(db: Db, name: string): Promise<void> {
  const done = (await db.schema.hasTable('knex_migrations'))
    ? (await db('knex_migrations').select('name')).map((row) => row.name as string)
    : [];
  for (const one of migrations) {
    if (one.name > name) return;
    if (!done.includes(one.name)) await db.migrate.up();
  }
}

/** How long to wait for another process that brings the tables up to date, in seconds. */
const TURN = 300;

interface Counts {
  [table: string]: number | null;
}

/** How many rows some tables have; null for one that is not there. */
async function rowsOf(db: Db, ...tables: string[]): Promise<Counts> {
  const counts: Counts = {};
  for (const table of tables) {
    counts[table] = null;
    if (!(await db.schema.hasTable(table))) continue;
    const [{ n }] = (await db(table).count('* as n')) as unknown as [{ n: number }];
    counts[table] = Number(n);
  }
  return counts;
}

/** Removes every table. Only for a first start that was cut before anybody could keep anything. */
async function beginAgain(db: Db): Promise<void> {
  const [[{ name }]] = (await db.raw('SELECT DATABASE() AS name')) as [[{ name: string }]];
  await db.raw('DROP DATABASE ??', [name]);
  await db.raw('CREATE DATABASE ?? CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci', [name]);
  // Connections that were open have no database chosen any longer.
  await db.destroy();
  db.initialize();
}

/**
 * Brings the tables up to date. A first start that was cut half-way is begun again, and a lock that it left behind is cleared,
 * since only one process at a time gets here. `before` is waited for before tables that hold something are changed. Throws {@link CannotStart} for a database of a newer Gemmel.
 */
export async function migrate(
  db: Db,
  before: (first: string) => Promise<unknown> = async () => undefined,
): Promise<void> {
  const turn = await db.transaction();
  try {
    await turn.raw("SELECT GET_LOCK(CONCAT(DATABASE(), ' tables'), ?)", [TURN]);
    const done = (await db.schema.hasTable('knex_migrations'))
      ? (await db('knex_migrations').select('name')).map((row) => row.name)
      : [];
    const known = new Set(migrations.map((m) => m.name));
    if (done.some((name) => !known.has(name)))
      throw new CannotStart(
        'This library has been opened by a newer Gemmel, and this older one would not understand it. Start the newer one again; nothing has been changed.',
      );
    if (done.length < migrations.length) {
      const { members, pictures } = await rowsOf(db, 'members', 'pictures');
      const [tables] = (await db.raw('SHOW TABLES')) as [unknown[]];
      if (tables.length && !members && !pictures) {
        // The lock ends with its connection, and so does every other of this process; the tables are ours until they are made.
        await turn.rollback();
        await beginAgain(db);
      } else {
        if (await db.schema.hasTable('knex_migrations_lock')) await db.migrate.forceFreeMigrationsLock();
        if (members || pictures) await before(migrations[done.length]!.name);
      }
    }
    await db.migrate.latest();
  } finally {
    if (!turn.isCompleted()) {
      await turn.raw("SELECT RELEASE_LOCK(CONCAT(DATABASE(), ' tables'))").catch(() => undefined);
      await turn.rollback().catch(() => undefined);
    }
  }
}
