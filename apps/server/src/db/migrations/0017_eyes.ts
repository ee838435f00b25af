import type { Knex } from 'knex';

/** How open eyes are is measured in another way: what was measured is forgotten, and found again when pictures are looked at. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw('UPDATE faces SET eyes = NULL WHERE eyes IS NOT NULL');
}
