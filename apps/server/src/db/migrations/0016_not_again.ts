import type { Knex } from 'knex';

/** Pictures and events that this day in other years is not to show again. Every step can be repeated. */
const STEPS = [
  `ALTER TABLE pictures ADD COLUMN IF NOT EXISTS not_again BOOLEAN NOT NULL DEFAULT FALSE`,
  `ALTER TABLE events ADD COLUMN IF NOT EXISTS not_again BOOLEAN NOT NULL DEFAULT FALSE`,
];

export async function up(knex: Knex): Promise<void> {
  for (const step of STEPS) await knex.raw(step);
}
