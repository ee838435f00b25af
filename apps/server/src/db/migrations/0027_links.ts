import type { Knex } from 'knex';

/** The link of a share, sealed with the server's own key, so that the keeper can copy it again. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw('ALTER TABLE shares ADD COLUMN IF NOT EXISTS sealed VARBINARY(160) NULL AFTER token_hash');
}
