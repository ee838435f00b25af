import type { Knex } from 'knex';

/** What is made of pictures: books, prints, films and more, each kept with how it is made; the files that were made of them; and digital frames. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`CREATE TABLE IF NOT EXISTS pieces (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    kind VARCHAR(16) CHARACTER SET ascii NOT NULL,
    name VARCHAR(160) NOT NULL,
    source MEDIUMTEXT NOT NULL,
    settings TEXT NOT NULL,
    edits MEDIUMTEXT NULL,
    made_by INT UNSIGNED NULL,
    created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
    removed_at DATETIME(3) NULL,
    INDEX by_library (library_id),
    FOREIGN KEY (library_id) REFERENCES libraries(id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
  await knex.raw(`CREATE TABLE IF NOT EXISTS frames (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    token_hash BINARY(32) NOT NULL UNIQUE,
    sealed VARBINARY(200) NOT NULL,
    name VARCHAR(160) NOT NULL,
    source MEDIUMTEXT NOT NULL,
    settings TEXT NOT NULL,
    at BIGINT UNSIGNED NOT NULL DEFAULT 0,
    seen_at DATETIME(3) NULL,
    created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
    INDEX by_library (library_id),
    FOREIGN KEY (library_id) REFERENCES libraries(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
  await knex.raw(`CREATE TABLE IF NOT EXISTS piece_files (
    piece_id INT UNSIGNED NOT NULL PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    made_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    folder VARCHAR(80) CHARACTER SET ascii NOT NULL,
    made_of BINARY(32) NOT NULL,
    files MEDIUMTEXT NOT NULL,
    receipt TEXT NULL,
    FOREIGN KEY (piece_id) REFERENCES pieces(id) ON DELETE CASCADE,
    FOREIGN KEY (library_id) REFERENCES libraries(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
}
