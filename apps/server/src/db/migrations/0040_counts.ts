import type { Knex } from 'knex';

/** How many pictures have each tag is counted in the order of an index, and the best pictures of a batch stand at the end of one. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw('ALTER TABLE picture_tags ADD INDEX IF NOT EXISTS counted (library_id, tag_id)');
  await knex.raw('ALTER TABLE pictures ADD INDEX IF NOT EXISTS best_of_batch (library_id, batch_id, rating)');
  await knex.raw('ALTER TABLE pictures DROP INDEX IF EXISTS by_batch');
}
