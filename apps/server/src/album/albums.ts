import type { Album, AskedNames } from '@gemmel/contract';
import { normalise, type Question, type SavedQuestion } from '@gemmel/core';
import { perform, type Act, type By } from '../act/perform';
import { chunks, type App } from '../context';
import { conditionOf, idsOf } from '../picture/pictures';
import { notFound, refused } from '../problem';
import type { Db } from '../db/open';
import { refuseForeign } from '../library/own';
import { refuseForeignQuestion } from '../question/foreign';
import { namesAsked } from '../question/names';

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

async function live(db: Db, library: number, id: number): Promise<Row> {
  const row = await db('albums')
    .where({ id, library_id: library })
    .whereNull('removed_at')
    .first('id', 'kind', 'name', 'description', 'question');
  if (!row) throw notFound('album');
  return row;
}

const toAlbum = (row: Row, names: AskedNames | null, facts: Facts): Album => {
  const question = questionOf(row);
  return {
    id: row.id,
    kind: row.kind,
    name: row.name,
    description: row.description,
    question,
    names,
    pictures: facts.pictures,
    cover: facts.cover?.toString('hex') ?? null,
    from: facts.from,
    to: facts.to,
  };
};

interface Facts {
  pictures: number;
  cover: Buffer | null;
  from: string | null;
  to: string | null;
}
const NONE: Facts = { pictures: 0, cover: null, from: null, to: null };

/** What smart albums hold, each read once: how many, from when to when, and the best of them, best first by stars, hearts and age. */
async function smartFacts(
  app: App,
  library: number,
  row: Row,
): Promise<Omit<Facts, 'cover'> & { best: number | null }> {
  const { sql, values } = await conditionOf(app, library, questionOf(row)!);
  const [[facts]] = (await app.db.raw(
    `SELECT COUNT(*) AS pictures, MIN(p.day) AS f, MAX(p.day) AS t, MAX((p.rating * 2 + p.favourite) * 4294967296 + p.id) AS best
     FROM pictures p WHERE p.library_id = ? AND (${sql})`,
    [library, ...values],
  )) as [[{ pictures: number; f: string | null; t: string | null; best: number | null }]];
  const best = facts.best === null ? null : Number(BigInt(facts.best) % 4294967296n);
  return { pictures: Number(facts.pictures), from: facts.f, to: facts.t, best };
}

/** What some albums hold and show, in few queries however many there are. */
async function factsOf(app: App, library: number, rows: readonly Row[]): Promise<Map<number, Facts>> {
  const { db } = app;
  const facts = new Map<number, Facts>();
  const covers = new Map<number, number>();
  const plain = rows.filter((row) => row.kind === 'plain').map((row) => row.id);
  for (const some of chunks(plain, 1000)) {
    const counts = (await db('album_pictures as ap')
      .join('pictures as p', 'p.id', 'ap.picture_id')
      .whereIn('ap.album_id', some)
      .groupBy('ap.album_id')
      .select('ap.album_id as album', db.raw('COUNT(*) AS pictures, MIN(p.day) AS f, MAX(p.day) AS t'))) as unknown as {
      album: number;
      pictures: number;
      f: string | null;
      t: string | null;
    }[];
    for (const { album, pictures, f, t } of counts)
      facts.set(album, { pictures: Number(pictures), cover: null, from: f, to: t });
    const firsts = (await db('album_pictures as ap')
      .whereIn('ap.album_id', some)
      .whereNotExists(
        db('album_pictures as b').whereRaw('b.album_id = ap.album_id AND b.position < ap.position').select(db.raw('1')),
      )
      .select('ap.album_id as album', 'ap.picture_id as picture')) as { album: number; picture: number }[];
    for (const { album, picture } of firsts) covers.set(album, picture);
  }
  for (const row of rows.filter((one) => one.kind === 'smart')) {
    const { best, ...rest } = await smartFacts(app, library, row);
    facts.set(row.id, { ...rest, cover: null });
    if (best !== null) covers.set(row.id, best);
  }
  const shas = new Map<number, Buffer>();
  for (const some of chunks([...new Set(covers.values())], 1000))
    for (const { id, shown } of await db('pictures').whereIn('id', some).select('id', 'shown')) shas.set(id, shown);
  for (const [album, picture] of covers)
    facts.set(album, { ...(facts.get(album) ?? NONE), cover: shas.get(picture) ?? null });
  return facts;
}

/** Albums and smart albums by name. */
export async function listAlbums(app: App, library: number): Promise<Album[]> {
  const rows = await app
    .db('albums')
    .where('library_id', library)
    .whereNull('removed_at')
    .orderBy('name')
    .select('id', 'kind', 'name', 'description', 'question');
  const facts = await factsOf(app, library, rows);
  const questions = rows.map(questionOf);
  const names = await namesAsked(
    app.db,
    library,
    questions.filter((q) => q !== null),
  );
  return rows.map((row, i) => {
    const question = questions[i];
    return toAlbum(row, question ? names(question) : null, facts.get(row.id) ?? NONE);
  });
}

/** The pictures of an album in its order; a smart album's are looked up now, oldest first. */
export async function albumIds(app: App, library: number, id: number): Promise<number[]> {
  const row = await live(app.db, library, id);
  const question = questionOf(row);
  if (question) return idsOf(app, library, question, true);
  return handIds(app.db, library, id);
}

/** The pictures of an album that is filled by hand, in order. */
async function handIds(db: Db, library: number, id: number): Promise<number[]> {
  const rows = await db('album_pictures')
    .where({ album_id: id, library_id: library })
    .orderBy('position')
    .select('picture_id');
  return rows.map((r) => r.picture_id);
}

/** One album and its pictures. */
export async function albumOf(app: App, library: number, id: number): Promise<{ album: Album; ids: number[] }> {
  const row = await live(app.db, library, id);
  const question = questionOf(row);
  const names = question && (await namesAsked(app.db, library, [question]))(question);
  return {
    album: toAlbum(row, names, (await factsOf(app, library, [row])).get(id) ?? NONE),
    ids: await albumIds(app, library, id),
  };
}

/** Checks that all ids are pictures of this library, and drops repeats. */
export async function ownPictures(db: Db, library: number, ids: readonly number[]): Promise<number[]> {
  await refuseForeign(db, library, 'pictures', ids, 'pictures');
  return [...new Set(ids)];
}

/** What an act on albums answers: its number, or null when nothing came of it. */
type Did<T = object> = Promise<T & { act: number | null }>;

/** Puts pictures into an album that is filled by hand, from a position on. */
async function append({ trx, library }: Act, album: number, ids: readonly number[], from: number): Promise<void> {
  for (const [c, some] of chunks(ids, 1000).entries())
    await trx('album_pictures').insert(
      some.map((picture_id, i) => ({
        library_id: library,
        album_id: album,
        picture_id,
        position: from + c * 1000 + i,
      })),
    );
}

/** Makes an album of pictures in the order given, within an act; perhaps of those that came in with a batch. */
export async function insertAlbum(
  act: Act,
  name: string,
  ids: readonly number[],
  batch: number | null = null,
): Promise<number> {
  const own = await ownPictures(act.trx, act.library, ids);
  const [id] = (await act.trx('albums').insert({ library_id: act.library, kind: 'plain', name, batch_id: batch })) as [
    number,
  ];
  act.made('albums', id);
  await act.hold('album_pictures', [id]);
  await append(act, id, own, 0);
  return id;
}

/** Makes a plain album of pictures in the order given. */
export const makePlainAlbum = (app: App, by: By, name: string, ids: readonly number[]): Did<{ id: number }> =>
  perform(app, by, 'make album', async (act) => {
    act.words({ name });
    return { id: await insertAlbum(act, name, ids) };
  });

/** A question may not ask for a smart album: what fills itself from itself would never settle. */
async function forAlbum(db: Db, library: number, question: Question): Promise<SavedQuestion> {
  const plain = normalise(question);
  await refuseForeignQuestion(db, library, plain);
  const asked = [...JSON.stringify(plain).matchAll(/"album":(\d+)/g)].map((m) => Number(m[1]));
  if (asked.length) {
    const smart = await db('albums').where({ library_id: library, kind: 'smart' }).whereIn('id', asked).first('id');
    if (smart) throw refused('smart-from-smart');
  }
  return { v: 1, question: plain };
}

/** Makes a smart album, which fills itself by its question from now on. */
export const makeSmartAlbum = (app: App, by: By, name: string, question: Question): Did<{ id: number }> =>
  perform(app, by, 'make album', async (act) => {
    const saved = await forAlbum(act.trx, act.library, question);
    const [id] = (await act
      .trx('albums')
      .insert({ library_id: act.library, kind: 'smart', name, question: JSON.stringify(saved) })) as [number];
    act.made('albums', id);
    act.words({ name, what: ['smart'] });
    return { id };
  });

/** An album that is not removed, held. */
async function heldAlbum({ trx, library, hold }: Act, id: number): Promise<Row> {
  await hold('albums', [id]);
  return live(trx, library, id);
}

/** Changes an album's name, description or question. */
export const changeAlbum = (
  app: App,
  by: By,
  id: number,
  change: { name?: string | undefined; description?: string | null | undefined; question?: Question | undefined },
): Did =>
  perform(app, by, 'change album', async (act) => {
    const row = await heldAlbum(act, id);
    const values: Record<string, unknown> = {};
    if (change.name !== undefined) values['name'] = change.name;
    if (change.description !== undefined) values['description'] = change.description || null;
    if (change.question !== undefined) {
      if (row.kind !== 'smart') throw refused('album-by-hand');
      values['question'] = JSON.stringify(await forAlbum(act.trx, act.library, change.question));
    }
    if (Object.keys(values).length) await act.trx('albums').where({ id, library_id: act.library }).update(values);
    act.words({
      name: row.name,
      what: Object.keys(values),
      ...(change.name === undefined ? {} : { to: change.name }),
    });
    return {};
  });

/** An album that is filled by hand, held with what is in it: what somebody else does to it comes before or after. */
async function filledByHand(act: Act, id: number): Promise<{ name: string; there: Map<number, number> }> {
  const row = await heldAlbum(act, id);
  if (row.kind === 'smart') throw refused('album-fills-itself');
  const rows = await act.hold('album_pictures', [id]);
  return { name: row.name, there: new Map(rows.map((r) => [Number(r['picture_id']), Number(r['position'])])) };
}

/** Puts pictures at the end of an album; answers with those that were not in it before. */
export const putIntoAlbum = (app: App, by: By, id: number, ids: readonly number[]): Did<{ added: number[] }> =>
  perform(app, by, 'fill album', async (act) => {
    const own = await ownPictures(act.trx, act.library, ids);
    const { name, there } = await filledByHand(act, id);
    const added = own.filter((p) => !there.has(p));
    await append(act, id, added, 1 + Math.max(-1, ...there.values()));
    act.words({ name, n: added.length });
    return { added };
  });

/** Takes pictures out of an album; they stay in the library. */
export const takeOut = (app: App, by: By, id: number, ids: readonly number[]): Did =>
  perform(app, by, 'take out of album', async (act) => {
    const { name, there } = await filledByHand(act, id);
    const going = ids.filter((p) => there.has(p));
    for (const some of chunks(going, 1000))
      await act
        .trx('album_pictures')
        .where({ library_id: act.library, album_id: id })
        .whereIn('picture_id', some)
        .delete();
    act.words({ name, n: going.length });
    return {};
  });

/** Sets what is in an album, in which order. */
export const setOrder = (app: App, by: By, id: number, ids: readonly number[]): Did =>
  perform(app, by, 'order album', async (act) => {
    const own = await ownPictures(act.trx, act.library, ids);
    const { name } = await filledByHand(act, id);
    await act.trx('album_pictures').where({ album_id: id, library_id: act.library }).delete();
    await append(act, id, own, 0);
    act.words({ name });
    return {};
  });

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
