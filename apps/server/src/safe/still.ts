import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { copyFile, link, mkdir, opendir, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import { Transform } from 'node:stream';
import type { App } from '../context';
import { addressIn } from '../db/open';
import type { DbAddress } from '../db/mariadb';
import { withFilesOf } from '../vault/lock';
import { README } from './readMe';

/** Links that are made at the same time. */
const AT_ONCE = 24;
/** The folder of the vault in which stills are made: links do not cross disks, and no library can be called so. */
export const STILLS = '.still';
/** The database in a still. */
export const DUMP = 'database.sql';

/** What a still holds beside the originals. */
export interface Still {
  folder: string;
  /** The fingerprint of the database's dump, as it was written. */
  dump: Buffer;
  /** The moment it shows, as the database tells the time, and the last act that is in it. */
  at: string;
  act: number | null;
}

/** Where a place's still is made. */
export const stillOf = (app: App, place: number): string => path.join(app.paths.vault, STILLS, String(place));

/**
 * Writes the whole database as SQL (mariadb-dump, one consistent reading). `opened` is resolved once that reading has begun: from
 * then on changes are no longer in it.
 * @returns the fingerprint of what was written.
 */
export async function dumpDatabase(
  address: DbAddress,
  file: string,
  opened: () => void = () => undefined,
  signal?: AbortSignal,
): Promise<Buffer> {
  const child = spawn(
    'mariadb-dump',
    [
      '--no-defaults',
      `--socket=${address.socketPath}`,
      `--user=${address.user}`,
      '--single-transaction',
      '--quick',
      '--hex-blob',
      '--order-by-primary',
      '--skip-dump-date',
      '--skip-lock-tables',
      '--no-tablespaces',
      '--default-character-set=utf8mb4',
      address.database,
    ],
    { env: { PATH: process.env['PATH'], MYSQL_PWD: address.password }, stdio: ['ignore', 'pipe', 'pipe'] },
  );
  let said = '';
  child.stderr.setEncoding('utf8').on('data', (text: string) => (said = (said + text).slice(-2000)));
  const ended = new Promise<number>((resolve, reject) => {
    child.once('error', reject);
    child.once('close', (code) => resolve(code ?? -1));
  });
  // Whoever waits hears of it below, even when the pipe breaks first.
  ended.catch(() => undefined);
  const stop = () => child.kill('SIGKILL');
  signal?.addEventListener('abort', stop, { once: true });
  const hash = createHash('sha256');
  let begun = false;
  const through = new Transform({
    transform(chunk: Buffer, _, done) {
      hash.update(chunk);
      // Tables are told after the reading was begun (mysqldump.c: START TRANSACTION WITH CONSISTENT SNAPSHOT comes first).
      if (!begun && chunk.includes('CREATE TABLE')) {
        begun = true;
        opened();
      }
      done(null, chunk);
    },
  });
  try {
    await pipeline(child.stdout, through, createWriteStream(file, { mode: 0o600 }));
    const code = await ended;
    signal?.throwIfAborted();
    if (code !== 0) throw new Error(`mariadb-dump: ${said.trim() || code}`);
    return hash.digest();
  } finally {
    signal?.removeEventListener('abort', stop);
    if (child.exitCode === null) child.kill('SIGKILL');
    opened();
  }
}

/** Gives every file below a folder a second name below another. Files that go meanwhile are left out. */
async function linkTree(from: string, to: string, skip: (name: string) => boolean = () => false): Promise<void> {
  const waiting: [string, string][] = [[from, to]];
  while (waiting.length) {
    const [source, target] = waiting.pop()!;
    const folder = await opendir(source).catch(() => null);
    if (!folder) continue;
    await mkdir(target, { recursive: true, mode: 0o700 });
    const hands = new Set<Promise<void>>();
    for await (const entry of folder) {
      if (skip(entry.name)) continue;
      const [at, there] = [path.join(source, entry.name), path.join(target, entry.name)];
      if (entry.isDirectory()) waiting.push([at, there]);
      else if (entry.isFile()) {
        const hand: Promise<void> = link(at, there)
          .catch((error: NodeJS.ErrnoException) => {
            if (error.code !== 'ENOENT') throw error;
          })
          .finally(() => hands.delete(hand));
        hands.add(hand);
        if (hands.size >= AT_ONCE) await Promise.race(hands);
      }
    }
    await Promise.all(hands);
  }
}

/** Notes which originals a still holds, and files beside them, in the bin too. */
async function list({ db }: App, place: number): Promise<void> {
  await db('safe_listed').where('place_id', place).delete();
  for (const table of ['pictures', 'picture_files', 'binned_files'])
    await db.raw(
      `INSERT IGNORE INTO safe_listed (place_id, library_id, sha256, path, bytes)
       SELECT ?, t.library_id, t.sha256, CONCAT(l.slug, '/', t.vault_path), t.bytes FROM ${table} t JOIN libraries l ON l.id = t.library_id
       WHERE t.broken_at IS NULL`,
      [place],
    );
}

/** Removes a place's still. What it held stays where it is: a still is second names only. */
export const dropStill = (app: App, place: number): Promise<void> =>
  rm(stillOf(app, place), { recursive: true, force: true, maxRetries: 3 });

/**
 * Makes a still: second names of every file of the vault, and the database as it was in the very same moment. Nothing moves while names
 * are given, which takes seconds; the rest of the dump is written while everybody works on. What libraries are there at that moment is in
 * it, everything else that a new machine needs, too.
 */
export async function makeStill(app: App, place: number, signal?: AbortSignal): Promise<Still> {
  const { db, config, paths } = app;
  const folder = stillOf(app, place);
  await dropStill(app, place);
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const libraries = (await db('libraries').orderBy('id').select('id')).map(({ id }) => id);
  let dumping!: Promise<Buffer>;
  const [at, act] = await withFilesOf(app, libraries, async () => {
    await list(app, place);
    const [[now]] = (await db.raw(
      'SELECT CAST(UTC_TIMESTAMP(3) AS CHAR) AS at, (SELECT MAX(id) FROM acts) AS act',
    )) as [[{ at: string; act: number | null }]];
    await new Promise<void>((resolve, reject) => {
      dumping = dumpDatabase(addressIn(db), path.join(folder, DUMP), resolve, signal);
      dumping.catch(reject);
    });
    await linkTree(paths.vault, path.join(folder, 'vault'), (name) => name === STILLS);
    for (const [name, from] of [
      ['incoming', paths.incoming],
      ['aside', paths.aside],
    ] as const)
      await linkTree(from, path.join(folder, name));
    return [now.at, now.act] as const;
  });
  for (const name of ['settings.json', 'secrets.json'])
    await copyFile(path.join(config.data, name), path.join(folder, name)).catch((error: NodeJS.ErrnoException) => {
      if (error.code !== 'ENOENT') throw error;
    });
  await writeFile(path.join(folder, 'READ-ME.txt'), README);
  return { folder, dump: await dumping, at, act };
}
