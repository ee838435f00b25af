import type { Knex } from 'knex';

/**
 * Shares of everything there is, for anybody, for named people and for members; what guests may do and are told; their visits, what they
 * say and what they add. Each step can be repeated.
 */
const MADE = [
  `ALTER TABLE shares
    ADD COLUMN IF NOT EXISTS source TEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NULL,
    ADD COLUMN IF NOT EXISTS frozen BOOLEAN NOT NULL DEFAULT FALSE,
    ADD COLUMN IF NOT EXISTS reach ENUM('house','family','link') NOT NULL DEFAULT 'link',
    ADD COLUMN IF NOT EXISTS anybody BOOLEAN NOT NULL DEFAULT TRUE,
    ADD COLUMN IF NOT EXISTS word_hash VARCHAR(200) NULL,
    ADD COLUMN IF NOT EXISTS visits_most INT UNSIGNED NULL,
    ADD COLUMN IF NOT EXISTS may TEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NULL,
    ADD COLUMN IF NOT EXISTS tell_names BOOLEAN NOT NULL DEFAULT FALSE,
    ADD COLUMN IF NOT EXISTS tell_captions BOOLEAN NOT NULL DEFAULT FALSE,
    ADD COLUMN IF NOT EXISTS tell_dates BOOLEAN NOT NULL DEFAULT FALSE,
    ADD COLUMN IF NOT EXISTS tell_others BOOLEAN NOT NULL DEFAULT FALSE`,
  `CREATE TABLE IF NOT EXISTS share_guests (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    share_id INT UNSIGNED NOT NULL,
    member_id INT UNSIGNED NULL,
    name VARCHAR(80) NOT NULL,
    email VARCHAR(200) NULL,
    token_hash BINARY(32) NULL UNIQUE,
    sealed VARBINARY(120) NULL,
    closed_at DATETIME(3) NULL,
    opened INT UNSIGNED NOT NULL DEFAULT 0,
    last_opened DATETIME(3) NULL,
    created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    INDEX (share_id, id),
    INDEX by_member (library_id, member_id),
    FOREIGN KEY (share_id) REFERENCES shares(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `CREATE TABLE IF NOT EXISTS share_visits (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    share_id INT UNSIGNED NOT NULL,
    guest_id INT UNSIGNED NULL,
    who BINARY(32) NOT NULL,
    name VARCHAR(80) NULL,
    word BOOLEAN NOT NULL DEFAULT FALSE,
    device ENUM('phone','tablet','computer') NOT NULL,
    saved INT UNSIGNED NOT NULL DEFAULT 0,
    at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    seen_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    INDEX (share_id, who, seen_at),
    INDEX (at),
    FOREIGN KEY (share_id) REFERENCES shares(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `CREATE TABLE IF NOT EXISTS guest_hearts (
    library_id INT UNSIGNED NOT NULL,
    share_id INT UNSIGNED NOT NULL,
    picture_id INT UNSIGNED NOT NULL,
    who BINARY(32) NOT NULL,
    at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    PRIMARY KEY (share_id, picture_id, who),
    INDEX (picture_id),
    FOREIGN KEY (share_id) REFERENCES shares(id) ON DELETE CASCADE,
    FOREIGN KEY (picture_id) REFERENCES pictures(id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `ALTER TABLE comments
    ADD COLUMN IF NOT EXISTS share_id INT UNSIGNED NULL,
    ADD COLUMN IF NOT EXISTS who BINARY(32) NULL,
    ADD COLUMN IF NOT EXISTS hidden BOOLEAN NOT NULL DEFAULT FALSE,
    ADD INDEX IF NOT EXISTS by_share (share_id, picture_id)`,
  `ALTER TABLE batches
    ADD COLUMN IF NOT EXISTS share_id INT UNSIGNED NULL,
    ADD COLUMN IF NOT EXISTS who BINARY(32) NULL,
    ADD COLUMN IF NOT EXISTS held BOOLEAN NOT NULL DEFAULT FALSE,
    ADD INDEX IF NOT EXISTS by_share (share_id, who),
    ADD INDEX IF NOT EXISTS by_held (library_id, held)`,
];

/** What guests of a share could do before it was said: save everything at full size. */
const AS_BEFORE = '{"save":"full","say":false,"add":false,"shown":false,"files":200,"bytes":2000000000}';

export async function up(knex: Knex): Promise<void> {
  const fresh = !(await knex.schema.hasColumn('shares', 'may'));
  for (const step of MADE) await knex.raw(step);
  // What was shared before goes on showing what it showed.
  if (fresh) await knex('shares').update({ reach: 'house' });
  await knex('shares').whereNull('may').update({ may: AS_BEFORE });
  await knex.raw(`ALTER TABLE shares MODIFY COLUMN may TEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL`);
}
