// Takes guards out one at a time and runs the suites that are to notice: each must turn red. Sources are put back at once, also when it
// is stopped. `node scripts/guards.mjs [words]` tries those whose file or suites bear one of the words. See docs/tests.md.
import { spawnSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
const server = 'apps/server/src';

/** A guard: its file, what stands there, what is put in its place, the suites that must notice. */
const GUARDS = [
  ['http/guard.ts', "if (!may(session?.part ?? 'nobody', least))", 'if (!may)', 'http'],
  ['http/guard.ts', 'if (session?.looking && !reads', 'if (session?.looking && !may', 'sight'],
  ['http/guard.ts', 'c.req.header(TOKEN) !== session?.csrf', '!may', 'http'],
  ['http/app.ts', "if (seen !== app && e.method !== 'GET' && !e.reads)", 'if (seen === null)', 'sight'],
  ['sight/through.ts', 'if (!known) throw', 'if (!name) throw', 'sight'],
  ['sight/sight.ts', 'WHERE h.library_id = ? AND h.held)', 'WHERE h.library_id = ? AND FALSE)', 'sight|shares'],
  ['sight/sight.ts', 'sql: `((${meant.sql}) AND', 'sql: `((TRUE OR ${meant.sql}) AND', 'sight'],
  ['sight/sight.ts', 'COALESCE((${asked.sql}), FALSE)', 'COALESCE((TRUE OR ${asked.sql}), FALSE)', 'sight'],
  [
    'sight/tables.ts',
    'SELECT * FROM people WHERE id IN (SELECT person_id FROM faces)',
    'SELECT * FROM people',
    'sight',
  ],
  [
    'share/guests.ts',
    '.where({ library_id: library, member_id: member })',
    '.where({ library_id: library })',
    'shares',
  ],
  ['share/visits.ts', "if (state === 'closed')", 'if (state === null)', 'shares'],
  ['share/visits.ts', "if (state === 'over')", 'if (state === null)', 'shares'],
  [
    'share/visits.ts',
    'share.word_hash !== null && guest === null && !there?.word',
    'share.word_hash === undefined',
    'shares',
  ],
  ['share/visits.ts', "orWhereRaw('opened < visits_most')", "orWhereRaw('TRUE')", 'shares'],
  [
    'share/guestView.ts',
    'WHERE ${one}${sql} AND p.library_id = ?',
    'WHERE ${one}(TRUE OR ${sql}) AND p.library_id = ?',
    'shares',
  ],
  ['share/guestSay.ts', '  needs(say);\n', '', 'shares'],
  ['share/guestSay.ts', 'if (writes && closed)', 'if (writes === null)', 'shares'],
  [
    'share/guestSay.ts',
    'where({ id, share_id: share.id, who: at.who }).first',
    'where({ id, share_id: share.id }).first',
    'shares',
  ],
  [
    'share/additions.ts',
    "where({ 'i.id': item, 'b.share_id': at.share.id, 'b.who': at.who })",
    "where({ 'i.id': item })",
    'shares',
  ],
  ['share/additions.ts', "if (!row?.held) throw refused('share-may-not');", 'if (!row) return;', 'shares'],
  [
    'http/guestRoutes.ts',
    "needs(size === 'original' ? may.save === 'full' : may.save !== 'nothing');",
    '',
    'shares|guests',
  ],
  ['http/guestRoutes.ts', "    needs(save !== 'nothing');\n", '', 'shares|guests'],
  [
    'account/members.ts',
    "trx('members').where({ id, library_id: library })",
    "trx('members').where({ id })",
    'accounts',
  ],
  ['account/passkeys.ts', '  await useUp(app, said);\n  await db', '  await db', 'passkeys'],
  ['account/passkeys.ts', '.update(`passkey ${purpose} `)', '', 'passkeys'],
  ['account/passkeys.ts', 'where({ id, account_id: account }).delete()', 'where({ id }).delete()', 'passkeys'],
  ['notice/push.ts', 'if (!isPushService(endpoint))', 'if (!endpoint)', 'notices'],
  ['notice/tell.ts', '.where({ id: hearer.id, digest_at: hearer.since })', '.where({ id: hearer.id })', 'notices'],
];

const words = process.argv.slice(2);
const wanted = GUARDS.filter(
  ([file, , , suites]) => !words.length || words.some((word) => file.includes(word) || suites.includes(word)),
);
let unnoticed = 0;
let held = null;
const putBack = () => {
  if (held) writeFileSync(held.file, held.text);
  held = null;
};
process.on('SIGINT', () => (putBack(), process.exit(1)));
process.on('SIGTERM', () => (putBack(), process.exit(1)));
for (const [name, stands, instead, suites] of wanted) {
  const file = path.join(root, server, name);
  const text = readFileSync(file, 'utf8');
  if (text.split(stands).length !== 2) {
    console.log(`GONE   ${name}: ${stands.trim()}`);
    unnoticed++;
    continue;
  }
  held = { file, text };
  writeFileSync(
    file,
    text.replace(stands, () => instead),
  );
  const { status } = spawnSync(
    path.join(root, 'node_modules/.bin/jest'),
    ['--selectProjects', 'server', '--testPathPattern', `test/(${suites})\\.test`],
    { cwd: root, stdio: 'ignore' },
  );
  putBack();
  if (status === 0) unnoticed++;
  console.log(`${status === 0 ? 'UNSEEN' : 'seen  '} ${name}: ${stands.trim()}`);
}
console.log(`\n${wanted.length - unnoticed} of ${wanted.length} guards are missed when they are gone`);
process.exit(unnoticed ? 1 : 0);
