/**
 * Finding on 100 000 pictures with 300 000 tags given and 60 000 captions: what each key pressed in the question costs
 * (completions with their counts, and the first page of what is meant), counts, and facets. `PICTURES` sets another number.
 */
import { EVERYTHING, narrow, parse, WORDS, type Question } from '../packages/core/src';
import { askTyped } from '../apps/server/src/question/ask';
import { facetsOf } from '../apps/server/src/question/facets';
import { namesOf } from '../apps/server/src/question/named';
import { countOf, pageOf, tilesOf } from '../apps/server/src/picture/pictures';
import { benchEngine, line, quantile } from './engine';
import { fill } from './synthetic';

const N = Number(process.env['PICTURES'] ?? 100_000);

/** What people type, key by key. */
const TYPED = [
  'person 1',
  'person 12 and person 3',
  'kite',
  'birthday supper',
  'tag 15',
  'visby 2019',
  'summer 2020 4 stars',
  'kalo terven',
  'album 12',
  'person 2 not snow',
  'lantren',
  'sunra in visby',
  'img_9999',
  'camera 3',
];
const BASES: Question[] = [
  EVERYTHING,
  { who: { people: [1], mode: 'all' } },
  { taken: { from: '2018-01-01', to: '2018-12-31' } },
  { all: [{ rating: { min: 3 } }, { tag: 5 }] },
];

const engine = await benchEngine();
try {
  const { app } = engine;
  await engine.runner.stop();
  await fill(app, N, true);
  const [{ n }] = (await app.db('picture_tags').count('* as n')) as [{ n: number }];
  const [{ w }] = (await app.db('picture_words').count('* as w')) as [{ w: number }];
  line('pictures, tags given, words said', `${N}, ${n}, ${w}`);
  const time = async <T>(what: () => Promise<T>): Promise<number> => {
    const at = performance.now();
    await what();
    return performance.now() - at;
  };
  const at = performance.now();
  const { vocabulary } = await namesOf(app.db, 1);
  line('reading all names, once after each change', `${(performance.now() - at).toFixed(0)} ms`);
  // The raw floor: one count by the index of words.
  const floor = [];
  for (let i = 0; i < 30; i++)
    floor.push(
      await time(() => app.db.raw("SELECT COUNT(*) FROM picture_words WHERE library_id = 1 AND word LIKE 'ki%'")),
    );
  const keys: { ms: number; typed: string; base: number }[] = [];
  const pages: number[] = [];
  for (const [base, question] of BASES.entries())
    for (const typed of process.env['FACETS'] ? [] : TYPED)
      for (let k = 1; k <= typed.length; k++) {
        const text = typed.slice(0, k);
        let first: number[] = [];
        const ms = await time(async () => {
          ({ first } = await askTyped(app, 1, { typed: text, question, language: 'en' }));
        });
        const asked = narrow(question, parse(text, vocabulary, WORDS.en, '2026-11-27').question);
        const tiles = await time(async () => tilesOf(app, 1, first));
        keys.push({ ms: ms + tiles, typed: text, base });
        // A whole page of a script's, which is sorted by the database.
        if (k === typed.length) pages.push(await time(() => pageOf(app, 1, asked, undefined, 100)));
      }
  const all = keys.map((key) => key.ms);
  line('a key pressed: completions, counts and first page, median', `${quantile(all, 0.5).toFixed(0)} ms`);
  line('the same, 95th percentile (bound 120 ms)', `${quantile(all, 0.95).toFixed(0)} ms`);
  line('a page of a script, sorted by the database, 95th percentile', `${quantile(pages, 0.95).toFixed(0)} ms`);
  line('  as a ratio to a count by the index of words', (quantile(all, 0.95) / quantile(floor, 0.5)).toFixed(1));
  for (const key of [...keys].sort((a, b) => b.ms - a.ms).slice(0, 8))
    line(`  slow: “${key.typed}” on question ${key.base}`, `${key.ms.toFixed(0)} ms`);
  const counts: number[] = [];
  for (const question of BASES)
    for (const typed of TYPED)
      counts.push(
        await time(() => countOf(app, 1, narrow(question, parse(typed, vocabulary, WORDS.en, '2026-11-27').question))),
      );
  line('counts, median (bound 100 ms)', `${quantile(counts, 0.5).toFixed(0)} ms`);
  const facets: number[] = [];
  const each: [string, number][] = [];
  for (const question of [...BASES, { text: 'kite' } as Question, { not: { tag: 1 } } as Question])
    for (let i = 0; i < 3; i++) {
      const ms = await time(() => facetsOf(app, 1, question));
      facets.push(ms);
      each.push([JSON.stringify(question).slice(0, 50), ms]);
    }
  for (const [question, ms] of each) line(`  facets of ${question}`, `${ms.toFixed(0)} ms`);
  line('facets, median', `${quantile(facets, 0.5).toFixed(0)} ms`);
  line('facets, worst (bound 250 ms)', `${Math.max(...facets).toFixed(0)} ms`);
} finally {
  await engine.end();
}
