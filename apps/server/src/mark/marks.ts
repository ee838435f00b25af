import { MARK_COLOURS, MARK_SHAPES, MOST_MARKS, type Mark, type MarkShape, type MarkColour } from '@gemmel/contract';
import { fold } from '@gemmel/core';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import type { Db } from '../db/open';
import { notFound, refused } from '../problem';

/** The marks of a library in its keeper's order, each with how many pictures bear it. */
export async function listMarks(db: Db, library: number): Promise<Mark[]> {
  const rows = (await db('marks as m')
    .where('m.library_id', library)
    .orderBy(['m.position', 'm.id'])
    .select(
      'm.id',
      'm.meaning',
      'm.colour',
      'm.shape',
      db.raw('(SELECT COUNT(*) FROM pictures p WHERE p.library_id = m.library_id AND p.mark_id = m.id) AS pictures'),
    )) as unknown as (Mark & { pictures: number | string })[];
  return rows.map((row) => ({ ...row, pictures: Number(row.pictures) }));
}

/** What a mark means, in words. */
export const meaningOf = async (db: Db, id: number): Promise<string | null> =>
  (await db('marks').where('id', id).first('meaning'))?.meaning ?? null;

/** What a mark in words is here: the mark that means it, or, where there is none, the words themselves. */
export async function markColumns(
  db: Db,
  library: number,
  label: string | null,
): Promise<{ mark_id: number | null; label: string | null }> {
  if (label === null) return { mark_id: null, label: null };
  const all = await db('marks').where('library_id', library).select('id', 'meaning');
  const mark = all.find(({ meaning }) => fold(meaning) === fold(label));
  return mark ? { mark_id: mark.id, label: null } : { mark_id: null, label };
}

/** Refused when another mark means the same. */
async function onlyOne(trx: Db, library: number, meaning: string, but?: number): Promise<void> {
  for (const other of await trx('marks').where('library_id', library).forUpdate().select('id', 'meaning'))
    if (other.id !== but && fold(other.meaning) === fold(meaning)) throw refused('mark-taken');
}

/** Makes a mark; pictures that came with these very words bear it from now on. */
export const makeMark = (
  app: App,
  by: By,
  { meaning, colour, shape }: { meaning: string; colour?: MarkColour | undefined; shape?: MarkShape | undefined },
): Promise<{ id: number; act: number | null }> =>
  perform(app, by, 'make mark', async ({ trx, library, made, hold, words }) => {
    await onlyOne(trx, library, meaning);
    const there = await trx('marks').where('library_id', library).select('colour', 'shape', 'position');
    if (there.length >= MOST_MARKS) throw refused('marks-full', { n: MOST_MARKS });
    const free = <T extends string>(all: readonly T[], column: 'colour' | 'shape'): T =>
      all.find((one) => !there.some((mark) => mark[column] === one)) ?? all[0]!;
    const [id] = (await trx('marks').insert({
      library_id: library,
      meaning,
      colour: colour ?? free(MARK_COLOURS, 'colour'),
      shape: shape ?? free(MARK_SHAPES, 'shape'),
      position: Math.max(0, ...there.map((mark) => mark.position)) + 1,
    })) as [number];
    made('marks', id);
    words({ name: meaning });
    const labelled = await trx('pictures').where('library_id', library).whereNotNull('label').select('id', 'label');
    const same = labelled.filter((p) => fold(p.label!) === fold(meaning)).map((p) => p.id);
    if (same.length) {
      await hold('pictures', same);
      await trx('pictures').whereIn('id', same).update({ mark_id: id, label: null });
    }
    return { id };
  });

/** Changes what a mark means, how it looks or where it stands. */
export const changeMark = (
  app: App,
  by: By,
  id: number,
  change: {
    meaning?: string | undefined;
    colour?: MarkColour | undefined;
    shape?: MarkShape | undefined;
    position?: number | undefined;
  },
): Promise<{ act: number | null }> =>
  perform(app, by, 'change mark', async ({ trx, library, hold, words }) => {
    const all = await trx('marks').where('library_id', library).orderBy(['position', 'id']).select('id');
    const [row] = (
      await hold(
        'marks',
        all.map((one) => one.id),
      )
    ).filter((one) => one['id'] === id);
    if (!row) throw notFound('mark');
    if (change.meaning !== undefined) await onlyOne(trx, library, change.meaning, id);
    words({
      name: String(row['meaning']),
      what: Object.keys(change),
      ...(change.meaning === undefined ? {} : { to: change.meaning }),
    });
    const { position, ...plain } = change;
    if (Object.keys(plain).length) await trx('marks').where({ id, library_id: library }).update(plain);
    if (position === undefined) return;
    const order = all.map((one) => one.id).filter((one) => one !== id);
    order.splice(Math.max(0, position), 0, id);
    for (const [i, one] of order.entries())
      await trx('marks')
        .where('id', one)
        .update({ position: i + 1 });
  });

/** Removes a mark from the library and from every picture that bears it. */
export const removeMark = (app: App, by: By, id: number): Promise<{ act: number | null }> =>
  perform(app, by, 'remove mark', async ({ trx, library, hold, words }) => {
    const [row] = await hold('marks', [id]);
    if (!row) throw notFound('mark');
    const pictures = (await trx('pictures').where({ library_id: library, mark_id: id }).select('id')).map((p) => p.id);
    await hold('pictures', pictures);
    words({ name: String(row['meaning']), n: pictures.length });
    await trx('pictures').where({ library_id: library, mark_id: id }).update({ mark_id: null });
    await trx('marks').where({ id, library_id: library }).delete();
  });
