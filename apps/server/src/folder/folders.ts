import type { Folder } from '@gemmel/contract';
import { createHash } from 'node:crypto';
import { perform, type By } from '../act/perform';
import { notFound } from '../problem';
import type { App } from '../context';
import type { Db } from '../db/open';

/**
 * The folder a picture came in, made with those above it where they are missing: below what it came with (a card, a
 * phone, a dropped folder), then as the folders lay there. The same folder coming in again is the same folder.
 * @param top the name of the batch. @param path the folders below it, parted by `/`; `.` for none.
 */
export async function folderOf(db: Db, library: number, top: string, path: string): Promise<number> {
  const below = path.split('/').filter((part) => part && part !== '.');
  // A dropped folder is named in its files' paths already.
  const parts = below[0] === top ? below : [top, ...below];
  let parent: number | null = null;
  let way = '';
  for (const part of parts) {
    const name = [...part].slice(0, 255).join('');
    way += `/${name}`;
    const path_hash = createHash('sha256').update(way).digest();
    const there = await db('folders').where({ library_id: library, path_hash }).first('id');
    if (there) parent = there.id;
    else {
      await db('folders').insert({ library_id: library, parent_id: parent, name, path_hash }).onConflict().ignore();
      parent = (await db('folders').where({ library_id: library, path_hash }).first('id'))!.id;
    }
  }
  return parent!;
}

/** The tree of folders as child -> parent, for questions. */
export async function folderTree(db: Db, library: number): Promise<Map<number, number | null>> {
  const rows = await db('folders').where('library_id', library).select('id', 'parent_id');
  return new Map(rows.map((row) => [row.id, row.parent_id]));
}

/** All folders with what lies right in them: how many pictures, how large, from when to when, and when something last came. */
export async function listFolders(app: App, library: number): Promise<Folder[]> {
  const rows = (await app
    .db('folders as f')
    .leftJoin('pictures as p', 'p.folder_id', 'f.id')
    .where('f.library_id', library)
    .groupBy('f.id')
    .select(
      'f.id',
      'f.parent_id as parent',
      'f.name',
      'f.came_as as cameAs',
      app.db.raw(
        'COUNT(p.id) AS pictures, COALESCE(SUM(p.bytes), 0) AS bytes, MIN(p.day) AS first, MAX(p.day) AS last, MAX(p.created_at) AS changed',
      ),
    )) as unknown as (Omit<Folder, 'changed'> & { changed: string | null })[];
  return rows.map((row) => ({
    ...row,
    pictures: Number(row.pictures),
    bytes: Number(row.bytes),
    changed: row.changed?.slice(0, 10) ?? null,
  }));
}

/** The one event most pictures that lie right in a folder belong to; null when they are of none, or spread over several. */
export async function eventOfFolder(db: Db, library: number, folder: number): Promise<number | null> {
  const rows = (await db('pictures')
    .where({ library_id: library, folder_id: folder })
    .groupBy('event_id')
    .orderBy('n', 'desc')
    .limit(2)
    .select('event_id', db.raw('COUNT(*) AS n'))) as unknown as { event_id: number | null; n: number }[];
  const all = rows.reduce((sum, row) => sum + Number(row.n), 0);
  const [first] = rows;
  return first && first.event_id !== null && Number(first.n) > 0.8 * all ? first.event_id : null;
}

/**
 * Shows a folder under another name, and gives its event that name too if wished. What lies on disk is filed by days and events, not by
 * this; the same folder coming in again is still the same one, and the name it came with is found.
 */
export const renameFolder = (
  app: App,
  by: By,
  id: number,
  name: string,
  withEvent: boolean,
): Promise<{ event: number | null; act: number | null }> =>
  perform(app, by, 'rename folder', async ({ trx, library, hold, words }) => {
    await hold('folders', [id]);
    const folder = await trx('folders').where({ id, library_id: library }).first('name', 'came_as');
    if (!folder) throw notFound('file');
    const came = folder.came_as ?? folder.name;
    await trx('folders')
      .where('id', id)
      .update({ name, came_as: came === name ? null : came });
    const event = withEvent ? await eventOfFolder(trx, library, id) : null;
    if (event !== null) {
      await hold('events', [event]);
      await trx('events').where({ id: event, library_id: library }).update({ title: name });
    }
    words({ name: folder.name, to: name });
    return { event };
  });
