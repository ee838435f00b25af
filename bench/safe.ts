/** Backing up and bringing back against restic alone on the same files in the same run: PICTURES (10 000) of KILOBYTES (150) each. */
import { spawnSync } from 'node:child_process';
import { createHash, randomFillSync } from 'node:crypto';
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { askBackup } from '../apps/server/src/safe/backup';
import { openPlace, placeRow, secretsIn } from '../apps/server/src/safe/places';
import { restoreAll } from '../apps/server/src/safe/restore';
import { seal } from '../apps/server/src/share/links';
import { startEngine } from '../apps/server/src/start';
import { benchEngine, line, ROOT } from './engine';
import { fill } from './synthetic';

const COUNT = Number(process.env['PICTURES'] ?? 10_000);
const BYTES = Number(process.env['KILOBYTES'] ?? 150) * 1000;
const PHRASE = 'a phrase for the bench';

const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));
const ratio = (ours: number, floor: number): string =>
  `${(ours / 1000).toFixed(1)} s against ${(floor / 1000).toFixed(1)} s: ${(ours / floor).toFixed(2)} x`;

async function main(): Promise<void> {
  const engine = await benchEngine();
  const { app } = engine;
  const { db } = app;
  const work = await mkdtemp(path.join(tmpdir(), 'gemmel-bench-safe-'));
  await fill(app, COUNT, true);
  const rows = await db('pictures').where('library_id', 1).select('id');
  const bytes = Buffer.allocUnsafe(BYTES);
  for (const [i, { id }] of rows.entries()) {
    randomFillSync(bytes);
    // As a household's lie: twenty to an event.
    const event = Math.floor(i / 20);
    const vault_path = `${2005 + (event % 20)}/${2005 + (event % 20)}-05-01 Event ${event}/IMG_${i}.jpg`;
    const file = path.join(app.paths.vault, 'home', vault_path);
    await mkdir(path.dirname(file), { recursive: true });
    await writeFile(file, bytes);
    const sha256 = createHash('sha256').update(bytes).digest();
    await db('pictures').where('id', id).update({ sha256, bytes: BYTES, vault_path });
  }
  const restic = (...words: string[]): number => {
    const began = performance.now();
    const { status, stderr } = spawnSync('restic', [...words, '-q'], {
      cwd: app.paths.vault,
      env: {
        ...process.env,
        RESTIC_PASSWORD: PHRASE,
        RESTIC_REPOSITORY: path.join(work, 'floor'),
        RESTIC_CACHE_DIR: path.join(work, 'cache'),
      },
    });
    if (status !== 0) throw new Error(String(stderr));
    return performance.now() - began;
  };
  restic('init');
  const [id] = (await db('safe_places').insert({
    library_id: 1,
    kind: 'folder',
    name: 'Bench',
    location: path.join(work, 'ours'),
    often: 'hand',
    sealed: seal(app, JSON.stringify({ phrase: PHRASE })),
  })) as [number];
  await openPlace(app, await placeRow(app, id));
  let most = 0;
  const watch = setInterval(() => (most = Math.max(most, process.memoryUsage.rss())), 100);
  /** Until everything is copied, and until it is read back, in ms. */
  const backUp = async () => {
    const began = performance.now();
    const before = (await db('safe_runs').max({ id: 'id' }).first())!['id'] as number | null;
    await askBackup(app, 1, id);
    let copied = 0;
    for (;;) {
      const run = await db('safe_runs')
        .where('id', '>', before ?? 0)
        .first('state', 'step', 'error', 'proven', 'wrong');
      if (run && !copied && run.step !== 'still' && run.step !== 'copying' && run.step !== null)
        copied = performance.now() - began;
      if (run && run.state !== 'running') {
        if (run.state !== 'done' || run.wrong) throw new Error(`${run.state} ${run.error}`);
        return { copied, proven: performance.now() - began, files: run.proven };
      }
      await pause(20);
    }
  };
  console.log(`${COUNT} pictures, ${(COUNT * BYTES) / 1e9} GB`);
  const floorFirst = restic('backup', '.');
  const quiet = process.memoryUsage.rss();
  const first = await backUp();
  const memory = most - quiet;
  line('first copy', ratio(first.copied, floorFirst));
  line(`first copy, all ${first.files} files read back`, ratio(first.proven, floorFirst));
  const floorSame = Math.min(restic('backup', '.'), restic('backup', '.'));
  const [one, two] = [await backUp(), await backUp()];
  const same = one.copied < two.copied ? one : two;
  line('nothing changed', ratio(same.copied, floorSame));
  line('nothing changed, the database read back', ratio(same.proven, floorSame));
  line('our own memory beside it', `${Math.round(memory / 1e6)} MB`);
  clearInterval(watch);
  if (secretsIn(app, (await db('safe_places').where('id', id).first())!).phrase !== PHRASE) throw new Error('phrase');
  const floorBack = restic('restore', 'latest', '--target', path.join(work, 'floor-back'));
  await rm(path.join(work, 'floor-back'), { recursive: true, force: true });
  const began = performance.now();
  process.env['GEMMEL_PHRASE'] = PHRASE;
  const data = path.join(work, 'fresh');
  await restoreAll({ from: path.join(work, 'ours'), data, state: undefined, over: false, dryRun: false });
  const restored = performance.now() - began;
  const { secretsOf } = await import('../apps/server/src/secrets');
  const fresh = await startEngine(
    { ...app.config, data, secrets: secretsOf(data) },
    path.join(ROOT, 'apps/server/dist/worker.js'),
  );
  await fresh.app.db('pictures').where('library_id', 1).orderBy('taken_local', 'desc').limit(100);
  const page = performance.now() - began;
  await fresh.stop();
  line('everything brought back, with its database', ratio(restored, floorBack));
  line('and the first page', ratio(page, floorBack));
  await engine.end();
  await rm(work, { recursive: true, force: true });
}

void main().then(() => process.exit(0));
