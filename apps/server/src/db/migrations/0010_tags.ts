import type { Knex } from 'knex';

/** Tags as long as people write them. The step can be repeated. */
const STEPS = [
  `ALTER TABLE tags
    MODIFY name VARCHAR(250) COLLATE utf8mb4_bin NOT NULL,
    MODIFY folded VARCHAR(500) COLLATE utf8mb4_bin NOT NULL`,
];

export async function up(knex: Knex): Promise<void> {
  for (const step of STEPS) await knex.raw(step);
}
