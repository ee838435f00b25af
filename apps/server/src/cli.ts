import path from 'node:path';
import { stat } from 'node:fs/promises';
import { readConfig } from './config';
import { makeApp, type App } from './context';
import { addressOf } from './db/mariadb';
import { openDb } from './db/open';
import { answerOffer, listBatches, openBatch, walk, type Announced } from './intake/batches';
import { libraryState, listTroubles } from './library/library';
import { CannotStart, runningOn, sentenceFor, startEngine, WORKER } from './start';

/** Runs something on the library: beside a running Gemmel if there is one, else on an engine of its own. */
async function withApp<T>(act: (app: App) => Promise<T>): Promise<T> {
  const config = readConfig();
  if (await runningOn(config.data)) {
    const app = makeApp(config, openDb(addressOf(path.join(config.data, 'db'), config.secrets.db)), WORKER);
    try {
      return await act(app);
    } finally {
      await app.db.destroy();
      await app.pool.destroy();
    }
  }
  const engine = await startEngine(config);
  process.on('SIGINT', () => void engine.stop().then(() => process.exit(130)));
  try {
    return await act(engine.app);
  } finally {
    await engine.stop();
  }
}

async function libraryId(app: App, wanted: string | undefined): Promise<number> {
  if (!wanted) {
    await app.db.raw("INSERT IGNORE INTO libraries (id, slug, name) VALUES (1, 'home', 'Home library')");
    return 1;
  }
  const row = (await app.db('libraries').where('slug', wanted).orWhere('name', wanted).first('id')) as
    { id: number } | undefined;
  if (row) return row.id;
  const all = ((await app.db('libraries').select('name')) as { name: string }[]).map((l) => l.name);
  throw new CannotStart(`There is no library called “${wanted}”. There is: ${all.join(', ') || 'none yet'}.`);
}

async function importFolder(folder: string, library: string | undefined, albumPerFolder: boolean): Promise<void> {
  const info = await stat(folder).catch(() => null);
  if (!info?.isDirectory()) throw new CannotStart(`There is no folder ${folder}.`);
  const files = await walk(folder);
  if (files.length === 0) throw new CannotStart(`There are no files in ${folder} or below it.`);
  const groups = new Map<string, Announced[]>();
  for (const file of files) {
    const key = albumPerFolder ? path.dirname(file.path) : path.basename(path.resolve(folder));
    groups.set(key, [...(groups.get(key) ?? []), file]);
  }
  await withApp(async (app) => {
    const id = await libraryId(app, library);
    const mine = new Map<number, string>();
    for (const [key, some] of groups)
      mine.set((await openBatch(app, id, path.basename(key), some)).id, path.basename(key));
    let shown = '';
    for (;;) {
      const batches = (await listBatches(app, id, 100_000)).filter((b) => mine.has(b.id));
      const total = batches.reduce((n, b) => n + b.counts.total, 0);
      const left = batches.reduce((n, b) => n + b.counts.waiting + b.counts.received, 0);
      const line = `${total - left} of ${total} files, ${Math.floor((100 * (total - left)) / total)} %`;
      if (line !== shown && (process.stdout.isTTY || left === 0 || (total - left) % 25 === 0))
        console.log((shown = line));
      if (left === 0) {
        for (const b of batches)
          for (const l of b.leftOut) if (l.state !== 'known') console.log(`Left out: ${l.path} ${l.reason}.`);
        const sum = (state: 'stored' | 'known') => batches.reduce((n, b) => n + b.counts[state], 0);
        console.log(`${sum('stored')} pictures are new and stored, ${sum('known')} were here already.`);
        if (albumPerFolder)
          for (const [batch, name] of mine)
            if (await answerOffer(app, id, batch, name)) console.log(`Made the album ${name}.`);
        return;
      }
      await new Promise((resolve) => setTimeout(resolve, 500));
    }
  });
}

async function status(json: boolean): Promise<void> {
  const config = readConfig();
  const running = await runningOn(config.data);
  if (!running) {
    if (json) console.log(JSON.stringify({ running: false }));
    else console.log('Gemmel is not running.');
    return;
  }
  await withApp(async (app) => {
    const libraries = (await app.db('libraries').select('id', 'slug')) as { id: number; slug: string }[];
    const states = await Promise.all(
      libraries.map(async ({ id, slug }) => ({
        library: slug,
        ...(await libraryState(app, id)),
        failed: await listTroubles(app, id),
      })),
    );
    if (json)
      console.log(
        JSON.stringify({ running: true, address: `http://127.0.0.1:${running.port}`, libraries: states }, null, 2),
      );
    else {
      console.log(`Gemmel is running at http://127.0.0.1:${running.port}`);
      for (const s of states)
        console.log(
          `${s.name}: ${s.pictures} pictures, ${s.bytes >= 1e9 ? `${(s.bytes / 1e9).toFixed(1)} GB` : `${Math.ceil(s.bytes / 1e6)} MB`}, ${s.arriving} coming in, ${s.troubles} failed`,
        );
    }
  });
}

async function main(): Promise<void> {
  const [command, ...rest] = process.argv.slice(2);
  const value = (name: string) => (rest.includes(name) ? rest[rest.indexOf(name) + 1] : undefined);
  if (command === 'import') {
    const folder = rest.find((word, i) => !word.startsWith('--') && rest[i - 1] !== '--library');
    if (!folder)
      throw new CannotStart('Say which folder: ./gemmel import <folder> [--library name] [--album-per-folder]');
    await importFolder(folder, value('--library'), rest.includes('--album-per-folder'));
  } else if (command === 'status') await status(rest.includes('--json'));
  else throw new CannotStart(`There is no command “${command ?? ''}”. See ./gemmel help.`);
}

main().then(
  () => process.exit(0),
  (error: unknown) => {
    console.error(sentenceFor(error));
    process.exit(1);
  },
);
