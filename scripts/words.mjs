// Keeps the catalogues in step with the sources. Without arguments it writes down what the sources say now: new sentences come
// empty into every language, and those nobody says go. `--check` writes nothing and tells what is wrong: a sentence that is not in
// the catalogues or no longer said, one that a language lacks, and one whose names between braces or plurals are not those of the
// source. See docs/words.md.
import { spawnSync } from 'node:child_process';
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { formatter } from '@lingui/format-po';
import { compileMessage } from '@lingui/message-utils/compileMessage';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
const require = createRequire(import.meta.url);
const lingui = path.join(root, 'node_modules/.bin/lingui');
const config = path.join(root, 'lingui.config.cjs');
const { locales, sourceLocale } = require(config);
const words = path.join(root, 'apps/web/src/words');

const extract = (settings) =>
  spawnSync(lingui, ['extract', '--clean', '--config', settings], { cwd: root, encoding: 'utf8' });

if (process.argv[2] !== '--check') {
  const { status, stdout, stderr } = extract(config);
  console.log(stdout, stderr);
  process.exit(status ?? 1);
}

const wrong = [];
const entriesOf = (folder, locale) => {
  const file = path.join(folder, locale, 'messages.po');
  return formatter().parse(readFileSync(file, 'utf8'), { locale, sourceLocale, filename: file });
};

/** Numbered values by what they are: “0” and “1” may be the same in the two forms of a plural. */
const namesIn = (comments) =>
  Object.fromEntries(
    comments.flatMap((one) => [one.match(/^placeholder \{(\w+)\}: (.*)$/s)?.slice(1)].filter(Boolean)),
  );

/** What a compiled message takes: its values, and with each whether it is counted or chosen by. */
function taken(tokens, names, found = new Set()) {
  for (const token of tokens)
    if (Array.isArray(token)) {
      const [number, how, forms] = token;
      const name = names[number] ?? number;
      found.add(how === 'plural' || how === 'select' || how === 'selectordinal' ? `${name} (${how})` : name);
      if (forms && typeof forms === 'object')
        for (const form of Object.values(forms)) if (Array.isArray(form)) taken(form, names, found);
    }
  return found;
}

// What the sources say now, written beside what is kept.
const beside = mkdtempSync(path.join(tmpdir(), 'gemmel-words-'));
try {
  cpSync(words, beside, { recursive: true, filter: (file) => !/\.tsx?$/.test(file) });
  const settings = path.join(root, `.words-${process.pid}.cjs`);
  writeFileSync(
    settings,
    `const config = require('./lingui.config.cjs');
module.exports = { ...config, catalogs: [{ ...config.catalogs[0], path: ${JSON.stringify(path.join(beside, '{locale}/messages'))} }] };\n`,
  );
  try {
    const { status, stdout, stderr } = extract(settings);
    if (status !== 0) throw new Error(stdout + stderr);
  } finally {
    rmSync(settings, { force: true });
  }
  const said = entriesOf(beside, sourceLocale);
  for (const locale of locales) {
    const kept = entriesOf(words, locale);
    for (const [id, { message, translation, obsolete }] of Object.entries(kept))
      if (!(id in said) || obsolete) wrong.push(`${locale}: nobody says “${message ?? translation ?? id}”`);
    for (const [id, { message, translation: english, comments }] of Object.entries(said)) {
      const source = message ?? english ?? id;
      if (!(id in kept)) wrong.push(`${locale}: not written down: “${source}”`);
      const text = kept[id]?.translation;
      if (!(id in kept) || locale === sourceLocale) continue;
      if (!text) {
        wrong.push(`${locale}: not translated: “${source}”`);
        continue;
      }
      const [wants, has] = [source, text].map((one) => taken([compileMessage(one)].flat(), namesIn(comments)));
      if ([...wants].sort().join() !== [...has].sort().join())
        wrong.push(`${locale}: other values than “${source}”: “${text}”`);
      if (/["']|\.\.\.| {2}\S/.test(text.replace(/^ +/, '')) && !/["']|\.\.\.| {2}\S/.test(source.replace(/^ +/, '')))
        wrong.push(`${locale}: typewriter’s marks in “${text}”`);
    }
  }
} finally {
  rmSync(beside, { recursive: true, force: true });
}
for (const one of wrong) console.log(one);
if (wrong.length)
  console.log(
    `\n${wrong.length} sentences are wrong. “node scripts/words.mjs” writes down what is new; then translate it.`,
  );
process.exit(wrong.length ? 1 : 0);
