import type { Knex } from 'knex';

/**
 * Lists are worked out from indexes alone, without a look at the rows of pictures and faces, which are long; and news says whether it is of
 * work that goes on by itself, so that lists may be told a moment older while much comes in.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw('ALTER TABLE changes ADD COLUMN IF NOT EXISTS work BOOLEAN NOT NULL DEFAULT FALSE');
  await knex.raw('ALTER TABLE faces ADD INDEX IF NOT EXISTS best (library_id, person_id, named_by, quality DESC, id)');
  await knex.raw(`ALTER TABLE pictures
    ADD INDEX IF NOT EXISTS event_places (library_id, event_id, country, place, own_place_id),
    ADD INDEX IF NOT EXISTS places (library_id, country, place, region, own_place_id, lat)`);
  await knex.raw(`ALTER TABLE pictures
    DROP INDEX IF EXISTS by_event,
    DROP INDEX IF EXISTS by_place`);
}
