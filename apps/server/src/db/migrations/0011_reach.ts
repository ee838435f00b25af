import type { Knex } from 'knex';

/** How far a clock may have been wrong where nothing speaks against it. The step can be repeated. */
const STEPS = [
  `ALTER TABLE clock_offers
    ADD COLUMN IF NOT EXISTS reach_from DATETIME(3) NULL AFTER to_local,
    ADD COLUMN IF NOT EXISTS reach_to DATETIME(3) NULL AFTER reach_from`,
];

export async function up(knex: Knex): Promise<void> {
  for (const step of STEPS) await knex.raw(step);
}
