import type { Knex } from 'knex';

/**
 * Whose turn it is to do a kind of act; where a file that is being taken in was put; stored files that were found damaged or
 * gone, and files that came again and put them right. Each step can be repeated, since a cut in the middle of them is not
 * undone.
 */
const STEPS = [
  `CREATE TABLE IF NOT EXISTS turns (
    library_id INT UNSIGNED NOT NULL,
    act VARCHAR(20) NOT NULL,
    PRIMARY KEY (library_id, act)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `ALTER TABLE batch_items
    ADD COLUMN IF NOT EXISTS placed VARCHAR(600) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NULL,
    ADD COLUMN IF NOT EXISTS mended BOOLEAN NOT NULL DEFAULT FALSE`,
  'ALTER TABLE pictures ADD COLUMN IF NOT EXISTS broken_at DATETIME(3) NULL',
  'ALTER TABLE picture_files ADD COLUMN IF NOT EXISTS broken_at DATETIME(3) NULL',
  'ALTER TABLE vault_moves ADD INDEX IF NOT EXISTS by_target (library_id, to_path(200))',
];

export async function up(knex: Knex): Promise<void> {
  for (const step of STEPS) await knex.raw(step);
}
