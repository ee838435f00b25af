import type { Knex } from 'knex';

/** Who is in a picture is told by an index alone: the rows of faces are long, since they hold what describes them. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw('ALTER TABLE faces ADD INDEX IF NOT EXISTS who_in (picture_id, person_id)');
}
