import type { Knex } from 'knex';

/**
 * Scans: a picture may be a look at another one's original (`of_sha`: a print cut out of a scan, a second look), and two may be front
 * and back of one print (`pair_id`: the number of the front). `glasses` are pictures on which prints lie on the glass of a scanner.
 * A folder may be shown under another name than it came with. Each step can be repeated.
 */
const STEPS = [
  'ALTER TABLE folders ADD COLUMN IF NOT EXISTS came_as VARCHAR(255) CHARACTER SET utf8mb4 NULL',
  `ALTER TABLE pictures
    ADD COLUMN IF NOT EXISTS of_sha BINARY(32) NULL,
    ADD COLUMN IF NOT EXISTS pair_id INT UNSIGNED NULL,
    ADD INDEX IF NOT EXISTS by_original (library_id, of_sha),
    ADD INDEX IF NOT EXISTS by_pair (library_id, pair_id)`,
  `ALTER TABLE binned
    ADD COLUMN IF NOT EXISTS of_sha BINARY(32) NULL,
    ADD COLUMN IF NOT EXISTS view BINARY(32) NULL,
    ADD INDEX IF NOT EXISTS by_view (library_id, view),
    ADD INDEX IF NOT EXISTS by_original (library_id, of_sha)`,
  `CREATE TABLE IF NOT EXISTS glasses (
    picture_id INT UNSIGNED NOT NULL PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    prints TEXT CHARACTER SET ascii NOT NULL,
    found BOOLEAN AS (prints <> '[]') PERSISTENT,
    turned BOOLEAN NOT NULL DEFAULT FALSE,
    denied BOOLEAN NOT NULL DEFAULT FALSE,
    INDEX by_found (library_id, found, denied),
    INDEX by_turned (library_id, turned, denied),
    FOREIGN KEY (library_id) REFERENCES libraries(id),
    FOREIGN KEY (picture_id) REFERENCES pictures(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  // What is here already is looked at, too: what no camera took.
  `INSERT IGNORE INTO glasses (picture_id, library_id, prints)
    SELECT id, library_id, '[]' FROM pictures WHERE kind = 'photo' AND exposure IS NULL AND recipe IS NULL`,
  `INSERT IGNORE INTO jobs (library_id, kind, about, priority, run_after)
    SELECT DISTINCT library_id, 'prints', 0, 6, UTC_TIMESTAMP(3) FROM glasses`,
];

export async function up(knex: Knex): Promise<void> {
  for (const step of STEPS) await knex.raw(step);
}
