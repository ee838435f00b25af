import type { Knex } from 'knex';

/** Counting the faces of every picture reads an index alone. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw('ALTER TABLE faces ADD INDEX by_count (library_id, state, picture_id)');
}
