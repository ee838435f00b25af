import { rename } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';

/** Half-written files of phones wait here under the number of their entry until they get their name. */
export const heldFile = ({ paths }: Pick<App, 'paths'>, id: number): string => path.join(paths.uploads, `dav-${id}`);

/**
 * Holds for a while what a phone delivered and is no picture, so that its application reads back what it wrote and does not take
 * it for lost. Answers whether it came from a phone.
 */
export async function holdForPhone(app: App, item: number, file: string): Promise<boolean> {
  const row = await app
    .db('source_files as f')
    .join('sources as s', 's.id', 'f.source_id')
    .where({ 'f.item_id': item, 'f.listed': true, 's.kind': 'phone' })
    .first('f.id');
  if (!row) return false;
  await rename(file, heldFile(app, row.id));
  return true;
}
