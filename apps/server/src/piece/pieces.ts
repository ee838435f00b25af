import type { Answer, Api, MadeFile, Piece, PieceSettings as Settings, ShowSource } from '@gemmel/contract';
import { PieceSettings, Receipt } from '@gemmel/contract';
import { BookEdits, copyBytes, filmBytes, NO_EDITS } from '@gemmel/core';
import { createHash } from 'node:crypto';
import { rm } from 'node:fs/promises';
import path from 'node:path';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import type { PiecesRow } from '../db/tables';
import { ask, cancel, jobState } from '../jobs/jobs';
import { notFound, refused, sayingIn } from '../problem';
import { coverOf, showOf, titleOf } from '../show/shows';
import { pieceFolder } from './folder';
import { filmLength } from './film/make';
import { pieceOf, type PieceOf } from './pictures';

/** A piece as it is kept. */
export interface Kept {
  row: PiecesRow;
  source: ShowSource;
  settings: Settings;
  edits: BookEdits;
}

const readRow = (row: PiecesRow): Kept => ({
  row,
  source: JSON.parse(row.source) as ShowSource,
  settings: PieceSettings.parse(JSON.parse(row.settings)),
  edits: row.edits === null ? NO_EDITS : BookEdits.parse(JSON.parse(row.edits)),
});

/** A piece of this library. @throws when there is none. */
export async function keptPiece({ db }: App, library: number, id: number): Promise<Kept> {
  const row = await db('pieces').where({ id, library_id: library }).whereNull('removed_at').first();
  if (!row) throw notFound('piece');
  return readRow(row);
}

/** What tells some edits from others. */
export const editsTag = (edits: string | null): string =>
  createHash('sha256')
    .update(edits ?? '')
    .digest('base64url')
    .slice(0, 22);

/** What tells one making from another: the same pictures, with the same said of them, made in the same way. */
export function fingerprintOf(of: PieceOf, settings: Settings, edits: BookEdits): Buffer {
  const pictures = of.pictures.map(({ id, sha, title, caption, names, taken, place, takenSpan }) => [
    id,
    sha,
    title,
    caption,
    names,
    taken,
    place,
    takenSpan,
  ]);
  return createHash('sha256')
    .update(JSON.stringify([settings, edits, of.title, of.chapters, pictures]))
    .digest();
}

async function makingOf(app: App, library: number, id: number): Promise<Piece['making']> {
  const now = await jobState(app.db, library, 'piece', id);
  if (!now || now.state === 'done') return null;
  return {
    state: now.state,
    done: now.progress?.done ?? 0,
    of: now.progress?.of ?? 0,
    since: now.progress?.since ?? null,
    why: now.state === 'failed' ? sayingIn(now.error) : null,
  };
}

async function toPiece(
  app: App,
  library: number,
  { row, source, settings, edits }: Kept,
  whole: boolean,
): Promise<Piece> {
  const { db } = app;
  const files = await db('piece_files').where('piece_id', row.id).first();
  const made = files && (JSON.parse(files.files) as { files: MadeFile[]; missing: string[] });
  const content = whole ? await pieceOf(app, library, source) : null;
  const now = files && content ? fingerprintOf(content, settings, edits) : null;
  return {
    id: row.id,
    name: row.name,
    source,
    of: await ('album' in source ? albumName(app, library, source.album) : titleOf(db, library, source)),
    settings,
    cover: await coverOf(app, library, source).catch(() => null),
    made: files
      ? { at: `${files.made_at.replace(' ', 'T')}Z`, ...made!, changed: now ? !now.equals(files.made_of) : null }
      : null,
    making: await makingOf(app, library, row.id),
    receipt: files?.receipt ? Receipt.parse(JSON.parse(files.receipt)) : null,
    expects: content && (await expected(app, library, content, settings)),
  };
}

/** What the files of a piece will be, about. Of a book its pages tell. */
async function expected(app: App, library: number, of: PieceOf, settings: Settings): Promise<Piece['expects']> {
  const pictures = of.pictures.length;
  switch (settings.kind) {
    case 'book':
    case 'prints':
    case 'collage':
    case 'card':
    case 'calendar':
      return { pictures, bytes: 0, seconds: null };
    case 'film': {
      const seconds = await filmLength(app, library, of, settings);
      return { pictures, bytes: Math.round(filmBytes(seconds, settings)), seconds };
    }
    case 'bundle':
    case 'out': {
      const bytes = of.pictures.reduce(
        (sum, one) =>
          sum +
          copyBytes(
            one,
            settings.kind === 'out'
              ? settings
              : { format: settings.long === null ? 'original' : 'jpg', long: settings.long, quality: 86 },
          ),
        0,
      );
      return { pictures, bytes: Math.round(bytes), seconds: null };
    }
  }
}

const albumName = async ({ db }: App, library: number, id: number): Promise<string | null> =>
  (await db('albums').where({ id, library_id: library }).first('name'))?.name ?? null;

/** What was made of pictures, the latest first. */
export async function listPieces(app: App, library: number): Promise<Piece[]> {
  const rows = await app
    .db('pieces')
    .where('library_id', library)
    .whereNull('removed_at')
    .orderBy('id', 'desc')
    .limit(500);
  return Promise.all(rows.map((row) => toPiece(app, library, readRow(row), false)));
}

/** One piece; whether it has changed since it was made is found out. */
export const pieceById = async (app: App, library: number, id: number): Promise<Piece> =>
  toPiece(app, library, await keptPiece(app, library, id), true);

/** Begins a piece. What it is of is checked to be of this library. */
export async function makePiece(
  app: App,
  by: By,
  { name, source, settings }: { name: string; source: ShowSource; settings: Settings },
): Promise<Answer<Api['makePiece']>> {
  await showOf(app, by.library, source);
  return perform(app, by, 'make piece', async ({ trx, library, member, made, words }) => {
    const [id] = (await trx('pieces').insert({
      library_id: library,
      kind: settings.kind,
      name,
      source: JSON.stringify(source),
      settings: JSON.stringify(settings),
      made_by: member,
    })) as [number];
    made('pieces', id);
    words({ name });
    return { id };
  });
}

/** Renames a piece, or changes how it is made. It stays of its kind. */
export const changePiece = (
  app: App,
  by: By,
  id: number,
  {
    name,
    settings,
    edits,
    seen,
  }: {
    name?: string | undefined;
    settings?: Settings | undefined;
    edits?: BookEdits | undefined;
    /** Which edits these come after: see {@link editsTag}. */
    seen?: string | undefined;
  },
): Promise<{ act: number | null }> =>
  perform(app, by, 'change piece', async ({ trx, library, hold, words }) => {
    const [row] = await hold('pieces', [id]);
    if (!row || row['removed_at'] !== null) throw notFound('piece');
    if (settings && settings.kind !== row['kind']) throw refused('does-not-fit');
    if (edits && seen !== undefined && seen !== editsTag(row['edits'] as string | null)) throw refused('book-changed');
    const set = {
      ...(name !== undefined && { name }),
      ...(settings && { settings: JSON.stringify(settings) }),
      ...(edits && { edits: JSON.stringify(edits) }),
    };
    if (Object.keys(set).length) await trx('pieces').where({ id, library_id: library }).update(set);
    words({ name: String(row['name']), ...(name !== undefined && { to: name }) });
  });

/** Removes a piece and the files that were made of it; its pictures stay. */
export async function removePiece(app: App, by: By, id: number): Promise<{ act: number | null }> {
  const did = await perform(app, by, 'remove piece', async ({ trx, library, hold, words }) => {
    const [row] = await hold('pieces', [id]);
    if (!row || row['removed_at'] !== null) throw notFound('piece');
    await trx('pieces')
      .where({ id, library_id: library })
      .update({ removed_at: trx.raw('UTC_TIMESTAMP(3)') });
    words({ name: String(row['name']) });
  });
  await cancel(app.db, by.library, 'piece', id);
  // Brought back, it is made again.
  await app.db('piece_files').where({ piece_id: id, library_id: by.library }).delete();
  await rm(pieceFolder(app, id), { recursive: true, force: true });
  return did;
}

/** Has the files of a piece made. */
export async function produce(app: App, library: number, id: number): Promise<void> {
  await keptPiece(app, library, id);
  await ask(app.db, library, 'piece', id);
  app.changed(library, 'making');
}

/** Stops making the files of a piece; those that were made before stay. */
export async function stopProducing(app: App, library: number, id: number): Promise<void> {
  await cancel(app.db, library, 'piece', id);
  app.changed(library, 'making');
}

/** A file that was made. @throws when there is none of this name. */
export async function madeFile(app: App, library: number, id: number, name: string): Promise<string> {
  await keptPiece(app, library, id);
  const row = await app.db('piece_files').where({ piece_id: id, library_id: library }).first();
  const known = row && (JSON.parse(row.files) as { files: MadeFile[] }).files.some((file) => file.name === name);
  if (!known) throw notFound('file');
  return path.join(pieceFolder(app, id), row.folder, name);
}
