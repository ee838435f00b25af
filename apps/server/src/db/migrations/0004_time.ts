import type { Knex } from 'knex';

/** Clocks that disagree and how they were answered; events that people have shaped. */
const STEPS = [
  `CREATE TABLE clock_offers (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    device_id INT UNSIGNED NOT NULL,
    from_local DATETIME(3) NOT NULL,
    to_local DATETIME(3) NOT NULL,
    shift_seconds INT NOT NULL,
    pairs INT UNSIGNED NOT NULL,
    occasions INT UNSIGNED NOT NULL,
    spread_seconds INT UNSIGNED NOT NULL,
    kind VARCHAR(20) NOT NULL,
    state ENUM('open','mended','declined') NOT NULL DEFAULT 'open',
    created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    INDEX (library_id, state),
    FOREIGN KEY (library_id) REFERENCES libraries(id),
    FOREIGN KEY (device_id) REFERENCES devices(id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `CREATE TABLE clock_examples (
    offer_id INT UNSIGNED NOT NULL,
    library_id INT UNSIGNED NOT NULL,
    position TINYINT UNSIGNED NOT NULL,
    picture_id INT UNSIGNED NOT NULL,
    other_id INT UNSIGNED NOT NULL,
    PRIMARY KEY (offer_id, position),
    FOREIGN KEY (offer_id) REFERENCES clock_offers(id) ON DELETE CASCADE,
    FOREIGN KEY (picture_id) REFERENCES pictures(id),
    FOREIGN KEY (other_id) REFERENCES pictures(id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `ALTER TABLE pictures ADD clock_id INT UNSIGNED NULL, ADD INDEX by_clock (library_id, clock_id)`,
];

export async function up(knex: Knex): Promise<void> {
  for (const step of STEPS) await knex.raw(step);
}
