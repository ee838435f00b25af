import { execFile } from 'node:child_process';
import { existsSync } from 'node:fs';
import { copyFile, mkdir, open, readdir, rm, symlink, writeFile, type FileHandle } from 'node:fs/promises';
import path from 'node:path';
import { promisify } from 'node:util';
import type { App } from '../context';
import { addressIn } from '../db/open';
import type { DbAddress } from '../db/mariadb';
import { isThere } from '../keep/home';
import { refused } from '../problem';
import { bookOf, keepBook } from '../keep/book';
import { withFilesOf } from '../vault/lock';
import { clientOf } from './client';
import { README } from './readMe';

const run = promisify(execFile);

/** The folder of the vault in which stills are made: links do not cross disks, and no library can be called so. */
export const STILLS = '.still';
/** The database in a still. */
export const DUMP = 'database.sql';
/** How many files a still has, as JSON: whoever brings it back is told how far that is. */
export const ABOUT = 'about.json';

/** What lies beside the vault and belongs to it: the manifests of albums, and music for shows. */
const BESIDE = ['albums', 'music'] as const;

/** What a still holds beside the originals. */
export interface Still {
  folder: string;
  /** The fingerprint of the database's dump, as it was written. */
  dump: Buffer;
  /** The moment it shows, as the database tells the time, and the last act that is in it. */
  at: string;
  act: number | null;
  /** What of it is to be copied, where libraries lie on disks of their own: ways to those are not followed by themselves. Null for all. */
  parts: string[] | null;
}

/** Where the still of a library is made that lies on a disk of its own: links do not cross disks. */
const stillBeside = (home: string, place: number): string => path.join(path.dirname(home), `.gemmel-still-${place}`);

/** Where a place's still is made. */
export const stillOf = (app: App, place: number): string => path.join(app.paths.vault, STILLS, String(place));

/** How much of a dump comes before its first table at most, in bytes, and how often it is looked whether that is there, in ms. */
const [HEAD, LOOK] = [65_536, 10] as const;

/** Waits until a dump tells of its first table, or has ended. */
async function begunIn(file: FileHandle, ended: () => boolean): Promise<void> {
  const head = Buffer.alloc(HEAD);
  while (!ended()) {
    const { bytesRead } = await file.read(head, 0, HEAD, 0);
    if (head.subarray(0, bytesRead).includes('CREATE TABLE')) return;
    await new Promise((resolve) => setTimeout(resolve, LOOK));
  }
}

/**
 * Writes the whole database as SQL (mariadb-dump, one consistent reading). `opened` is called once that reading has begun: from
 * then on changes are no longer in it.
 */
export async function dumpDatabase(
  address: DbAddress,
  file: string,
  opened: () => void = () => undefined,
  signal?: AbortSignal,
): Promise<void> {
  // Written by that program itself: whole libraries are not passed through this one.
  const to = await open(file, 'w+', 0o600);
  const client = clientOf(
    'mariadb-dump',
    address,
    [
      '--single-transaction',
      '--quick',
      '--hex-blob',
      '--order-by-primary',
      '--skip-dump-date',
      '--skip-lock-tables',
      // Nor are there any when it is read: see load.ts.
      '--skip-add-locks',
      '--no-tablespaces',
      // What the still itself lists while it is made tells nobody anything later.
      `--ignore-table-data=${address.database}.safe_listed`,
    ],
    ['ignore', to.fd, 'pipe'],
    signal,
  );
  let over = false;
  try {
    const ended = client.ended().finally(() => (over = true));
    // Tables are told after the reading was begun (mysqldump.c: START TRANSACTION WITH CONSISTENT SNAPSHOT comes first).
    await Promise.all([ended, begunIn(to, () => over).then(opened)]);
  } finally {
    over = true;
    client.end();
    opened();
    await to.close();
  }
}

/** Gives every file of a folder a second name in another (`cp -al`). Files that go meanwhile are left out. */
async function linkTree(from: string, to: string): Promise<void> {
  const said = await run('cp', ['-al', '--', from, to], { env: { ...process.env, LC_ALL: 'C' }, maxBuffer: 1e8 }).then(
    () => '',
    (error: { stderr?: string; message: string }) => error.stderr ?? error.message,
  );
  const wrong = said.split('\n').filter((line) => line && !line.endsWith('No such file or directory'));
  if (wrong.length) throw Object.assign(new Error(wrong[0]), /No space left/.test(said) ? { code: 'ENOSPC' } : {});
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
export async function dropStill(app: App, place: number): Promise<void> {
  await rm(stillOf(app, place), { recursive: true, force: true, maxRetries: 3 });
  for (const { home } of await app.db('libraries').whereNotNull('home').select('home'))
    await rm(stillBeside(home!, place), { recursive: true, force: true, maxRetries: 3 });
}

/** What of a still is copied: all that lies in it, and of libraries on disks of their own what lies in those. */
async function partsOf(folder: string, elsewhere: ReadonlySet<string>): Promise<string[]> {
  const parts = (await readdir(folder)).filter((name) => name !== 'vault');
  for (const name of await readdir(path.join(folder, 'vault')))
    if (!elsewhere.has(name)) parts.push(`vault/${name}`);
    else for (const below of await readdir(path.join(folder, 'vault', name))) parts.push(`vault/${name}/${below}`);
  return parts;
}

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
  const all = await db('libraries').orderBy('id').select('id', 'slug', 'home');
  // One that is away must not be missing from what is copied: nothing is copied until it is there again.
  for (const { slug } of all) if (!(await isThere(app, slug))) throw refused('library-away');
  const libraries = all.map(({ id }) => id);
  const elsewhere = new Map(all.flatMap(({ slug, home }) => (home === null ? [] : [[slug, home] as const])));
  let dumping!: Promise<void>;
  const [at, act] = await withFilesOf(app, libraries, async () => {
    // Nothing moves meanwhile: what is listed is what the dump tells and what gets second names.
    const listing = list(app, place);
    listing.catch(() => undefined);
    const [[now]] = (await db.raw(
      'SELECT CAST(UTC_TIMESTAMP(3) AS CHAR) AS at, (SELECT MAX(id) FROM acts) AS act',
    )) as [[{ at: string; act: number | null }]];
    await new Promise<void>((resolve, reject) => {
      dumping = dumpDatabase(addressIn(db), path.join(folder, DUMP), resolve, signal);
      dumping.catch(reject);
    });
    await mkdir(path.join(folder, 'vault'));
    for (const name of await readdir(paths.vault))
      if (elsewhere.has(name)) {
        const beside = stillBeside(elsewhere.get(name)!, place);
        await mkdir(beside, { recursive: true, mode: 0o700 });
        await linkTree(elsewhere.get(name)!, path.join(beside, name));
        await symlink(path.join(beside, name), path.join(folder, 'vault', name));
      } else if (!name.startsWith('.')) await linkTree(path.join(paths.vault, name), path.join(folder, 'vault', name));
    for (const from of [paths.incoming, paths.aside]) await linkTree(from, path.join(folder, path.basename(from)));
    for (const name of BESIDE)
      if (existsSync(path.join(config.data, name)))
        await linkTree(path.join(config.data, name), path.join(folder, name));
    await listing;
    return [now.at, now.act] as const;
  });
  // So that one library can be had of it without the others.
  for (const { id, slug } of await db('libraries').whereNull('erased_at').select('id', 'slug'))
    await keepBook(app, id, bookOf(folder, slug), signal);
  for (const name of ['settings.json', 'secrets.json'])
    await copyFile(path.join(config.data, name), path.join(folder, name)).catch((error: NodeJS.ErrnoException) => {
      if (error.code !== 'ENOENT') throw error;
    });
  await writeFile(path.join(folder, 'READ-ME.txt'), README);
  await dumping;
  const { stdout } = await run('find', ['-L', folder, '-type', 'f', '-printf', '.'], { maxBuffer: 1e8 });
  await writeFile(path.join(folder, ABOUT), JSON.stringify({ files: stdout.length + 1 }));
  const parts = elsewhere.size ? await partsOf(folder, new Set(elsewhere.keys())) : null;
  const dump = (await app.pool.run({ file: path.join(folder, DUMP) }, { name: 'hash', signal })) as Uint8Array;
  return { folder, dump: Buffer.from(dump), at, act, parts };
}
