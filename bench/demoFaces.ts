/**
 * Finds every face of the demo household with the real engine and writes them, matched to the known truth, to
 * demo/faces.json and demo/faces.bin (one signed byte a number), for tests of recognition that need no inference. Clear
 * faces are looked at again as they would be in other light, smaller, tilted, blurred and behind glasses, and written to
 * demo/variations.json and demo/variations.bin.
 */
import { readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { Worker, isMainThread, parentPort, workerData } from 'node:worker_threads';
import sharp, { type Sharp } from 'sharp';
import { overlap, type Box, type Pixels, type Point } from '../packages/core/src';
import { FaceEngine, type FoundFace } from '../apps/server/src/faces/engine';
import { Damaged } from '../apps/server/src/media/damaged';
import { decode } from '../apps/server/src/media/decode';
import { sniffFile } from '../apps/server/src/media/sniff';

interface Truth {
  path: string;
  kind: string;
  people: { person: string; box: [number, number, number, number]; asAged?: string; passerby: boolean }[];
}
/** One line of the JSON files, and the numbers that go with it. */
interface Written {
  row: object;
  face: FoundFace | null;
  variation: boolean;
}
const root = process.cwd();
const cornered = (b: readonly number[]): Box => [b[0]!, b[1]!, b[0]! + b[2]!, b[1]! + b[3]!];

async function pixelsOf(image: Sharp): Promise<Pixels> {
  const { data, info } = await image.removeAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8Array(data) };
}

/** Round frames over both eyes. */
function glasses(width: number, height: number, [left, right]: readonly Point[]): Buffer {
  const apart = Math.hypot(right![0] - left![0], right![1] - left![1]);
  const r = 0.42 * apart;
  const ring = ([x, y]: Point) =>
    `<circle cx="${x}" cy="${y}" r="${r}" fill="#20304010" stroke="#241a14" stroke-width="${apart * 0.05}"/>`;
  const bridge = `<line x1="${left![0] + r}" y1="${left![1]}" x2="${right![0] - r}" y2="${right![1]}" stroke="#241a14" stroke-width="${apart * 0.05}"/>`;
  return Buffer.from(
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}">${ring(left!)}${ring(right!)}${bridge}</svg>`,
  );
}

/** The neighbourhood of a face, and it again in other conditions. */
async function variations(full: Pixels, face: FoundFace): Promise<[name: string, image: Pixels][]> {
  const [x1, y1, x2, y2] = face.box;
  const side = Math.round(2.6 * (y2 - y1));
  const left = Math.max(0, Math.round((x1 + x2) / 2 - side / 2));
  const top = Math.max(0, Math.round((y1 + y2) / 2 - side / 2));
  const width = Math.min(side, full.width - left);
  const height = Math.min(side, full.height - top);
  const cut = await sharp(full.data, { raw: { width: full.width, height: full.height, channels: 3 } })
    .extract({ left, top, width, height })
    .png()
    .toBuffer();
  const eyes = face.points.slice(0, 2).map(([x, y]): Point => [x - left, y - top]);
  const small = Math.round((36 / face.height) * width);
  const images: [string, Sharp][] = [
    ['dark', sharp(cut).linear(0.35, 0)],
    ['bright', sharp(cut).linear(1.35, 12)],
    [
      'warm',
      sharp(cut).recomb([
        [1.25, 0, 0],
        [0, 0.95, 0],
        [0, 0, 0.6],
      ]),
    ],
    ['small', sharp(await sharp(cut).resize(small).jpeg({ quality: 80 }).toBuffer())],
    ['tilted', sharp(cut).rotate(22, { background: '#777' })],
    ['blurred', sharp(cut).blur(Math.max(1, face.height / 45))],
    ['glasses', sharp(cut).composite([{ input: glasses(width, height, eyes) }])],
  ];
  return Promise.all(images.map(async ([name, image]): Promise<[string, Pixels]> => [name, await pixelsOf(image)]));
}

async function work(files: Truth[]) {
  sharp.concurrency(1);
  const engine = await FaceEngine.load(path.join(root, 'apps/server/models'));
  const varied = new Map<string, number>();
  const post = (message: Written | { done: true }) => parentPort!.postMessage(message);
  for (const truth of files) {
    const file = path.join(root, 'demo', truth.path);
    const kind = await sniffFile(file);
    if (!kind) continue;
    try {
      const { pixels } = await decode(file, kind);
      const free = [...truth.people];
      let chosen = false;
      for (const face of await engine.find(pixels, pixels)) {
        free.sort((x, y) => overlap(cornered(y.box), face.box) - overlap(cornered(x.box), face.box));
        const hit = free[0] && overlap(cornered(free[0].box), face.box) > 0.25 ? free.shift()! : null;
        const person = hit?.person ?? null;
        const row = {
          file: truth.path,
          box: face.box.map((v) => Math.round(v)),
          height: Math.round(face.height),
          quality: Number(face.quality.toFixed(3)),
          person,
          asAged: hit?.asAged ?? null,
          passerby: hit?.passerby ?? false,
          clothes: face.clothes ? Buffer.from(face.clothes).toString('base64') : null,
        };
        post({ row, face, variation: false });
        const aged = hit?.asAged ?? person;
        if (!aged || hit!.passerby || chosen || face.height < 70 || face.quality < 0.3) continue;
        const n = varied.get(aged) ?? 0;
        if (n >= 5) continue;
        chosen = true;
        varied.set(aged, n + 1);
        for (const [variation, image] of await variations(pixels, face)) {
          const middle = (b: Box) =>
            Math.hypot((b[0] + b[2]) / 2 - image.width / 2, (b[1] + b[3]) / 2 - image.height / 2);
          const again = (await engine.find(image, image))
            .filter((f) => middle(f.box) < 0.25 * image.width)
            .sort((a, b) => middle(a.box) - middle(b.box))[0];
          const { file: from, box } = row;
          const seen = again && { height: Math.round(again.height), quality: Number(again.quality.toFixed(3)) };
          post({
            row: { file: from, box, person, asAged: hit!.asAged ?? null, variation, ...seen },
            face: again ?? null,
            variation: true,
          });
        }
      }
    } catch (error) {
      if (!(error instanceof Damaged)) throw error;
    }
    post({ done: true });
  }
}

async function write(name: string, written: readonly Written[]): Promise<void> {
  const rows = written
    .map(({ row, face }) => ({ row: JSON.stringify(row), face }))
    .sort((a, b) => a.row.localeCompare(b.row));
  const bytes = rows.flatMap(({ face }) =>
    [face?.a ?? new Float32Array(512), face?.b ?? new Float32Array(192)].map((v) => {
      const most = Math.max(...v.map(Math.abs)) || 1;
      return Buffer.from(Int8Array.from(v, (x) => Math.round((x / most) * 127)).buffer);
    }),
  );
  await writeFile(`demo/${name}.json`, `[\n${rows.map((r) => r.row).join(',\n')}\n]\n`);
  await writeFile(`demo/${name}.bin`, Buffer.concat(bytes));
  console.log(rows.length, name);
}

if (isMainThread) {
  const truth = (JSON.parse(await readFile('demo/truth.json', 'utf8')) as { files: Truth[] }).files.filter(
    (t) => t.kind === 'photo' && !/^(old-laptop|stick|bad)\//.test(t.path),
  );
  const written: Written[] = [];
  let n = 0;
  await Promise.all(
    [0, 1].map(
      (k) =>
        new Promise<void>((resolve, reject) => {
          const worker = new Worker(new URL(import.meta.url), { workerData: truth.filter((_, i) => i % 2 === k) });
          worker.on('message', (message: Written | { done: true }) => {
            if ('row' in message) written.push(message);
            else if (++n % 50 === 0) console.log(n, 'of', truth.length);
          });
          worker.on('error', reject);
          worker.on('exit', () => resolve());
        }),
    ),
  );
  await write(
    'faces',
    written.filter((w) => !w.variation),
  );
  await write(
    'variations',
    written.filter((w) => w.variation),
  );
} else await work(workerData as Truth[]);
