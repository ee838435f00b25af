import type { Knex } from 'knex';

/** A second step at the door: a secret that one-time codes are made of, and codes for the day the telephone is lost. Can be repeated. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`ALTER TABLE accounts
    ADD COLUMN IF NOT EXISTS second VARBINARY(160) NULL,
    ADD COLUMN IF NOT EXISTS second_on BOOLEAN NOT NULL DEFAULT FALSE,
    ADD COLUMN IF NOT EXISTS second_step BIGINT UNSIGNED NULL`);
  await knex.raw(`CREATE TABLE IF NOT EXISTS spare_codes (
    account_id INT UNSIGNED NOT NULL,
    code_hash BINARY(32) NOT NULL,
    PRIMARY KEY (account_id, code_hash),
    FOREIGN KEY (account_id) REFERENCES accounts(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
}
