import { todayIn } from '../time/home';
import type { Album, AlbumOrder, BestLimit, From, Shelf, ShelfOrder } from '@gemmel/contract';
import { keyAfter, nodes, normalise, spacedKeys, type Question, type SavedQuestion } from '@gemmel/core';
import { perform, type Act, type By } from '../act/perform';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { refuseForeign } from '../library/own';
import { refused } from '../problem';
import { refuseForeignQuestion } from '../question/foreign';
import { namesAsked } from '../question/names';
import { coversOf, factsOf, NONE, toAlbum } from './facts';
import { picturesOf } from './from';
import { albumIds } from './holding';
import { albumColumns, heldAlbum, questionOf, type AlbumRow, type Best } from './row';

/** What an act on albums answers: its number, or null when nothing came of it. */
export type Did<T = object> = Promise<T & { act: number | null }>;

/** Some albums as they are answered. */
export async function describeAlbums(
  app: App,
  library: number,
  rows: readonly AlbumRow[],
  patience?: number,
): Promise<Album[]> {
  const { facts, counting } = await factsOf(app, library, rows, await todayIn(app.db, library), patience);
  const covers = await coversOf(app, library, rows, facts);
  const questions = rows.map(questionOf);
  const names = await namesAsked(
    app.db,
    library,
    questions.filter((q) => q !== null),
  );
  return rows.map((row, i) => {
    const question = questions[i];
    return toAlbum(
      row,
      question ? names(question) : null,
      facts.get(row.id) ?? NONE,
      covers.get(row.id),
      counting.has(row.id),
    );
  });
}

/** Albums and smart albums by name, and the shelves they stand on. */
export async function listAlbums(
  app: App,
  library: number,
): Promise<{ albums: Album[]; shelves: Shelf[]; sorted: ShelfOrder }> {
  const { db } = app;
  const [rows, shelves, own] = await Promise.all([
    db('albums').where('library_id', library).whereNull('removed_at').orderBy('name').select(albumColumns(db)),
    db('shelves').where('library_id', library).orderBy('name').select('id', 'name', 'parent_id', 'position', 'sorted'),
    db('libraries').where('id', library).first('albums_sorted'),
  ]);
  const there = new Set(shelves.map((shelf) => shelf.id));
  const albums = await describeAlbums(app, library, rows as unknown as AlbumRow[]);
  return {
    // A shelf that was removed meanwhile holds nothing.
    albums: albums.map((album) => ({
      ...album,
      shelf: album.shelf !== null && there.has(album.shelf) ? album.shelf : null,
    })),
    shelves: shelves.map(({ parent_id, ...shelf }) => ({ ...shelf, shelf: parent_id })),
    sorted: own!.albums_sorted,
  };
}

/** Checks that all ids are pictures of this library, and drops repeats. */
export async function ownPictures(db: Db, library: number, ids: readonly number[]): Promise<number[]> {
  await refuseForeign(db, library, 'pictures', ids, 'pictures');
  return [...new Set(ids)];
}

/** A key behind everything that stands on a shelf, or on none. */
export async function lastOnShelf(db: Db, library: number, shelf: number | null): Promise<string> {
  const at = (table: 'albums' | 'shelves', column: 'shelf_id' | 'parent_id') =>
    db(table as 'albums')
      .where({ library_id: library, [column]: shelf })
      .max('position as last')
      .first() as unknown as Promise<{ last: string | null }>;
  const [albums, shelves] = await Promise.all([at('albums', 'shelf_id'), at('shelves', 'parent_id')]);
  const last = [albums.last, shelves.last]
    .filter((key) => key !== null && key !== '')
    .sort()
    .at(-1);
  return keyAfter(last ?? null);
}

/** Writes pictures into an album that is filled by hand, under the keys given. */
export async function insertPictures(
  { trx, library, member }: Act,
  album: number,
  ids: readonly number[],
  keys: readonly string[],
): Promise<void> {
  const added_at = trx.raw('UTC_TIMESTAMP(3)');
  for (const [c, some] of chunks(ids, 1000).entries())
    await trx('album_pictures').insert(
      some.map((picture_id, i) => ({
        library_id: library,
        album_id: album,
        picture_id,
        position: keys[c * 1000 + i]!,
        added_by: member,
        added_at,
      })),
    );
}

/** Everything an album may begin with. */
interface Beginning {
  batch?: number | null;
  shelf?: number | null | undefined;
  description?: string | null | undefined;
  position?: string;
}

/** Makes an album of pictures in the order given, within an act; perhaps of those that came in with a batch. */
export async function insertAlbum(
  act: Act,
  name: string,
  ids: readonly number[],
  { batch = null, shelf = null, description = null, position }: Beginning = {},
): Promise<number> {
  const { trx, library, member, hold, made, holdRows } = act;
  const own = await ownPictures(trx, library, ids);
  if (shelf !== null) {
    await hold('shelves', [shelf]);
    await refuseForeign(trx, library, 'shelves', [shelf], 'shelf');
  }
  const [id] = (await trx('albums').insert({
    library_id: library,
    kind: 'plain',
    name,
    description,
    batch_id: batch,
    shelf_id: shelf,
    position: position ?? (await lastOnShelf(trx, library, shelf)),
    made_by: member,
  })) as [number];
  made('albums', id);
  await holdRows(
    'album_pictures',
    own.map((picture) => [id, picture]),
  );
  await insertPictures(act, id, own, spacedKeys(own.length));
  return id;
}

/** Makes a plain album of pictures in the order given. */
export const makePlainAlbum = (
  app: App,
  by: By,
  name: string,
  ids: readonly number[],
  more: Beginning = {},
): Did<{ id: number }> =>
  perform(app, by, 'make album', async (act) => {
    act.words({ name });
    return { id: await insertAlbum(act, name, ids, more) };
  });

/** Makes a plain album of all of something, as it stands by time, the oldest first. */
export async function makeAlbumFrom(app: App, by: By, name: string, from: From, more: Beginning): Did<{ id: number }> {
  return makePlainAlbum(app, by, name, await picturesOf(app, by.library, from), more);
}

/** A question may not ask for a smart album: what fills itself from itself would never settle. */
async function forAlbum(db: Db, library: number, question: Question): Promise<SavedQuestion> {
  const plain = normalise(question);
  await refuseForeignQuestion(db, library, plain);
  const asked = [...nodes(plain)].flatMap((q) => ('album' in q ? [q.album] : []));
  if (asked.length) {
    const smart = await db('albums').where({ library_id: library, kind: 'smart' }).whereIn('id', asked).first('id');
    if (smart) throw refused('smart-from-smart');
  }
  return { v: 1, question: plain };
}

/** Makes a smart album, which fills itself by its question from now on. */
export const makeSmartAlbum = (
  app: App,
  by: By,
  name: string,
  question: Question,
  { best = null, shelf = null, description = null }: Beginning & { best?: Best | null | undefined } = {},
): Did<{ id: number }> =>
  perform(app, by, 'make album', async (act) => {
    const { trx, library, member } = act;
    const saved = await forAlbum(trx, library, question);
    if (shelf !== null) await refuseForeign(trx, library, 'shelves', [shelf], 'shelf');
    const [id] = (await trx('albums').insert({
      library_id: library,
      kind: 'smart',
      name,
      description,
      question: JSON.stringify(saved),
      best: best && JSON.stringify(best),
      sorted: 'date',
      shelf_id: shelf,
      position: await lastOnShelf(trx, library, shelf),
      made_by: member,
    })) as [number];
    act.made('albums', id);
    act.words({ name, what: ['smart'] });
    return { id };
  });

/** What can be changed of an album. */
export interface AlbumChange {
  name?: string | undefined;
  description?: string | null | undefined;
  question?: Question | undefined;
  best?: BestLimit | null | undefined;
  days?: { from: string; to: string } | null | undefined;
  cover?: number | null | undefined;
  sorted?: AlbumOrder | undefined;
  backwards?: boolean | undefined;
}

/** Changes an album's name, words, days, cover or order, or what a smart album asks for. */
export const changeAlbum = (app: App, by: By, id: number, change: AlbumChange): Did =>
  perform(app, by, 'change album', async (act) => {
    const row = await heldAlbum(act, id);
    const values: Record<string, unknown> = {};
    const what: string[] = [];
    const set = (name: string, more: Record<string, unknown>) => {
      Object.assign(values, more);
      what.push(name);
    };
    if (change.name !== undefined) set('name', { name: change.name });
    if (change.description !== undefined) set('description', { description: change.description || null });
    if (change.question !== undefined || change.best !== undefined) {
      if (row.kind !== 'smart') throw refused('album-by-hand');
      if (change.question !== undefined)
        set('question', { question: JSON.stringify(await forAlbum(act.trx, act.library, change.question)) });
      if (change.best !== undefined) set('best', { best: change.best && JSON.stringify(change.best) });
    }
    if (change.days !== undefined) {
      const [from, to] = change.days ? [change.days.from, change.days.to].sort() : [null, null];
      set('days', { from_day: from, to_day: to });
    }
    if (change.cover !== undefined) {
      if (change.cover !== null) await ownPictures(act.trx, act.library, [change.cover]);
      set('cover', { cover_id: change.cover });
    }
    if (change.sorted !== undefined) {
      // What fills itself has no order by hand.
      if (change.sorted === 'hand' && row.kind === 'smart') throw refused('album-fills-itself');
      set('order', { sorted: change.sorted });
    }
    if (change.backwards !== undefined) set('order', { backwards: change.backwards });
    if (what.length) await act.trx('albums').where({ id, library_id: act.library }).update(values);
    act.words({
      name: row.name,
      what: [...new Set(what)],
      ...(change.name === undefined ? {} : { to: change.name }),
    });
    return {};
  });

/**
 * Makes an album like another: its pictures, their order, its chapters, words, days and cover; of a smart album its question and what was said
 * by hand. A frozen copy of a smart album is a plain one with the pictures it holds now.
 */
export async function copyAlbum(app: App, by: By, id: number, name: string, frozen: boolean): Did<{ id: number }> {
  const now = await albumIds(app, by.library, id);
  return perform(app, by, 'make album', async (act) => {
    const { trx, library, member, made, holdRows } = act;
    const row = await heldAlbum(act, id);
    act.words({ name, to: row.name, what: [frozen && row.kind === 'smart' ? 'frozen' : 'copy'] });
    if (row.kind === 'smart' && frozen) {
      const there = await trx('pictures').where('library_id', library).whereIn('id', now).select('id');
      const own = new Set(there.map((picture) => picture.id));
      const copy = await insertAlbum(
        act,
        name,
        now.filter((picture) => own.has(picture)),
        { shelf: row.shelf_id, description: row.description },
      );
      await trx('albums')
        .where('id', copy)
        .update({ cover_id: row.cover_id, from_day: row.from_day, to_day: row.to_day });
      return { id: copy };
    }
    const { shelf_id, description, from_day, to_day, cover_id, sorted, backwards, best, kind, question } = row;
    const [copy] = (await trx('albums').insert({
      library_id: library,
      kind,
      name,
      description,
      question,
      shelf_id,
      from_day,
      to_day,
      cover_id,
      sorted,
      backwards,
      best,
      position: await lastOnShelf(trx, library, shelf_id),
      made_by: member,
    })) as [number];
    made('albums', copy);
    if (kind === 'smart') {
      const hand = await trx('album_hand').where('album_id', id).select('picture_id', 'way');
      await holdRows(
        'album_hand',
        hand.map((one) => [copy, one.picture_id]),
      );
      for (const some of chunks(hand, 1000))
        await trx('album_hand').insert(some.map((one) => ({ ...one, library_id: library, album_id: copy })));
      return { id: copy };
    }
    const pictures = await trx('album_pictures').where('album_id', id).orderBy(['position', 'picture_id']).select();
    await holdRows(
      'album_pictures',
      pictures.map((one) => [copy, one.picture_id]),
    );
    for (const some of chunks(pictures, 1000))
      await trx('album_pictures').insert(some.map((one) => ({ ...one, album_id: copy })));
    for (const { heading, note, position } of await trx('album_chapters').where('album_id', id).orderBy('position')) {
      const [chapter] = await trx('album_chapters').insert({
        library_id: library,
        album_id: copy,
        heading,
        note,
        position,
      });
      made('album_chapters', chapter!);
    }
    return { id: copy };
  });
}

/** Removes an album. Its pictures are not touched. */
export const removeAlbum = (app: App, by: By, id: number): Did =>
  perform(app, by, 'remove album', async (act) => {
    const { name } = await heldAlbum(act, id);
    await act
      .trx('albums')
      .where({ id, library_id: act.library })
      .update({ removed_at: act.trx.raw('UTC_TIMESTAMP(3)') });
    act.words({ name });
    return {};
  });
