import type { CircleShape } from '@gemmel/contract';
import type { App } from '../context';
import type { Db } from '../db/open';
import { notFound, Refused } from '../problem';

const taken = (error: unknown): never => {
  if ((error as { code?: string }).code === 'ER_DUP_ENTRY')
    throw new Refused(409, 'There is a circle of this name already.');
  throw error;
};

async function order(db: Db, library: number): Promise<number[]> {
  const rows = (await db('circles').where('library_id', library).orderBy(['position', 'id']).select('id')) as {
    id: number;
  }[];
  return rows.map((c) => c.id);
}

/** Puts a circle at a place in the order, the others moving up. */
async function put(trx: Db, library: number, id: number, position: number): Promise<void> {
  const others = (await order(trx, library)).filter((other) => other !== id);
  others.splice(Math.min(position, others.length), 0, id);
  for (const [at, other] of others.entries()) await trx('circles').where('id', other).update({ position: at });
}

/** Says who is in a circle; people who are no longer there are left out, those of another library refused. */
async function fill(trx: Db, library: number, id: number, people: readonly number[]): Promise<void> {
  if (await trx('people').whereIn('id', people).whereNot('library_id', library).first('id'))
    throw notFound('One of these people');
  await trx('circle_people').where({ library_id: library, circle_id: id }).delete();
  const known = (await trx('people').where('library_id', library).whereIn('id', people).select('id')) as {
    id: number;
  }[];
  if (known.length)
    await trx('circle_people').insert(known.map((p) => ({ library_id: library, circle_id: id, person_id: p.id })));
}

/** Says in which circles somebody is. Refused when one of them is not there. */
export async function intoCircles(trx: Db, library: number, person: number, circles: readonly number[]): Promise<void> {
  const known = (await trx('circles').where('library_id', library).whereIn('id', circles).select('id')) as {
    id: number;
  }[];
  if (known.length < new Set(circles).size) throw notFound('This circle');
  await trx('circle_people').where({ library_id: library, person_id: person }).delete();
  if (known.length)
    await trx('circle_people').insert(known.map((c) => ({ library_id: library, circle_id: c.id, person_id: person })));
}

async function shapeOf(db: Db, library: number, id: number): Promise<CircleShape> {
  const row = (await db('circles').where({ id, library_id: library }).first('name')) as { name: string } | undefined;
  if (!row) throw notFound('This circle');
  const people = (await db('circle_people').where({ library_id: library, circle_id: id }).select('person_id')) as {
    person_id: number;
  }[];
  return {
    name: row.name,
    people: people.map((p) => p.person_id),
    position: (await order(db, library)).indexOf(id),
  };
}

/** Makes a circle with people in it, at a place in the order or at the end. */
export async function makeCircle(
  app: App,
  library: number,
  {
    name,
    people = [],
    position = Infinity,
  }: { name: string; people?: number[] | undefined; position?: number | undefined },
): Promise<number> {
  const id = await app.db.transaction(async (trx) => {
    const [made] = (await trx('circles').insert({ library_id: library, name }).catch(taken)) as [number];
    await fill(trx, library, made, people);
    await put(trx, library, made, position);
    return made;
  });
  app.changed(library, 'people');
  return id;
}

/** Renames a circle, says who is in it, or moves it in the order; answers with how it was. */
export async function changeCircle(
  app: App,
  library: number,
  id: number,
  change: { [K in keyof CircleShape]?: CircleShape[K] | undefined },
): Promise<CircleShape> {
  const before = await shapeOf(app.db, library, id);
  await app.db.transaction(async (trx) => {
    if (change.name !== undefined) await trx('circles').where('id', id).update({ name: change.name }).catch(taken);
    if (change.people !== undefined) await fill(trx, library, id, change.people);
    if (change.position !== undefined) await put(trx, library, id, change.position);
  });
  app.changed(library, 'people');
  return before;
}

/** Removes a circle; the people in it stay. Answers with what makes it again. */
export async function removeCircle(app: App, library: number, id: number): Promise<CircleShape> {
  const before = await shapeOf(app.db, library, id);
  await app.db('circles').where({ id, library_id: library }).delete();
  app.changed(library, 'people');
  return before;
}
