import { createWriteStream } from 'node:fs';
import { link, mkdir, open, readdir, rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Topic } from '@gemmel/contract';
import type { App } from '../context';
import { addressIn, type Db } from '../db/open';
import { LATE } from '../feed/feed';
import { ask } from '../jobs/jobs';
import { defineJob, type Job } from '../jobs/kind';
import { inRounds } from '../rounds';
import { alive } from '../running';
import { syncFolder } from '../vault/vault';
import { shapeOf } from './shape';
import { SAID, saidOfTable } from './tables';

/** What a book begins with: what it is, of which library, and up to where it tells. */
export interface BookHead {
  gemmel: 'library';
  version: 1;
  /** The last change of the tables it was written with: a later Gemmel brings it up to date from there. */
  schema: string;
  slug: string;
  name: string;
  /** The moment it tells of, in UTC. */
  written: string;
  /** The latest news of the library at that moment; while there is no other it need not be written again. */
  news: number;
}

/** The name of a library's book. */
export const BOOK = 'gemmel.json';
/** Where libraries' books lie: beside the vault. */
export const bookFolder = (data: string, slug: string): string => path.join(data, 'said', slug);
/** A library's book. */
export const bookOf = (data: string, slug: string): string => path.join(bookFolder(data, slug), BOOK);

/** Values of a column as a book tells them: bytes in base64. */
const told = (value: unknown): unknown => (Buffer.isBuffer(value) ? value.toString('base64') : value);

/** Accounts are of the house; a book tells what is needed to know whose a membership is. */
const ACCOUNT_COLUMNS = ['id', 'name', 'email', 'language'] as const;

/** The lines of a book, from one moment: `trx` is a consistent reading. */
async function* linesOf(trx: Db, library: number, head: BookHead): AsyncGenerator<string> {
  const { gemmel, version, ...rest } = head;
  yield `{"gemmel":${JSON.stringify(gemmel)},"version":${version},${JSON.stringify(rest).slice(1, -1)},"tables":{\n`;
  const accounts = await trx('accounts')
    .whereIn('id', trx('members').where('library_id', library).whereNotNull('account_id').select('account_id'))
    .orderBy('id')
    .select([...ACCOUNT_COLUMNS]);
  yield `"accounts":{"columns":${JSON.stringify(ACCOUNT_COLUMNS)},"binary":[],"rows":[\n`;
  yield accounts.map((row) => JSON.stringify(ACCOUNT_COLUMNS.map((name) => row[name]))).join(',\n');
  yield '\n]}';
  for (const table of SAID) {
    const { made = [] } = saidOfTable(table)!;
    const { columns, key } = await shapeOf(trx, table);
    const kept = columns.filter(({ name }) => !made.includes(name));
    const names = kept.map(({ name }) => name);
    const binary = kept.filter((one) => one.binary).map(({ name }) => name);
    yield `,\n"${table}":{"columns":${JSON.stringify(names)},"binary":${JSON.stringify(binary)},"rows":[\n`;
    const rows = trx(table as string)
      .where(table === 'libraries' ? 'id' : 'library_id', library)
      .orderBy([...key])
      .select(names)
      .stream() as unknown as Readable;
    let some: string[] = [];
    let first = true;
    const flush = () => {
      const text = `${first ? '' : ',\n'}${some.join(',\n')}`;
      first = false;
      some = [];
      return text;
    };
    for await (const row of rows as AsyncIterable<Record<string, unknown>>) {
      some.push(JSON.stringify(names.map((name) => told(row[name]))));
      if (some.length >= 500) yield flush();
    }
    if (some.length) yield flush();
    yield '\n]}';
  }
  yield '\n}}\n';
}

/**
 * Writes all that people said of a library and its pictures into one file of JSON, a row a line, whole or not at all; see docs/book.md.
 * What describes faces, passwords, and ways into shares are not in it. Returns the head of what was written.
 */
export async function writeBook(db: Db, library: number, file: string, signal?: AbortSignal): Promise<BookHead> {
  await mkdir(path.dirname(file), { recursive: true, mode: 0o700 });
  const part = `${file}.part`;
  const trx = await db.transaction({ isolationLevel: 'repeatable read' });
  try {
    const row = (await trx('libraries').where('id', library).first('slug', 'name'))!;
    const [[now]] = (await trx.raw(
      `SELECT CAST(UTC_TIMESTAMP(3) AS CHAR) AS at, (SELECT COALESCE(MAX(id), 0) FROM changes WHERE library_id = ?) AS news,
         (SELECT name FROM knex_migrations ORDER BY id DESC LIMIT 1) AS \`schema\``,
      [library],
    )) as [[{ at: string; news: number; schema: string }]];
    const head: BookHead = {
      gemmel: 'library',
      version: 1,
      schema: now.schema,
      slug: row.slug,
      name: row.name,
      written: `${now.at.replace(' ', 'T')}Z`,
      news: Number(now.news),
    };
    await pipeline(Readable.from(linesOf(trx, library, head)), createWriteStream(part, { mode: 0o600 }), {
      ...(signal && { signal }),
    });
    const handle = await open(part, 'r+');
    try {
      await handle.sync();
    } finally {
      await handle.close();
    }
    await rename(part, file);
    await syncFolder(path.dirname(file));
    return head;
  } catch (error) {
    await rm(part, { force: true });
    throw error;
  } finally {
    await trx.rollback().catch(() => undefined);
  }
}

/** News of what no book tells: looking after copies says it, and would have every book written again after each of its rounds. */
const NOT_SAID: readonly Topic[] = ['safe', 'copied', 'lists', 'columns', 'figures'];

/** What was known of a library's news when its book was written. */
interface ToldTo {
  /** A while before it was read: what was begun before another piece of news and told after it is counted, too. */
  since: string;
  /** How much news there was since then. */
  news: number;
  /** The file that was written; another process may have put another in its place. */
  inode: number;
}

/** Up to which news the book of each library tells, as this process wrote it. */
const toldTo = new Map<string, ToldTo>();

/** How much news of what a book tells there is since a moment. News goes after an hour, so less of it is no change. */
async function newsSince({ db }: App, library: number, since: string): Promise<number> {
  const [{ n }] = (await db('changes')
    .where('library_id', library)
    .where('at', '>', since)
    .whereNotIn('topic', [...NOT_SAID])
    .count('* as n')) as unknown as [{ n: number }];
  return Number(n);
}

/** The number by which its disk knows a file; null when there is none. */
const inodeOf = (file: string): Promise<number | null> =>
  stat(file).then(
    ({ ino }) => ino,
    () => null,
  );

/** Whether the book of a library tells all that was said, as far as this process knows. */
async function isTold(app: App, library: number, file: string): Promise<boolean> {
  const known = toldTo.get(file);
  if (!known || app.feed.speaks(library) || (await inodeOf(file)) !== known.inode) return false;
  return (await newsSince(app, library, known.since)) <= known.news;
}

/** Writes the book of a library into `file`, and then lets `place` put it where it belongs. */
async function writeAnew(
  app: App,
  library: number,
  file: string,
  signal: AbortSignal | undefined,
  place?: () => Promise<string | null>,
): Promise<void> {
  const [[{ since }]] = (await app.db.raw('SELECT CAST(UTC_TIMESTAMP(3) - INTERVAL ? SECOND AS CHAR) AS since', [
    LATE,
  ])) as [[{ since: string }]];
  // What changes while it is written is told after this.
  const news = await newsSince(app, library, since);
  // In a process of its own: all that was ever said goes through whoever writes it.
  await app.pool.run({ library, file, address: addressIn(app.db) }, { name: 'book', signal });
  const own = place ? await place() : file;
  const inode = own && (await inodeOf(own));
  if (own && inode) toldTo.set(own, { since, news, inode });
}

/** Writes the book of a library beside the vault. */
export async function writeOwnBook(app: App, { library, signal }: Pick<Job, 'library' | 'signal'>): Promise<void> {
  const row = await app.db('libraries').where('id', library).first('slug');
  if (row) await writeAnew(app, library, bookOf(app.config.data, row.slug), signal);
}

/** Removes second names of a book that processes left behind which were ended before they had put them in its place. */
async function tidyNames(own: string): Promise<void> {
  for (const name of await readdir(path.dirname(own))) {
    const [, pid] = /\.kept-(\d+)$/.exec(name) ?? [];
    if (pid && !alive(Number(pid))) await rm(path.join(path.dirname(own), name), { force: true });
  }
}

/**
 * Puts the book of a library into `to`: a second name of the one beside the vault when that tells everything, so that it need not be
 * copied again; else it is written anew, and is the one beside the vault from then on. Where names do not reach, on another disk, it is
 * written each time.
 */
export async function keepBook(app: App, library: number, to: string, signal?: AbortSignal): Promise<void> {
  const row = await app.db('libraries').where('id', library).first('slug');
  if (!row) return;
  const own = bookOf(app.config.data, row.slug);
  /** Whether `at` could be given a second name. */
  const named = (at: string, second: string) =>
    link(at, second).then(
      () => true,
      () => false,
    );
  await mkdir(path.dirname(to), { recursive: true, mode: 0o700 });
  await rm(to, { force: true });
  if ((await isTold(app, library, own)) && (await named(own, to))) return;
  await writeAnew(app, library, to, signal, async () => {
    const second = `${own}.kept-${process.pid}`;
    await mkdir(path.dirname(own), { recursive: true, mode: 0o700 });
    await tidyNames(own);
    await rm(second, { force: true });
    if (!(await named(to, second))) return null;
    await rename(second, own);
    return own;
  });
}

declare module '../jobs/kind' {
  interface JobPayloads {
    book: null;
  }
}

/** Writing all that people said of a library beside its vault. */
export const bookJob = defineJob({ kind: 'book', priority: 9, alone: true, run: writeOwnBook });

/** How often it is looked whether a book has to be written anew, in ms: it costs a reading of the library. */
const ROUND = 5 * 60_000;

/** Asks for the books of libraries of which there is news. */
export async function askBooks(app: App): Promise<void> {
  for (const { id, slug } of await app.db('libraries').select('id', 'slug')) {
    if (!(await isTold(app, id, bookOf(app.config.data, slug)))) await ask(app.db, id, 'book', 0, 1000);
  }
}

/** How long after the start they are looked at first, in ms. */
const SETTLED = 10_000;

/** Keeps books up to date for as long as it is not stopped. */
export function watchBooks(app: App): { stop: () => Promise<void> } {
  const first = setTimeout(() => void askBooks(app).catch(() => undefined), SETTLED).unref();
  const rounds = inRounds(ROUND, 'books', () => askBooks(app));
  return {
    stop: async () => {
      clearTimeout(first);
      await rounds.stop();
    },
  };
}
