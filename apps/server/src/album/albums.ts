import type { Album } from '@gemmel/contract';
import { normalise, saySpan, toSentence, type Names, type Question, type SavedQuestion } from '@gemmel/core';
import { chunks, type App } from '../context';
import { conditionOf, idsOf } from '../picture/pictures';
import { notFound, Refused } from '../problem';
import type { Db } from '../db/open';
import { wholly } from '../db/turn';
import { refuseForeign } from '../library/own';
import { refuseForeignQuestion } from '../question/foreign';

interface Row {
  id: number;
  kind: 'plain' | 'smart';
  name: string;
  description: string | null;
  question: SavedQuestion | string | null;
}

const questionOf = (row: Row): Question | null => {
  if (row.question === null) return null;
  return (typeof row.question === 'string' ? (JSON.parse(row.question) as SavedQuestion) : row.question).question;
};

/** Names of everything a question of this library may speak of. */
export async function namesOf(db: Db, library: number): Promise<Names> {
  const table = async (name: string, column = 'name') =>
    new Map(
      (
        (await db(name).where('library_id', library).select('id', `${column} as name`)) as {
          id: number;
          name: string | null;
        }[]
      ).map((r) => [r.id, r.name]),
    );
  const [people, tags, events, albums, batches, devices, folders, places] = await Promise.all([
    table('people'),
    table('tags'),
    table('events', 'title'),
    table('albums'),
    table('batches'),
    table('devices'),
    table('folders'),
    table('own_places'),
  ]);
  const from = (map: Map<number, string | null>, otherwise: string) => (id: number) => map.get(id) ?? otherwise;
  return {
    person: from(people, 'somebody no longer known'),
    tag: from(tags, 'a tag no longer used'),
    event: from(events, 'an event without a name'),
    album: from(albums, 'an album no longer here'),
    batch: from(batches, 'a batch no longer here'),
    device: from(devices, 'a device no longer here'),
    folder: from(folders, 'a folder no longer here'),
    ownPlace: from(places, 'a place no longer named'),
  };
}

async function live(app: App, library: number, id: number): Promise<Row> {
  const row = (await app
    .db('albums')
    .where({ id, library_id: library })
    .whereNull('removed_at')
    .first('id', 'kind', 'name', 'description', 'question')) as Row | undefined;
  if (!row) throw notFound('This album');
  return row;
}

const toAlbum = (
  row: Row,
  names: Names,
  facts: { pictures: number; cover: Buffer | null; from: string | null; to: string | null },
): Album => {
  const question = questionOf(row);
  return {
    id: row.id,
    kind: row.kind,
    name: row.name,
    description: row.description,
    question,
    sentence: question ? toSentence(question, names) : facts.from && facts.to ? saySpan(facts.from, facts.to) : null,
    pictures: facts.pictures,
    cover: facts.cover?.toString('hex') ?? null,
    from: facts.from,
    to: facts.to,
  };
};

async function factsOf(app: App, library: number, row: Row) {
  const { db } = app;
  const question = questionOf(row);
  if (question) {
    const { sql, values } = await conditionOf(app, library, question);
    const [[facts]] = (await db.raw(
      `SELECT COUNT(*) AS pictures, MIN(p.day) AS f, MAX(p.day) AS t FROM pictures p WHERE p.library_id = ? AND (${sql})`,
      [library, ...values],
    )) as [[{ pictures: number; f: string | null; t: string | null }]];
    const [[cover]] = (await db.raw(
      `SELECT p.sha256 FROM pictures p WHERE p.library_id = ? AND (${sql}) ORDER BY p.rating DESC, p.favourite DESC, p.id DESC LIMIT 1`,
      [library, ...values],
    )) as [[{ sha256: Buffer } | undefined]];
    return { pictures: Number(facts.pictures), cover: cover?.sha256 ?? null, from: facts.f, to: facts.t };
  }
  const facts = (await db('album_pictures as ap')
    .join('pictures as p', 'p.id', 'ap.picture_id')
    .where('ap.album_id', row.id)
    .first(db.raw('COUNT(*) AS pictures, MIN(p.day) AS f, MAX(p.day) AS t'))) as unknown as {
    pictures: number;
    f: string | null;
    t: string | null;
  };
  const cover = (await db('album_pictures as ap')
    .join('pictures as p', 'p.id', 'ap.picture_id')
    .where('ap.album_id', row.id)
    .orderBy('ap.position')
    .first('p.sha256')) as { sha256: Buffer } | undefined;
  return { pictures: Number(facts.pictures), cover: cover?.sha256 ?? null, from: facts.f, to: facts.t };
}

/** Albums and smart albums by name. */
export async function listAlbums(app: App, library: number): Promise<Album[]> {
  const rows = (await app
    .db('albums')
    .where('library_id', library)
    .whereNull('removed_at')
    .orderBy('name')
    .select('id', 'kind', 'name', 'description', 'question')) as Row[];
  const names = await namesOf(app.db, library);
  return Promise.all(rows.map(async (row) => toAlbum(row, names, await factsOf(app, library, row))));
}

/** The pictures of an album in its order; a smart album's are looked up now, oldest first. */
export async function albumIds(app: App, library: number, id: number): Promise<number[]> {
  const row = await live(app, library, id);
  const question = questionOf(row);
  if (question) return idsOf(app, library, question, true);
  return handIds(app.db, library, id);
}

/** The pictures of an album that is filled by hand, in order. */
async function handIds(db: Db, library: number, id: number): Promise<number[]> {
  const rows = (await db('album_pictures')
    .where({ album_id: id, library_id: library })
    .orderBy('position')
    .select('picture_id')) as { picture_id: number }[];
  return rows.map((r) => r.picture_id);
}

/** One album and its pictures. */
export async function albumOf(app: App, library: number, id: number): Promise<{ album: Album; ids: number[] }> {
  const row = await live(app, library, id);
  return {
    album: toAlbum(row, await namesOf(app.db, library), await factsOf(app, library, row)),
    ids: await albumIds(app, library, id),
  };
}

/** Checks that all ids are pictures of this library, and drops repeats. */
export async function ownPictures(app: App, library: number, ids: readonly number[]): Promise<number[]> {
  await refuseForeign(app.db, library, 'pictures', ids, 'One of these pictures');
  return [...new Set(ids)];
}

/** Makes an album of pictures in the order given. */
export async function makePlainAlbum(app: App, library: number, name: string, ids: readonly number[]): Promise<number> {
  const own = await ownPictures(app, library, ids);
  const id = await app.db.transaction(async (trx) => {
    const [made] = await trx('albums').insert({ library_id: library, kind: 'plain', name });
    for (const [c, some] of chunks(own, 1000).entries())
      await trx('album_pictures').insert(
        some.map((picture_id, i) => ({ library_id: library, album_id: made!, picture_id, position: c * 1000 + i })),
      );
    return made!;
  });
  app.changed(library, 'albums');
  return id;
}

/** A question may not ask for a smart album: what fills itself from itself would never settle. */
async function forAlbum(app: App, library: number, question: Question): Promise<SavedQuestion> {
  const plain = normalise(question);
  await refuseForeignQuestion(app.db, library, plain);
  const asked = [...JSON.stringify(plain).matchAll(/"album":(\d+)/g)].map((m) => Number(m[1]));
  if (asked.length) {
    const smart = await app.db('albums').where({ library_id: library, kind: 'smart' }).whereIn('id', asked).first('id');
    if (smart) throw new Refused(400, 'A smart album cannot be filled from another smart album.');
  }
  return { v: 1, question: plain };
}

/** Makes a smart album, which fills itself by its question from now on. */
export async function makeSmartAlbum(app: App, library: number, name: string, question: Question): Promise<number> {
  const saved = await forAlbum(app, library, question);
  const [id] = await app
    .db('albums')
    .insert({ library_id: library, kind: 'smart', name, question: JSON.stringify(saved) });
  app.changed(library, 'albums');
  return id!;
}

/** Changes an album's name, description or question. */
export async function changeAlbum(
  app: App,
  library: number,
  id: number,
  change: { name?: string | undefined; description?: string | null | undefined; question?: Question | undefined },
): Promise<void> {
  const row = await live(app, library, id);
  const values: Record<string, unknown> = {};
  if (change.name !== undefined) values['name'] = change.name;
  if (change.description !== undefined) values['description'] = change.description || null;
  if (change.question !== undefined) {
    if (row.kind !== 'smart') throw new Refused(409, 'This album is filled by hand, not by a question.');
    values['question'] = JSON.stringify(await forAlbum(app, library, change.question));
  }
  if (Object.keys(values).length) await app.db('albums').where('id', id).update(values);
  app.changed(library, 'albums');
}

/**
 * Changes what is in an album that is filled by hand, wholly or not at all, and one change at a time: what somebody else put
 * in meanwhile stays in. `change` is given the pictures in order and answers with them as they are to be.
 */
async function rearrange(
  app: App,
  library: number,
  id: number,
  change: (there: number[]) => readonly number[],
): Promise<number[]> {
  const before = await wholly(app.db, async (trx) => {
    const row = (await trx('albums')
      .where({ id, library_id: library })
      .whereNull('removed_at')
      .forUpdate()
      .first('kind')) as { kind: Row['kind'] } | undefined;
    if (!row) throw notFound('This album');
    if (row.kind === 'smart') throw new Refused(409, 'A smart album fills itself; change its question instead.');
    const there = await handIds(trx, library, id);
    const ids = change(there);
    await trx('album_pictures').where({ album_id: id, library_id: library }).delete();
    for (const [c, some] of chunks(ids, 1000).entries())
      await trx('album_pictures').insert(
        some.map((picture_id, i) => ({ library_id: library, album_id: id, picture_id, position: c * 1000 + i })),
      );
    return there;
  });
  app.changed(library, 'albums');
  return before;
}

/** Puts pictures at the end of an album; answers with those that were not in it before. */
export async function putIntoAlbum(app: App, library: number, id: number, ids: readonly number[]): Promise<number[]> {
  const own = await ownPictures(app, library, ids);
  const before = new Set(await rearrange(app, library, id, (there) => [...new Set([...there, ...own])]));
  return own.filter((p) => !before.has(p));
}

/** Takes pictures out of an album; they stay in the library. Answers with the album's pictures as they were. */
export async function takeOut(app: App, library: number, id: number, ids: readonly number[]): Promise<number[]> {
  const going = new Set(ids);
  return rearrange(app, library, id, (there) => there.filter((p) => !going.has(p)));
}

/** Sets what is in an album, in which order. */
export async function setOrder(app: App, library: number, id: number, ids: readonly number[]): Promise<void> {
  const own = await ownPictures(app, library, ids);
  await rearrange(app, library, id, () => own);
}

/** Removes an album, or brings it back. Its pictures are not touched. */
export async function setRemoved(app: App, library: number, id: number, removed: boolean): Promise<void> {
  const n = await app
    .db('albums')
    .where({ id, library_id: library })
    .update({ removed_at: removed ? app.db.raw('UTC_TIMESTAMP(3)') : null });
  if (!n) throw notFound('This album');
  app.changed(library, 'albums', 'shares');
}
