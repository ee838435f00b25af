import knexLib, { type Knex } from 'knex';
import type { DbAddress } from './mariadb';
import * as m0001 from './migrations/0001_foundations';
import * as m0002 from './migrations/0002_face_counts';
import * as m0003 from './migrations/0003_gather';
import * as m0004 from './migrations/0004_time';
import * as m0005 from './migrations/0005_places';
import * as m0006 from './migrations/0006_people';

export type Db = Knex;

const migrations = [
  { name: '0001_foundations', steps: m0001 },
  { name: '0002_face_counts', steps: m0002 },
  { name: '0003_gather', steps: m0003 },
  { name: '0004_time', steps: m0004 },
  { name: '0005_places', steps: m0005 },
  { name: '0006_people', steps: m0006 },
];

/** A static list instead of a directory scan: works the same from sources, in a bundle and in tests. Only forward. */
const migrationSource: Knex.MigrationSource<(typeof migrations)[number]> = {
  getMigrations: async () => migrations,
  getMigrationName: (m) => m.name,
  getMigration: async (m) => ({ up: m.steps.up, down: async () => undefined }),
};

/** Opens the database. Dates come and go as plain strings, so that no time zone can creep in. */
export function openDb(address: DbAddress): Db {
  return knexLib({
    client: 'mysql2',
    connection: { ...address, charset: 'utf8mb4', timezone: 'Z', dateStrings: true, supportBigNumbers: true },
    pool: { min: 0, max: 10 },
    migrations: { migrationSource },
  });
}

/** Brings the tables up to date. */
export async function migrate(db: Db): Promise<void> {
  await db.migrate.latest();
}
