import type { Knex } from 'knex';

/** What a member has looked at of what is new, how often a letter tells it, and browsers that are told. Can be repeated. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`ALTER TABLE members
    ADD COLUMN IF NOT EXISTS noticed_at DATETIME(3) NULL,
    ADD COLUMN IF NOT EXISTS digest ENUM('never','daily','weekly') NOT NULL DEFAULT 'never',
    ADD COLUMN IF NOT EXISTS digest_at DATETIME(3) NULL,
    ADD COLUMN IF NOT EXISTS pushed_at DATETIME(3) NULL,
    ADD INDEX IF NOT EXISTS by_digest (digest, digest_at)`);
  await knex.raw(`CREATE TABLE IF NOT EXISTS push_places (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    member_id INT UNSIGNED NOT NULL,
    endpoint VARCHAR(1000) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    endpoint_hash BINARY(32) NOT NULL,
    p256dh VARCHAR(100) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    auth VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    failed INT UNSIGNED NOT NULL DEFAULT 0,
    created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    UNIQUE (member_id, endpoint_hash),
    FOREIGN KEY (member_id) REFERENCES members(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
}
