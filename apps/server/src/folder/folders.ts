import type { Folder } from '@gemmel/contract';
import { createHash } from 'node:crypto';
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
