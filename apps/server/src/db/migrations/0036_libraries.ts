import type { Knex } from 'knex';

/** Libraries on disks of their own; removed ones, which may be brought back for a while; how much one member and one share may bring; pictures that go to another library. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`ALTER TABLE libraries
    ADD COLUMN IF NOT EXISTS removed_at DATETIME(3) NULL,
    ADD COLUMN IF NOT EXISTS erased_at DATETIME(3) NULL,
    ADD COLUMN IF NOT EXISTS home VARCHAR(700) NULL,
    ADD COLUMN IF NOT EXISTS member_most BIGINT UNSIGNED NULL,
    ADD COLUMN IF NOT EXISTS share_most BIGINT UNSIGNED NULL`);
  await knex.raw(`CREATE TABLE IF NOT EXISTS splits (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    to_library INT UNSIGNED NOT NULL,
    member_id INT UNSIGNED NULL,
    batch_id INT UNSIGNED NULL,
    state ENUM('giving', 'binning', 'done', 'stopped') NOT NULL DEFAULT 'giving',
    left_here INT UNSIGNED NOT NULL DEFAULT 0,
    created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    FOREIGN KEY (library_id) REFERENCES libraries(id) ON DELETE CASCADE,
    FOREIGN KEY (to_library) REFERENCES libraries(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
  await knex.raw(`CREATE TABLE IF NOT EXISTS split_pictures (
    split_id INT UNSIGNED NOT NULL,
    library_id INT UNSIGNED NOT NULL,
    picture_id INT UNSIGNED NOT NULL,
    sha256 BINARY(32) NOT NULL,
    restored BOOLEAN NOT NULL DEFAULT FALSE,
    PRIMARY KEY (split_id, picture_id),
    FOREIGN KEY (split_id) REFERENCES splits(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
}
