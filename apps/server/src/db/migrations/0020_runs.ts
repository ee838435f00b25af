import type { Knex } from 'knex';

/** Bands of a perceptual hash, from its lowest bit up: hashes that differ in six bits at most are equal in one of the seven. */
const BANDS = [
  [0, 10],
  [10, 9],
  [19, 9],
  [28, 9],
  [37, 9],
  [46, 9],
  [55, 9],
] as const;

/** Runs and doubles: shots of one moment, the same picture twice, and what somebody said of both. Each step can be repeated. */
const STEPS = [
  `ALTER TABLE pictures
    ADD COLUMN IF NOT EXISTS run_id INT UNSIGNED NULL,
    ADD COLUMN IF NOT EXISTS run_first BOOLEAN NOT NULL DEFAULT FALSE,
    ADD COLUMN IF NOT EXISTS chosen BOOLEAN NOT NULL DEFAULT FALSE,
    ADD COLUMN IF NOT EXISTS grouped_at DATETIME(3) NULL,
    ADD INDEX IF NOT EXISTS by_run (library_id, run_id, chosen),
    ADD INDEX IF NOT EXISTS grouped (library_id, grouped_at, taken_local)`,
  `ALTER TABLE pictures
    ${BANDS.map(([from, wide], i) => `ADD COLUMN IF NOT EXISTS band${i} SMALLINT UNSIGNED AS ((likeness >> ${from}) & ${(1 << wide) - 1}) VIRTUAL`).join(',\n    ')}`,
  `ALTER TABLE pictures
    ${BANDS.map((_, i) => `ADD INDEX IF NOT EXISTS band${i} (library_id, band${i}, likeness)`).join(',\n    ')}`,
  `ALTER TABLE faces
    ADD COLUMN IF NOT EXISTS sharp FLOAT NULL AFTER eyes,
    ADD COLUMN IF NOT EXISTS turn FLOAT NULL AFTER sharp`,
  `CREATE TABLE IF NOT EXISTS doubles_apart (
    library_id INT UNSIGNED NOT NULL,
    picture_id INT UNSIGNED NOT NULL,
    other_id INT UNSIGNED NOT NULL,
    PRIMARY KEY (picture_id, other_id),
    INDEX (other_id),
    FOREIGN KEY (library_id) REFERENCES libraries(id),
    FOREIGN KEY (picture_id) REFERENCES pictures(id) ON DELETE CASCADE,
    FOREIGN KEY (other_id) REFERENCES pictures(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
];

export async function up(knex: Knex): Promise<void> {
  for (const step of STEPS) await knex.raw(step);
}
