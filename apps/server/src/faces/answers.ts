import type { FaceAnswer, FacesBefore } from '@gemmel/contract';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { ask } from '../jobs/jobs';
import { notFound, Refused } from '../problem';
import { refuseForeign } from '../library/own';
import { intoCircles } from '../person/circles';
import { markDirty } from '../vault/sidecar';

interface FaceRow {
  id: number;
  picture_id: number;
  state: FacesBefore['faces'][number]['state'];
  person_id: number | null;
  named_by: 'hand' | 'machine' | null;
  likely_person_id: number | null;
  later_until: string | null;
}

/** Of a group with odd ones, so many of its best faces are noted as different from each odd one; that is enough to part them. */
const APART = 12;
/** After an answer recognition looks again, a moment later, so that a run of answers becomes one look. */
const SOON = 250;

/** Nothing is kept that describes a face. */
export const UNDESCRIBED = { vector_a: Buffer.alloc(0), vector_b: Buffer.alloc(0), clothes: null };

async function facesOf(db: Db, library: number, ids: readonly number[]): Promise<FaceRow[]> {
  const rows: FaceRow[] = [];
  for (const some of chunks([...new Set(ids)], 1000))
    rows.push(
      ...((await db('faces')
        .where('library_id', library)
        .whereIn('id', some)
        .orderBy('quality', 'desc')
        .select('id', 'picture_id', 'state', 'person_id', 'named_by', 'likely_person_id', 'later_until')) as FaceRow[]),
    );
  if (rows.length < new Set(ids).size) throw notFound('One of these faces');
  return rows;
}

const standing = (r: FaceRow): FacesBefore['faces'][number] => ({
  id: r.id,
  state: r.state,
  person: r.person_id,
  namedBy: r.named_by,
  later: r.later_until,
});

/** Whoever is meant by an answer, made when they are new; somebody of that name is them. */
async function personOf(
  trx: Db,
  library: number,
  is: { person: number } | Extract<FaceAnswer['is'], { newPerson: string }>,
  before: FacesBefore,
): Promise<{ id: number; recognised: boolean }> {
  const where = 'person' in is ? { id: is.person } : { name: is.newPerson.trim() };
  const there = (await trx('people')
    .where({ library_id: library, ...where })
    .first('id', 'name', 'recognised')) as { id: number; name: string; recognised: number } | undefined;
  if (there) {
    before.said = there.name;
    return { id: there.id, recognised: Boolean(there.recognised) };
  }
  if ('person' in is) throw notFound('This person');
  const name = is.newPerson.trim();
  const [id] = (await trx('people').insert({ library_id: library, name, born: is.born ?? null })) as [number];
  if (is.circles?.length) await intoCircles(trx, library, id, is.circles);
  before.newPerson = id;
  before.said = name;
  return { id, recognised: true };
}

/** Files an answer about faces. Answers with the faces as they were, so that it can be undone. */
export async function answerFaces(app: App, library: number, answer: FaceAnswer): Promise<FacesBefore> {
  const { db } = app;
  const { faces, odd, is } = answer;
  const rows = await facesOf(db, library, faces);
  const isOdd = new Set(odd);
  const chosen = rows.filter((r) => !isOdd.has(r.id));
  const away = rows.filter((r) => isOdd.has(r.id)).map((r) => r.id);
  const mine = chosen.map((r) => r.id);
  const before: FacesBefore = {
    faces: rows.map(standing),
    newPerson: null,
    said: '',
    rejected: [],
    apart: [],
    drawn: null,
  };
  await db.transaction(async (trx) => {
    if (typeof is === 'object') {
      const person = await personOf(trx, library, is, before);
      before.faces.push(...(await makeWay(trx, library, person.id, chosen)).map(standing));
      await trx('faces')
        .whereIn('id', mine)
        .update({
          state: 'named',
          person_id: person.id,
          named_by: 'hand',
          group_key: null,
          likely_person_id: null,
          later_until: null,
          ...(person.recognised ? {} : UNDESCRIBED),
        });
      await trx('face_offers').whereIn('face_id', mine).delete();
      // Saying who it is takes back an earlier no.
      await trx('face_refusals').whereIn('face_id', mine).where('person_id', person.id).delete();
      before.rejected = await refuse(
        trx,
        library,
        away.map((id) => [id, person.id]),
      );
    } else if (is === 'later') {
      before.said = 'later';
      await trx('faces')
        .whereIn('id', mine)
        .update({ later_until: trx.raw('UTC_TIMESTAMP(3) + INTERVAL 1 DAY') });
    } else if (is === 'unnamed') {
      before.said = 'not them';
      before.rejected = await refuse(
        trx,
        library,
        chosen.flatMap((r): [number, number][] => {
          const no = r.person_id ?? r.likely_person_id;
          return no === null ? [] : [[r.id, no]];
        }),
      );
      await trx('faces')
        .whereIn('id', mine)
        .update({ state: 'waiting', person_id: null, named_by: null, likely_person_id: null });
      await trx('people').whereIn('portrait_face_id', mine).update({ portrait_face_id: null });
    } else {
      before.said = is;
      await trx('faces')
        .whereIn('id', mine)
        .update({ state: is, person_id: null, named_by: 'hand', group_key: null, likely_person_id: null });
      await trx('face_offers').whereIn('face_id', mine).delete();
      await trx('people').whereIn('portrait_face_id', mine).update({ portrait_face_id: null });
    }
    if (is !== 'unnamed')
      before.apart = await noteApart(
        trx,
        library,
        away.flatMap((id) =>
          mine.slice(0, APART).map((other): [number, number] => [Math.min(id, other), Math.max(id, other)]),
        ),
      );
  });
  await afterAnswer(
    app,
    library,
    rows.map((r) => r.picture_id),
  );
  return before;
}

/** Notes noes; answers with those that are new. */
async function refuse(trx: Db, library: number, pairs: [number, number][]): Promise<[number, number][]> {
  if (pairs.length === 0) return [];
  const known = new Set(
    (
      (await trx('face_refusals').whereIn(
        'face_id',
        pairs.map(([face]) => face),
      )) as { face_id: number; person_id: number }[]
    ).map((r) => `${r.face_id}|${r.person_id}`),
  );
  const fresh = pairs.filter(([face, person]) => !known.has(`${face}|${person}`));
  if (fresh.length)
    await trx('face_refusals').insert(
      fresh.map(([face_id, person_id]) => ({ library_id: library, face_id, person_id })),
    );
  return fresh;
}

/** Notes faces that are different people; answers with the pairs that are new. */
async function noteApart(trx: Db, library: number, pairs: [number, number][]): Promise<[number, number][]> {
  if (pairs.length === 0) return [];
  const known = new Set(
    (
      (await trx('face_apart').whereIn(
        'face_id',
        pairs.map(([face]) => face),
      )) as { face_id: number; other_id: number }[]
    ).map((r) => `${r.face_id}|${r.other_id}`),
  );
  const fresh = pairs.filter(([face, other]) => !known.has(`${face}|${other}`));
  for (const some of chunks(fresh, 1000))
    await trx('face_apart').insert(some.map(([face_id, other_id]) => ({ library_id: library, face_id, other_id })));
  return fresh;
}

/**
 * Nobody stands twice in one picture: a second face of a person is refused, unless it was the machine that put the first
 * there; then the first waits again. Answers with those.
 */
async function makeWay(trx: Db, library: number, person: number, chosen: readonly FaceRow[]): Promise<FaceRow[]> {
  const pictures = chosen.map((r) => r.picture_id);
  if (new Set(pictures).size < pictures.length)
    throw new Refused(
      409,
      'Two of these faces are in one picture, so they cannot both be the same person. Tap one away first.',
    );
  const there = (await trx('faces')
    .where({ library_id: library, person_id: person })
    .whereIn('picture_id', pictures)
    .whereNotIn(
      'id',
      chosen.map((r) => r.id),
    )
    .select('id', 'picture_id', 'state', 'person_id', 'named_by', 'likely_person_id', 'later_until')) as FaceRow[];
  if (there.some((f) => f.named_by === 'hand'))
    throw new Refused(409, 'This person is already named in one of these pictures, and nobody is in a picture twice.');
  if (there.length)
    await trx('faces')
      .whereIn(
        'id',
        there.map((f) => f.id),
      )
      .update({ state: 'waiting', person_id: null, named_by: null });
  return there;
}

/** What follows when something was said about faces. */
export async function afterAnswer(app: App, library: number, pictures: readonly number[]): Promise<void> {
  await markDirty(app.db, library, [...new Set(pictures)]);
  await ask(app.db, library, 'faces', 0, SOON);
  app.changed(library, 'people', 'pictures', 'library');
}

/** Undoes an answer: every face as it was, and a person made by it gone again when nothing else hangs on them. */
export async function restoreFaces(app: App, library: number, before: FacesBefore): Promise<void> {
  const { db } = app;
  const rows = await facesOf(
    db,
    library,
    before.faces.map((f) => f.id),
  );
  const pictures = rows.map((r) => r.picture_id);
  await db.transaction(async (trx) => {
    await refuseForeign(
      trx,
      library,
      'people',
      before.faces.map((f) => f.person),
      'One of these people',
    );
    for (const face of before.faces)
      await trx('faces')
        .where('id', face.id)
        .update({ state: face.state, person_id: face.person, named_by: face.namedBy, later_until: face.later });
    for (const [face, person] of before.rejected)
      await trx('face_refusals').where({ library_id: library, face_id: face, person_id: person }).delete();
    for (const [face, other] of before.apart)
      await trx('face_apart').where({ library_id: library, face_id: face, other_id: other }).delete();
    if (before.drawn !== null) {
      const drawn = (await trx('faces')
        .where({ id: before.drawn, library_id: library, drawn: true })
        .first('picture_id')) as { picture_id: number } | undefined;
      if (drawn) pictures.push(drawn.picture_id);
      await trx('faces').where({ id: before.drawn, library_id: library, drawn: true }).delete();
    }
    if (before.newPerson) {
      const used = await trx('faces').where({ library_id: library, person_id: before.newPerson }).first('id');
      if (!used) await trx('people').where({ library_id: library, id: before.newPerson }).delete();
    }
  });
  await afterAnswer(app, library, pictures);
}
