import type { FacesRow } from '../db/tables';
import type { FaceAnswer } from '@gemmel/contract';
import { perform, type Act, type By } from '../act/perform';
import { chunks, type App } from '../context';
import { notFound, refused } from '../problem';
import { intoCircles } from '../person/circles';

type HeldFace = Pick<FacesRow, 'id' | 'picture_id' | 'person_id' | 'named_by' | 'likely_person_id' | 'quality'>;

/** Of a group with odd ones, so many of its best faces are noted as different from each odd one; that is enough to part them. */
const APART = 12;

/** Nothing is kept that describes a face. */
export const UNDESCRIBED = {
  vector_a: Buffer.alloc(0),
  vector_b: Buffer.alloc(0),
  clothes: null,
  eyes: null,
  sharp: null,
  turn: null,
};

/** What came of an answer: whom it spoke of by name, or what was said. */
export interface Answered {
  said: string;
}

async function heldFaces({ hold }: Act, ids: readonly number[]): Promise<HeldFace[]> {
  const rows = (await hold('faces', ids)) as unknown as HeldFace[];
  if (rows.length < new Set(ids).size) throw notFound('face');
  return [...rows].sort((a, b) => b.quality - a.quality || a.id - b.id);
}

/** Whoever is meant by an answer, made when they are new; somebody of that name is them. */
async function personOf(
  act: Act,
  is: { person: number } | Extract<FaceAnswer['is'], { newPerson: string }>,
): Promise<{ id: number; name: string; recognised: boolean }> {
  const { trx, library } = act;
  const where = 'person' in is ? { id: is.person } : { name: is.newPerson.trim() };
  const there = await trx('people')
    .where({ library_id: library, ...where })
    .forUpdate()
    .first('id', 'name', 'recognised');
  if (there) return { id: there.id, name: there.name, recognised: Boolean(there.recognised) };
  if ('person' in is) throw notFound('person');
  const name = is.newPerson.trim();
  const [id] = (await trx('people').insert({ library_id: library, name, born: is.born ?? null })) as [number];
  act.made('people', id);
  if (is.circles?.length) await intoCircles(act, id, is.circles);
  return { id, name, recognised: true };
}

/** Files an answer about faces within an act. */
export async function fileFaces(act: Act, answer: FaceAnswer): Promise<Answered> {
  const { trx, library, hold } = act;
  const { faces, odd, is } = answer;
  const rows = await heldFaces(act, faces);
  const isOdd = new Set(odd);
  const chosen = rows.filter((r) => !isOdd.has(r.id));
  const away = rows.filter((r) => isOdd.has(r.id)).map((r) => r.id);
  const mine = chosen.map((r) => r.id);
  const change = async (to: object) => {
    for (const some of chunks(mine, 1000)) await trx('faces').whereIn('id', some).update(to);
  };
  const noLonger = async () => {
    // A portrait that shows somebody else is none.
    const shown = await trx('people').where('library_id', library).whereIn('portrait_face_id', mine).select('id');
    if (shown.length === 0) return;
    await hold(
      'people',
      shown.map((p) => p.id),
    );
    await trx('people')
      .where('library_id', library)
      .whereIn('portrait_face_id', mine)
      .update({ portrait_face_id: null });
  };
  await hold('face_refusals', [...mine, ...away]);
  let said: string;
  if (typeof is === 'object') {
    const person = await personOf(act, is);
    said = person.name;
    await makeWay(act, person.id, chosen);
    await change({
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
    await refuse(
      act,
      away.map((id) => [id, person.id]),
    );
  } else if (is === 'later') {
    said = 'later';
    await change({ later_until: trx.raw('UTC_TIMESTAMP(3) + INTERVAL 1 DAY') });
  } else if (is === 'unnamed') {
    said = 'not them';
    await refuse(
      act,
      chosen.flatMap((r): [number, number][] => {
        const no = r.person_id ?? r.likely_person_id;
        return no === null ? [] : [[r.id, no]];
      }),
    );
    await change({ state: 'waiting', person_id: null, named_by: null, likely_person_id: null });
    await noLonger();
  } else {
    said = is;
    await change({ state: is, person_id: null, named_by: 'hand', group_key: null, likely_person_id: null });
    await trx('face_offers').whereIn('face_id', mine).delete();
    await noLonger();
  }
  if (is !== 'unnamed' && away.length)
    await noteApart(
      act,
      away.flatMap((id) =>
        mine.slice(0, APART).map((other): [number, number] => [Math.min(id, other), Math.max(id, other)]),
      ),
    );
  act.words({ ...(typeof is === 'object' ? { to: said } : { what: [said] }), n: mine.length });
  return { said };
}

/** Files an answer about faces. */
export const answerFaces = (app: App, by: By, answer: FaceAnswer): Promise<Answered & { act: number | null }> =>
  perform(app, by, 'answer faces', (act) => fileFaces(act, answer));

/** Notes noes. */
async function refuse({ trx, library }: Act, pairs: [number, number][]): Promise<void> {
  for (const some of chunks(pairs, 1000))
    await trx('face_refusals')
      .insert(some.map(([face_id, person_id]) => ({ library_id: library, face_id, person_id })))
      .onConflict(['face_id', 'person_id'])
      .ignore();
}

/** Notes faces that are different people. */
async function noteApart({ trx, library, hold }: Act, pairs: [number, number][]): Promise<void> {
  await hold('face_apart', new Set(pairs.map(([face]) => face)));
  for (const some of chunks(pairs, 1000))
    await trx('face_apart')
      .insert(some.map(([face_id, other_id]) => ({ library_id: library, face_id, other_id })))
      .onConflict(['face_id', 'other_id'])
      .ignore();
}

/**
 * Nobody stands twice in one picture: a second face of a person is refused, unless it was the machine that put the first
 * there; then the first waits again.
 */
async function makeWay({ trx, library, hold }: Act, person: number, chosen: readonly HeldFace[]): Promise<void> {
  const pictures = chosen.map((r) => r.picture_id);
  if (new Set(pictures).size < pictures.length) throw refused('same-picture');
  const there = await trx('faces')
    .where({ library_id: library, person_id: person })
    .whereIn('picture_id', pictures)
    .whereNotIn(
      'id',
      chosen.map((r) => r.id),
    )
    .select('id', 'named_by');
  if (there.some((f) => f.named_by === 'hand')) throw refused('already-in-picture');
  if (there.length === 0) return;
  const ids = there.map((f) => f.id);
  await hold('faces', ids);
  await trx('faces').whereIn('id', ids).update({ state: 'waiting', person_id: null, named_by: null });
}
