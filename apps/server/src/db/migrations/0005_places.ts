import type { Knex } from 'knex';
import { createHash } from 'node:crypto';
import { dirname } from 'node:path/posix';

/**
 * Dates that only know a month, a season or a year; the folders pictures came in; places with names of the household's own;
 * events with a cover and a place; how the vault is laid out.
 */
const STEPS = [
  `CREATE TABLE folders (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    parent_id INT UNSIGNED NULL,
    name VARCHAR(255) COLLATE utf8mb4_bin NOT NULL,
    path_hash BINARY(32) NOT NULL,
    UNIQUE (library_id, path_hash),
    INDEX (parent_id),
    FOREIGN KEY (library_id) REFERENCES libraries(id),
    FOREIGN KEY (parent_id) REFERENCES folders(id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `CREATE TABLE own_places (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    name VARCHAR(120) NOT NULL,
    lat DOUBLE NOT NULL,
    lon DOUBLE NOT NULL,
    metres INT UNSIGNED NOT NULL,
    hidden BOOLEAN NOT NULL DEFAULT FALSE,
    INDEX (library_id),
    FOREIGN KEY (library_id) REFERENCES libraries(id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `ALTER TABLE pictures
    ADD taken_exact VARCHAR(8) NULL AFTER taken_certainty,
    ADD taken_from DATE NULL AFTER taken_exact,
    ADD taken_to DATE NULL AFTER taken_from,
    ADD taken_about BOOLEAN NOT NULL DEFAULT FALSE AFTER taken_to,
    ADD own_place_id INT UNSIGNED NULL,
    ADD place_source VARCHAR(12) NULL,
    ADD place_km FLOAT NULL,
    ADD folder_id INT UNSIGNED NULL,
    MODIFY region VARCHAR(120) COLLATE utf8mb4_bin NULL,
    ADD FOREIGN KEY (own_place_id) REFERENCES own_places(id) ON DELETE SET NULL,
    ADD FOREIGN KEY (folder_id) REFERENCES folders(id),
    ADD INDEX by_spot (library_id, lat, lon),
    ADD INDEX by_own_place (library_id, own_place_id),
    ADD INDEX by_folder (library_id, folder_id)`,
  // A day of any year is no answer for what only knows its month, a month none for what only knows its year.
  `ALTER TABLE pictures DROP INDEX by_month_day, DROP COLUMN month_day`,
  `ALTER TABLE pictures
    ADD month_day SMALLINT UNSIGNED AS (CASE
      WHEN taken_exact IS NULL OR taken_exact = 'day' THEN MONTH(day) * 100 + DAYOFMONTH(day)
      WHEN taken_exact = 'month' THEN MONTH(day) * 100 END) PERSISTENT,
    ADD INDEX by_month_day (library_id, month_day)`,
  // The timeline answers by itself whether what only knows some days lies in those asked for.
  `ALTER TABLE pictures DROP INDEX timeline,
    ADD INDEX timeline (library_id, taken_local, id, taken_exact, taken_from, taken_to)`,
  `ALTER TABLE events
    ADD cover_id INT UNSIGNED NULL,
    ADD place VARCHAR(160) NULL,
    ADD span_by_hand BOOLEAN NOT NULL DEFAULT FALSE,
    ADD FOREIGN KEY (cover_id) REFERENCES pictures(id) ON DELETE SET NULL`,
  `ALTER TABLE libraries ADD layout VARCHAR(20) NOT NULL DEFAULT 'year/event'`,
  `ALTER TABLE shares ADD tell_places BOOLEAN NOT NULL DEFAULT FALSE`,
];

/** The folder a picture came in, as it was kept when this step was written: steps import nothing that goes on living. */
async function folderOf(knex: Knex, library: number, top: string, path: string): Promise<number> {
  const below = path.split('/').filter((part) => part && part !== '.');
  let parent: number | null = null;
  let way = '';
  for (const part of below[0] === top ? below : [top, ...below]) {
    const name = [...part].slice(0, 255).join('');
    way += `/${name}`;
    const path_hash = createHash('sha256').update(way).digest();
    const find = () =>
      knex('folders').where({ library_id: library, path_hash }).first('id') as Promise<{ id: number } | undefined>;
    if (!(await find()))
      await knex('folders').insert({ library_id: library, parent_id: parent, name, path_hash }).onConflict().ignore();
    parent = (await find())!.id;
  }
  return parent!;
}

/** Gives pictures that are here already the folder they came in. */
async function rememberFolders(knex: Knex): Promise<void> {
  const rows = (await knex('pictures as p')
    .join('batch_items as i', (on) => on.on('i.picture_id', 'p.id').andOn('i.batch_id', 'p.batch_id'))
    .join('batches as b', 'b.id', 'p.batch_id')
    .where('i.state', 'stored')
    .select('p.id', 'p.library_id', 'b.name', 'i.path')) as {
    id: number;
    library_id: number;
    name: string;
    path: string;
  }[];
  for (const row of rows)
    await knex('pictures')
      .where('id', row.id)
      .update({ folder_id: await folderOf(knex, row.library_id, row.name, dirname(row.path)) });
}

export async function up(knex: Knex): Promise<void> {
  for (const step of STEPS) await knex.raw(step);
  await rememberFolders(knex);
}
