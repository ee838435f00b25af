import type { Knex } from 'knex';

/**
 * What was kept as English sentences is kept as codes with their parameters, and languages are chosen. Every step can be repeated.
 */
const COLUMNS = [
  `ALTER TABLE members ADD COLUMN IF NOT EXISTS language VARCHAR(8) NULL`,
  `ALTER TABLE libraries ADD COLUMN IF NOT EXISTS language VARCHAR(8) NOT NULL DEFAULT 'en'`,
  `ALTER TABLE batches ADD COLUMN IF NOT EXISTS named ENUM('given','source','loose') NOT NULL DEFAULT 'given' AFTER name`,
  `ALTER TABLE batch_items MODIFY reason VARCHAR(1000) NULL`,
  `ALTER TABLE jobs MODIFY error VARCHAR(1000) NULL`,
];

const MONTHS = 'January|February|March|April|May|June|July|August|September|October|November|December';

/** Batches the machine gave a name. */
const BATCHES = [
  `UPDATE batches SET named = 'loose', name = '' WHERE named = 'given' AND way = 'browser'
     AND name REGEXP '^Pictures of [0-9]{1,2} (${MONTHS})( at)? [0-9]{2}:[0-9]{2}$'`,
  `UPDATE batches b JOIN sources s ON s.id = b.source_id SET b.named = 'source', b.name = s.name
     WHERE b.named = 'given' AND b.name REGEXP ', [0-9]{1,2} (${MONTHS}) [0-9]{4}$'`,
];

const ASIDE = '; the file is kept aside';
/** Why files were left out: the sentence as it was written, and its code. */
const PLAIN: [string, string][] = [
  ['is already here', 'already-here'],
  ['is already here; what was stored had been damaged or lost, and this copy has put it right', 'already-here-mended'],
  ['holds more files than any household has', 'archive-too-many'],
  ['is a damaged archive', 'archive-damaged'],
  ['claims to hold far more than it can: it is not opened', 'archive-bomb'],
  ['is an archive: its files came in one by one', 'archive-opened'],
  ['has a name that leads out of its archive', 'archive-leads-out'],
  ['is locked with a password', 'archive-locked'],
  ['is an archive inside an archive: unpack it first', 'archive-inside'],
  ['is damaged inside its archive', 'archive-file-damaged'],
  ['is of a kind Gemmel cannot open yet', 'closed'],
  ['has colours that cannot be read', 'colours'],
  ['is cut off or damaged', 'cut-off'],
  ['is damaged and cannot be opened', 'damaged'],
  ['is empty: it holds no bytes at all', 'empty'],
  ['could not be read: it has gone or is locked', 'gone-or-locked'],
  ['says which albums the pictures belong to', 'list-read'],
  ['never arrived', 'never-arrived'],
  ['holds no moving picture', 'no-moving-picture'],
  ['holds no moving picture that can be shown', 'no-moving-picture'],
  ['is not a picture or clip', 'not-a-picture'],
  ['holds a text that unpacks without end: it is not opened', 'text-bomb'],
  ['claims to be far larger than can be opened safely', 'too-large'],
  ['is far larger than can be opened safely', 'too-large'],
];
/** The same for sentences that speak of something. */
const SPEAKING: [RegExp, string, readonly string[]][] = [
  [/^belongs to (.*), which was not taken in$/, 'main-left-out', ['name']],
  [/^is not a picture, although its name ends in \.(.*)$/, 'not-by-its-ending', ['ending']],
  [/^claims to be (\d+) x (\d+) pixels, more than can be opened safely$/, 'too-many-pixels', ['width', 'height']],
  [/^could not be taken in: (.*)$/s, 'unexpected', ['why']],
];

function sayingOf(sentence: string): string {
  const text = sentence.endsWith(ASIDE) ? sentence.slice(0, -ASIDE.length) : sentence;
  const plain = PLAIN.find(([said]) => said === text);
  if (plain) return JSON.stringify({ code: plain[1], params: {} });
  for (const [pattern, code, names] of SPEAKING) {
    const found = text.match(pattern);
    if (found)
      return JSON.stringify({ code, params: Object.fromEntries(names.map((name, i) => [name, found[i + 1] ?? ''])) });
  }
  return JSON.stringify({ code: 'unexpected', params: { why: text } });
}

/** What acts on events without a name and answers about faces spoke of, in places of its own. */
const DAY = `REGEXP '^[0-9]{4}-[0-9]{2}-[0-9]{2}$'`;
const EVENTS = `kind IN ('name event','split event','join events','move to event','remove event','change event')`;
const ACTS = [
  `UPDATE acts SET words = JSON_REMOVE(JSON_SET(words, '$.day', JSON_VALUE(words, '$.name')), '$.name')
     WHERE ${EVENTS} AND JSON_VALUE(words, '$.name') ${DAY}`,
  `UPDATE acts SET words = JSON_REMOVE(JSON_SET(words, '$.toDay', JSON_VALUE(words, '$.to')), '$.to')
     WHERE kind IN ('join events','move to event') AND JSON_VALUE(words, '$.to') ${DAY}`,
  `UPDATE acts SET words = JSON_REMOVE(JSON_SET(words, '$.what', JSON_ARRAY(JSON_VALUE(words, '$.to'))), '$.to')
     WHERE kind = 'answer faces' AND JSON_VALUE(words, '$.to') IN ('later','not them','passer-by','not a face')`,
];

/** Remembered dates stand beside the pictures as EDTF from now on: their sidecars are written again. */
const SIDECARS = [
  `UPDATE sidecars s JOIN pictures p ON p.id = s.picture_id SET s.dirty_at = COALESCE(s.dirty_at, UTC_TIMESTAMP(3))
     WHERE p.taken_exact IS NOT NULL AND (p.taken_exact <> 'day' OR p.taken_about)`,
  `INSERT INTO jobs (library_id, kind, about, priority, run_after)
     SELECT DISTINCT library_id, 'sidecars', 0, 5, UTC_TIMESTAMP(3) FROM sidecars WHERE dirty_at IS NOT NULL
     ON DUPLICATE KEY UPDATE again = (state = 'running'), state = IF(state IN ('failed', 'done'), 'ready', state)`,
];

export async function up(knex: Knex): Promise<void> {
  for (const step of [...COLUMNS, ...BATCHES, ...ACTS, ...SIDECARS]) await knex.raw(step);
  // By their numbers, a thousand at a time: a sentence may name a file, and then each stands alone.
  for (let after = 0; ;) {
    const items = (await knex('batch_items')
      .where('id', '>', after)
      .whereNotNull('reason')
      .whereNot('reason', 'like', '{%')
      .orderBy('id')
      .limit(1000)
      .select('id', 'reason')) as { id: number; reason: string }[];
    const last = items.at(-1);
    if (!last) break;
    after = last.id;
    const same = new Map<string, number[]>();
    for (const { id, reason } of items) {
      const ids = same.get(reason);
      if (ids) ids.push(id);
      else same.set(reason, [id]);
    }
    for (const [reason, ids] of same)
      await knex('batch_items')
        .whereIn('id', ids)
        .update({ reason: sayingOf(reason) });
  }
  const errors = (await knex('jobs').distinct('error').whereNotNull('error').whereNot('error', 'like', '{%')) as {
    error: string;
  }[];
  for (const { error } of errors)
    await knex('jobs')
      .where({ error })
      .update({ error: JSON.stringify({ code: 'unexpected', params: { why: error.slice(0, 300) } }) });
}
