/** Pages while NEW (1000) pictures come into a library of PICTURES (100 000) and a backup runs, against the same pages in quiet. */
import { mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { openBatch, walk } from '../apps/server/src/intake/announce';
import { askBackup } from '../apps/server/src/safe/backup';
import { addPlace } from '../apps/server/src/safe/places';
import { benchBrowser, line, quantile } from './engine';
import { ACCOUNT, servedLibrary } from './library';
import { steady } from './synthetic';

const COUNT = Number(process.env['PICTURES'] ?? 100_000);
const NEW = Number(process.env['NEW'] ?? 1000);
const PORT = 4892;
/** Pages opened in quiet, and at most while work runs. */
const VISITS = { quiet: 8, busy: 40 };

const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

/** Pictures of a camera's size: of a few kinds, and no two the same, which bytes after the end of each see to. */
async function makePictures(folder: string): Promise<void> {
  const random = steady(11);
  await mkdir(folder, { recursive: true });
  const kinds = await Promise.all(
    Array.from({ length: 24 }, (_, i) => {
      const noise = Buffer.from(Uint8Array.from({ length: 40 * 30 * 3 }, () => random() * 255));
      return sharp(noise, { raw: { width: 40, height: 30, channels: 3 } })
        .resize(2400, 1800)
        .withExif({ IFD2: { DateTimeOriginal: `2026:06:${String(1 + i).padStart(2, '0')} 10:00:00` } })
        .jpeg({ quality: 80 })
        .toBuffer();
    }),
  );
  for (let i = 0; i < NEW; i++)
    await writeFile(
      path.join(folder, `IMG_${i}.jpg`),
      Buffer.concat([kinds[i % kinds.length]!, Buffer.from(`number ${i}`)]),
    );
}

/** What a process takes of the machine's memory now, in bytes. */
const memoryOf = async (pid: number): Promise<number> =>
  1024 * Number(/VmRSS:\s+(\d+)/.exec(await readFile(`/proc/${pid}/status`, 'utf8'))![1]);

const engine = await servedLibrary(COUNT, PORT);
const { app, pid } = engine;
const work = await mkdtemp(path.join(tmpdir(), 'gemmel-bench-work-'));
const browser = await benchBrowser();
try {
  await makePictures(path.join(work, 'new'));
  const place = await addPlace(app, 1, {
    kind: 'folder',
    name: 'Bench',
    location: path.join(work, 'place'),
    often: 'hand',
    hour: 2,
    phrase: 'a phrase for the bench',
  });
  const context = await browser.newContext({
    viewport: { width: 390, height: 844 },
    baseURL: `http://127.0.0.1:${PORT}`,
    serviceWorkers: 'block',
  });
  await context.request.post('/api/sign-in', { data: { email: ACCOUNT.email, password: ACCOUNT.password } });
  const page = await context.newPage();
  /** How long a page takes until its first pictures are there, and a list until it has answered, in ms. */
  const visit = async (): Promise<[number, number]> => {
    let began = performance.now();
    await page.goto('/browse');
    await page.locator('.tile img.here').first().waitFor({ timeout: 60_000 });
    const first = performance.now() - began;
    began = performance.now();
    await page.evaluate(() => fetch('/api/people').then((answer) => answer.text()));
    return [first, performance.now() - began];
  };
  await visit();
  await pause(8000);
  const quiet: [number, number][] = [];
  for (let i = 0; i < VISITS.quiet; i++) {
    quiet.push(await visit());
    await pause(1500);
  }
  const before = await memoryOf(pid);
  const { id } = await openBatch(app, 1, 'New', await walk(path.join(work, 'new')));
  await askBackup(app, 1, place);
  // As if it had waited behind the pictures long enough to be done among them.
  await app
    .db('jobs')
    .where('kind', 'backup')
    .update({ run_after: app.db.raw('UTC_TIMESTAMP(3) - INTERVAL 1 HOUR') });
  const busy: [number, number][] = [];
  const took: number[] = [];
  const watch = setInterval(() => void memoryOf(pid).then((bytes) => took.push(bytes)), 200);
  const began = Date.now();
  const coming = async () => (await app.db('batches').where('id', id).first('state'))!.state === 'coming';
  while (busy.length < VISITS.busy && (await coming())) {
    busy.push(await visit());
    await pause(1500);
  }
  clearInterval(watch);
  const [{ n }] = (await app.db('pictures').where('batch_id', id).count('* as n')) as unknown as [{ n: number }];
  const backup = await app.db('jobs').where('kind', 'backup').first('state', 'progress');
  const said = (of: 0 | 1) => {
    const [a, b] = [
      quantile(
        quiet.map((one) => one[of]),
        0.5,
      ),
      quantile(
        busy.map((one) => one[of]),
        0.5,
      ),
    ];
    return `${b.toFixed(0)} ms against ${a.toFixed(0)} ms: ${(b / a).toFixed(2)} x`;
  };
  line('first pictures while others come in and a backup runs, median', said(0));
  line('the list of people meanwhile, median', said(1));
  line(`came in meanwhile, of ${NEW}`, `${n} in ${((Date.now() - began) / 1000).toFixed(0)} s`);
  line('the backup beside them', backup ? `${backup.state}, ${backup.progress ?? 'not begun'}` : 'has come to its end');
  line(
    'memory of the server before; meanwhile, median and at most',
    [before, quantile(took, 0.5), Math.max(...took)].map((bytes) => `${Math.round(bytes / 1e6)} MB`).join('; '),
  );
} finally {
  await browser.close();
  await engine.end();
  await rm(work, { recursive: true, force: true });
}
process.exit(0);
