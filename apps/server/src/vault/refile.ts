import { numbered, safeFileName, vaultFolder } from '@gemmel/core';
import { link, mkdir, stat } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import type { Job } from '../jobs/jobs';
import { discard, libraryFolder, pruneFolders, syncFolder } from './vault';

interface Filed {
  id: number;
  name: string;
  vault_path: string;
  day: string | null;
  title: string | null;
  start: string | null;
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
  const moves = (await app.db('vault_moves').where('library_id', library)) as {
    picture_id: number;
    from_path: string;
    to_path: string;
  }[];
  for (const move of moves) {
    const [from, to] = [path.join(root, move.from_path), path.join(root, move.to_path)];
    await linkAgain(from, to);
    await linkAgain(`${from}.xmp`, `${to}.xmp`).catch((error: NodeJS.ErrnoException) => {
      if (error.code !== 'ENOENT') throw error; // no sidecar yet
    });
    await app.db('pictures').where({ id: move.picture_id, library_id: library }).update({ vault_path: move.to_path });
    await discard(from);
    await discard(`${from}.xmp`);
    await app.db('vault_moves').where('picture_id', move.picture_id).delete();
    await pruneFolders(root, path.dirname(move.from_path));
  }
}

/** Keeps the folders on disk in step with days and event names: every original that lies elsewhere moves, by journal. */
export async function refile(app: App, { library }: Job): Promise<void> {
  await replayMoves(app, library);
  const { slug } = (await app.db('libraries').where('id', library).first('slug')) as { slug: string };
  const root = libraryFolder(app, slug);
  const rows = (await app
    .db('pictures as p')
    .leftJoin('events as e', 'e.id', 'p.event_id')
    .where('p.library_id', library)
    .select('p.id', 'p.name', 'p.vault_path', 'p.day', 'e.title', 'e.start_day as start')) as Filed[];
  const paths = new Set(rows.map((row) => row.vault_path));
  for (const row of rows) {
    const folder = vaultFolder(row.day, row.start ? { title: row.title, start: row.start } : null);
    if (path.dirname(row.vault_path) === folder) continue;
    const file = path.join(root, row.vault_path);
    if (!(await stat(file).catch(() => null))) continue; // a missing original is for the check to report, not for a move
    const to = await freePath(root, folder, row.name, paths);
    paths.add(to);
    await app
      .db('vault_moves')
      .insert({ picture_id: row.id, library_id: library, from_path: row.vault_path, to_path: to });
    await replayMoves(app, library);
  }
}

async function freePath(root: string, folder: string, name: string, paths: ReadonlySet<string>): Promise<string> {
  for (let n = 1; ; n++) {
    const relative = path.join(folder, numbered(safeFileName(name), n));
    if (!paths.has(relative) && !(await stat(path.join(root, relative)).catch(() => null))) return relative;
  }
}
