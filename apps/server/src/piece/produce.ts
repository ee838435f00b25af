import { randomBytes } from 'node:crypto';
import { mkdir, readdir, rm } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import { needRoom } from '../intake/space';
import { defineJob, type Job } from '../jobs/kind';
import { makeBook } from './book/make';
import { makeBundle } from './bundle/make';
import { makeFilm } from './film/make';
import { makeOut } from './out/make';
import type { Made, Making } from './maker';
import { makeSheets } from './sheets/make';
import { pieceOf } from './pictures';
import { pieceFolder } from './folder';
import { fingerprintOf, keptPiece } from './pieces';

/** Makes the files of a piece by its kind. */
function makerOf(making: Making): Promise<Made> {
  const { settings } = making;
  switch (settings.kind) {
    case 'book':
      return makeBook({ ...making, settings });
    case 'prints':
    case 'collage':
    case 'card':
    case 'calendar':
      return makeSheets({ ...making, settings });
    case 'film':
      return makeFilm({ ...making, settings });
    case 'bundle':
      return makeBundle({ ...making, settings });
    case 'out':
      return makeOut({ ...making, settings });
  }
}

/**
 * Makes the files of a piece: into a folder of their own, which takes the place of what was made before once all of it is there. What is on the
 * way is kept when it is cut, so that it goes on where it was.
 */
export async function producePiece(
  app: App,
  { library, about: id, signal, report }: Pick<Job, 'library' | 'about' | 'signal' | 'report'>,
): Promise<void> {
  const { db } = app;
  const kept = await keptPiece(app, library, id).catch(() => null);
  if (!kept) return;
  const { row, source, settings, edits } = kept;
  const of = await pieceOf(app, library, source);
  const made_of = fingerprintOf(of, settings, edits);
  const base = pieceFolder(app, id);
  const parts = path.join(base, 'parts');
  const folder = `made-${randomBytes(6).toString('hex')}`;
  await needRoom(app, 100_000_000);
  await mkdir(parts, { recursive: true });
  await mkdir(path.join(base, folder));
  try {
    const { files, missing } = await makerOf({
      app,
      library,
      name: row.name,
      of,
      settings,
      edits,
      language: settings.language,
      to: path.join(base, folder),
      parts,
      signal,
      report,
    });
    signal.throwIfAborted();
    const values = {
      receipt: null,
      folder,
      made_of,
      files: JSON.stringify({ files, missing }),
      made_at: db.raw('UTC_TIMESTAMP(3)'),
    };
    await db('piece_files')
      .insert({ piece_id: id, library_id: library, ...values })
      .onConflict('piece_id')
      .merge(values);
    // It was removed meanwhile: what was made for it goes, too.
    if (!(await keptPiece(app, library, id).catch(() => null))) await db('piece_files').where('piece_id', id).delete();
    else await rm(parts, { recursive: true, force: true });
    for (const name of await readdir(base))
      if (name.startsWith('made-') && name !== folder)
        await rm(path.join(base, name), { recursive: true, force: true });
  } catch (error) {
    await rm(path.join(base, folder), { recursive: true, force: true });
    if (!signal.aborted) throw error;
  } finally {
    app.changed(library, 'making');
  }
}

declare module '../jobs/kind' {
  interface JobPayloads {
    piece: null;
  }
}

/** Making the files of a book, a film or another piece. */
export const pieceJob = defineJob({
  kind: 'piece',
  priority: 6,
  tries: 2,
  topic: 'making',
  run: (app, job) => producePiece(app, job),
});
