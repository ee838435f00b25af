/** Sixty assorted questions and the skeleton of everything on a made-up library of 100 000 pictures. */
import { gzipSync } from 'node:zlib';
import { monthSpan, type Question } from '../packages/core/src';
import { conditionOf, countOf, pageOf } from '../apps/server/src/picture/pictures';
import { skeleton } from '../apps/server/src/picture/skeleton';
import { benchEngine, line, quantile } from './engine';
import { fill } from './synthetic';

const N = Number(process.env['PICTURES'] ?? 100_000);

const who = (mode: 'all' | 'any' | 'only', ...people: number[]): Question => ({ who: { people, mode } });
const questions: Question[] = [
  { all: [] },
  { favourite: true },
  { rating: { min: 4 } },
  { rating: { min: 5 } },
  { rating: { max: 0 } },
  { kind: 'video' },
  { kind: 'photo' },
  who('all', 1),
  who('all', 1, 2),
  who('any', 3, 4, 5),
  who('only', 1),
  who('only', 2, 3),
  who('all', 30),
  who('any', 1, 40),
  { faces: { min: 2 } },
  { tag: 1 },
  { tag: 5 },
  { tag: 150 },
  { not: { tag: 1 } },
  { taken: monthSpan(2020, 1, 2020, 12) },
  { taken: monthSpan(2021, 5, 2021, 5) },
  { taken: { lastDays: 7 } },
  { taken: { month: 5 } },
  { taken: { month: 12, day: 24 } },
  { taken: { from: '2024-01-01' } },
  { taken: { to: '2008-01-01' } },
  { where: { country: 'SE' } },
  { where: { country: 'SE', place: 'Visby' } },
  { where: { country: 'HU' } },
  { event: 50 },
  { event: 900 },
  { album: 3 },
  { album: 60 },
  { batch: 7 },
  { device: 2 },
  { inNoAlbum: true },
  { has: 'place' },
  { lacks: 'place' },
  { lacks: 'date' },
  { lacks: 'names' },
  { has: 'tags' },
  { lacks: 'tags' },
  { has: 'event' },
  { has: 'caption' },
  { text: 'kite' },
  { text: 'birthday 12' },
  { text: 'img_9999' },
  { all: [who('all', 1), { rating: { min: 3 } }] },
  { all: [who('all', 1, 2), { taken: { month: 7 } }] },
  { all: [{ tag: 2 }, { rating: { min: 3 } }, { taken: monthSpan(2015, 4, 2015, 9) }] },
  { any: [who('all', 1), { tag: 3 }] },
  { any: [{ favourite: true }, { rating: { min: 5 } }] },
  { all: [{ favourite: true }, { not: who('all', 1) }] },
  {
    all: [
      who('any', 1, 2, 3),
      { where: { country: 'SE' } },
      { any: [{ taken: { month: 6 } }, { taken: { month: 7 } }, { taken: { month: 8 } }] },
    ],
  },
  { all: [{ inNoAlbum: true }, { rating: { min: 4 } }] },
  { all: [{ kind: 'video' }, { taken: monthSpan(2022, 1, 2022, 12) }] },
  { all: [{ lacks: 'names' }, { taken: monthSpan(2025, 1, 2025, 12) }] },
  { all: [{ text: 'lake' }, { rating: { min: 1 } }] },
  { not: { any: [{ favourite: true }, { rating: { min: 1 } }] } },
  { all: [{ device: 1 }, { event: 200 }] },
];

async function time(work: () => Promise<unknown>, times = 3): Promise<number> {
  const took: number[] = [];
  for (let i = 0; i < times; i++) {
    const began = performance.now();
    await work();
    took.push(performance.now() - began);
  }
  return Math.min(...took);
}

const engine = await benchEngine();
try {
  const { app } = engine;
  const began = performance.now();
  await fill(app, N);
  line(`${N} made-up pictures written`, `${((performance.now() - began) / 1000).toFixed(1)} s`);
  const pages: number[] = [];
  const counts: number[] = [];
  let scans = 0;
  for (const question of questions) {
    const page = await time(() => pageOf(app, 1, question, undefined, 100));
    const count = await time(() => countOf(app, 1, question));
    pages.push(page);
    counts.push(count);
    const { sql, values } = await conditionOf(app, 1, question);
    const [plan] = (await app.db.raw(
      `EXPLAIN SELECT p.id FROM pictures p WHERE p.library_id = 1 AND (${sql}) ORDER BY p.taken_local DESC, p.id DESC LIMIT 100`,
      values,
    )) as [{ table: string; type: string; key: string | null }[]];
    const full = plan.some((r) => r.table === 'p' && r.type === 'ALL');
    if (full) scans++;
    if (process.env['SHOW'])
      line(
        JSON.stringify(question).slice(0, 60),
        `page ${page.toFixed(1)} ms, count ${count.toFixed(1)} ms ${full ? 'SCAN' : ''} ${plan
          .filter((r) => r.table === 'p')
          .map((r) => r.key)
          .join()}`,
      );
  }
  line(
    `${questions.length} questions, a page of 100: median, worst`,
    `${quantile(pages, 0.5).toFixed(1)} ms, ${Math.max(...pages).toFixed(1)} ms`,
  );
  line(
    `${questions.length} questions, the count: median, worst`,
    `${quantile(counts, 0.5).toFixed(1)} ms, ${Math.max(...counts).toFixed(1)} ms`,
  );
  line('full scans of the picture table by EXPLAIN', String(scans));
  const bare = await time(
    () =>
      app.db.raw(
        'SELECT id, width, height, day, event_id FROM pictures WHERE library_id = 1 ORDER BY taken_local DESC, id DESC',
      ) as unknown as Promise<unknown>,
  );
  let json = '';
  const whole = await time(async () => (json = JSON.stringify(await skeleton(app, 1, { all: [] }))));
  line(
    'skeleton against the bare SELECT',
    `${(whole / bare).toFixed(2)} x (${whole.toFixed(0)} ms to ${bare.toFixed(0)} ms)`,
  );
  line('skeleton, compressed', `${(gzipSync(json).length / 1000).toFixed(0)} kB`);
  line('memory resident', `${(process.memoryUsage().rss / 1e6).toFixed(0)} MB`);
} finally {
  await engine.end();
}
