import type { FacesRow } from '../db/tables';
import type { JoinPreview } from '@gemmel/contract';
import type { Question, SavedQuestion } from '@gemmel/core';
import { perform, type Act, type By } from '../act/perform';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { refused } from '../problem';
import { personRow } from './people';

interface AlbumRow {
  id: number;
  question: string;
}

const facesOfPerson = async (
  db: Db,
  library: number,
  person: number,
): Promise<Pick<FacesRow, 'id' | 'picture_id' | 'named_by'>[]> =>
  await db('faces').where({ library_id: library, person_id: person }).select('id', 'picture_id', 'named_by');

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
  const theirs = new Set((await facesOfPerson(db, library, into)).map((f) => f.picture_id));
  const mine = await facesOfPerson(db, library, from);
  return {
    pictures: new Set(mine.map((f) => f.picture_id)).size,
    both: new Set(mine.map((f) => f.picture_id).filter((p) => theirs.has(p))).size,
    albums: (await albumsAsking(db, library, from)).length,
  };
}

const WAITS = { state: 'waiting', person_id: null, named_by: null };

/** Changes many faces alike. */
async function changeFaces({ trx, hold }: Act, ids: readonly number[], to: object): Promise<void> {
  await hold('faces', ids);
  for (const some of chunks(ids, 1000)) await trx('faces').whereIn('id', some).update(to);
}

/** Holds all that goes with people when they go: circles and noes. */
async function holdPerson({ trx, library, hold }: Act, ids: readonly number[]): Promise<void> {
  await hold('people', ids);
  const circles = await trx('circle_people').where('library_id', library).whereIn('person_id', ids).select('circle_id');
  await hold(
    'circle_people',
    circles.map((c) => c.circle_id),
  );
  const refused = await trx('face_refusals').where('library_id', library).whereIn('person_id', ids).select('face_id');
  await hold(
    'face_refusals',
    refused.map((r) => r.face_id),
  );
}

/**
 * Joins a person into another: all faces, circles and smart albums follow. Where both are named in one picture, the face of
 * the one who goes waits again, since nobody is in a picture twice. What the other one lacks (nickname, birth date) is kept.
 */
export async function joinPeople(app: App, by: By, from: number, into: number): Promise<{ act: number | null }> {
  if (from === into) throw refused('same-person');
  return perform(app, by, 'join people', async (act) => {
    const { trx, library } = act;
    await holdPerson(act, [from, into]);
    const [row, other] = [await personRow(trx, library, from), await personRow(trx, library, into)];
    const faces = await facesOfPerson(trx, library, from);
    const theirs = new Set((await facesOfPerson(trx, library, into)).map((f) => f.picture_id));
    const twice = faces.filter((f) => theirs.has(f.picture_id)).map((f) => f.id);
    const move = faces.filter((f) => !theirs.has(f.picture_id)).map((f) => f.id);
    await changeFaces(act, twice, WAITS);
    await changeFaces(act, move, { person_id: into });
    for (const { circle_id } of await trx('circle_people')
      .where({ library_id: library, person_id: from })
      .select('circle_id'))
      await trx('circle_people')
        .insert({ library_id: library, circle_id, person_id: into })
        .onConflict(['circle_id', 'person_id'])
        .ignore();
    await trx('people')
      .where('id', into)
      .update({ nickname: other.nickname ?? row.nickname, born: other.born ?? row.born });
    const albums = await albumsAsking(trx, library, from);
    await act.hold(
      'albums',
      albums.map((a) => a.id),
    );
    for (const album of albums) {
      const saved = JSON.parse(album.question) as SavedQuestion;
      await trx('albums')
        .where('id', album.id)
        .update({ question: JSON.stringify({ ...saved, question: withPerson(saved.question, from, into) }) });
    }
    await trx('people').where({ id: from, library_id: library }).delete();
    act.words({ name: row.name, to: other.name, n: faces.length });
  });
}

/** Takes a name away: every face of theirs waits again. */
export const forgetPerson = (app: App, by: By, id: number): Promise<{ act: number | null }> =>
  perform(app, by, 'forget person', async (act) => {
    const { trx, library } = act;
    await holdPerson(act, [id]);
    const row = await personRow(trx, library, id);
    const faces = await facesOfPerson(trx, library, id);
    await changeFaces(
      act,
      faces.map((f) => f.id),
      WAITS,
    );
    await trx('people').where({ id, library_id: library }).delete();
    act.words({ name: row.name, n: faces.length });
  });
