import type { Knex } from 'knex';

/**
 * Shows that are kept with their settings, the household's own music, and screens on a wall that play a show without anybody signed in. Each step
 * can be repeated.
 */
const STEPS = [
  `CREATE TABLE IF NOT EXISTS shows (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    name VARCHAR(160) NOT NULL,
    source MEDIUMTEXT NOT NULL,
    settings TEXT NOT NULL,
    made_by INT UNSIGNED NULL,
    created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
    removed_at DATETIME(3) NULL,
    INDEX by_library (library_id),
    FOREIGN KEY (library_id) REFERENCES libraries(id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `CREATE TABLE IF NOT EXISTS music (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    sha256 BINARY(32) NOT NULL,
    title VARCHAR(160) NOT NULL,
    artist VARCHAR(160) NULL,
    seconds DOUBLE NOT NULL,
    format VARCHAR(8) CHARACTER SET ascii NOT NULL,
    file VARCHAR(255) NOT NULL,
    bytes BIGINT UNSIGNED NOT NULL,
    added_by INT UNSIGNED NULL,
    created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
    removed_at DATETIME(3) NULL,
    UNIQUE INDEX once (library_id, sha256),
    FOREIGN KEY (library_id) REFERENCES libraries(id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `CREATE TABLE IF NOT EXISTS walls (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    token_hash BINARY(32) NOT NULL UNIQUE,
    code CHAR(6) CHARACTER SET ascii NULL UNIQUE,
    code_until DATETIME(3) NULL,
    library_id INT UNSIGNED NULL,
    name VARCHAR(160) NULL,
    show_id INT UNSIGNED NULL,
    source MEDIUMTEXT NULL,
    confirmed_by INT UNSIGNED NULL,
    created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
    seen_at DATETIME(3) NULL,
    INDEX by_library (library_id),
    FOREIGN KEY (library_id) REFERENCES libraries(id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
];

export async function up(knex: Knex): Promise<void> {
  for (const step of STEPS) await knex.raw(step);
}
