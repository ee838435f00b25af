import { nodes, type Question } from '@gemmel/core';
import { perform, type By } from '../act/perform';
import { chunks, type App } from '../context';
import { notFound, refused } from '../problem';
import { toSql } from '../question/toSql';
import { worldOf } from '../question/world';
import { ownPictures, type Did } from './albums';
import { holdingOf } from './holding';
import { albumColumns, heldAlbum, limitOf, live, questionOf, type AlbumRow } from './row';

const KINDS = { in: 'put in by hand', out: 'keep out' } as const;

/** Puts pictures into a smart album by hand, keeps them out of it, or with null lets its question decide again. */
export const handAlbum = (app: App, by: By, id: number, ids: readonly number[], way: 'in' | 'out' | null): Did =>
  perform(app, by, way ? KINDS[way] : 'let decide', async (act) => {
    const { trx, library, holdRows, words } = act;
    const own = await ownPictures(trx, library, ids);
    const row = await heldAlbum(act, id);
    if (row.kind !== 'smart') throw refused('album-by-hand');
    await holdRows(
      'album_hand',
      own.map((picture) => [id, picture]),
    );
    for (const some of chunks(own, 1000)) {
      await trx('album_hand').where({ library_id: library, album_id: id }).whereIn('picture_id', some).delete();
      if (way)
        await trx('album_hand').insert(
          some.map((picture_id) => ({ library_id: library, album_id: id, picture_id, way })),
        );
    }
    words({ name: row.name, n: own.length });
    return {};
  });

/** Which parts of a question are true of a picture: the question first, then its parts one after another, each before its own. */
export async function holdsOf(app: App, library: number, question: Question, picture: number): Promise<boolean[]> {
  const world = await worldOf(app.db, library, question);
  const all = [...nodes(question)];
  const leaves = all.filter((q) => !('all' in q) && !('any' in q) && !('not' in q));
  const truth = new Map<Question, boolean>();
  for (const some of chunks(leaves, 40)) {
    const parts = some.map((leaf) => toSql(leaf, library, world));
    const [[row]] = (await app.db.raw(
      `SELECT ${parts.map((part, i) => `COALESCE((${part.sql}), FALSE) AS c${i}`).join(', ')} FROM pictures p WHERE p.library_id = ? AND p.id = ?`,
      [...parts.flatMap((part) => part.values), library, picture],
    )) as [[Record<string, number> | undefined]];
    if (!row) throw notFound('picture');
    some.forEach((leaf, i) => truth.set(leaf, Boolean(Number(row[`c${i}`]))));
  }
  const holds = (q: Question): boolean =>
    'all' in q ? q.all.every(holds) : 'any' in q ? q.any.some(holds) : 'not' in q ? !holds(q.not) : truth.get(q)!;
  return all.map(holds);
}

/** Why a picture is in a smart album, or why not. */
export async function whyIn(
  app: App,
  library: number,
  id: number,
  picture: number,
): Promise<{ in: boolean; holds: boolean[]; hand: 'in' | 'out' | null; notAmongBest: boolean }> {
  const row = await live(app.db, library, id);
  const question = questionOf(row);
  if (!question) throw refused('album-by-hand');
  await ownPictures(app.db, library, [picture]);
  const holds = question ? await holdsOf(app, library, question, picture) : [];
  const hand = (await app.db('album_hand').where({ album_id: id, picture_id: picture }).first('way'))?.way ?? null;
  const isIn = await isInSmart(app, library, row, picture, hand, holds[0]!);
  return { in: isIn, holds, hand, notAmongBest: hand === null && holds[0]! && !isIn };
}

async function isInSmart(
  app: App,
  library: number,
  row: AlbumRow,
  picture: number,
  hand: 'in' | 'out' | null,
  fits: boolean,
): Promise<boolean> {
  if (hand === 'out' || (hand === null && !fits)) return false;
  if (!limitOf(row)) return true;
  const { sql, values } = await holdingOf(app, library, row);
  const [[found]] = (await app.db.raw(`SELECT p.id FROM pictures p WHERE p.library_id = ? AND p.id = ? AND (${sql})`, [
    library,
    picture,
    ...values,
  ])) as [[{ id: number } | undefined]];
  return found !== undefined;
}

/** An album a picture is seen in, who put it there and on which day, where that is known. */
export interface SeenIn {
  id: number;
  name: string;
  kind: 'plain' | 'smart';
  by: string | null;
  day: string | null;
}

/** Every album a picture is seen in: those filled by hand, then those that fill themselves, each by name. */
export async function albumsWith(app: App, library: number, picture: number): Promise<SeenIn[]> {
  const { db } = app;
  await ownPictures(db, library, [picture]);
  const plain = (await db('album_pictures as ap')
    .join('albums as a', 'a.id', 'ap.album_id')
    .leftJoin('members as m', 'm.id', 'ap.added_by')
    .where({ 'ap.picture_id': picture, 'a.library_id': library })
    .whereNull('a.removed_at')
    .orderBy('a.name')
    .select('a.id', 'a.name', 'm.name as by', 'ap.added_at as at')) as unknown as {
    id: number;
    name: string;
    by: string | null;
    at: string | null;
  }[];
  const rows = (await db('albums')
    .where({ library_id: library, kind: 'smart' })
    .whereNull('removed_at')
    .orderBy('name')
    .select(albumColumns(db))) as unknown as AlbumRow[];
  const hand = new Map(
    (await db('album_hand').where({ library_id: library, picture_id: picture }).select('album_id', 'way')).map(
      (row) => [row.album_id, row.way],
    ),
  );
  const smart: SeenIn[] = [];
  for (const some of chunks(rows, 40)) {
    const parts = await Promise.all(
      some.map(async (row) => {
        const question = questionOf(row)!;
        return toSql(question, library, await worldOf(db, library, question));
      }),
    );
    const [[truth]] = (await db.raw(
      `SELECT ${parts.map((part, i) => `COALESCE((${part.sql}), FALSE) AS c${i}`).join(', ')} FROM pictures p WHERE p.library_id = ? AND p.id = ?`,
      [...parts.flatMap((part) => part.values), library, picture],
    )) as [[Record<string, number>]];
    for (const [i, row] of some.entries())
      if (await isInSmart(app, library, row, picture, hand.get(row.id) ?? null, Boolean(Number(truth[`c${i}`]))))
        smart.push({ id: row.id, name: row.name, kind: 'smart', by: null, day: null });
  }
  return [
    ...plain.map(({ id, name, by, at }) => ({ id, name, kind: 'plain' as const, by, day: at?.slice(0, 10) ?? null })),
    ...smart,
  ];
}
