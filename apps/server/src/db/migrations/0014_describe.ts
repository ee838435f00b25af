import type { Knex } from 'knex';

/** What people say and what the machine notices, and the words by which both are found. Every step can be repeated. */
const STEPS = [
  `CREATE TABLE IF NOT EXISTS marks (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    meaning VARCHAR(60) COLLATE utf8mb4_bin NOT NULL,
    colour VARCHAR(16) NOT NULL,
    shape VARCHAR(16) NOT NULL,
    position INT UNSIGNED NOT NULL,
    UNIQUE (library_id, meaning),
    FOREIGN KEY (library_id) REFERENCES libraries(id))`,
  `ALTER TABLE pictures
    ADD COLUMN IF NOT EXISTS mark_id INT UNSIGNED NULL AFTER label,
    MODIFY camera VARCHAR(200) COLLATE utf8mb4_bin NULL,
    ADD COLUMN IF NOT EXISTS lens VARCHAR(200) COLLATE utf8mb4_bin NULL AFTER camera,
    ADD COLUMN IF NOT EXISTS look VARBINARY(64) NULL AFTER sharpness,
    ADD COLUMN IF NOT EXISTS observed_by TINYINT UNSIGNED NOT NULL DEFAULT 0,
    ADD COLUMN IF NOT EXISTS seen_by TINYINT UNSIGNED NOT NULL DEFAULT 0,
    ADD COLUMN IF NOT EXISTS read_by TINYINT UNSIGNED NOT NULL DEFAULT 0,
    ADD COLUMN IF NOT EXISTS seen_words TEXT NULL,
    ADD INDEX IF NOT EXISTS marked (library_id, mark_id),
    ADD INDEX IF NOT EXISTS made_up (library_id, rating, favourite, kind, format, mark_id, width, height, camera, lens),
    ADD INDEX IF NOT EXISTS by_camera (library_id, camera),
    ADD INDEX IF NOT EXISTS by_lens (library_id, lens)`,
  `ALTER TABLE libraries ADD COLUMN IF NOT EXISTS observes VARCHAR(400) NOT NULL DEFAULT
    'blurred,dark,bright,screen,grey,wide,shut,crowd'`,
  `CREATE TABLE IF NOT EXISTS comments (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    picture_id INT UNSIGNED NOT NULL,
    member_id INT UNSIGNED NULL,
    author VARCHAR(160) NOT NULL,
    text VARCHAR(4000) NOT NULL,
    at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
    edited_at DATETIME(3) NULL,
    INDEX (picture_id, at),
    INDEX (library_id, at),
    FOREIGN KEY (library_id) REFERENCES libraries(id),
    FOREIGN KEY (picture_id) REFERENCES pictures(id))`,
  `CREATE TABLE IF NOT EXISTS tag_names (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    tag_id INT UNSIGNED NOT NULL,
    name VARCHAR(250) COLLATE utf8mb4_bin NOT NULL,
    folded VARCHAR(500) COLLATE utf8mb4_bin NOT NULL,
    UNIQUE (tag_id, folded),
    INDEX (library_id, folded),
    FOREIGN KEY (library_id) REFERENCES libraries(id),
    FOREIGN KEY (tag_id) REFERENCES tags(id))`,
  `CREATE TABLE IF NOT EXISTS tag_apart (
    library_id INT UNSIGNED NOT NULL,
    tag_id INT UNSIGNED NOT NULL,
    other VARCHAR(60) COLLATE utf8mb4_bin NOT NULL,
    PRIMARY KEY (tag_id, other),
    FOREIGN KEY (library_id) REFERENCES libraries(id),
    FOREIGN KEY (tag_id) REFERENCES tags(id))`,
  `ALTER TABLE tags ADD COLUMN IF NOT EXISTS branch VARCHAR(520) COLLATE utf8mb4_bin NULL`,
  `UPDATE tags SET branch = CONCAT(COALESCE(parent_id, 0), ' ', folded) WHERE branch IS NULL`,
  `ALTER TABLE tags ADD INDEX IF NOT EXISTS word (library_id, folded)`,
  `ALTER TABLE tags ADD UNIQUE INDEX IF NOT EXISTS branch (library_id, branch)`,
  `ALTER TABLE tags DROP INDEX IF EXISTS library_id`,
  `ALTER TABLE tags MODIFY branch VARCHAR(520) COLLATE utf8mb4_bin NOT NULL`,
  `CREATE TABLE IF NOT EXISTS picture_observations (
    library_id INT UNSIGNED NOT NULL,
    picture_id INT UNSIGNED NOT NULL,
    kind VARCHAR(24) COLLATE utf8mb4_bin NOT NULL,
    sure FLOAT NOT NULL,
    PRIMARY KEY (picture_id, kind),
    INDEX (library_id, kind, picture_id),
    FOREIGN KEY (library_id) REFERENCES libraries(id),
    FOREIGN KEY (picture_id) REFERENCES pictures(id) ON DELETE CASCADE)`,
  `CREATE TABLE IF NOT EXISTS pins (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
    library_id INT UNSIGNED NOT NULL,
    member_id INT UNSIGNED NOT NULL,
    name VARCHAR(120) NOT NULL,
    question JSON NOT NULL,
    position INT UNSIGNED NOT NULL,
    INDEX (member_id, position),
    FOREIGN KEY (library_id) REFERENCES libraries(id),
    FOREIGN KEY (member_id) REFERENCES members(id) ON DELETE CASCADE)`,
  `CREATE TABLE IF NOT EXISTS picture_words (
    library_id INT UNSIGNED NOT NULL,
    word VARCHAR(40) COLLATE utf8mb4_bin NOT NULL,
    picture_id INT UNSIGNED NOT NULL,
    PRIMARY KEY (library_id, word, picture_id),
    INDEX (picture_id),
    FOREIGN KEY (picture_id) REFERENCES pictures(id) ON DELETE CASCADE)`,
  `CREATE TABLE IF NOT EXISTS known_words (
    library_id INT UNSIGNED NOT NULL,
    word VARCHAR(40) COLLATE utf8mb4_bin NOT NULL,
    back VARCHAR(40) COLLATE utf8mb4_bin NOT NULL,
    PRIMARY KEY (library_id, word),
    INDEX (library_id, back))`,
];

/** Words as search reads them; what reads them now is `searchable`, which goes on living. */
const wordsOf = (text: string): string[] =>
  text
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()
    .replace(/[ßæœøđłþð]/g, (c) => ({ ß: 'ss', æ: 'ae', œ: 'oe', ø: 'o', đ: 'd', ł: 'l', þ: 'th', ð: 'd' })[c]!)
    .replace(/(?<=\p{L})['’](?=\p{L})/gu, '')
    .match(/[\p{L}\p{N}]+/gu)
    ?.map((word) => (word.length > 40 ? [...word].slice(0, 40).join('') : word)) ?? [];

/** What pictures say, word by word, a thousand at a time by number. */
async function fillWords(knex: Knex): Promise<void> {
  for (let last = 0; ;) {
    const rows = (await knex('pictures')
      .where('id', '>', last)
      .orderBy('id')
      .limit(1000)
      .select('id', 'library_id', 'title', 'caption', 'name', 'original_name')) as {
      id: number;
      library_id: number;
      title: string | null;
      caption: string | null;
      name: string;
      original_name: string | null;
    }[];
    if (rows.length === 0) return;
    last = rows[rows.length - 1]!.id;
    const said = rows.map((row) => {
      const own = row.original_name === row.name ? null : row.original_name;
      const lines = [row.title, row.caption, row.name, own].map((t) => wordsOf(t ?? '')).filter((w) => w.length);
      return { ...row, lines };
    });
    const text = (lines: string[][]) => lines.map((words) => ` ${words.join(' ')} `).join('\n');
    await knex.raw(
      `UPDATE pictures SET words = CASE id ${said.map(() => 'WHEN ? THEN ?').join(' ')} ELSE words END WHERE id IN (${said.map(() => '?').join(',')})`,
      [...said.flatMap((row) => [row.id, text(row.lines)]), ...said.map((row) => row.id)],
    );
    const pairs = said.flatMap((row) =>
      [...new Set(row.lines.flat())].map((word) => ({ library_id: row.library_id, word, picture_id: row.id })),
    );
    if (pairs.length === 0) continue;
    await knex('picture_words').insert(pairs).onConflict().ignore();
    const known = new Map(pairs.map(({ library_id, word }) => [`${library_id} ${word}`, { library_id, word }]));
    await knex('known_words')
      .insert([...known.values()].map((one) => ({ ...one, back: [...one.word].reverse().join('') })))
      .onConflict()
      .ignore();
  }
}

export async function up(knex: Knex): Promise<void> {
  for (const step of STEPS) await knex.raw(step);
  await fillWords(knex);
}
