import type { Knex } from 'knex';

/**
 * Accounts apart from membership: one account may belong to several libraries, and a session is an account's, whatever library a
 * request names. Invitations, and links by which a password is set anew. Each step can be repeated.
 */
const MADE = [
  `CREATE TABLE IF NOT EXISTS accounts (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    name VARCHAR(160) NOT NULL,
    email VARCHAR(200) NOT NULL UNIQUE,
    language VARCHAR(8) NULL,
    password_hash VARCHAR(200) NOT NULL,
    created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `ALTER TABLE members
    ADD COLUMN IF NOT EXISTS account_id INT UNSIGNED NULL AFTER library_id,
    ADD COLUMN IF NOT EXISTS left_at DATETIME(3) NULL`,
  `ALTER TABLE sessions
    ADD COLUMN IF NOT EXISTS account_id INT UNSIGNED NULL AFTER token_hash,
    ADD COLUMN IF NOT EXISTS seen_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    ADD COLUMN IF NOT EXISTS device VARCHAR(160) NULL`,
  `CREATE TABLE IF NOT EXISTS invites (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    token_hash BINARY(32) NOT NULL UNIQUE,
    name VARCHAR(160) NOT NULL,
    email VARCHAR(200) NULL,
    part ENUM('keeper','helper','relative') NOT NULL,
    made_by INT UNSIGNED NOT NULL,
    created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    expires_at DATETIME(3) NOT NULL,
    used_at DATETIME(3) NULL,
    member_id INT UNSIGNED NULL,
    revoked_at DATETIME(3) NULL,
    INDEX (library_id, id),
    FOREIGN KEY (library_id) REFERENCES libraries(id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  `CREATE TABLE IF NOT EXISTS resets (
    token_hash BINARY(32) PRIMARY KEY,
    account_id INT UNSIGNED NOT NULL,
    created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    expires_at DATETIME(3) NOT NULL,
    INDEX (account_id),
    FOREIGN KEY (account_id) REFERENCES accounts(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
];

const MOVED = [
  `INSERT IGNORE INTO accounts (name, email, language, password_hash, created_at)
    SELECT name, email, language, password_hash, created_at FROM members ORDER BY id`,
  'UPDATE members m JOIN accounts a ON a.email = m.email SET m.account_id = a.id WHERE m.account_id IS NULL',
];

const SHED = [
  'ALTER TABLE members DROP COLUMN IF EXISTS email, DROP COLUMN IF EXISTS password_hash, DROP COLUMN IF EXISTS language',
  `ALTER TABLE members
    ADD UNIQUE INDEX IF NOT EXISTS once (library_id, account_id),
    ADD CONSTRAINT FOREIGN KEY IF NOT EXISTS of_account (account_id) REFERENCES accounts(id)`,
  'DELETE FROM sessions WHERE account_id IS NULL',
  `ALTER TABLE sessions MODIFY COLUMN account_id INT UNSIGNED NOT NULL,
    ADD COLUMN IF NOT EXISTS id INT UNSIGNED AUTO_INCREMENT UNIQUE FIRST,
    ADD CONSTRAINT FOREIGN KEY IF NOT EXISTS session_of (account_id) REFERENCES accounts(id) ON DELETE CASCADE`,
];

async function has(knex: Knex, table: string, column: string): Promise<boolean> {
  const [rows] = (await knex.raw(
    'SELECT 1 FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = ? AND COLUMN_NAME = ?',
    [table, column],
  )) as [unknown[]];
  return rows.length > 0;
}

export async function up(knex: Knex): Promise<void> {
  for (const step of MADE) await knex.raw(step);
  if (await has(knex, 'members', 'email')) for (const step of MOVED) await knex.raw(step);
  if (await has(knex, 'sessions', 'member_id')) {
    await knex.raw(
      'UPDATE sessions s JOIN members m ON m.id = s.member_id SET s.account_id = m.account_id WHERE s.account_id IS NULL',
    );
    const [ties] = (await knex.raw(
      `SELECT CONSTRAINT_NAME AS name FROM information_schema.KEY_COLUMN_USAGE
       WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = 'sessions' AND COLUMN_NAME = 'member_id' AND REFERENCED_TABLE_NAME IS NOT NULL`,
    )) as [{ name: string }[]];
    for (const { name } of ties) await knex.raw('ALTER TABLE sessions DROP FOREIGN KEY ??', [name]);
    await knex.raw('ALTER TABLE sessions DROP COLUMN IF EXISTS member_id, DROP COLUMN IF EXISTS library_id');
  }
  for (const step of SHED) await knex.raw(step);
}
