import { randomBytes } from 'node:crypto';
import { mkdir } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import { addressOf, startMariadb } from '../db/mariadb';
import { migrate, migrateTo, NEWEST, openDb } from '../db/open';
import { clearAway } from '../safe/rehearse';
import { writeBook, type BookHead } from './book';
import { loadBook } from './load';

/**
 * A book in today's form: itself when it was written so, else brought up to date by way of a database of its own, as the tables of an older Gemmel are. Answers with the file that
 * is to be read.
 */
export async function asNewest(
  app: App,
  book: string,
  head: BookHead,
  to: string,
  signal?: AbortSignal,
): Promise<string> {
  if (head.schema === NEWEST) return book;
  const folder = path.join(app.paths.incoming, `book-${process.pid}-${randomBytes(4).toString('hex')}`);
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const password = randomBytes(18).toString('base64url');
  const base = path.join(folder, 'db');
  const mariadb = await startMariadb(base, password, () => undefined, ['innodb_buffer_pool_size=48M']);
  try {
    const db = openDb(addressOf(base, password), 2);
    try {
      await migrateTo(db, head.schema);
      await db.transaction((trx) => loadBook(trx, book));
      await migrate(db);
      const { id } = (await db('libraries').where('slug', head.slug).first('id'))!;
      await writeBook(db, id, to, signal);
      return to;
    } finally {
      await db.destroy();
    }
  } finally {
    await mariadb.stop();
    await clearAway(folder);
  }
}
