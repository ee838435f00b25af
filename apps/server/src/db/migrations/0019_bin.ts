import type { Knex } from 'knex';

/**
 * The bin. A picture in it has left every other table: its row and what hung on it are packed with it, so that no view, count or
 * share can show it. What came in and what moves on disk may speak of pictures that are there no longer. Each step can be repeated.
 */
const STEPS = [
  `CREATE TABLE IF NOT EXISTS binned (
    id INT UNSIGNED PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    sha256 BINARY(32) NOT NULL,
    kind ENUM('photo','video') NOT NULL,
    name VARCHAR(255) COLLATE utf8mb4_bin NOT NULL,
    came_as VARCHAR(255) COLLATE utf8mb4_bin NOT NULL,
    bytes BIGINT UNSIGNED NOT NULL,
    width INT UNSIGNED NOT NULL,
    height INT UNSIGNED NOT NULL,
    seconds FLOAT NULL,
    thumb VARBINARY(64) NOT NULL,
    taken_local DATETIME(3) NULL,
    taken_certainty FLOAT NULL,
    device_id INT UNSIGNED NULL,
    at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    member_id INT UNSIGNED NULL,
    state ENUM('in','going','gone') NOT NULL DEFAULT 'in',
    kept LONGBLOB NULL,
    described LONGBLOB NULL,
    INDEX in_bin (library_id, state, at, id),
    INDEX by_content (library_id, sha256),
    INDEX by_device (library_id, device_id),
    FOREIGN KEY (library_id) REFERENCES libraries(id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `CREATE TABLE IF NOT EXISTS binned_files (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    picture_id INT UNSIGNED NOT NULL,
    file_id INT UNSIGNED NULL,
    sha256 BINARY(32) NOT NULL,
    name VARCHAR(255) COLLATE utf8mb4_bin NOT NULL,
    vault_path VARCHAR(600) COLLATE utf8mb4_bin NOT NULL,
    bytes BIGINT UNSIGNED NOT NULL,
    verified_at DATETIME(3) NULL,
    broken_at DATETIME(3) NULL,
    UNIQUE (library_id, vault_path),
    INDEX (library_id, sha256),
    INDEX (library_id, bytes),
    FOREIGN KEY (library_id) REFERENCES libraries(id),
    FOREIGN KEY (picture_id) REFERENCES binned(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  'ALTER TABLE libraries ADD COLUMN IF NOT EXISTS bin_days SMALLINT UNSIGNED NULL DEFAULT 30',
];

/** Tables that may speak of a picture that is in the bin. */
const LOOSE = ['batch_items', 'vault_moves'];

/** Takes away what ties a column of a table to the pictures, by whatever name the database gave it. */
async function loosen(knex: Knex, table: string): Promise<void> {
  const [ties] = (await knex.raw(
    `SELECT CONSTRAINT_NAME AS name FROM information_schema.KEY_COLUMN_USAGE
     WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = ? AND REFERENCED_TABLE_NAME IN ('pictures', 'picture_files')`,
    [table],
  )) as [{ name: string }[]];
  for (const { name } of ties) await knex.raw('ALTER TABLE ?? DROP FOREIGN KEY ??', [table, name]);
}

export async function up(knex: Knex): Promise<void> {
  for (const step of STEPS) await knex.raw(step);
  for (const table of LOOSE) await loosen(knex, table);
}
