import { numbered, safeFileName, splitExtension, vaultFolder, type VaultLayout } from '@gemmel/core';
import { link, mkdir, stat } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import type { Job } from '../jobs/jobs';
import { SPAN, spanOf, type SpanRow } from '../time/span';
import { withFiles } from './lock';
import { discard, libraryFolder, pruneFolders, syncFolder } from './vault';

interface Filed extends SpanRow {
  id: number;
  name: string;
  original_name: string | null;
  vault_path: string;
  day: string | null;
  title: string | null;
  start: string | null;
}

interface Beside {
  id: number;
  picture_id: number;
  role: string;
  name: string;
  vault_path: string;
}

/** Links a file to its new place; the same file there already is fine, since a move may be played again. */
async function linkAgain(from: string, to: string): Promise<void> {
  await mkdir(path.dirname(to), { recursive: true });
  try {
    await link(from, to);
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code;
    if (code === 'ENOENT' && (await stat(to).catch(() => null))) return;
    if (code !== 'EEXIST') throw error;
  }
  await syncFolder(path.dirname(to));
}

/** Finishes every move that was written down: link, sync, tell the database, unlink. Safe to repeat after a crash. */
export async function replayMoves(app: App, library: number): Promise<void> {
  const { slug } = (await app.db('libraries').where('id', library).first('slug')) as { slug: string };
  const root = libraryFolder(app, slug);
  const moves = (await app.db('vault_moves').where('library_id', library).orderBy('id')) as {
    id: number;
    picture_id: number;
    file_id: number | null;
    from_path: string;
    to_path: string;
  }[];
  for (const move of moves) {
    const [from, to] = [path.join(root, move.from_path), path.join(root, move.to_path)];
    await linkAgain(from, to);
    if (move.file_id === null)
      await linkAgain(`${from}.xmp`, `${to}.xmp`).catch((error: NodeJS.ErrnoException) => {
        if (error.code !== 'ENOENT') throw error; // no sidecar yet
      });
    await app
      .db(move.file_id === null ? 'pictures' : 'picture_files')
      .where({ id: move.file_id ?? move.picture_id, library_id: library })
      .update({ vault_path: move.to_path });
    await discard(from);
    if (move.file_id === null) await discard(`${from}.xmp`);
    await app.db('vault_moves').where('id', move.id).delete();
    await pruneFolders(root, path.dirname(move.from_path));
  }
}

/** Whether a file is called what it should be, a running number for twins aside. */
function isCalled(vaultPath: string, name: string): boolean {
  const own = path.basename(vaultPath);
  const wanted = safeFileName(name);
  if (own === wanted) return true;
  const [stem, extension] = splitExtension(wanted);
  return own.startsWith(`${stem} (`) && /^\d+\)$/.test(own.slice(stem.length + 2, own.length - extension.length));
}

/** What a file beside a picture is called: its own name, or the picture's new one with its own ending. */
function besideName(file: Beside, picture: Filed): string {
  const came = file.role === 'said' ? file.name.replace(/\.xmp$/i, '.brought.xmp') : file.name;
  if (!picture.original_name) return came;
  const [before] = splitExtension(picture.original_name);
  return came.toLowerCase().startsWith(before.toLowerCase())
    ? splitExtension(picture.name)[0] + came.slice(before.length)
    : came;
}

/** Keeps folders and names on disk in step with days, events and names: every file that lies elsewhere moves, by journal. */
export async function refile(app: App, { library }: Job): Promise<void> {
  const { db } = app;
  await replayMoves(app, library);
  const { slug, layout } = (await db('libraries').where('id', library).first('slug', 'layout')) as {
    slug: string;
    layout: VaultLayout;
  };
  const root = libraryFolder(app, slug);
  const rows = (await db('pictures as p')
    .leftJoin('events as e', 'e.id', 'p.event_id')
    .where('p.library_id', library)
    .select(
      'p.id',
      'p.name',
      'p.original_name',
      'p.vault_path',
      'p.day',
      'e.title',
      'e.start_day as start',
      ...SPAN.map((column) => `p.${column}`),
    )) as Filed[];
  const files = (await db('picture_files')
    .where('library_id', library)
    .select('id', 'picture_id', 'role', 'name', 'vault_path')) as Beside[];
  const beside = new Map<number, Beside[]>();
  for (const file of files) beside.set(file.picture_id, [...(beside.get(file.picture_id) ?? []), file]);
  const paths = new Set([...rows, ...files].map((row) => row.vault_path));
  const move = async (picture: number, file: number | null, from: string, folder: string, name: string) => {
    // A missing file is for the check to report, not for a move.
    if (!(await stat(path.join(root, from)).catch(() => null))) return;
    const to = await freePath(root, folder, name, paths);
    paths.add(to);
    await db('vault_moves').insert({
      picture_id: picture,
      file_id: file,
      library_id: library,
      from_path: from,
      to_path: to,
    });
    await replayMoves(app, library);
  };
  const moves: (() => Promise<void>)[] = [];
  for (const row of rows) {
    const event = row.start ? { title: row.title, start: row.start } : null;
    const folder = vaultFolder(row.day, event, layout, spanOf(row));
    const stays = (at: string, name: string) => path.dirname(at) === folder && isCalled(at, name);
    if (!stays(row.vault_path, row.name)) moves.push(() => move(row.id, null, row.vault_path, folder, row.name));
    for (const file of beside.get(row.id) ?? []) {
      const name = besideName(file, row);
      if (!stays(file.vault_path, name)) moves.push(() => move(row.id, file.id, file.vault_path, folder, name));
    }
  }
  if (moves.length === 0) return;
  const filing = { done: 0, of: moves.length, since: Date.now() };
  app.filing.set(library, filing);
  let told = 0;
  try {
    for (const act of moves) {
      await withFiles(app, library, act);
      filing.done++;
      if (Date.now() - told > 500) {
        told = Date.now();
        app.changed(library, 'filing');
      }
    }
  } finally {
    app.filing.delete(library);
    app.changed(library, 'filing', 'pictures');
  }
}

async function freePath(root: string, folder: string, name: string, paths: ReadonlySet<string>): Promise<string> {
  for (let n = 1; ; n++) {
    const relative = path.join(folder, numbered(safeFileName(name), n));
    if (!paths.has(relative) && !(await stat(path.join(root, relative)).catch(() => null))) return relative;
  }
}
