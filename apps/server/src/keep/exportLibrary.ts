import type { ExportResult } from '@gemmel/contract';
import { reason } from '@gemmel/contract';
import { mkdir, readdir, rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import { manifestFolder } from '../album/manifest';
import type { App } from '../context';
import { defineJob, type Job } from '../jobs/kind';
import { Failed } from '../problem';
import { musicFolder } from '../show/music';
import { libraryFolder } from '../vault/vault';
import { writeSidecars } from '../vault/sidecar';
import { BOOK, writeBook } from './book';
import { copyWhole, NotTheSame } from './copying';

const Carried = z.object({ to: z.string() });

/** What lies in an exported library beside its book. */
export const PARTS = { vault: 'vault', albums: 'albums', music: 'music' } as const;

const README = `This folder is a Gemmel library, whole in itself.

vault/        every original as it came, with what was said beside it (XMP)
albums/       what albums hold, as JSON and as tables
music/        music for shows
gemmel.json   all that people said, a row a line

Gemmel opens it with: ./gemmel open FOLDER
Any other program can read the pictures and their words as they lie here.
`;

/** A file that is copied: below the library's folder, and what it must be. */
interface Original {
  path: string;
  sha256: Buffer;
  bytes: number;
}

async function* originals(app: App, library: number): AsyncGenerator<Original> {
  for (const table of ['pictures', 'picture_files', 'binned_files'] as const)
    for (let after = 0; ;) {
      const rows = (await app
        .db(table)
        .where('library_id', library)
        .where('id', '>', after)
        .orderBy('id')
        .limit(1000)
        .select('id', 'vault_path', 'sha256', 'bytes')) as {
        id: number;
        vault_path: string;
        sha256: Buffer;
        bytes: number;
      }[];
      if (rows.length === 0) break;
      for (const row of rows) yield { path: row.vault_path, sha256: row.sha256, bytes: Number(row.bytes) };
      after = rows.at(-1)!.id;
    }
}

/**
 * Copies a library into a folder that is whole in itself: originals, what is written beside them, manifests, music, and its book. Each original
 * is compared with its fingerprint on the way. Cut anywhere, it goes on where it was when it is asked for again.
 */
export async function exportLibrary(
  app: App,
  { library, signal, report }: Pick<Job, 'library' | 'signal' | 'report'>,
  to: string,
): Promise<ExportResult> {
  const { db } = app;
  const { slug } = (await db('libraries').where('id', library).first('slug'))!;
  const root = libraryFolder(app, slug);
  await mkdir(to, { recursive: true, mode: 0o700 });
  const sum = async (table: string) => {
    const [{ n, bytes }] = (await db(table)
      .where('library_id', library)
      .select(db.raw('COUNT(*) AS n, COALESCE(SUM(bytes), 0) AS bytes'))) as unknown as [{ n: number; bytes: number }];
    return [Number(n), Number(bytes)] as const;
  };
  const sums = await Promise.all(['pictures', 'picture_files', 'binned_files'].map(sum));
  const of = sums.reduce((all, [, bytes]) => all + bytes, 0);
  // What was said last is written beside its picture first.
  await writeSidecars(app, { library } as Job);
  const result: ExportResult = { to, files: 0, bytes: 0, damaged: 0, at: '' };
  const copied = new Set<string>();
  for await (const { path: at, sha256, bytes } of originals(app, library)) {
    signal.throwIfAborted();
    try {
      await copyWhole(path.join(root, at), path.join(to, PARTS.vault, at), sha256);
      result.files++;
      copied.add(at);
    } catch (error) {
      // A file that moves meanwhile is met again where it lies now; one that is damaged is told.
      if (error instanceof NotTheSame || (error as NodeJS.ErrnoException).code === 'ENOENT') result.damaged++;
      else if ((error as NodeJS.ErrnoException).code === 'ENOSPC') throw new Failed(reason('no-room-there'));
      else throw error;
    }
    result.bytes += bytes;
    report(Math.min(result.bytes, of), of);
    const beside = path.join(root, `${at}.xmp`);
    if (await stat(beside).catch(() => null)) await copyWhole(beside, path.join(to, PARTS.vault, `${at}.xmp`), null);
  }
  for (const [part, folder] of [
    [PARTS.albums, manifestFolder(app, slug)],
    [PARTS.music, musicFolder(app, slug)],
  ] as const)
    for (const name of await readdir(folder).catch(() => []))
      if (!name.endsWith('.part')) await copyWhole(path.join(folder, name), path.join(to, part, name), null);
  await writeFile(path.join(to, 'READ-ME.txt'), README);
  // Last: a folder with a book is whole.
  await writeBook(db, library, path.join(to, BOOK), signal);
  await rm(path.join(to, `${BOOK}.part`), { force: true });
  return { ...result, at: new Date().toISOString() };
}

declare module '../jobs/kind' {
  interface JobPayloads {
    exportLibrary: z.infer<typeof Carried>;
  }
}

/** Copying a library into a folder of its own. */
export const exportJob = defineJob({
  kind: 'exportLibrary',
  priority: 8,
  alone: true,
  topic: 'library',
  keeps: true,
  // Somebody began it and is told at once.
  tries: 1,
  payload: Carried,
  run: (app, job) => exportLibrary(app, job, job.payload.to),
});
