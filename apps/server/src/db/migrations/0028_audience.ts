import type { Knex } from 'knex';

/**
 * For whom a picture is, and what a relative sees: an audience said of a picture, or of what it belongs to; the view of a member, a
 * question; who brought a batch; hearts of each member's own. Each step can be repeated.
 */
const LEVELS = "ENUM('me','house','family','link')";
const SAID = `ADD COLUMN IF NOT EXISTS audience ${LEVELS} NULL, ADD COLUMN IF NOT EXISTS audience_by INT UNSIGNED NULL`;

const MADE = [
  `ALTER TABLE libraries ADD COLUMN IF NOT EXISTS audience ENUM('house','family','link') NOT NULL DEFAULT 'house'`,
  `ALTER TABLE pictures ${SAID}, ADD INDEX IF NOT EXISTS by_audience (library_id, audience, audience_by)`,
  ...['albums', 'people', 'circles', 'devices', 'own_places'].map((table) => `ALTER TABLE ${table} ${SAID}`),
  `ALTER TABLE members
    ADD COLUMN IF NOT EXISTS view TEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NULL,
    ADD COLUMN IF NOT EXISTS reach ENUM('house','family') NOT NULL DEFAULT 'family'`,
  'ALTER TABLE batches ADD COLUMN IF NOT EXISTS brought_by INT UNSIGNED NULL',
  `CREATE TABLE IF NOT EXISTS hearts (
    library_id INT UNSIGNED NOT NULL,
    picture_id INT UNSIGNED NOT NULL,
    member_id INT UNSIGNED NOT NULL,
    at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    PRIMARY KEY (picture_id, member_id),
    INDEX by_member (library_id, member_id, at),
    FOREIGN KEY (picture_id) REFERENCES pictures(id),
    FOREIGN KEY (member_id) REFERENCES members(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
];

export async function up(knex: Knex): Promise<void> {
  // Relatives who were there before go on seeing what they saw: everything the house sees.
  const before = !(await knex.schema.hasColumn('members', 'view'));
  for (const step of MADE) await knex.raw(step);
  if (before)
    await knex('members').where('part', 'relative').update({ view: '{"v":1,"question":{"all":[]}}', reach: 'house' });
}
