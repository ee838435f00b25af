import type { Tag } from '@gemmel/contract';
import { fold } from '@gemmel/core';
import type { Db } from '../db/open';

/** A word as tags are told apart by it, and what it is called. */
const wordOf = (name: string) => ({ folded: fold(name).slice(0, 500), name: name.trim().slice(0, 250) });
/** Where a word stands in the tree: no two tags of a library stand in the same place with the same word. */
export const branchOf = (parent: number | null, folded: string): string => `${parent ?? 0} ${folded}`;

interface Known {
  id: number;
  folded: string;
  parent_id: number | null;
}

/** Makes a tag below another, or finds the one that is there. */
export async function tagBelow(
  db: Db,
  library: number,
  parent: number | null,
  name: string,
  made?: (id: number) => void,
): Promise<number | null> {
  const word = wordOf(name);
  if (!word.folded) return null;
  const branch = branchOf(parent, word.folded);
  const find = () => db('tags').where({ library_id: library, branch }).first('id');
  const there = await find();
  if (there) return there.id;
  await db('tags')
    .insert({ library_id: library, ...word, parent_id: parent, branch })
    .onConflict(['library_id', 'branch'])
    .ignore();
  const id = (await find())!.id;
  made?.(id);
  return id;
}

/**
 * The ids of tags by name, made where they are missing, of which `made` is told. Spellings that differ only in case or accents
 * are one tag; another spelling that people gave a tag is that tag; of one word in two branches it is the one that is on more
 * pictures. “outdoors › lake” names a tag by its path.
 */
export async function tagIds(
  db: Db,
  library: number,
  names: readonly string[],
  made?: (id: number) => void,
): Promise<number[]> {
  const wanted = [...new Map(names.map((name) => [fold(name), name])).values()].filter((name) => fold(name) !== '');
  if (wanted.length === 0) return [];
  const plain = wanted.filter((name) => !name.includes('›'));
  const folded = plain.map((name) => wordOf(name).folded);
  const there = (await db('tags as t')
    .where('t.library_id', library)
    .whereIn('t.folded', folded)
    .select(
      't.id',
      't.folded',
      db.raw('(SELECT COUNT(*) FROM picture_tags pt WHERE pt.tag_id = t.id) AS pictures'),
    )) as unknown as { id: number; folded: string; pictures: number }[];
  const by = new Map<string, { id: number; pictures: number }>();
  for (const row of there) {
    const other = by.get(row.folded);
    if (!other || Number(row.pictures) > Number(other.pictures)) by.set(row.folded, row);
  }
  for (const row of await db('tag_names')
    .where('library_id', library)
    .whereIn('folded', folded)
    .select('tag_id', 'folded'))
    if (!by.has(row.folded)) by.set(row.folded, { id: row.tag_id, pictures: 0 });
  const ids = new Set<number>();
  for (const name of wanted) {
    if (name.includes('›')) {
      let parent: number | null = null;
      for (const word of name
        .split('›')
        .map((part) => part.trim())
        .filter(Boolean))
        parent = await tagBelow(db, library, parent, word, made);
      if (parent !== null) ids.add(parent);
      continue;
    }
    const id = by.get(wordOf(name).folded)?.id ?? (await tagBelow(db, library, null, name, made));
    if (id !== null) ids.add(id);
  }
  return [...ids];
}

/**
 * The ids of the closest words of tag paths ("outdoors", "lake"), every word made where it is missing. A path of several words
 * is where it says; a word that stands alone is the tag of that name, wherever people have put it.
 */
export async function tagPathIds(db: Db, library: number, paths: readonly (readonly string[])[]): Promise<number[]> {
  const ids = new Set<number>();
  for (const path of paths) {
    if (path.length === 1) {
      for (const id of await tagIds(db, library, [path[0]!])) ids.add(id);
      continue;
    }
    let parent: number | null = null;
    for (const word of path) {
      // A word that stands nowhere yet goes below the one before it; one alone at the top that bears nothing goes there, too.
      const id: number | null = await settle(db, library, parent, word);
      if (id !== null) parent = id;
    }
    if (parent !== null) ids.add(parent);
  }
  return [...ids];
}

/** Finds a word below another; one that stands alone at the top, and was only ever said without a path, is moved there. */
async function settle(db: Db, library: number, parent: number | null, word: string): Promise<number | null> {
  const { folded } = wordOf(word);
  if (!folded) return null;
  if (parent === null) {
    // The widest word may itself have been put below another by people.
    const rows = (await db('tags')
      .where({ library_id: library, folded })
      .select('id', 'folded', 'parent_id')) as Known[];
    const top = rows.find((row) => row.parent_id === null) ?? (rows.length === 1 ? rows[0] : undefined);
    return top ? top.id : tagBelow(db, library, null, word);
  }
  const there = await db('tags')
    .where({ library_id: library, branch: branchOf(parent, folded) })
    .first('id');
  if (there) return there.id;
  const alone = await db('tags')
    .where({ library_id: library, branch: branchOf(null, folded) })
    .first('id');
  if (alone && alone.id !== parent && !(await isAbove(db, library, alone.id, parent))) {
    await db('tags')
      .where({ id: alone.id, library_id: library })
      .update({ parent_id: parent, branch: branchOf(parent, folded) });
    return alone.id;
  }
  return tagBelow(db, library, parent, word);
}

/** Whether a tag is another or stands somewhere above it. */
export async function isAbove(
  db: Db,
  library: number,
  above: number,
  below: number,
  table: 'tags' | 'shelves' = 'tags',
): Promise<boolean> {
  const tree = await treeOf(db, library, table);
  const seen = new Set<number>();
  for (let at: number | null | undefined = below; at && !seen.has(at); at = tree.get(at)) {
    if (at === above) return true;
    seen.add(at);
  }
  return false;
}

/** The tag tree as child -> parent. */
export const tagTree = (db: Db, library: number): Promise<Map<number, number | null>> => treeOf(db, library, 'tags');

async function treeOf(db: Db, library: number, table: 'tags' | 'shelves'): Promise<Map<number, number | null>> {
  const rows = await db(table as 'tags')
    .where('library_id', library)
    .select('id', 'parent_id');
  return new Map(rows.map((row) => [row.id, row.parent_id]));
}

/** The tree of tags: each with how many pictures carry it, how many carry it or one below it, and its other spellings. */
export async function listTags(db: Db, library: number): Promise<Tag[]> {
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
  const spellings = new Map<number, string[]>();
  for (const { tag_id, name } of await db('tag_names')
    .where('library_id', library)
    .orderBy('folded')
    .select('tag_id', 'name'))
    spellings.set(tag_id, [...(spellings.get(tag_id) ?? []), name]);
  const children = new Map<number, number[]>();
  for (const { id, parent } of rows) if (parent !== null) children.set(parent, [...(children.get(parent) ?? []), id]);
  const own = new Map(rows.map((row) => [row.id, Number(row.pictures)]));
  // Only where something hangs below must pictures be counted together: one may carry several of them.
  const pairs: [top: number, id: number][] = [];
  for (const top of children.keys()) {
    const all = new Set([top]);
    for (const id of all) for (const child of children.get(id) ?? []) all.add(child);
    for (const id of all) pairs.push([top, id]);
  }
  const below = new Map<number, number>();
  if (pairs.length) {
    const [counted] = (await db.raw(
      `SELECT m.top, COUNT(DISTINCT pt.picture_id) AS n
       FROM JSON_TABLE(?, '$[*]' COLUMNS (top INT PATH '$[0]', id INT PATH '$[1]')) m
       JOIN picture_tags pt ON pt.tag_id = m.id GROUP BY m.top`,
      [JSON.stringify(pairs)],
    )) as [{ top: number; n: number | string }[]];
    for (const top of children.keys()) below.set(top, 0);
    for (const { top, n } of counted) below.set(top, Number(n));
  }
  return rows.map(({ id, name, parent }) => ({
    id,
    name,
    parent,
    pictures: own.get(id)!,
    below: below.get(id) ?? own.get(id)!,
    spellings: spellings.get(id) ?? [],
  }));
}
