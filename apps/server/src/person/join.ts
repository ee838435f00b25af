import type { JoinPreview, PersonBefore } from '@gemmel/contract';
import { SavedQuestion, type Question } from '@gemmel/core';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { ask } from '../jobs/jobs';
import { refuseForeign } from '../library/own';
import { Refused } from '../problem';
import { markDirty } from '../vault/sidecar';
import { personRow, type PersonRow } from './people';

interface FaceRow {
  id: number;
  picture_id: number;
  named_by: 'hand' | 'machine';
}
interface AlbumRow {
  id: number;
  question: string;
}

const facesOf = async (db: Db, library: number, person: number): Promise<FaceRow[]> =>
  (await db('faces')
    .where({ library_id: library, person_id: person })
    .select('id', 'picture_id', 'named_by')) as FaceRow[];

/** A question in which one person stands for another. */
function withPerson(question: Question, from: number, into: number): Question {
  if ('all' in question) return { all: question.all.map((q) => withPerson(q, from, into)) };
  if ('any' in question) return { any: question.any.map((q) => withPerson(q, from, into)) };
  if ('not' in question) return { not: withPerson(question.not, from, into) };
  if (!('who' in question) || !question.who.people.includes(from)) return question;
  const people = [...new Set(question.who.people.map((id) => (id === from ? into : id)))];
  return { who: { ...question.who, people } };
}

/** Smart albums that ask for a person, each with its question as it is kept. */
async function albumsAsking(db: Db, library: number, person: number): Promise<AlbumRow[]> {
  const rows = (await db('albums')
    .where('library_id', library)
    .whereNotNull('question')
    .select('id', db.raw('CAST(question AS CHAR) AS question'))) as AlbumRow[];
  return rows.filter(({ question }) => {
    const { question: asked } = JSON.parse(question) as SavedQuestion;
    return JSON.stringify(withPerson(asked, person, 0)) !== JSON.stringify(asked);
  });
}

/** What joining a person into another would do. */
export async function joinPreview(app: App, library: number, from: number, into: number): Promise<JoinPreview> {
  const { db } = app;
  await personRow(db, library, from);
  await personRow(db, library, into);
  const theirs = new Set((await facesOf(db, library, into)).map((f) => f.picture_id));
  const mine = await facesOf(db, library, from);
  return {
    pictures: new Set(mine.map((f) => f.picture_id)).size,
    both: new Set(mine.map((f) => f.picture_id).filter((p) => theirs.has(p))).size,
    albums: (await albumsAsking(db, library, from)).length,
  };
}

async function standing(db: Db, library: number, row: PersonRow, into: number | null): Promise<PersonBefore> {
  const circles = (await db('circle_people').where({ library_id: library, person_id: row.id }).select('circle_id')) as {
    circle_id: number;
  }[];
  const refused = (await db('face_refusals').where({ library_id: library, person_id: row.id }).select('face_id')) as {
    face_id: number;
  }[];
  return {
    person: {
      id: row.id,
      name: row.name,
      nickname: row.nickname,
      born: row.born,
      favourite: Boolean(row.favourite),
      hidden: Boolean(row.hidden),
      recognised: Boolean(row.recognised),
      portrait: row.portrait_face_id,
      circles: circles.map((c) => c.circle_id),
    },
    into,
    faces: (await facesOf(db, library, row.id)).map((f) => [f.id, f.named_by]),
    refused: refused.map((r) => r.face_id),
    albums: into === null ? [] : await albumsAsking(db, library, row.id),
  };
}

const WAITS = { state: 'waiting', person_id: null, named_by: null };

/** Changes many faces alike. */
async function changeFaces(trx: Db, ids: readonly number[], to: object): Promise<void> {
  for (const some of chunks(ids, 1000)) await trx('faces').whereIn('id', some).update(to);
}

async function after(app: App, library: number, pictures: readonly number[]): Promise<void> {
  await markDirty(app.db, library, [...new Set(pictures)]);
  await ask(app.db, library, 'faces', 0, 250);
  app.changed(library, 'people', 'pictures', 'albums', 'library');
}

/**
 * Joins a person into another: all faces, circles and smart albums follow. Where both are named in one picture, the face of
 * the one who goes waits again, since nobody is in a picture twice. What the other one lacks (nickname, birth date) is kept.
 */
export async function joinPeople(app: App, library: number, from: number, into: number): Promise<PersonBefore> {
  const { db } = app;
  if (from === into) throw new Refused(409, 'These are one person already.');
  const [row, other] = [await personRow(db, library, from), await personRow(db, library, into)];
  const before = await standing(db, library, row, into);
  const faces = await facesOf(db, library, from);
  await db.transaction(async (trx) => {
    const theirs = new Set((await facesOf(trx, library, into)).map((f) => f.picture_id));
    const twice = faces.filter((f) => theirs.has(f.picture_id)).map((f) => f.id);
    const move = faces.filter((f) => !theirs.has(f.picture_id)).map((f) => f.id);
    await changeFaces(trx, twice, WAITS);
    await changeFaces(trx, move, { person_id: into });
    for (const circle of before.person.circles)
      await trx('circle_people')
        .insert({ library_id: library, circle_id: circle, person_id: into })
        .onConflict(['circle_id', 'person_id'])
        .ignore();
    await trx('people')
      .where('id', into)
      .update({ nickname: other.nickname ?? row.nickname, born: other.born ?? row.born });
    for (const album of before.albums) {
      const saved = JSON.parse(album.question) as SavedQuestion;
      await trx('albums')
        .where('id', album.id)
        .update({ question: JSON.stringify({ ...saved, question: withPerson(saved.question, from, into) }) });
    }
    await trx('people').where({ id: from, library_id: library }).delete();
  });
  await after(
    app,
    library,
    faces.map((f) => f.picture_id),
  );
  return before;
}

/** Takes a name away: every face of theirs waits again. Answers with what undoes it. */
export async function forgetPerson(app: App, library: number, id: number): Promise<PersonBefore> {
  const { db } = app;
  const before = await standing(db, library, await personRow(db, library, id), null);
  const faces = await facesOf(db, library, id);
  await db.transaction(async (trx) => {
    await changeFaces(
      trx,
      faces.map((f) => f.id),
      WAITS,
    );
    await trx('people').where({ id, library_id: library }).delete();
  });
  await after(
    app,
    library,
    faces.map((f) => f.picture_id),
  );
  return before;
}

/** A question as it is kept; refused when it is none. */
function readQuestion(text: string): void {
  try {
    SavedQuestion.parse(JSON.parse(text));
  } catch {
    throw new Refused(400, 'A question among this cannot be read. Nothing has been changed.');
  }
}

/** Undoes that a person was joined or forgotten: they are there again, with the faces that were theirs. */
export async function restorePerson(app: App, library: number, before: PersonBefore): Promise<void> {
  const { db } = app;
  const { person, into } = before;
  const pictures: number[] = [];
  await db.transaction(async (trx) => {
    if (await trx('people').where({ library_id: library, name: person.name }).first('id'))
      throw new Refused(409, `Somebody is called ${person.name} again already.`);
    await refuseForeign(trx, library, 'faces', [person.portrait], 'The portrait');
    for (const { question } of before.albums) readQuestion(question);
    await trx('people').insert({
      id: person.id,
      library_id: library,
      name: person.name,
      nickname: person.nickname,
      born: person.born,
      favourite: person.favourite,
      hidden: person.hidden,
      recognised: person.recognised,
    });
    for (const by of ['hand', 'machine'] as const)
      for (const some of chunks(
        before.faces.filter(([, namedBy]) => namedBy === by).map(([id]) => id),
        1000,
      )) {
        const rows = (await trx('faces')
          .where('library_id', library)
          .whereIn('id', some)
          .where((q) =>
            q
              .where('state', 'waiting')
              .orWhere('named_by', 'machine')
              .orWhere('person_id', into ?? 0),
          )
          .select('id', 'picture_id')) as { id: number; picture_id: number }[];
        pictures.push(...rows.map((r) => r.picture_id));
        await trx('faces')
          .whereIn(
            'id',
            rows.map((r) => r.id),
          )
          .update({ state: 'named', person_id: person.id, named_by: by, group_key: null, likely_person_id: null });
      }
    await trx('people').where('id', person.id).update({ portrait_face_id: person.portrait });
    const circles = (await trx('circles').where('library_id', library).whereIn('id', person.circles).select('id')) as {
      id: number;
    }[];
    if (circles.length)
      await trx('circle_people').insert(
        circles.map((c) => ({ library_id: library, circle_id: c.id, person_id: person.id })),
      );
    const there = (await trx('faces').where('library_id', library).whereIn('id', before.refused).select('id')) as {
      id: number;
    }[];
    for (const some of chunks(there, 1000))
      await trx('face_refusals').insert(
        some.map((f) => ({ library_id: library, face_id: f.id, person_id: person.id })),
      );
    for (const album of before.albums)
      await trx('albums').where({ id: album.id, library_id: library }).update({ question: album.question });
  });
  await after(app, library, pictures);
}
