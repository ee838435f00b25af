/** Taking in new pictures against the floor: hash, decode, two derived sizes and faces, with the same number of threads. */
import { createHash } from 'node:crypto';
import { cp, mkdir, mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import sharp from 'sharp';
import { openBatch, walk } from '../apps/server/src/intake/announce';
import { FaceEngine } from '../apps/server/src/faces/engine';
import { benchEngine, line, ROOT } from './engine';

const COUNT = Number(process.env['PICTURES'] ?? 60);

/** The bare library calls that no program could avoid. */
async function floor(files: string[]): Promise<void> {
  sharp.concurrency(1);
  sharp.cache(false);
  const engine = await FaceEngine.load(path.join(ROOT, 'apps/server/models'));
  const out = await mkdtemp(path.join(tmpdir(), 'gemmel-floor-'));
  parentPort!.postMessage('ready');
  await new Promise((resolve) => parentPort!.once('message', resolve));
  for (const [i, file] of files.entries()) {
    const bytes = await readFile(file);
    createHash('sha256').update(bytes).digest();
    const { data, info } = await sharp(bytes).rotate().removeAlpha().raw().toBuffer({ resolveWithObject: true });
    const raw = { raw: { width: info.width, height: info.height, channels: 3 as const } };
    await sharp(data, raw)
      .resize(1600, 1600, { fit: 'inside', withoutEnlargement: true })
      .jpeg({ quality: 82 })
      .toFile(path.join(out, `${i}-large.jpg`));
    await sharp(data, raw)
      .resize(400, 400, { fit: 'inside' })
      .webp({ quality: 75 })
      .toFile(path.join(out, `${i}-small.webp`));
    const pixels = {
      width: info.width,
      height: info.height,
      data: new Uint8Array(data.buffer, data.byteOffset, data.byteLength),
    };
    await engine.find(pixels, pixels);
  }
  await rm(out, { recursive: true, force: true });
  parentPort!.postMessage('done');
}

async function main(): Promise<void> {
  const all = (await walk(path.join(ROOT, 'demo/ilses-phone')))
    .map((f) => f.source!)
    .filter((f) => f.endsWith('.jpg'))
    .slice(0, COUNT);
  const source = await mkdtemp(path.join(tmpdir(), 'gemmel-in-'));
  await mkdir(path.join(source, 'pictures'));
  for (const file of all) await cp(file, path.join(source, 'pictures', path.basename(file)));
  const halves = [all.filter((_, i) => i % 2 === 0), all.filter((_, i) => i % 2 === 1)];
  const once = (worker: Worker, word: string) =>
    new Promise<void>(
      (resolve, reject) => (worker.on('message', (m) => m === word && resolve()), worker.on('error', reject)),
    );
  const floorTime = async () => {
    const workers = halves.map((files) => new Worker(new URL(import.meta.url), { workerData: files }));
    await Promise.all(workers.map((w) => once(w, 'ready')));
    const began = performance.now();
    workers.forEach((w) => w.postMessage('go'));
    await Promise.all(workers.map((w) => once(w, 'done')));
    const took = performance.now() - began;
    await Promise.all(workers.map((w) => w.terminate()));
    return took;
  };
  const engine = await benchEngine();
  const { app, runner } = engine;
  await app.db.raw("INSERT IGNORE INTO libraries (id, slug, name) VALUES (1, 'home', 'Home library')");
  const takeIn = async (name: string) => {
    const files = await walk(path.join(source, name));
    const began = performance.now();
    const { id } = await openBatch(app, 1, name, files);
    runner.nudge();
    while (await app.db('batches').where({ id, state: 'coming' }).first('id'))
      await new Promise((resolve) => setTimeout(resolve, 15));
    return performance.now() - began;
  };
  try {
    // The threads are warmed first, as those of the floor are, so that loading the networks counts for neither.
    await mkdir(path.join(source, 'warm'));
    for (const [i, file] of (await walk(path.join(ROOT, 'demo/martens-phone')))
      .map((f) => f.source!)
      .filter((f) => f.endsWith('.jpg'))
      .slice(0, 6)
      .entries())
      await cp(file, path.join(source, 'warm', `${i}.jpg`));
    await takeIn('warm');
    const bare = await floorTime();
    const fresh = await takeIn('pictures');
    const again = await takeIn('pictures');
    const each = (ms: number) => `${(ms / all.length).toFixed(0)} ms a picture`;
    line(`the floor, ${all.length} pictures, two threads`, each(bare));
    line('taking in, everything included', `${each(fresh)}, ${(fresh / bare).toFixed(2)} x the floor`);
    line(
      'taking in what is already here',
      `${(again / all.length).toFixed(1)} ms a picture, ${(fresh / again).toFixed(0)} x faster than new`,
    );
  } finally {
    await engine.end();
    await rm(source, { recursive: true, force: true });
  }
}

await (isMainThread ? main() : floor(workerData as string[]));
