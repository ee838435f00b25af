/** A library's book, written and read back, against mariadb-dump and its client in the same run; what takes up space; PICTURES (100 000). */
import { mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { addressOf, startMariadb, type DbAddress } from '../apps/server/src/db/mariadb';
import { addressIn, migrate, openDb } from '../apps/server/src/db/open';
import { writeBook } from '../apps/server/src/keep/book';
import { compareVault } from '../apps/server/src/keep/compare';
import { loadBook } from '../apps/server/src/keep/load';
import { storageOf } from '../apps/server/src/keep/storage';
import { loadDump } from '../apps/server/src/safe/load';
import { dumpDatabase } from '../apps/server/src/safe/still';
import { benchEngine, line } from './engine';
import { fill } from './synthetic';

const COUNT = Number(process.env['PICTURES'] ?? 100_000);
const ratio = (ours: number, floor: number): string =>
  `${(ours / 1000).toFixed(1)} s against ${(floor / 1000).toFixed(1)} s: ${(ours / floor).toFixed(2)} x`;

async function timed<T>(act: () => Promise<T>): Promise<[T, number, number]> {
  const delay = monitorEventLoopDelay({ resolution: 5 });
  delay.enable();
  const began = performance.now();
  const result = await act();
  const took = performance.now() - began;
  delay.disable();
  return [result, took, delay.percentile(99) / 1e6];
}

/** A database of its own, for one reading. */
async function withFresh<T>(folder: string, act: (address: DbAddress) => Promise<T>): Promise<T> {
  const mariadb = await startMariadb(folder, 'bench');
  try {
    return await act(addressOf(folder, 'bench'));
  } finally {
    await mariadb.stop();
  }
}

async function main(): Promise<void> {
  const engine = await benchEngine();
  const { app } = engine;
  const { db } = app;
  const work = await mkdtemp(path.join(tmpdir(), 'gemmel-bench-keep-'));
  try {
    await fill(app, COUNT, true);
    await engine.runner.stop();
    const dump = path.join(work, 'dump.sql');
    const [, floor] = await timed(() => dumpDatabase(addressIn(db), dump));
    const book = path.join(work, 'gemmel.json');
    const [, wrote, late] = await timed(() => writeBook(db, 1, book));
    const size = async (file: string) => `${Math.round((await stat(file)).size / 1e6)} MB`;
    line(
      `a book of ${COUNT} pictures, against mariadb-dump`,
      `${ratio(wrote, floor)}; ${await size(book)} against ${await size(dump)}`,
    );
    line('others waited meanwhile, 99 of 100', `${late.toFixed(0)} ms`);
    const [, client] = await timed(() => withFresh(path.join(work, 'floor'), (address) => loadDump(address, dump)));
    const [, read, held] = await timed(() =>
      withFresh(path.join(work, 'own'), async (address) => {
        const fresh = openDb(address, 2);
        await migrate(fresh);
        await fresh.transaction((trx) => loadBook(trx, book));
        await fresh.destroy();
      }),
    );
    line('read into a fresh database, against the client with the dump', ratio(read, client));
    line('others waited meanwhile, 99 of 100', `${held.toFixed(0)} ms`);
    const [, storage] = await timed(() => storageOf(app, 1));
    line('what takes up space', `${Math.round(storage)} ms`);
    const [, compared] = await timed(() => compareVault(db, path.join(app.paths.vault, 'home'), 1));
    line('rows against an empty folder', `${Math.round(compared)} ms`);
    line('memory', `${Math.round(process.memoryUsage.rss() / 1e6)} MB`);
  } finally {
    await rm(work, { recursive: true, force: true });
    await engine.end();
  }
}

void main();
