import type { Knex } from 'knex';

/** The address by which guests reach a library. Can be repeated. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw('ALTER TABLE libraries ADD COLUMN IF NOT EXISTS address VARCHAR(200) NULL');
}
