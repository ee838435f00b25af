import type { App } from '../context';
import type { Db } from '../db/open';
import { notFound, Refused } from '../problem';

const taken = (error: unknown): never => {
  if ((error as { code?: string }).code === 'ER_DUP_ENTRY')
    throw new Refused(409, 'There is a circle of this name already.');
  throw error;
};

async function order(db: Db, library: number): Promise<number[]> {
  return (
    (await db('circles').where('library_id', library).orderBy(['position', 'id']).select('id')) as { id: number }[]
  ).map((c) => c.id);
}

/** Puts a circle at a place in the order, the others moving up. */
async function put(trx: Db, library: number, id: number, position: number): Promise<void> {
  const others = (await order(trx, library)).filter((other) => other !== id);
  others.splice(Math.min(position, others.length), 0, id);
  for (const [at, other] of others.entries()) await trx('circles').where('id', other).update({ position: at });
}

/** Makes a circle with people in it, at the end or at a place in the order. */
export async function makeCircle(
  app: App,
  library: number,
  name: string,
  people: readonly number[],
  position = 65_000,
): Promise<number> {
  const id = await app.db.transaction(async (trx) => {
    const [made] = (await trx('circles').insert({ library_id: library, name }).catch(taken)) as [number];
    const known = (await trx('people').where('library_id', library).whereIn('id', people).select('id')) as {
      id: number;
    }[];
    if (known.length)
      await trx('circle_people').insert(known.map((p) => ({ library_id: library, circle_id: made, person_id: p.id })));
    await put(trx, library, made, position);
    return made;
  });
  app.changed(library, 'people');
  return id;
}

async function rowOf(db: Db, library: number, id: number): Promise<{ name: string; position: number }> {
  const row = (await db('circles').where({ id, library_id: library }).first('name')) as { name: string } | undefined;
  if (!row) throw notFound('This circle');
  return { name: row.name, position: (await order(db, library)).indexOf(id) };
}

/** Renames a circle or moves it in the order; answers with how it was. */
export async function changeCircle(
  app: App,
  library: number,
  id: number,
  change: { name?: string | undefined; position?: number | undefined },
): Promise<{ name: string; position: number }> {
  const before = await rowOf(app.db, library, id);
  await app.db.transaction(async (trx) => {
    if (change.name !== undefined) await trx('circles').where('id', id).update({ name: change.name }).catch(taken);
    if (change.position !== undefined) await put(trx, library, id, change.position);
  });
  app.changed(library, 'people');
  return before;
}

/** Removes a circle; the people in it stay. Answers with what makes it again. */
export async function removeCircle(
  app: App,
  library: number,
  id: number,
): Promise<{ name: string; people: number[]; position: number }> {
  const before = await rowOf(app.db, library, id);
  const people = (await app.db('circle_people').where({ library_id: library, circle_id: id }).select('person_id')) as {
    person_id: number;
  }[];
  await app.db('circles').where({ id, library_id: library }).delete();
  app.changed(library, 'people');
  return { ...before, people: people.map((p) => p.person_id) };
}
