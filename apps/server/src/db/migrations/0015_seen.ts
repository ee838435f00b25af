import type { Knex } from 'knex';

/** Things and words seen in pictures, which are looked for when the keeper asks, and what somebody said is not so. Every step can be repeated. */
const STEPS = [
  `ALTER TABLE libraries
    ADD COLUMN IF NOT EXISTS observes_again VARCHAR(60) NOT NULL DEFAULT '',
    ADD COLUMN IF NOT EXISTS observes_paused VARCHAR(60) NOT NULL DEFAULT ''`,
  `CREATE TABLE IF NOT EXISTS observation_denied (
    library_id INT UNSIGNED NOT NULL,
    picture_id INT UNSIGNED NOT NULL,
    kind VARCHAR(24) COLLATE utf8mb4_bin NOT NULL,
    PRIMARY KEY (picture_id, kind),
    FOREIGN KEY (library_id) REFERENCES libraries(id),
    FOREIGN KEY (picture_id) REFERENCES pictures(id) ON DELETE CASCADE)`,
];

export async function up(knex: Knex): Promise<void> {
  for (const step of STEPS) await knex.raw(step);
}
