import { reason, type OpenResult } from '@gemmel/contract';
import { mkdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import { manifestFolder } from '../album/manifest';
import type { App } from '../context';
import { knowsSchema, type Db } from '../db/open';
import { slugOf } from '../files/slug';
import { defineJob, type Job } from '../jobs/kind';
import { Failed } from '../problem';
import { musicFolder } from '../show/music';
import { libraryFolder } from '../vault/vault';
import { afterBook } from './after';
import { BOOK, type BookHead } from './book';
import { copyWhole } from './copying';
import { PARTS } from './exportLibrary';
import { loadBook } from './load';
import { headOfBook, NoBook, readBook } from './read';
import { elsewhere } from './renumber';
import { KEEPING } from './tables';
import { asNewest } from './upgradeBook';
import { filesBelow } from '../vault/below';

const Carried = z.object({ from: z.string(), account: z.number().int() });

/** Where a library lies while it comes: no library can be called so. */
const comingFolder = (app: App, job: number): string => path.join(app.paths.vault, `.coming-${job}`);

/** The largest number any row has. */
async function largest(db: Db): Promise<number> {
  let most = 0;
  for (const table of Object.keys(KEEPING)) {
    if (!(await db.schema.hasColumn(table, 'id'))) continue;
    const [{ id }] = (await db(table).max('id as id')) as unknown as [{ id: number | null }];
    most = Math.max(most, Number(id ?? 0));
    // Numbers that were given and are gone are not given again.
    const [[next]] = (await db.raw(
      'SELECT AUTO_INCREMENT AS next FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = ?',
      [table],
    )) as [[{ next: number | null } | undefined]];
    most = Math.max(most, Number(next?.next ?? 1) - 1);
  }
  return most;
}

/** The files below a folder by their ways from there, half written ones left out. */
const wholeIn = async (folder: string): Promise<string[]> => [
  ...(await filesBelow(folder, (way, isFolder) => !isFolder && way.endsWith('.part'))).keys(),
];

/** A slug for a library by its name that no other has, nor a folder. */
async function freeSlug(app: App, name: string): Promise<string> {
  const base = slugOf(name, 'library', 50);
  for (let n = 1; ; n++) {
    const slug = n === 1 ? base : `${base}-${n}`;
    if (await app.db('libraries').where({ slug }).first('id')) continue;
    if (!(await stat(libraryFolder(app, slug)).catch(() => null))) return slug;
  }
}

/** The fingerprints a book names, by where their files lie. */
async function printsIn(book: string): Promise<Map<string, Buffer>> {
  const prints = new Map<string, Buffer>();
  for await (const part of readBook(book))
    if ('row' in part && typeof part.row['vault_path'] === 'string' && Buffer.isBuffer(part.row['sha256']))
      prints.set(part.row['vault_path'], part.row['sha256']);
  return prints;
}

/** The book of a folder that is to be opened. @throws Failed with why it cannot be. */
async function bookIn(from: string): Promise<BookHead> {
  const head = await headOfBook(path.join(from, BOOK));
  if (!head) throw new Failed(reason('no-library-there'));
  if (!knowsSchema(head.schema)) throw new Failed(reason('newer-library'));
  return head;
}

/**
 * Opens a library that was exported, here or elsewhere, as a further library of this house. Files are copied and compared first, under a name nobody
 * looks under; then all rows come in one transaction, and the files get their place. Cut anywhere, it goes on where it was. `taken` when the
 * folder is only there for this: its files are moved.
 */
export async function openLibrary(
  app: App,
  { id: job, signal, report }: Pick<Job, 'id' | 'signal' | 'report'>,
  { from, account }: z.infer<typeof Carried>,
  { taken = false } = {},
): Promise<OpenResult> {
  const { db, config } = app;
  const head = await bookIn(from);
  const coming = comingFolder(app, job);
  await mkdir(coming, { recursive: true, mode: 0o700 });
  const chosen = path.join(coming, 'slug');
  let slug = await readFile(chosen, 'utf8').catch(() => null);
  try {
    const vault = path.join(from, PARTS.vault);
    const files = await wholeIn(vault);
    const prints = await printsIn(path.join(from, BOOK));
    const damaged: string[] = [];
    if (taken)
      await rename(vault, path.join(coming, PARTS.vault)).catch((error: NodeJS.ErrnoException) => {
        if (error.code !== 'ENOENT') throw error;
      });
    const there = slug !== null && (await db('libraries').where({ slug }).first('id')) !== undefined;
    if (!there && !taken)
      for (const [i, file] of files.entries()) {
        signal.throwIfAborted();
        await copyWhole(path.join(vault, file), path.join(coming, PARTS.vault, file), prints.get(file) ?? null).catch(
          (error: unknown) => {
            if ((error as NodeJS.ErrnoException).code === 'ENOSPC') throw error;
            damaged.push(file);
          },
        );
        report(i + 1, files.length + 1);
      }
    if (slug === null) await writeFile(chosen, (slug = await freeSlug(app, head.name)));
    const book = await asNewest(app, path.join(from, BOOK), head, path.join(coming, BOOK), signal);
    const who = (await db('accounts').where('id', account).first('email', 'name'))!;
    if (!there)
      await db.transaction(async (trx) => {
        const [library] = await trx('libraries').insert({ slug: slug!, name: head.name });
        await trx('libraries').where('id', library!).delete();
        const by = Math.max(await largest(trx), library!);
        const opener = { account, email: who.email, name: who.name };
        await loadBook(trx, book, elsewhere(library!, by, slug!, head.name, opener));
        if (!(await trx('members').where({ library_id: library!, account_id: account }).first('id')))
          await trx('members').insert({ library_id: library!, account_id: account, name: who.name, part: 'keeper' });
      });
    const row = (await db('libraries').where({ slug }).first('id'))!;
    await rename(path.join(coming, PARTS.vault), libraryFolder(app, slug)).catch((error: NodeJS.ErrnoException) => {
      // It has its place already; or there was nothing in it.
      if (!['ENOENT', 'ENOTEMPTY', 'EEXIST'].includes(error.code ?? '')) throw error;
    });
    for (const [part, to] of [
      [PARTS.albums, manifestFolder(app, slug)],
      [PARTS.music, musicFolder(app, slug)],
    ] as const)
      for (const file of await wholeIn(path.join(from, part)))
        // Albums are written anew under their numbers here.
        if (part !== PARTS.albums) await copyWhole(path.join(from, part, file), path.join(to, file), null);
    const { pictures, missing } = await afterBook(db, config.data, row.id, slug, Date.parse(head.written));
    report(files.length + 1, files.length + 1);
    await rm(coming, { recursive: true, force: true });
    return { slug, name: head.name, pictures, missing: missing + damaged.length, at: new Date().toISOString() };
  } catch (error) {
    if (error instanceof NoBook) throw new Failed(reason('no-library-there'));
    throw error;
  }
}

declare module '../jobs/kind' {
  interface JobPayloads {
    openLibrary: z.infer<typeof Carried>;
  }
}

/** Opening a library that was exported. */
export const openJob = defineJob({
  kind: 'openLibrary',
  priority: 5,
  topic: 'library',
  keeps: true,
  // Somebody began it and is told at once.
  tries: 1,

  payload: Carried,
  run: (app, job) => openLibrary(app, job, job.payload),
});
