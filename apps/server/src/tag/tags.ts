import { fold } from '@gemmel/core';
import type { Db } from '../db/open';

/** The ids of tags by name, made where they are missing. Spellings that differ only in case or accents are one tag. */
export async function tagIds(db: Db, library: number, names: readonly string[]): Promise<number[]> {
  const wanted = new Map(names.map((name) => [fold(name).slice(0, 160), name.trim().slice(0, 80)]));
  wanted.delete('');
  if (wanted.size === 0) return [];
  await db('tags')
    .insert([...wanted].map(([folded, name]) => ({ library_id: library, name, folded })))
    .onConflict(['library_id', 'folded'])
    .ignore();
  const rows = (await db('tags')
    .where('library_id', library)
    .whereIn('folded', [...wanted.keys()])
    .select('id')) as { id: number }[];
  return rows.map((row) => row.id);
}

/** The tag tree as child -> parent. */
export async function tagTree(db: Db, library: number): Promise<Map<number, number | null>> {
  const rows = (await db('tags').where('library_id', library).select('id', 'parent_id')) as {
    id: number;
    parent_id: number | null;
  }[];
  return new Map(rows.map((row) => [row.id, row.parent_id]));
}

/** Every tag that is used, with how many pictures carry it. */
export async function listTags(
  db: Db,
  library: number,
): Promise<{ id: number; name: string; parent: number | null; pictures: number }[]> {
  const rows = (await db('tags as t')
    .leftJoin('picture_tags as pt', 'pt.tag_id', 't.id')
    .where('t.library_id', library)
    .groupBy('t.id')
    .orderBy('t.folded')
    .select('t.id', 't.name', 't.parent_id as parent', db.raw('COUNT(pt.picture_id) AS pictures'))) as unknown as {
    id: number;
    name: string;
    parent: number | null;
    pictures: number;
  }[];
  return rows.map((row) => ({ ...row, pictures: Number(row.pictures) }));
}
