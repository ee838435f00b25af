import { plural, t } from '@lingui/core/macro';
import { existsSync } from 'node:fs';
import { mkdir, readdir, readFile, readlink, rename, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { CannotStart, LostDatabase } from '../cannotStart';
import type { Config } from '../config';
import { addressOf, startMariadb } from '../db/mariadb';
import { knowsSchema, migrate, migrateTo, openDb, type Db } from '../db/open';
import { tablesOf } from '../db/install';
import { runningOn } from '../running';
import { endDatabase } from '../safe/rehearse';
import { holdsFiles } from '../vault/vault';
import { bookOf, type BookHead } from './book';
import { afterBook } from './after';
import { loadBook } from './load';
import { headOfBook } from './read';

/** While a database is built anew: where the one before it was put. What is begun is brought to its end before anything starts on it. */
const noteOf = (data: string): string => path.join(data, 'rebuilding');

/** @throws {@link CannotStart} while a database is half built. */
export async function refuseHalfBuilt(data: string): Promise<void> {
  if (existsSync(noteOf(data)))
    throw new LostDatabase(
      t`The database was being rebuilt, and that didn’t finish. Finish it first: ./gemmel rebuild`,
    );
}

/** What a library is rebuilt from. */
interface Found {
  slug: string;
  book: BookHead | null;
}

/** The libraries a data folder holds, by their folders and their books. */
export async function librariesIn(data: string): Promise<Found[]> {
  const slugs = new Set<string>();
  for (const folder of ['vault', 'said'])
    for (const entry of await readdir(path.join(data, folder), { withFileTypes: true }).catch(() => []))
      if ((entry.isDirectory() || entry.isSymbolicLink()) && !entry.name.startsWith('.')) slugs.add(entry.name);
  const found: Found[] = [];
  for (const slug of [...slugs].sort()) {
    const book = await headOfBook(bookOf(data, slug));
    const here = book?.slug === slug && knowsSchema(book.schema) ? book : null;
    if (here || (await holdsFiles(path.join(data, 'vault', slug)))) found.push({ slug, book: here });
  }
  return found;
}

/** How many pictures the database in a folder knows; null when it can't be read, or there is none. */
export async function picturesKnown(config: Config): Promise<number | null> {
  const base = path.join(config.data, 'db');
  if (!existsSync(tablesOf(base))) return null;
  const mariadb = await startMariadb(base, config.secrets.db).catch(() => null);
  if (!mariadb) return null;
  const db = openDb(addressOf(base, config.secrets.db), 1);
  try {
    const [{ n }] = (await db('pictures').count('* as n')) as unknown as [{ n: number }];
    return Number(n);
  } catch {
    return null;
  } finally {
    await db.destroy();
    await mariadb.stop();
  }
}

/** What came of it. */
export interface Rebuilt {
  libraries: { slug: string; name: string; pictures: number; missing: number; fromBook: boolean }[];
  /** Addresses of those who may sign in again, once they have a password. */
  accounts: string[];
  /** Where the database before it was put; null where there was none. */
  aside: string | null;
}

/** Puts every library's book into a database, the oldest tables first, and brings these up to date. */
async function build(db: Db, data: string, found: readonly Found[]): Promise<void> {
  const books = found.filter((one): one is { slug: string; book: BookHead } => one.book !== null);
  for (const { slug, book } of books.sort((a, b) => (a.book.schema < b.book.schema ? -1 : 1))) {
    await migrateTo(db, book.schema);
    await db.transaction((trx) => loadBook(trx, bookOf(data, slug)));
  }
  await migrate(db);
  for (const { slug } of found) {
    await db('libraries').insert({ slug, name: slug }).onConflict('slug').ignore();
    // Where it lies on a disk of its own, the vault knows.
    const home = await readlink(path.join(data, 'vault', slug)).catch(() => null);
    await db('libraries').where({ slug }).update({ home });
  }
}

/**
 * Makes the database anew from the files alone: books, originals, what is written beside them, and the manifests of albums. The one there
 * is put aside, and nothing in the vault is touched: what a book does not know is taken in at the next start. Ended anywhere, it is
 * begun again by the same command.
 * @param asToldThen books have the last word: what was written beside pictures since is not heard.
 */
export async function rebuild(
  config: Config,
  over: boolean,
  say: (line: string) => void,
  { asToldThen = false } = {},
): Promise<Rebuilt> {
  const { data } = config;
  if (await runningOn(data)) throw new CannotStart(t`Gemmel is running on ${data}. Stop it first: ./gemmel stop`);
  const found = await librariesIn(data);
  if (found.length === 0) throw new CannotStart(t`There are no originals in ${data} to rebuild from.`);
  const base = path.join(data, 'db');
  const begun = await readFile(noteOf(data), 'utf8').catch(() => null);
  if (begun === null) {
    const known = await picturesKnown(config);
    if (known && !over)
      throw new CannotStart(
        plural(known, {
          one: 'The database can be read and knows # picture: there is nothing to rebuild. To do it all the same, add --over; the database is then put aside.',
          other:
            'The database can be read and knows # pictures: there is nothing to rebuild. To do it all the same, add --over; the database is then put aside.',
        }),
      );
  }
  const aside = begun ?? `db.before-${new Date().toISOString().slice(0, 19).replace(/[:T]/g, '-')}`;
  await writeFile(noteOf(data), aside);
  const there = path.join(data, aside);
  // What lies here after a cut is half built: the one that was here before has been put aside already.
  await endDatabase(base);
  if (existsSync(there)) await rm(base, { recursive: true, force: true, maxRetries: 3 });
  else if (existsSync(base)) await rename(base, there);
  await mkdir(base, { recursive: true, mode: 0o700 });
  const mariadb = await startMariadb(base, config.secrets.db);
  const db = openDb(addressOf(base, config.secrets.db), 4);
  try {
    say(
      plural(found.length, {
        one: 'Reading # library …',
        other: 'Reading # libraries …',
      }),
    );
    await build(db, data, found);
    const rows = await db('libraries').orderBy('id').select('id', 'slug', 'name');
    const libraries: Rebuilt['libraries'] = [];
    for (const { id, slug, name } of rows) {
      const book = found.find((one) => one.slug === slug)?.book ?? null;
      const { pictures, missing } = await afterBook(
        db,
        data,
        id,
        slug,
        asToldThen ? null : book && Date.parse(book.written),
      );
      libraries.push({ slug, name, pictures, missing, fromBook: book !== null });
    }
    const accounts = (await db('accounts').orderBy('id').select('email')).map(({ email }) => email);
    await rm(noteOf(data), { force: true });
    return { libraries, accounts, aside: existsSync(there) ? aside : null };
  } finally {
    await db.destroy();
    await mariadb.stop();
  }
}

/** What came of it, a line each. */
export function sayRebuilt({ libraries, accounts, aside }: Rebuilt): string[] {
  const lines: string[] = [];
  for (const { name, pictures, missing, fromBook } of libraries)
    if (!fromBook)
      lines.push(t`${name}: its pictures are brought in at the next start, with what is written beside them.`);
    else {
      lines.push(
        plural(pictures, {
          one: `${name}: # picture, with everything that was said.`,
          other: `${name}: # pictures, with everything that was said.`,
        }),
      );
      if (missing)
        lines.push(
          plural(missing, {
            one: 'The original of # picture is missing.',
            other: 'The originals of # pictures are missing.',
          }),
        );
    }
  if (aside) lines.push(t`The database that was here is now in ${aside}.`);
  for (const email of accounts)
    lines.push(t`Passwords are not kept in the files. Set a new one: ./gemmel password ${email}`);
  lines.push(t`Start with: ./gemmel start`);
  return lines;
}
