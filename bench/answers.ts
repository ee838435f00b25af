/**
 * The event loop of the server while faces are answered in a library of 150 000 faces: how long a turn of it is kept waiting,
 * beside the same server doing nothing, and how long an answer takes. `FACES` sets another number.
 */
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { answerFaces } from '../apps/server/src/faces/answers';
import { benchEngine, line, quantile } from './engine';
import { fill, steady } from './synthetic';

const N = Number(process.env['FACES'] ?? 150_000);
const SECONDS = Number(process.env['SECONDS'] ?? 60);
const random = steady(11);

const engine = await benchEngine();
try {
  const { app } = engine;
  const { db } = app;
  await engine.runner.stop();
  await fill(app, Math.round(N / 2.2));
  // Descriptions of forty people, and of strangers: random directions near a middle each.
  const middles = Array.from({ length: 400 }, () => Float32Array.from({ length: 704 }, () => random() - 0.5));
  const unit = (v: Float32Array) => {
    const length = Math.hypot(...v);
    return v.map((x) => x / length);
  };
  await db('face_offers').delete();
  await db('faces').delete();
  for (let i = 0; i < N; i += 500)
    await db('faces').insert(
      Array.from({ length: Math.min(500, N - i) }, (_, k) => {
        const who = Math.floor(random() * random() * middles.length);
        const v = middles[who]!.map((x) => x + 0.45 * (random() - 0.5));
        const bytes = (part: Float32Array) => Buffer.from(unit(part).buffer);
        const named = who < 40 && random() < 0.1;
        return {
          library_id: 1,
          picture_id: 1 + (Math.floor((i + k) / 2.3) % Math.floor(N / 2.2)),
          x: 0.1,
          y: 0.1,
          w: 0.1,
          h: 0.1,
          height_px: 120,
          quality: 0.7,
          vector_a: bytes(v.slice(0, 512)),
          vector_b: bytes(v.slice(512)),
          state: named ? 'named' : 'waiting',
          person_id: named ? who + 1 : null,
          named_by: named ? 'hand' : null,
        };
      }),
    );
  line('faces', String(N));
  const watch = async (act: () => Promise<void>): Promise<{ p99: number; most: number }> => {
    const delay = monitorEventLoopDelay({ resolution: 5 });
    delay.enable();
    await act();
    delay.disable();
    return { p99: delay.percentile(99) / 1e6, most: delay.max / 1e6 };
  };
  const idle = await watch(() => new Promise((resolve) => setTimeout(resolve, 5000)));
  const { makeRunner } = await import('../apps/server/src/jobs/all');
  const runner = makeRunner(app);
  await runner.start();
  const waiting = (await db('faces').where('state', 'waiting').orderByRaw('RAND(3)').limit(4000).select('id')) as {
    id: number;
  }[];
  const answers: number[] = [];
  const busy = await watch(async () => {
    const began = Date.now();
    for (let i = 0; Date.now() - began < SECONDS * 1000; i++) {
      const at = performance.now();
      await answerFaces(
        app,
        { library: 1, member: null },
        { faces: [waiting[i % waiting.length]!.id], odd: [], is: { person: 1 + (i % 40) } },
      ).catch(() => undefined);
      answers.push(performance.now() - at);
      await new Promise((resolve) => setTimeout(resolve, 400));
    }
  });
  line('a turn of an idle event loop, 99 of 100 within', `${idle.p99.toFixed(1)} ms`);
  line('a turn while answering, 99 of 100 within', `${busy.p99.toFixed(1)} ms (longest ${busy.most.toFixed(0)})`);
  line(
    'an answer, median and 95 of 100 within',
    `${quantile(answers, 0.5).toFixed(0)}, ${quantile(answers, 0.95).toFixed(0)} ms`,
  );
  line('resident, the recognising thread included', `${Math.round(process.memoryUsage().rss / 1e6)} MB`);
  await runner.stop();
} finally {
  await engine.end();
}
process.exit(0);
