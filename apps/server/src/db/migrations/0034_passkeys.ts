import type { Knex } from 'knex';

/** Passkeys of accounts (WebAuthn level 3), and challenges that were answered: each is good once. Can be repeated. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`CREATE TABLE IF NOT EXISTS passkeys (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    account_id INT UNSIGNED NOT NULL,
    credential_hash BINARY(32) NOT NULL UNIQUE,
    credential VARBINARY(1023) NOT NULL,
    public_key VARBINARY(2000) NOT NULL,
    counter BIGINT UNSIGNED NOT NULL DEFAULT 0,
    transports VARCHAR(120) CHARACTER SET ascii NOT NULL DEFAULT '',
    name VARCHAR(80) NOT NULL,
    created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    used_at DATETIME(3) NULL,
    INDEX (account_id),
    FOREIGN KEY (account_id) REFERENCES accounts(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
  await knex.raw(`CREATE TABLE IF NOT EXISTS passkey_answers (
    challenge_hash BINARY(32) NOT NULL PRIMARY KEY,
    at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    INDEX (at)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
}
