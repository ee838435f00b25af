import type { Knex } from 'knex';

/**
 * Places that hold a second copy of everything, what was done with them, and which originals each holds: `read_at` is when a copy was
 * read back and was right. `safe_listed` are the originals of a backup that is being made, `safe_mends`
 * originals that were found damaged, and what became of them. Can be repeated.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`CREATE TABLE IF NOT EXISTS safe_places (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    kind ENUM('folder','bucket','machine') NOT NULL,
    name VARCHAR(80) NOT NULL,
    location VARCHAR(1000) NOT NULL,
    host_key VARCHAR(1000) CHARACTER SET ascii NULL,
    sealed VARBINARY(8000) NOT NULL,
    often ENUM('daily','weekly','shows','hand') NOT NULL DEFAULT 'daily',
    hour TINYINT UNSIGNED NOT NULL DEFAULT 2,
    kilobytes INT UNSIGNED NULL,
    paused TINYINT(1) NOT NULL DEFAULT 0,
    repository CHAR(64) CHARACTER SET ascii NULL,
    config_hash BINARY(32) NULL,
    there TINYINT(1) NOT NULL DEFAULT 1,
    seen_at DATETIME(3) NULL,
    tried_at DATETIME(3) NULL,
    pruned_at DATETIME(3) NULL,
    created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    INDEX (library_id),
    FOREIGN KEY (library_id) REFERENCES libraries(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
  await knex.raw(`CREATE TABLE IF NOT EXISTS safe_runs (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    place_id INT UNSIGNED NOT NULL,
    kind ENUM('backup','part','rehearsal') NOT NULL,
    state ENUM('running','done','stopped','failed') NOT NULL DEFAULT 'running',
    step ENUM('still','copying','proving','thinning','words','originals') NULL,
    began_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    ended_at DATETIME(3) NULL,
    still_at DATETIME(3) NULL,
    act_id INT UNSIGNED NULL,
    snapshot CHAR(64) CHARACTER SET ascii NULL,
    files INT UNSIGNED NOT NULL DEFAULT 0,
    bytes BIGINT UNSIGNED NOT NULL DEFAULT 0,
    added BIGINT UNSIGNED NOT NULL DEFAULT 0,
    proven INT UNSIGNED NOT NULL DEFAULT 0,
    wrong INT UNSIGNED NOT NULL DEFAULT 0,
    error VARCHAR(1000) NULL,
    INDEX by_place (place_id, kind, id),
    FOREIGN KEY (place_id) REFERENCES safe_places(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
  await knex.raw(`CREATE TABLE IF NOT EXISTS safe_copies (
    place_id INT UNSIGNED NOT NULL,
    library_id INT UNSIGNED NOT NULL,
    sha256 BINARY(32) NOT NULL,
    path VARCHAR(700) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
    bytes BIGINT UNSIGNED NOT NULL,
    run_id INT UNSIGNED NOT NULL,
    read_at DATETIME(3) NULL,
    PRIMARY KEY (place_id, library_id, sha256),
    INDEX by_picture (library_id, sha256, read_at),
    INDEX unread (place_id, read_at, library_id, path(100)),
    FOREIGN KEY (place_id) REFERENCES safe_places(id) ON DELETE CASCADE,
    FOREIGN KEY (library_id) REFERENCES libraries(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
  await knex.raw(`CREATE TABLE IF NOT EXISTS safe_listed (
    place_id INT UNSIGNED NOT NULL,
    library_id INT UNSIGNED NOT NULL,
    sha256 BINARY(32) NOT NULL,
    path VARCHAR(700) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
    bytes BIGINT UNSIGNED NOT NULL,
    PRIMARY KEY (place_id, library_id, sha256),
    FOREIGN KEY (place_id) REFERENCES safe_places(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
  await knex.raw(`CREATE TABLE IF NOT EXISTS safe_mends (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    sha256 BINARY(32) NOT NULL,
    path VARCHAR(700) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
    found_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    mended_at DATETIME(3) NULL,
    place VARCHAR(80) NULL,
    INDEX (library_id, sha256),
    FOREIGN KEY (library_id) REFERENCES libraries(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
}
