/**
 * Faces: finding and describing them in other ways than the one chosen, recall by size and turn on the demo's truth;
 * gathering 20 000 faces; finding one among 50 000. Each against its bare floor. `ALTERNATIVES=1` adds the slow comparison.
 */
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { FaceEngine } from '../apps/server/src/faces/engine';
import { decode } from '../apps/server/src/media/decode';
import { sniffFile } from '../apps/server/src/media/sniff';
import {
  candidatesFor,
  describeAll,
  dot,
  gatherFaces,
  joined,
  overlap,
  remember,
  SURENESS,
  unit,
  VectorTable,
  type Box,
  type LibraryFace,
  type SeenFace,
} from '../packages/core/src';
import { line, quantile, ROOT } from './engine';
import { steady } from './synthetic';

const random = steady(5);
const normal = () => Math.sqrt(-2 * Math.log(random() + 1e-12)) * Math.cos(2 * Math.PI * random());
const noisy = (middle: Float32Array, noise: number) =>
  unit(Float32Array.from(middle, (x) => x + (noise * normal()) / Math.sqrt(middle.length)));
const some = (n: number, length: number) =>
  Array.from({ length: n }, () => unit(Float32Array.from({ length }, normal)));

/** Faces of made-up people: a few are in very many pictures, most in few, some are strangers seen once. */
function household(n: number): LibraryFace[] {
  const people = Math.round(n / 100);
  const [a, b] = [some(people, 512), some(people, 192)];
  const sizes = Array.from({ length: people }, (_, i) => 1 / (1 + i));
  const all = sizes.reduce((x, y) => x + y, 0);
  const who = sizes.flatMap((size, p) =>
    Array.from({ length: Math.max(1, Math.round((0.9 * n * size) / all)) }, () => p),
  );
  return Array.from({ length: n }, (_, i): LibraryFace => {
    const p = who[Math.floor(random() * who.length)]!;
    const stranger = random() < 0.05;
    return {
      id: i + 1,
      picture: 1 + Math.floor(i / 2.4),
      height: 60 + Math.floor(random() * 120),
      quality: 0.2 + 0.8 * random(),
      a: stranger ? some(1, 512)[0]! : noisy(a[p]!, 0.8),
      b: stranger ? some(1, 192)[0]! : noisy(b[p]!, 0.8),
      at: 20_000 * 1440 + i,
      event: 1 + Math.floor(i / 40),
      clothes: null,
      said: null,
    };
  });
}

{
  const n = Number(process.env['FACES'] ?? 20_000);
  const faces = household(n);
  const before = process.memoryUsage();
  const began = performance.now();
  const found = gatherFaces({ faces, people: [], refused: [], apart: [], sureness: SURENESS });
  const took = performance.now() - began;
  const { rss } = process.memoryUsage();
  // The floor: every face compared with every other, once, in the fastest way this machine has.
  const vectors = describeAll(faces);
  const table = new VectorTable(n, vectors[0]!.length);
  vectors.forEach((v, i) => table.set(i, v));
  const start = performance.now();
  for (let i = 0; i < n; i += 10) table.scan(i, 0, i);
  const bare = (performance.now() - start) * 10;
  line(
    `gathering ${n} faces into ${new Set(found.groups.map((g) => g.key)).size} groups`,
    `${(took / 1000).toFixed(1)} s, ${(took / bare).toFixed(2)} x comparing all; ${Math.round((rss - before.rss) / 2 ** 20)} MB more`,
  );
}

{
  const people = 40;
  const middles = some(people, 704);
  const told = Array.from({ length: people * 60 }, (_, i): SeenFace & { person: number } => ({
    id: i + 1,
    picture: i + 1,
    vector: noisy(middles[i % people]!, 0.8),
    height: 90,
    quality: 0.8,
    at: 20_000 * 1440 + i,
    event: 1,
    clothes: null,
    person: 1 + (i % people),
  }));
  const memory = remember(told, []);
  const times = Array.from({ length: 200 }, (_, i) => {
    const face = { ...told[i]!, id: 9999, picture: 9999, vector: noisy(middles[i % people]!, 0.8) };
    const began = performance.now();
    candidatesFor(face, memory, new Set());
    return performance.now() - began;
  });
  line(
    `a new face finds its person among ${people}`,
    `${quantile(times, 0.5).toFixed(2)} ms, 95 % within ${quantile(times, 0.95).toFixed(2)} ms`,
  );

  const n = 50_000;
  const table = new VectorTable(n, 704);
  const rows = some(500, 704);
  for (let i = 0; i < n; i++) table.set(i, rows[i % 500]!);
  const one = rows[7]!;
  table.scan(one);
  const began = performance.now();
  const scores = table.scan(one);
  let best = 0;
  scores.forEach((s, i) => (best = s > scores[best]! ? i : best));
  const took = performance.now() - began;
  const start = performance.now();
  for (let i = 0; i < 5000; i++) dot(one, rows[i % 500]!);
  const plain = (performance.now() - start) * 10;
  line(`one face among ${n}`, `${took.toFixed(0)} ms, ${(took / plain).toFixed(2)} x a plain loop`);
}

interface Truth {
  path: string;
  kind: string;
  people: {
    person: string;
    box: [number, number, number, number];
    yaw: number;
    occluded: boolean;
    passerby: boolean;
  }[];
}
const files = (JSON.parse(await readFile('demo/truth.json', 'utf8')) as { files: Truth[] }).files.filter(
  (t) => t.kind === 'photo' && /\.jpg$/.test(t.path) && !/^(old-laptop|stick|bad|later)\//.test(t.path),
);
const cornered = (b: readonly number[]): Box => [b[0]!, b[1]!, b[0]! + b[2]!, b[1]! + b[3]!];
const chosen = files.filter((_, i) => i % Number(process.env['EVERY'] ?? 12) === 0);
sharp.concurrency(1);
const pictures = await Promise.all(
  chosen.map(async (truth) => {
    const file = path.join(ROOT, 'demo', truth.path);
    return { truth, pixels: (await decode(file, (await sniffFile(file))!)).pixels };
  }),
);
const engine = await FaceEngine.load(path.join(ROOT, 'apps/server/models'));
const ways: [string, readonly number[]][] = [['640 and 1280 (chosen)', [640, 1280]]];
if (process.env['ALTERNATIVES']) ways.push(['640 alone', [640]], ['640, 1280 and 1920', [640, 1280, 1920]]);
for (const [name, scales] of ways) {
  let [hit, of, wrong] = [0, 0, 0];
  const times: number[] = [];
  const described: { person: string; a: Float32Array; b: Float32Array }[] = [];
  for (const { truth, pixels } of pictures) {
    const began = performance.now();
    const found = await engine.find(pixels, pixels, scales);
    times.push(performance.now() - began);
    const free = [...found];
    for (const person of truth.people) {
      of++;
      free.sort((x, y) => overlap(y.box, cornered(person.box)) - overlap(x.box, cornered(person.box)));
      if (!free[0] || overlap(free[0].box, cornered(person.box)) <= 0.25) continue;
      const face = free.shift()!;
      hit++;
      if (!person.passerby && face.quality > 0.2) described.push({ person: person.person, a: face.a, b: face.b });
    }
    wrong += free.length;
  }
  line(
    `finding and describing, ${name}`,
    `${quantile(times, 0.5).toFixed(0)} ms a picture, ${((100 * hit) / of).toFixed(1)} % of ${of} faces found, ${((100 * wrong) / pictures.length).toFixed(0)} false in 100 pictures`,
  );
  if (!process.env['ALTERNATIVES'] || scales.length !== 2) continue;
  for (const [kind, of] of [
    ['description A', (f) => f.a],
    ['description B', (f) => f.b],
    ['both joined (chosen)', (f) => joined(f.a, f.b)],
  ] as [string, (f: { a: Float32Array; b: Float32Array }) => Float32Array][]) {
    const vectors = described.map(of);
    const mean = new Float32Array(vectors[0]!.length);
    for (const v of vectors) v.forEach((x, i) => (mean[i]! += x / vectors.length));
    const centred = vectors.map((v) => unit(v.map((x, i) => x - 0.6 * mean[i]!)));
    const right = centred.filter((v, i) => {
      let [best, at] = [-2, -1];
      centred.forEach((o, j) => {
        const s = j === i ? -2 : dot(v, o);
        if (s > best) [best, at] = [s, j];
      });
      return described[at]!.person === described[i]!.person;
    }).length;
    line(
      `the nearest other face is the right person, by ${kind}`,
      `${((100 * right) / centred.length).toFixed(1)} % of ${centred.length}`,
    );
  }
}
