import type { Knex } from 'knex';

const KEY = 'VARCHAR(160) CHARACTER SET ascii COLLATE ascii_bin';

/**
 * Albums in an order that is written one row at a time (see core's `keysBetween`), with days, a cover, chapters, and who put what in;
 * shelves that hold albums and shelves; pictures a smart album was given or is to leave out by hand; what an album holds, kept with the news
 * it was counted by; which albums are not written into the open yet, and into which albums sidecars that came in say their pictures belong. Numbers that stood for places before become keys of the same order. Each step can be repeated.
 */
const STEPS = [
  `CREATE TABLE IF NOT EXISTS shelves (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    parent_id INT UNSIGNED NULL,
    name VARCHAR(160) NOT NULL,
    position ${KEY} NOT NULL,
    sorted ENUM('hand','name','latest') NOT NULL DEFAULT 'hand',
    created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
    INDEX by_parent (library_id, parent_id),
    FOREIGN KEY (library_id) REFERENCES libraries(id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `ALTER TABLE libraries ADD COLUMN IF NOT EXISTS albums_sorted ENUM('hand','name','latest') NOT NULL DEFAULT 'name'`,
  `ALTER TABLE albums
    ADD COLUMN IF NOT EXISTS shelf_id INT UNSIGNED NULL,
    ADD COLUMN IF NOT EXISTS position ${KEY} NOT NULL DEFAULT '',
    ADD COLUMN IF NOT EXISTS from_day DATE NULL,
    ADD COLUMN IF NOT EXISTS to_day DATE NULL,
    ADD COLUMN IF NOT EXISTS cover_id INT UNSIGNED NULL,
    ADD COLUMN IF NOT EXISTS sorted ENUM('hand','date','name','stars','size') NOT NULL DEFAULT 'hand',
    ADD COLUMN IF NOT EXISTS backwards BOOLEAN NOT NULL DEFAULT FALSE,
    ADD COLUMN IF NOT EXISTS best VARCHAR(200) CHARACTER SET ascii NULL,
    ADD COLUMN IF NOT EXISTS made_by INT UNSIGNED NULL,
    ADD COLUMN IF NOT EXISTS version INT UNSIGNED NOT NULL DEFAULT 0,
    ADD COLUMN IF NOT EXISTS unwritten INT UNSIGNED NOT NULL DEFAULT 1,
    ADD COLUMN IF NOT EXISTS manifest VARCHAR(255) CHARACTER SET utf8mb4 NULL,
    ADD INDEX IF NOT EXISTS by_shelf (library_id, shelf_id)`,
  `UPDATE albums SET position = CONCAT('i', LPAD(id, 9, '0')) WHERE position = ''`,
  `UPDATE albums SET sorted = 'date' WHERE kind = 'smart' AND sorted = 'hand'`,
  `ALTER TABLE album_pictures
    MODIFY position ${KEY} NOT NULL,
    ADD COLUMN IF NOT EXISTS added_by INT UNSIGNED NULL,
    ADD COLUMN IF NOT EXISTS added_at DATETIME(3) NULL`,
  `UPDATE album_pictures SET position = CONCAT('i', LPAD(position, 9, '0')) WHERE position REGEXP '^[0-9]+$'`,
  `CREATE TABLE IF NOT EXISTS album_chapters (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    album_id INT UNSIGNED NOT NULL,
    position ${KEY} NOT NULL,
    heading VARCHAR(160) NULL,
    note TEXT NULL,
    INDEX by_album (album_id, position),
    FOREIGN KEY (library_id) REFERENCES libraries(id),
    FOREIGN KEY (album_id) REFERENCES albums(id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `CREATE TABLE IF NOT EXISTS album_hand (
    library_id INT UNSIGNED NOT NULL,
    album_id INT UNSIGNED NOT NULL,
    picture_id INT UNSIGNED NOT NULL,
    way ENUM('in','out') NOT NULL,
    PRIMARY KEY (album_id, picture_id),
    INDEX by_picture (picture_id),
    FOREIGN KEY (library_id) REFERENCES libraries(id),
    FOREIGN KEY (album_id) REFERENCES albums(id),
    FOREIGN KEY (picture_id) REFERENCES pictures(id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `CREATE TABLE IF NOT EXISTS albums_said (
    batch_id INT UNSIGNED NOT NULL,
    library_id INT UNSIGNED NOT NULL,
    picture_id INT UNSIGNED NOT NULL,
    name VARCHAR(160) NOT NULL,
    PRIMARY KEY (batch_id, picture_id, name),
    FOREIGN KEY (library_id) REFERENCES libraries(id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `CREATE TABLE IF NOT EXISTS album_facts (
    album_id INT UNSIGNED NOT NULL PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    pictures INT UNSIGNED NOT NULL,
    from_day DATE NULL,
    to_day DATE NULL,
    cover_id INT UNSIGNED NULL,
    news VARCHAR(500) CHARACTER SET ascii NOT NULL,
    INDEX by_library (library_id),
    FOREIGN KEY (library_id) REFERENCES libraries(id),
    FOREIGN KEY (album_id) REFERENCES albums(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
];

export async function up(knex: Knex): Promise<void> {
  for (const step of STEPS) await knex.raw(step);
}
