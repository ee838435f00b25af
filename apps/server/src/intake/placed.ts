import path from 'node:path';
import type { App } from '../context';
import { discard, isSameFile, libraryFolder, pruneFolders } from '../vault/vault';
import { pathTaken, type Item } from './items';

/** Notes where an item's file is about to be put in the vault, before it is. */
export const notePlaced = (app: App, item: Item) => (placed: string) =>
  app.db('batch_items').where('id', item.id).update({ placed });

/**
 * Takes an item's file out of the vault again that an earlier try put there and no row knows of: its event may have another
 * name by now, and the same file must not lie in two places. The file itself is still among what came in.
 */
export async function takeBack(app: App, library: number, item: Item, file: string): Promise<void> {
  const { db } = app;
  const row = await db('batch_items').where('id', item.id).first('placed');
  if (!row?.placed || (await pathTaken(db, library)(row.placed))) return;
  const root = libraryFolder(app, item.slug);
  const at = path.join(root, row.placed);
  if (!(await isSameFile(file, at))) return;
  await discard(at);
  await pruneFolders(root, path.dirname(row.placed));
}
