import { fold } from '@gemmel/core';
import type { Db } from '../db/open';

/**
 * The ids of tags by name, made where they are missing, of which `made` is told. Spellings that differ only in case or accents
 * are one tag.
 */
export async function tagIds(
  db: Db,
  library: number,
  names: readonly string[],
  made?: (id: number) => void,
): Promise<number[]> {
  const wanted = new Map(names.map((name) => [fold(name).slice(0, 500), name.trim().slice(0, 250)]));
  wanted.delete('');
  if (wanted.size === 0) return [];
  const find = async () =>
    await db('tags')
      .where('library_id', library)
      .whereIn('folded', [...wanted.keys()])
      .select('id');
  const before = new Set(made ? (await find()).map((row) => row.id) : []);
  await db('tags')
    .insert([...wanted].map(([folded, name]) => ({ library_id: library, name, folded })))
    .onConflict(['library_id', 'folded'])
    .ignore();
  const ids = (await find()).map((row) => row.id);
  if (made) ids.filter((id) => !before.has(id)).forEach(made);
  return ids;
}

/**
 * The ids of the closest words of tag paths ("outdoors", "lake"), every word made where it is missing. A word that stands
 * nowhere yet goes below the one before it; one that people have placed already stays where it is.
 */
export async function tagPathIds(db: Db, library: number, paths: readonly (readonly string[])[]): Promise<number[]> {
  const ids: number[] = [];
  for (const path of paths) {
    let parent: number | null = null;
    for (const word of path) {
      const [id] = await tagIds(db, library, [word]);
      if (id === undefined) continue;
      if (parent !== null && parent !== id) {
        const tree = await tagTree(db, library);
        const above = new Set<number>();
        for (let at: number | null | undefined = parent; at && !above.has(at); at = tree.get(at)) above.add(at);
        if (tree.get(id) === null && !above.has(id))
          await db('tags').where({ id, library_id: library }).update({ parent_id: parent });
      }
      parent = id;
    }
    if (parent !== null) ids.push(parent);
  }
  return [...new Set(ids)];
}

/** The tag tree as child -> parent. */
export async function tagTree(db: Db, library: number): Promise<Map<number, number | null>> {
  const rows = await db('tags').where('library_id', library).select('id', 'parent_id');
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
