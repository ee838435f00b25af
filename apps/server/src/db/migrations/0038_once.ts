import type { Knex } from 'knex';

/** Acts that a device did without a line and sends later: which of them were done already, by the name the device gave them. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`CREATE TABLE IF NOT EXISTS acts_once (
    library_id INT UNSIGNED NOT NULL,
    name BINARY(16) NOT NULL,
    act_id INT UNSIGNED NULL,
    at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    PRIMARY KEY (library_id, name),
    INDEX by_age (at),
    FOREIGN KEY (library_id) REFERENCES libraries(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
}
