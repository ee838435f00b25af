import { numberNames, type Numbering } from '@gemmel/core';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import type { Db } from '../db/open';
import { setMany } from '../db/setMany';
import { pictureRows } from '../picture/rows';
import { readAgain } from '../question/words';
import { numberColumns } from './announce';

interface Row {
  id: number;
  name: string;
  original_name: string | null;
  day: string | null;
  title: string | null;
  caption: string | null;
}

const rowsOf = (db: Db, library: number, ids: readonly number[]): Promise<Row[]> =>
  pictureRows(db, library, ids, ['id', 'name', 'original_name', 'day', 'title', 'caption', 'taken_local']);

/** Pictures in the order they are numbered: by time, those without one last, then by name. */
async function inOrder(db: Db, library: number, ids: readonly number[]): Promise<Row[]> {
  const rows = (await rowsOf(db, library, ids)) as (Row & { taken_local: string | null })[];
  return rows.sort(
    (a, b) =>
      Number(a.taken_local === null) - Number(b.taken_local === null) ||
      (a.taken_local ?? '').localeCompare(b.taken_local ?? '') ||
      a.name.localeCompare(b.name, 'en', { numeric: true }),
  );
}

/** Numbers pictures in the order of time; the files on disk follow. Answers with how many. */
export const numberPictures = (
  app: App,
  by: By,
  ids: readonly number[],
  numbering: Numbering,
): Promise<{ count: number; act: number | null }> =>
  perform(app, by, 'number', async ({ trx, library, hold, words }) => {
    await hold('pictures', ids);
    const rows = await inOrder(trx, library, ids);
    const names = numberNames(numbering, rows);
    await setMany(
      trx,
      library,
      'pictures',
      rows.map((row, i) => ({
        id: row.id,
        set: {
          name: names[i]!,
          // The name a device gave stays known, however often the file is called something else.
          original_name: row.original_name ?? row.name,
        },
      })),
    );
    await readAgain(
      trx,
      library,
      rows.map((row) => row.id),
    );
    words({ name: numbering.base, to: names[0] ?? null });
    return { count: rows.length };
  });

/** The first and the last of many new names. */
export function previewOf(
  rows: readonly { name: string; day: string | null }[],
  numbering: Numbering,
): { from: string; to: string }[] {
  const names = numberNames(numbering, rows);
  const all = rows.map((row, i) => ({ from: row.name, to: names[i]! }));
  return all.length > 6 ? [...all.slice(0, 4), ...all.slice(-2)] : all;
}

/** The first and the last names numbering would give, for looking at before. */
export const previewNumbers = async (
  app: App,
  library: number,
  ids: readonly number[],
  numbering: Numbering,
): Promise<{ from: string; to: string }[]> => previewOf(await inOrder(app.db, library, ids), numbering);

/** The names of a batch that is still coming in; null once it is in. */
export async function namesToCome(
  app: App,
  library: number,
  batch: number,
): Promise<{ name: string; day: string | null }[] | null> {
  const row = await app.db('batches').where({ id: batch, library_id: library }).whereNot('state', 'done').first('id');
  if (!row) return null;
  const items = await app.db('batch_items').where({ batch_id: batch, role: 'main' }).orderBy('id').select('path');
  return items.map(({ path }) => ({ name: path.split('/').pop() ?? path, day: null }));
}

/** Has a batch that is still coming in numbered when all of it is in; false when it is in already. */
export async function numberWhenIn(app: App, library: number, batch: number, numbering: Numbering): Promise<boolean> {
  const changed = await app
    .db('batches')
    .where({ id: batch, library_id: library })
    .whereNot('state', 'done')
    .update(numberColumns(numbering));
  return changed > 0;
}
