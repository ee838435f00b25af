import type { Circle, Person, PersonChange, PersonDetail } from '@gemmel/contract';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import type { Db } from '../db/open';
import { notFound, refused } from '../problem';
import { intoCircles } from './circles';
import { bestFaces } from './portraits';

/** A person as they are kept. */
export interface PersonRow {
  id: number;
  name: string;
  nickname: string | null;
  born: string | null;
  favourite: number;
  hidden: number;
  recognised: number;
  portrait_face_id: number | null;
}

/** Two indexes are read side by side: to look into the row of every picture takes three times as long. */
const ALONGSIDE =
  'SET STATEMENT join_cache_level = 4, join_buffer_size = 8388608, join_buffer_space_limit = 16777216 FOR';

/** Most people somebody is often with that are told. */
const COMPANY = 8;

/** In which circles everybody is. */
async function circlesOf(db: Db, library: number): Promise<Map<number, number[]>> {
  const rows = (await db('circle_people as m')
    .join('circles as c', 'c.id', 'm.circle_id')
    .where('m.library_id', library)
    .orderBy(['c.position', 'c.id'])
    .select('m.person_id as person', 'c.id as circle')) as { person: number; circle: number }[];
  const result = new Map<number, number[]>();
  for (const { person, circle } of rows) result.set(person, [...(result.get(person) ?? []), circle]);
  return result;
}

/** Everybody with a name, those in most pictures first, and the circles in the keeper's order. */
export async function listPeople(app: App, library: number): Promise<{ people: Person[]; circles: Circle[] }> {
  const { db } = app;
  const people = await db('people').where('library_id', library);
  const counts = new Map(
    (
      (await db.raw(
        `${ALONGSIDE}
           SELECT f.person_id AS person, COUNT(DISTINCT f.picture_id) AS n, MIN(p.day) AS first, MAX(p.day) AS last
           FROM faces f JOIN pictures p IGNORE INDEX (PRIMARY) ON p.id = f.picture_id AND p.library_id = f.library_id
           WHERE f.library_id = ? AND f.person_id IS NOT NULL GROUP BY f.person_id`,
        [library],
      )) as [{ person: number; n: number; first: string | null; last: string | null }[]]
    )[0].map((row) => [row.person, row]),
  );
  const likely = new Map(
    (
      (await db('faces')
        .where({ library_id: library, state: 'waiting' })
        .whereNotNull('likely_person_id')
        .groupBy('likely_person_id')
        .select('likely_person_id as person', db.raw('COUNT(DISTINCT picture_id) AS n'))) as {
        person: number;
        n: number;
      }[]
    ).map((row) => [row.person, Number(row.n)]),
  );
  const [best, circles] = [await bestFaces(db, library), await circlesOf(db, library)];
  return {
    people: people
      .map((p): Person => ({
        id: p.id,
        name: p.name,
        nickname: p.nickname,
        circles: circles.get(p.id) ?? [],
        born: p.born,
        favourite: Boolean(p.favourite),
        hidden: Boolean(p.hidden),
        recognised: Boolean(p.recognised),
        pictures: Number(counts.get(p.id)?.n ?? 0),
        likely: likely.get(p.id) ?? 0,
        portrait: best.get(p.id) ?? null,
        portraitByHand: p.portrait_face_id !== null,
        first: counts.get(p.id)?.first ?? null,
        last: counts.get(p.id)?.last ?? null,
      }))
      .sort((a, b) => b.pictures - a.pictures || a.name.localeCompare(b.name)),
    circles: await db('circles').where('library_id', library).orderBy(['position', 'id']).select('id', 'name'),
  };
}

/** Somebody of a library by their number. */
export async function personRow(db: Db, library: number, id: number): Promise<PersonRow> {
  const row = (await db('people').where({ id, library_id: library }).first()) as PersonRow | undefined;
  if (!row) throw notFound('person');
  return row;
}

/** More of a person: how often in each year, with whom, like whom, and all their faces, newest first. */
export async function personDetail(app: App, library: number, id: number): Promise<PersonDetail> {
  const { db } = app;
  await personRow(db, library, id);
  const faces = (await db('faces as f')
    .join('pictures as p', 'p.id', 'f.picture_id')
    .where({ 'f.library_id': library, 'f.person_id': id })
    .orderByRaw('p.taken_local IS NULL, p.taken_local DESC, f.id DESC')
    .select('f.id', 'f.picture_id as picture', 'f.named_by', 'p.day')) as {
    id: number;
    picture: number;
    named_by: string;
    day: string | null;
  }[];
  const years = new Map<number, number>();
  for (const { day } of faces)
    if (day) years.set(Number(day.slice(0, 4)), (years.get(Number(day.slice(0, 4))) ?? 0) + 1);
  const together = (await db('faces as f')
    .join('faces as g', (on) => on.on('g.picture_id', 'f.picture_id').andOn('g.person_id', '<>', 'f.person_id'))
    .where({ 'f.library_id': library, 'f.person_id': id })
    .groupBy('g.person_id')
    .orderByRaw('COUNT(DISTINCT f.picture_id) DESC, g.person_id')
    .limit(COMPANY)
    .select('g.person_id as id', db.raw('COUNT(DISTINCT f.picture_id) AS pictures'))) as unknown as {
    id: number;
    pictures: number;
  }[];
  const alike = await db('look_alikes')
    .where('library_id', library)
    .where((q) => q.where('person_id', id).orWhere('other_id', id));
  return {
    years: [...years].sort((a, b) => a[0] - b[0]),
    together: together.map((t) => ({ id: t.id, pictures: Number(t.pictures) })),
    alike: alike.map((a) => (a.person_id === id ? a.other_id : a.person_id)),
    faces: {
      ids: faces.map((f) => f.id),
      pictures: faces.map((f) => f.picture),
      days: faces.map((f) => f.day),
      byMachine: faces.map((f) => f.named_by === 'machine'),
    },
  };
}

/** Changes what is known of a person. Names are unique in a library: two of one name would be joined, not kept apart. */
export function changePerson(app: App, by: By, id: number, change: PersonChange): Promise<{ act: number | null }> {
  return perform(app, by, 'change person', async (act) => {
    const { trx, library } = act;
    await act.hold('people', [id]);
    const row = await personRow(trx, library, id);
    const { portrait, circles, ...plain } = change;
    if (
      typeof portrait === 'number' &&
      !(await trx('faces').where({ id: portrait, library_id: library, person_id: id }).first('id'))
    )
      throw refused('portrait-of-another');
    const values = {
      ...Object.fromEntries(Object.entries(plain).filter(([, value]) => value !== undefined)),
      ...(portrait === undefined ? {} : { portrait_face_id: portrait }),
    };
    if (Object.keys(values).length)
      try {
        await trx('people').where({ id, library_id: library }).update(values);
      } catch (error) {
        if ((error as { code?: string }).code === 'ER_DUP_ENTRY') throw refused('name-taken');
        throw error;
      }
    if (circles !== undefined) await intoCircles(act, id, circles);
    act.words({
      name: row.name,
      what: Object.keys(change),
      ...(change.name === undefined ? {} : { to: change.name }),
      ...(change.favourite === undefined ? {} : { favourite: change.favourite }),
    });
  });
}
