import type { Knex } from 'knex';

/**
 * Views: how a picture is shown, keyed by its original and its recipe. `width` and `height` are those of what is shown, `whole_width`
 * and `whole_height` those of the picture as it was taken where a recipe changed them. Each step can be repeated.
 */
const STEPS = [
  `ALTER TABLE pictures
    ADD COLUMN IF NOT EXISTS recipe TEXT CHARACTER SET ascii NULL,
    ADD COLUMN IF NOT EXISTS view BINARY(32) NULL,
    ADD COLUMN IF NOT EXISTS whole_width INT UNSIGNED NULL,
    ADD COLUMN IF NOT EXISTS whole_height INT UNSIGNED NULL,
    ADD COLUMN IF NOT EXISTS thumb_view BINARY(32) NULL,
    ADD INDEX IF NOT EXISTS by_view (library_id, view, thumb_view)`,
  'ALTER TABLE pictures ADD COLUMN IF NOT EXISTS shown BINARY(32) AS (COALESCE(view, sha256)) VIRTUAL',
  `CREATE TABLE IF NOT EXISTS picture_looks (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    picture_id INT UNSIGNED NOT NULL,
    member_id INT UNSIGNED NULL,
    recipe TEXT CHARACTER SET ascii NULL,
    at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    INDEX (picture_id, id),
    FOREIGN KEY (library_id) REFERENCES libraries(id),
    FOREIGN KEY (picture_id) REFERENCES pictures(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  'ALTER TABLE libraries ADD COLUMN IF NOT EXISTS looks_kept SMALLINT UNSIGNED NULL',
];

export async function up(knex: Knex): Promise<void> {
  for (const step of STEPS) await knex.raw(step);
}
