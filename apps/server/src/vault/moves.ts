import { rename, stat } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import { pathTaken } from '../intake/items';
import { discard, isSameFile, libraryFolder, linkTo, pathsFor, pruneFolders, syncFolder } from './vault';

/** A move that was written down and is not finished. */
interface Move {
  id: number;
  library_id: number;
  picture_id: number;
  file_id: number | null;
  from_path: string;
  to_path: string;
}

/** A move that could not be finished, and why; it stays written down. */
export interface Stuck {
  path: string;
  why: string;
}

const exists = async (file: string): Promise<boolean> => Boolean(await stat(file).catch(() => null));

/**
 * The first path for a name that nothing has: no row, no pending move, no file, and no words beside it that belong to
 * something else.
 */
export async function freePath(app: App, library: number, root: string, folder: string, name: string): Promise<string> {
  const taken = pathTaken(app.db, library);
  for (const relative of pathsFor(folder, name)) {
    const file = path.join(root, relative);
    if (!(await exists(file)) && !(await exists(`${file}.xmp`)) && !(await taken(relative))) return relative;
  }
  throw new Error('unreachable');
}

/** Tables a file's row may be in: it goes from one to the other with its picture, to the bin and back. */
const rowsOf = ({ file_id, picture_id, library_id }: Move) => [
  file_id === null
    ? { table: 'pictures' as const, where: { id: picture_id, library_id } }
    : { table: 'picture_files' as const, where: { id: file_id, library_id } },
  { table: 'binned_files' as const, where: { picture_id, file_id, library_id } },
];

/** Where the row of a move says its file lies; null when the row has gone. */
async function rowPath({ db }: App, move: Move): Promise<string | null> {
  // Twice: it may go to the other table in between.
  for (const { table, where } of [...rowsOf(move), ...rowsOf(move)]) {
    const row = (await db(table).where(where).first('vault_path')) as { vault_path: string } | undefined;
    if (row) return row.vault_path;
  }
  return null;
}

/** Tells the database where the file of a move lies now. False when its row has gone, or says something else by now. */
async function tellRow({ db }: App, move: Move): Promise<boolean> {
  for (const { table, where } of [...rowsOf(move), ...rowsOf(move)])
    if (
      (await db(table)
        .where({ ...where, vault_path: move.from_path })
        .update({ vault_path: move.to_path })) > 0
    )
      return true;
  return false;
}

/** Brings a sidecar along. What lies at the new place belongs to the same picture, since the journal keeps the name for it. */
async function bringSidecar(from: string, to: string): Promise<void> {
  if (!(await exists(`${from}.xmp`))) return;
  if (await linkTo(`${from}.xmp`, `${to}.xmp`)) return;
  await rename(`${from}.xmp`, `${to}.xmp`);
  await syncFolder(path.dirname(to));
}

/**
 * Gives the file of a move its new name, another one when that is taken, and tells the database. Answers with the move as it went;
 * null when its row has gone meanwhile, and the file stays where it was.
 */
async function link(app: App, root: string, given: Move): Promise<Move | null> {
  const { db } = app;
  const from = path.join(root, given.from_path);
  for (let move = given; ;) {
    const to = path.join(root, move.to_path);
    if (await linkTo(from, to)) {
      if (move.file_id === null) await bringSidecar(from, to);
      try {
        if (await tellRow(app, move)) return move;
        if (await isSameFile(`${from}.xmp`, `${to}.xmp`)) await discard(`${to}.xmp`);
        await discard(to);
        return null;
      } catch (error) {
        // A row whose own file has gone has this name: it keeps it, so that what is missing can come back there.
        if ((error as { code?: string }).code !== 'ER_DUP_ENTRY') throw error;
        await discard(to);
      }
    }
    const folder = path.dirname(move.to_path);
    const to_path = await freePath(app, move.library_id, root, folder, path.basename(given.to_path));
    await db('vault_moves').where('id', move.id).update({ to_path });
    move = { ...move, to_path };
  }
}

/**
 * Finishes one move: link, sync, tell the database, unlink. Safe to repeat after a crash at any point. A file is only ever
 * taken for the moved one when it is the very same (same inode), and a name is only ever taken away from a file that has the
 * other one: whatever else came to either place in the meantime stays, and the move finds another name.
 */
async function finish(app: App, root: string, given: Move): Promise<void> {
  const at = await rowPath(app, given);
  const from = path.join(root, given.from_path);
  const move = at === given.from_path && (await exists(from)) ? await link(app, root, given) : given;
  const to = path.join(root, (move ?? given).to_path);
  // When the row names neither end, or something else came to the old place, there is nothing to take away.
  if (move && (at === given.from_path || at === move.to_path) && (await isSameFile(from, to))) {
    if (move.file_id === null && (await exists(`${to}.xmp`))) await discard(`${from}.xmp`);
    await discard(from);
  }
  await app.db('vault_moves').where('id', given.id).delete();
  await pruneFolders(root, path.dirname(given.from_path));
}

/**
 * Finishes every move of a library that was written down; one that cannot be finished stays and keeps no other back.
 * @returns those that could not.
 */
export async function replayMoves(app: App, library: number): Promise<Stuck[]> {
  const { slug } = (await app.db('libraries').where('id', library).first('slug'))!;
  const root = libraryFolder(app, slug);
  const stuck: Stuck[] = [];
  for (const move of await app.db('vault_moves').where('library_id', library).orderBy('id'))
    await finish(app, root, move).catch((error: unknown) => {
      stuck.push({ path: move.from_path, why: error instanceof Error ? error.message : String(error) });
    });
  return stuck;
}
