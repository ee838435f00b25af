import type { Db } from '../db/open';
import { filesBelow } from '../vault/below';

/** A library's files against its database, both ways. Paths are below the library's folder. */
export interface Compared {
  /** Files the database knows. */
  files: number;
  /** Known files that are not there, or not as long as they were. */
  missing: { table: 'pictures' | 'picture_files' | 'binned_files'; id: number; path: string }[];
  /** Files nobody knows, longest names last; what is written beside a known picture is known. */
  unknown: string[];
}

/** Names that are ours or half written: never anybody's picture. */
const OURS = /(^|\/)\.|\.part$/;

/** The files of a library by where they lie, ours and half written ones left out. */
const filesIn = (root: string) => filesBelow(root, (way) => OURS.test(way));

/** What is written beside pictures, by where it lies. */
export const besidesIn = async (root: string): Promise<string[]> =>
  [...(await filesIn(root)).keys()].filter((file) => file.endsWith('.xmp'));

const AT_ONCE = 5000;

/**
 * Compares a library's folder with what the database says of it. What is being moved, or was just put there for a picture that comes in, counts as known.
 * Reads names and lengths, not contents: those are proven by reading back.
 */
export async function compareVault(db: Db, root: string, library: number): Promise<Compared> {
  const there = await filesIn(root);
  const result: Compared = { files: 0, missing: [], unknown: [] };
  const known = (file: string) => {
    there.delete(file);
    there.delete(`${file}.xmp`);
  };
  for (const table of ['pictures', 'picture_files', 'binned_files'] as const)
    for (let after = 0; ;) {
      const rows = (await db(table)
        .where('library_id', library)
        .where('id', '>', after)
        .orderBy('id')
        .limit(AT_ONCE)
        .select('id', 'vault_path', 'bytes')) as { id: number; vault_path: string; bytes: number | string }[];
      if (rows.length === 0) break;
      for (const { id, vault_path: file, bytes } of rows) {
        result.files++;
        if (there.get(file)?.bytes !== Number(bytes)) result.missing.push({ table, id, path: file });
        known(file);
      }
      after = rows.at(-1)!.id;
    }
  for (const { from_path, to_path } of await db('vault_moves')
    .where('library_id', library)
    .select('from_path', 'to_path')) {
    known(from_path);
    known(to_path);
  }
  for (const { placed } of await db('batch_items')
    .where('library_id', library)
    .whereIn('state', ['waiting', 'received'])
    .whereNotNull('placed')
    .select('placed'))
    known(placed!);
  result.unknown = [...there.keys()].sort();
  return result;
}
