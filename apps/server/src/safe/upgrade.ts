import { plural, t } from '@lingui/core/macro';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import { createGzip } from 'node:zlib';
import { CannotStart } from '../cannotStart';
import type { DbAddress } from '../db/mariadb';
import { addressIn, type Db } from '../db/open';
import { loadDump } from './load';
import { dumpDatabase } from './still';

/** So many dumps of before upgrades are kept. */
const KEPT = 5;
const NAME = /^\d{4}-\d{2}-\d{2}-\d{6} (before|undone) (.+)\.sql\.gz$/;

const folderOf = (data: string): string => path.join(data, 'upgrades');

/** Dumps that are kept, oldest first. */
const keptIn = async (data: string): Promise<string[]> =>
  (await readdir(folderOf(data)).catch(() => [])).filter((name) => NAME.test(name)).sort();

/** Writes the database as it is beside the data, under the moment and a reason. A sudden end leaves no half dump under a right name. */
async function keep(data: string, address: DbAddress, why: string): Promise<string> {
  const folder = folderOf(data);
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const stamp = new Date().toISOString().slice(0, 19).replace('T', '-').replace(/:/g, '');
  const [name, plain] = [`${stamp} ${why}.sql.gz`, path.join(folder, `${process.pid}.sql.part`)];
  try {
    await dumpDatabase(address, plain);
    await pipeline(
      createReadStream(plain),
      createGzip({ level: 3 }),
      createWriteStream(`${plain}.gz`, { mode: 0o600 }),
    );
    await rename(`${plain}.gz`, path.join(folder, name));
  } finally {
    await rm(plain, { force: true });
    await rm(`${plain}.gz`, { force: true });
  }
  const all = (await keptIn(data)).filter((one) => NAME.exec(one)?.[1] === 'before');
  for (const old of all.slice(0, -KEPT)) await rm(path.join(folder, old), { force: true });
  return name;
}

/** Keeps the database as it is before its tables are changed to another form: the last five such dumps. */
export const keepBefore = (data: string, db: Db, first: string): Promise<string> =>
  keep(data, addressIn(db), `before ${first}`);

/** While an upgrade is being taken back: which dump is read. What is begun is brought to its end before anything starts on it. */
const noteOf = (data: string): string => path.join(folderOf(data), 'taking-back');
const begunIn = (data: string): Promise<string | null> => readFile(noteOf(data), 'utf8').catch(() => null);

/** @throws {@link CannotStart} while a database is half put back. */
export async function refuseHalfBack(data: string): Promise<void> {
  if ((await begunIn(data)) !== null)
    throw new CannotStart(
      t`An upgrade was being undone, and that didn’t finish. Finish it first: ./gemmel undo-upgrade --yes`,
    );
}

/** Says what the database knows now, and how much was said and done since a dump. */
async function sayWhatGoes(db: Db, last: string, say: (line: string) => void): Promise<void> {
  const [date, time] = [last.slice(0, 10), last.slice(11, 17).replace(/(..)(..)(..)/, '$1:$2:$3')];
  const day = `${date} ${time.slice(0, 5)}`;
  const [{ pictures }] = (await db('pictures').count('* as pictures')) as unknown as [{ pictures: number }];
  say(t`The database as it was on ${day} (UTC), before the last upgrade, is kept. Now it knows ${pictures} pictures.`);
  const [{ n }] = (await db('acts').where('at', '>', `${date} ${time}`).count('* as n')) as unknown as [{ n: number }];
  say(
    plural(Number(n), {
      0: 'Nothing has been said or done since.',
      one: '# thing said or done since would no longer be known.',
      other: '# things said or done since would no longer be known.',
    }),
  );
}

/**
 * Puts the database back as it was before the last upgrade, for the version before it. What was done since would be gone from the
 * database: it is said first, and kept as a dump of its own. Originals are not touched. Ended
 * anywhere, it is brought to its end by the same command.
 */
export async function undoUpgrade(data: string, db: Db, yes: boolean, say: (line: string) => void): Promise<void> {
  const begun = await begunIn(data);
  const last = begun ?? (await keptIn(data)).filter((name) => NAME.exec(name)?.[1] === 'before').at(-1);
  if (!last) throw new CannotStart(t`No upgrade is known that could be undone.`);
  const address = addressIn(db);
  if (begun === null) {
    await sayWhatGoes(db, last, say);
    if (!yes) throw new CannotStart(t`Nothing has been changed. To go on, add --yes.`);
    await keep(data, address, 'undone upgrade');
    await writeFile(noteOf(data), last);
  }
  // Tables of the newer form must not stay behind.
  await db.raw('DROP DATABASE IF EXISTS ??', [address.database]);
  await db.raw('CREATE DATABASE ?? CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci', [address.database]);
  await loadDump(address, path.join(folderOf(data), last));
  await rm(noteOf(data), { force: true });
  await rename(path.join(folderOf(data), last), path.join(folderOf(data), last.replace(' before ', ' undone ')));
  const kept = (await keptIn(data)).filter((name) => name.includes(' undone upgrade')).at(-1) ?? '';
  say(
    t`Done. What was here is kept as ${kept}. Start the version of Gemmel you had before: this one would upgrade it again.`,
  );
}
