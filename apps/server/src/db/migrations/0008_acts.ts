import type { Knex } from 'knex';

/**
 * What people did, so that it can be taken back; what changed, so that every process and browser hears of it; jobs that carry
 * something, tell how far they are, and can be called off. Each step can be repeated.
 */
const STEPS = [
  `CREATE TABLE IF NOT EXISTS acts (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    member_id INT UNSIGNED NULL,
    kind VARCHAR(30) NOT NULL,
    words TEXT NOT NULL,
    pictures INT UNSIGNED NOT NULL DEFAULT 0,
    changes LONGBLOB NULL,
    undoes_id INT UNSIGNED NULL,
    undone_by INT UNSIGNED NULL,
    at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    INDEX by_library (library_id, undoes_id, id),
    INDEX by_member (library_id, member_id, undoes_id, id),
    INDEX by_age (library_id, at),
    FOREIGN KEY (library_id) REFERENCES libraries(id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `CREATE TABLE IF NOT EXISTS act_pictures (
    library_id INT UNSIGNED NOT NULL,
    picture_id INT UNSIGNED NOT NULL,
    act_id INT UNSIGNED NOT NULL,
    PRIMARY KEY (picture_id, act_id),
    INDEX (act_id),
    FOREIGN KEY (act_id) REFERENCES acts(id) ON DELETE CASCADE,
    FOREIGN KEY (picture_id) REFERENCES pictures(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `CREATE TABLE IF NOT EXISTS changes (
    id BIGINT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    topic VARCHAR(20) NOT NULL,
    ids TEXT CHARACTER SET ascii NULL,
    at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    INDEX (at)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `ALTER TABLE jobs
    ADD COLUMN IF NOT EXISTS payload TEXT NULL,
    ADD COLUMN IF NOT EXISTS progress TEXT NULL,
    ADD COLUMN IF NOT EXISTS result TEXT NULL,
    ADD COLUMN IF NOT EXISTS cancelled BOOLEAN NOT NULL DEFAULT FALSE,
    MODIFY COLUMN state ENUM('ready','running','failed','done') NOT NULL DEFAULT 'ready',
    ADD INDEX IF NOT EXISTS leases (state, taken_at)`,
  // The last change of how sure recognition must be of which it is noted what was filed after it.
  'ALTER TABLE libraries ADD COLUMN IF NOT EXISTS filed_act INT UNSIGNED NULL',
  // Files that may belong together are found by a key, not by pairing the whole batch again.
  `ALTER TABLE batch_items
    ADD COLUMN IF NOT EXISTS pair BINARY(8) NULL,
    ADD COLUMN IF NOT EXISTS owner VARCHAR(120) CHARACTER SET ascii NULL,
    ADD INDEX IF NOT EXISTS by_pair (batch_id, pair)`,
  `ALTER TABLE albums
    ADD COLUMN IF NOT EXISTS batch_id INT UNSIGNED NULL,
    ADD INDEX IF NOT EXISTS by_batch (batch_id)`,
  'UPDATE albums a JOIN batches b ON b.album_id = a.id SET a.batch_id = b.id WHERE a.batch_id IS NULL',
];

export async function up(knex: Knex): Promise<void> {
  for (const step of STEPS) await knex.raw(step);
}
