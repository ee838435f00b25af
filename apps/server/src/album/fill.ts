import type { From } from '@gemmel/contract';
import { keyAfter, keysBetween, spacedKeys } from '@gemmel/core';
import { perform, type Act, type By } from '../act/perform';
import { chunks, type App } from '../context';
import { setMany } from '../db/setMany';
import { refused } from '../problem';
import { insertPictures, ownPictures, type Did } from './albums';
import { picturesOf } from './from';
import { heldAlbum, type AlbumRow } from './row';

/** An album that is filled by hand, held: whoever else fills it comes before or after. */
export async function filledByHand(act: Act, id: number): Promise<AlbumRow> {
  const row = await heldAlbum(act, id);
  if (row.kind === 'smart') throw refused('album-fills-itself');
  return row;
}

/** What something stands before, in the order by hand; null for the end. */
export type Before = { picture: number } | { chapter: number } | null;

/** Of some pictures, those that are in an album already; they are held, and so are those that come. */
async function inAlbum({ holdRows }: Act, album: number, ids: readonly number[]): Promise<Set<number>> {
  const rows = await holdRows(
    'album_pictures',
    ids.map((picture) => [album, picture]),
  );
  return new Set(rows.map((row) => Number(row['picture_id'])));
}

/** The last key of an album, of its pictures and its chapters. */
async function lastKey({ trx }: Act, album: number): Promise<string | null> {
  const of = (table: 'album_pictures' | 'album_chapters') =>
    trx(table as 'album_pictures')
      .where('album_id', album)
      .max('position as last')
      .first() as unknown as Promise<{ last: string | null }>;
  const [pictures, chapters] = [await of('album_pictures'), await of('album_chapters')];
  return (
    [pictures.last, chapters.last]
      .filter((key) => key !== null)
      .sort()
      .at(-1) ?? null
  );
}

/** Gives everything in an album new keys, as short as they can be: when keys have grown long, or two are the same. */
export async function spaceAnew({ trx, library, hold }: Act, album: number): Promise<void> {
  await hold('album_pictures', [album]);
  const pictures = await trx('album_pictures')
    .where('album_id', album)
    .orderBy(['position', 'picture_id'])
    .select('picture_id', 'position');
  const chapters = await trx('album_chapters')
    .where('album_id', album)
    .orderBy(['position', 'id'])
    .select('id', 'position');
  await hold(
    'album_chapters',
    chapters.map(({ id }) => id),
  );
  const all = [
    ...pictures.map((row) => ({ ...row, id: 0 })),
    ...chapters.map((row) => ({ ...row, picture_id: 0 })),
    // A chapter stands before the picture of its key.
  ].sort((a, b) => (a.position === b.position ? b.id - a.id : a.position < b.position ? -1 : 1));
  const keys = spacedKeys(all.length);
  const rows = all.map((row, i) => ({ ...row, position: keys[i]! }));
  for (const some of chunks(
    rows.filter((row) => row.picture_id),
    500,
  ))
    await trx.raw(
      `UPDATE album_pictures AS t JOIN (${some.map((_, i) => (i ? 'SELECT ?, ?' : 'SELECT ? AS picture, ? AS place')).join(' UNION ALL ')}) AS v
         ON v.picture = t.picture_id SET t.position = v.place WHERE t.album_id = ?`,
      [...some.flatMap((row) => [row.picture_id, row.position]), album],
    );
  await setMany(
    trx,
    library,
    'album_chapters',
    rows.filter((row) => row.id).map(({ id, position }) => ({ id, set: { position } })),
  );
}

/**
 * Keys for `n` things that are to stand before something in an album, or at its end, next to what stays: those that move are not among their own
 * neighbours. Where there is no room the whole album is spaced anew first.
 */
export async function keysFor(
  act: Act,
  album: number,
  before: Before,
  n: number,
  moving: { ids?: readonly number[]; chapter?: number | undefined } = {},
): Promise<string[]> {
  const { trx } = act;
  const neighbour = async (
    table: 'album_pictures' | 'album_chapters',
    key: string | null,
    way: 'below' | 'from',
  ): Promise<string | null> => {
    const staying: [string, (string | number)[]] =
      table === 'album_pictures'
        ? ['picture_id', [...(moving.ids ?? [])]]
        : ['id', moving.chapter ? [moving.chapter] : []];
    const found = (await trx(table as string)
      .where('album_id', album)
      .whereNotIn(staying[0], staying[1])
      .where((q) => void (key !== null && q.where('position', way === 'below' ? '<' : '>=', key)))
      .orderBy('position', way === 'below' ? 'desc' : 'asc')
      .first('position')) as { position: string } | undefined;
    return found?.position ?? null;
  };
  const bearing = async (position: string): Promise<number> => {
    const [[{ n }]] = (await trx.raw(
      `SELECT (SELECT COUNT(*) FROM album_pictures WHERE album_id = ? AND position = ?)
            + (SELECT COUNT(*) FROM album_chapters WHERE album_id = ? AND position = ?) AS n`,
      [album, position, album, position],
    )) as [[{ n: number }]];
    return Number(n);
  };
  const find = async (): Promise<string[] | null> => {
    let after: string | null = null;
    if (before) {
      const at =
        'picture' in before
          ? await trx('album_pictures').where({ album_id: album, picture_id: before.picture }).first('position')
          : await trx('album_chapters').where({ album_id: album, id: before.chapter }).first('position');
      after = at?.position ?? null;
      // Of two that bear one key nobody can say what stands between them.
      if (after !== null && (await bearing(after)) > 1) return null;
    }
    const low = [await neighbour('album_pictures', after, 'below'), await neighbour('album_chapters', after, 'below')]
      .filter((key) => key !== null)
      .sort()
      .at(-1);
    // What it is to stand before may be moving itself: then whatever stays next after it counts.
    const high =
      after === null
        ? null
        : ([await neighbour('album_pictures', after, 'from'), await neighbour('album_chapters', after, 'from')]
            .filter((key) => key !== null)
            .sort()
            .at(0) ?? null);
    return keysBetween(low ?? null, high, n);
  };
  const keys = await find();
  if (keys) return keys;
  await spaceAnew(act, album);
  return (await find())!;
}

/** Puts pictures at the end of an album within an act; answers with those that were not in it before. */
export async function append(act: Act, album: number, ids: readonly number[]): Promise<number[]> {
  const there = await inAlbum(act, album, ids);
  const added = ids.filter((picture) => !there.has(picture));
  if (added.length === 0) return added;
  const last = await lastKey(act, album);
  await insertPictures(act, album, added, keysBetween(last, null, added.length) ?? [keyAfter(null)]);
  return added;
}

/** Puts pictures, or all of something, at the end of an album; answers with those that were not in it before. */
export async function putIntoAlbum(app: App, by: By, id: number, from: From): Did<{ added: number[] }> {
  const ids = await picturesOf(app, by.library, from);
  return perform(app, by, 'fill album', async (act) => {
    const own = await ownPictures(act.trx, act.library, ids);
    const { name } = await filledByHand(act, id);
    const added = await append(act, id, own);
    act.words({ name, n: added.length });
    return { added };
  });
}

async function takeAway(act: Act, album: number, ids: readonly number[]): Promise<number[]> {
  const there = await inAlbum(act, album, [...new Set(ids)]);
  const going = [...there];
  for (const some of chunks(going, 1000))
    await act
      .trx('album_pictures')
      .where({ library_id: act.library, album_id: album })
      .whereIn('picture_id', some)
      .delete();
  return going;
}

/** Takes pictures out of an album; they stay in the library. */
export const takeOut = (app: App, by: By, id: number, ids: readonly number[]): Did =>
  perform(app, by, 'take out of album', async (act) => {
    const { name } = await filledByHand(act, id);
    const gone = await takeAway(act, id, ids);
    act.words({ name, n: gone.length });
    return {};
  });

/** Holds two albums in the order of their numbers, so that two acts cannot wait for each other. */
async function both(act: Act, a: number, b: number): Promise<[AlbumRow, AlbumRow]> {
  if (a === b) throw refused('same-album');
  const held = new Map<number, AlbumRow>();
  for (const id of [a, b].sort((x, y) => x - y)) held.set(id, await heldAlbum(act, id));
  return [held.get(a)!, held.get(b)!];
}

/** Moves pictures from an album to the end of another. */
export const movePictures = (app: App, by: By, from: number, to: number, ids: readonly number[]): Did =>
  perform(app, by, 'move pictures', async (act) => {
    const own = await ownPictures(act.trx, act.library, ids);
    const [a, b] = await both(act, from, to);
    if (a.kind === 'smart' || b.kind === 'smart') throw refused('album-fills-itself');
    const gone = new Set(await takeAway(act, from, own));
    await append(
      act,
      to,
      own.filter((picture) => gone.has(picture)),
    );
    act.words({ name: a.name, to: b.name, n: gone.size });
    return {};
  });

/** Puts all of an album into another one, at its end and in its order, with its chapters; the first one is removed. */
export const joinAlbums = (app: App, by: By, id: number, into: number): Did =>
  perform(app, by, 'join albums', async (act) => {
    const { trx, library, made } = act;
    const [a, b] = await both(act, id, into);
    if (a.kind === 'smart' || b.kind === 'smart') throw refused('album-fills-itself');
    const pictures = await trx('album_pictures')
      .where('album_id', id)
      .orderBy(['position', 'picture_id'])
      .select('picture_id', 'position', 'added_by', 'added_at');
    const chapters = await trx('album_chapters').where('album_id', id).orderBy('position');
    const there = await inAlbum(
      act,
      into,
      pictures.map((row) => row.picture_id),
    );
    const coming = [
      ...pictures
        .filter((row) => !there.has(row.picture_id))
        .map((row) => ({ position: row.position, row, chapter: null })),
      ...chapters.map((chapter) => ({ position: chapter.position, row: null, chapter })),
    ].sort((x, y) => (x.position < y.position ? -1 : 1));
    const keys = keysBetween(await lastKey(act, into), null, coming.length) ?? [];
    const rows = coming.flatMap(({ row }, i) =>
      row ? [{ ...row, library_id: library, album_id: into, position: keys[i]! }] : [],
    );
    for (const some of chunks(rows, 1000)) await trx('album_pictures').insert(some);
    for (const [i, { chapter }] of coming.entries()) {
      if (!chapter) continue;
      const { heading, note } = chapter;
      const [copy] = await trx('album_chapters').insert({
        library_id: library,
        album_id: into,
        heading,
        note,
        position: keys[i]!,
      });
      made('album_chapters', copy!);
    }
    await trx('albums')
      .where({ id, library_id: library })
      .update({ removed_at: trx.raw('UTC_TIMESTAMP(3)') });
    act.words({ name: a.name, to: b.name, n: rows.length });
    return {};
  });

/**
 * Moves pictures, or a chapter, within an album's order by hand: they come to stand, in the order given, just before something, or at the end.
 * Writes no more rows than it moves.
 */
export const moveInAlbum = (
  app: App,
  by: By,
  id: number,
  { ids = [], chapter, before }: { ids?: readonly number[] | undefined; chapter?: number | undefined; before: Before },
): Did =>
  perform(app, by, 'order album', async (act) => {
    const { trx, library, hold } = act;
    const { name } = await filledByHand(act, id);
    const there = await inAlbum(act, id, [...new Set(ids)]);
    const moving = [...new Set(ids)].filter((picture) => there.has(picture));
    const [held] =
      chapter === undefined ? [] : (await hold('album_chapters', [chapter])).filter((row) => row['album_id'] === id);
    const heading = held ? chapter : undefined;
    const n = moving.length + (held ? 1 : 0);
    if (n) {
      const keys = await keysFor(act, id, before, n, { ids: moving, chapter: heading });
      if (held)
        await trx('album_chapters').where({ id: chapter, library_id: library }).update({ position: keys.shift()! });
      for (const [i, picture] of moving.entries())
        await trx('album_pictures').where({ album_id: id, picture_id: picture }).update({ position: keys[i]! });
    }
    act.words({ name });
    return {};
  });

/** Sets what is in an album, in which order. */
export const setOrder = (app: App, by: By, id: number, ids: readonly number[]): Did =>
  perform(app, by, 'order album', async (act) => {
    const { trx, library, hold, holdRows } = act;
    const own = await ownPictures(trx, library, ids);
    const { name } = await filledByHand(act, id);
    const rows = await hold('album_pictures', [id]);
    await holdRows(
      'album_pictures',
      own.map((picture) => [id, picture]),
    );
    const there = new Map(rows.map((row) => [Number(row['picture_id']), row]));
    await trx('album_pictures').where({ album_id: id, library_id: library }).delete();
    const keys = spacedKeys(own.length);
    for (const some of chunks(
      own.map((picture, i) => ({
        library_id: library,
        album_id: id,
        picture_id: picture,
        position: keys[i]!,
        added_by: (there.get(picture)?.['added_by'] as number | null | undefined) ?? act.member,
        added_at: (there.get(picture)?.['added_at'] as string | null | undefined) ?? trx.raw('UTC_TIMESTAMP(3)'),
      })),
      1000,
    ))
      await trx('album_pictures').insert(some as never);
    act.words({ name });
    return {};
  });
