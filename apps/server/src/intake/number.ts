import { namesBy, numberNames, splitExtension, type Naming, type Numbering } from '@gemmel/core';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import type { Db } from '../db/open';
import { setMany } from '../db/setMany';
import type { PicturesRow } from '../db/tables';
import { chunks } from '../lists';
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

const byTime = (a: Row & { taken_local: string | null }, b: Row & { taken_local: string | null }): number =>
  Number(a.taken_local === null) - Number(b.taken_local === null) ||
  (a.taken_local ?? '').localeCompare(b.taken_local ?? '') ||
  a.name.localeCompare(b.name, 'en', { numeric: true });

/** Pictures in the order they are numbered: by time, those without one last, then by name. */
async function inOrder(db: Db, library: number, ids: readonly number[]): Promise<Row[]> {
  const rows = (await rowsOf(db, library, ids)) as (Row & { taken_local: string | null })[];
  return rows.sort(byTime);
}

/** Gives pictures new names. The name a device gave stays known, however often the file is called something else. */
async function giveNames(trx: Db, library: number, rows: readonly Row[], names: readonly string[]): Promise<void> {
  await setMany(
    trx,
    library,
    'pictures',
    rows.map((row, i) => ({ id: row.id, set: { name: names[i]!, original_name: row.original_name ?? row.name } })),
  );
  await readAgain(
    trx,
    library,
    rows.map((row) => row.id),
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
    await giveNames(trx, library, rows, names);
    words({ name: numbering.base, to: names[0] ?? null });
    return { count: rows.length };
  });

/** The first and the last few of many. */
const some = <T>(all: readonly T[]): T[] => (all.length > 6 ? [...all.slice(0, 4), ...all.slice(-2)] : [...all]);

/** How much of the first day of a remembered time is known, in characters. */
const KNOWN = { day: 10, month: 7, season: 4, year: 4, decade: 0 } as const;

/** What names can speak of, of pictures in the order in which they are named: that of time, or for an album its own. */
async function nameable(db: Db, library: number, ids: readonly number[], asGiven: boolean) {
  const rows: (Row &
    Pick<PicturesRow, 'taken_local' | 'taken_exact' | 'taken_from'> & {
      event: string | null;
      at: string | null;
      device: string | null;
    })[] = [];
  for (const few of chunks(ids, 1000))
    rows.push(
      ...((await db('pictures as p')
        .leftJoin('events as e', 'e.id', 'p.event_id')
        .leftJoin('own_places as o', 'o.id', 'p.own_place_id')
        .leftJoin('devices as d', 'd.id', 'p.device_id')
        .where('p.library_id', library)
        .whereIn('p.id', few)
        .select(
          'p.id',
          'p.name',
          'p.original_name',
          'p.day',
          'p.title',
          'p.caption',
          'p.taken_local',
          'p.taken_exact',
          'p.taken_from',
          'e.title as event',
          db.raw('COALESCE(o.name, p.place) AS at'),
          'd.name as device',
        )) as typeof rows),
    );
  if (asGiven) {
    const order = new Map(ids.map((id, i) => [id, i]));
    rows.sort((a, b) => order.get(a.id)! - order.get(b.id)!);
  } else rows.sort(byTime);
  return rows.map((row) => ({
    ...row,
    came: row.original_name ?? row.name,
    // Of what is only remembered, no more is said than is known.
    taken: row.taken_exact ? row.taken_from?.slice(0, KNOWN[row.taken_exact]) || null : row.taken_local,
    place: row.at,
  }));
}

/** The first and the last names a pattern would give, for looking at before. */
export async function previewNames(
  app: App,
  library: number,
  ids: readonly number[],
  naming: Naming,
  asGiven: boolean,
): Promise<{ from: string; to: string }[]> {
  const rows = await nameable(app.db, library, ids, asGiven);
  const names = namesBy(naming, rows);
  return some(rows.map((row, i) => ({ from: row.name, to: names[i]! })));
}

/** Names pictures by a pattern; their files follow by the journal. The name a device gave stays known and is found. */
export const nameFiles = (
  app: App,
  by: By,
  ids: readonly number[],
  naming: Naming,
  asGiven: boolean,
): Promise<{ count: number; act: number | null }> =>
  perform(app, by, 'number', async ({ trx, library, hold, words }) => {
    await hold('pictures', ids);
    const rows = await nameable(trx, library, ids, asGiven);
    const names = namesBy(naming, rows);
    await giveNames(trx, library, rows, names);
    words({ name: naming.words.trim() || splitExtension(names[0] ?? '')[0], to: names[0] ?? null });
    return { count: rows.length };
  });

/** The first and the last of many new names. */
export function previewOf(
  rows: readonly { name: string; day: string | null }[],
  numbering: Numbering,
): { from: string; to: string }[] {
  const names = numberNames(numbering, rows);
  return some(rows.map((row, i) => ({ from: row.name, to: names[i]! })));
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
