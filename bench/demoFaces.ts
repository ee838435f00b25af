/**
 * Finds every face of the demo household with the real engine and writes them, matched to the known truth, to
 * demo/faces.json and demo/faces.bin (one signed byte a number), for tests of recognition that need no inference.
 */
import { readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { Worker, isMainThread, parentPort, workerData } from 'node:worker_threads';
import { overlap, type Box } from '../packages/core/src';
import { FaceEngine } from '../apps/server/src/faces/engine';
import { Damaged } from '../apps/server/src/media/damaged';
import { decode } from '../apps/server/src/media/decode';
import { sniffFile } from '../apps/server/src/media/sniff';
import sharp from 'sharp';

interface Truth {
  path: string;
  kind: string;
  people: { person: string; box: [number, number, number, number]; asAged?: string; passerby: boolean }[];
}
const root = process.cwd();

async function work(files: Truth[]) {
  sharp.concurrency(1);
  const engine = await FaceEngine.load(path.join(root, 'apps/server/models'));
  for (const truth of files) {
    const file = path.join(root, 'demo', truth.path);
    const kind = await sniffFile(file);
    if (!kind) continue;
    try {
      const { pixels } = await decode(file, kind);
      const faces = await engine.find(pixels, pixels);
      parentPort!.postMessage({ file: truth.path, faces });
    } catch (error) {
      if (!(error instanceof Damaged)) throw error;
    }
  }
}

if (isMainThread) {
  const truth = (JSON.parse(await readFile('demo/truth.json', 'utf8')) as { files: Truth[] }).files.filter(
    (t) => t.kind === 'photo' && !/^(old-laptop|stick|bad)\//.test(t.path),
  );
  const rows: object[] = [];
  const bytes: Buffer[] = [];
  let n = 0;
  const byPath = new Map(truth.map((t) => [t.path, t]));
  await Promise.all(
    [0, 1].map(
      (k) =>
        new Promise<void>((resolve, reject) => {
          const worker = new Worker(new URL(import.meta.url), { workerData: truth.filter((_, i) => i % 2 === k) });
          worker.on(
            'message',
            ({
              file,
              faces,
            }: {
              file: string;
              faces: { box: Box; height: number; quality: number; a: Float32Array; b: Float32Array }[];
            }) => {
              if (++n % 50 === 0) console.log(n, 'of', truth.length);
              const free = [...byPath.get(file)!.people];
              for (const face of faces) {
                const boxOf = (b: number[]): Box => [b[0]!, b[1]!, b[0]! + b[2]!, b[1]! + b[3]!];
                free.sort((x, y) => overlap(boxOf(y.box), face.box) - overlap(boxOf(x.box), face.box));
                const hit = free[0] && overlap(boxOf(free[0].box), face.box) > 0.25 ? free.shift()! : null;
                rows.push({
                  file,
                  box: face.box.map((v) => Math.round(v)),
                  height: Math.round(face.height),
                  quality: Number(face.quality.toFixed(3)),
                  person: hit?.person ?? null,
                  asAged: hit?.asAged ?? null,
                  passerby: hit?.passerby ?? false,
                });
                for (const v of [face.a, face.b]) {
                  const most = Math.max(...v.map(Math.abs));
                  bytes.push(Buffer.from(Int8Array.from(v, (x) => Math.round((x / most) * 127)).buffer));
                }
              }
            },
          );
          worker.on('error', reject);
          worker.on('exit', () => resolve());
        }),
    ),
  );
  const order = rows.map((_, i) => i).sort((x, y) => JSON.stringify(rows[x]).localeCompare(JSON.stringify(rows[y])));
  await writeFile('demo/faces.json', `[\n${order.map((i) => JSON.stringify(rows[i])).join(',\n')}\n]\n`);
  await writeFile('demo/faces.bin', Buffer.concat(order.flatMap((i) => [bytes[2 * i]!, bytes[2 * i + 1]!])));
  console.log(rows.length, 'faces');
} else await work(workerData as Truth[]);
