import type { Knex } from 'knex';

/** When a relative was last in the parlour, and the time before: what is new is new since then. Can be repeated. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`ALTER TABLE members
    ADD COLUMN IF NOT EXISTS parlour_at DATETIME(3) NULL,
    ADD COLUMN IF NOT EXISTS parlour_before DATETIME(3) NULL`);
}
