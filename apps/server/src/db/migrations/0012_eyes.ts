import type { Knex } from 'knex';

/** How open the eyes of a face are; null where nobody has looked. The step can be repeated. */
const STEPS = [`ALTER TABLE faces ADD COLUMN IF NOT EXISTS eyes FLOAT NULL AFTER quality`];

export async function up(knex: Knex): Promise<void> {
  for (const step of STEPS) await knex.raw(step);
}
