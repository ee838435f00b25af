import type { Knex } from 'knex';

/** The time zone of a library; null for that of the machine. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(
    'ALTER TABLE libraries ADD COLUMN IF NOT EXISTS zone VARCHAR(64) CHARACTER SET ascii NULL AFTER language',
  );
}
