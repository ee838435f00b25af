import type { Knex } from 'knex';

/** Groups of faces that are perhaps one person, by their keys, the smaller first. The step can be repeated. */
const STEPS = [
  `CREATE TABLE IF NOT EXISTS face_perhaps (
    library_id INT UNSIGNED NOT NULL,
    group_key INT UNSIGNED NOT NULL,
    other_key INT UNSIGNED NOT NULL,
    PRIMARY KEY (library_id, group_key, other_key),
    FOREIGN KEY (library_id) REFERENCES libraries(id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
];

export async function up(knex: Knex): Promise<void> {
  for (const step of STEPS) await knex.raw(step);
}
