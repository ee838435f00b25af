import type { CircleShape } from '@gemmel/contract';
import { perform, type Act, type By } from '../act/perform';
import type { App } from '../context';
import type { Db } from '../db/open';
import { notFound, refused } from '../problem';

const taken = (error: unknown): never => {
  if ((error as { code?: string }).code === 'ER_DUP_ENTRY') throw refused('circle-taken');
  throw error;
};

async function order(db: Db, library: number): Promise<number[]> {
  const rows = await db('circles').where('library_id', library).orderBy(['position', 'id']).select('id');
  return rows.map((c) => c.id);
}

/** Puts a circle at a place in the order, the others moving up. */
async function put({ trx, library, hold }: Act, id: number, position: number): Promise<void> {
  const others = (await order(trx, library)).filter((other) => other !== id);
  others.splice(Math.min(position, others.length), 0, id);
  await hold('circles', others);
  for (const [at, other] of others.entries()) await trx('circles').where('id', other).update({ position: at });
}

/** Says who is in a circle; people who are no longer there are left out, those of another library refused. */
async function fill({ trx, library, hold }: Act, id: number, people: readonly number[]): Promise<void> {
  if (await trx('people').whereIn('id', people).whereNot('library_id', library).first('id')) throw notFound('people');
  await hold('circle_people', [id]);
  await trx('circle_people').where({ library_id: library, circle_id: id }).delete();
  const known = await trx('people').where('library_id', library).whereIn('id', people).select('id');
  if (known.length)
    await trx('circle_people').insert(known.map((p) => ({ library_id: library, circle_id: id, person_id: p.id })));
}

/** Says in which circles somebody is. Refused when one of them is not there. */
export async function intoCircles(
  { trx, library, hold }: Act,
  person: number,
  circles: readonly number[],
): Promise<void> {
  const known = await trx('circles').where('library_id', library).whereIn('id', circles).select('id');
  if (known.length < new Set(circles).size) throw notFound('circle');
  const before = await trx('circle_people').where({ library_id: library, person_id: person }).select('circle_id');
  await hold('circle_people', [...before.map((c) => c.circle_id), ...known.map((c) => c.id)]);
  await trx('circle_people').where({ library_id: library, person_id: person }).delete();
  if (known.length)
    await trx('circle_people').insert(known.map((c) => ({ library_id: library, circle_id: c.id, person_id: person })));
}

async function nameOf({ hold }: Act, id: number): Promise<string> {
  const [row] = await hold('circles', [id]);
  if (!row) throw notFound('circle');
  return String(row['name']);
}

/** Makes a circle with people in it, at a place in the order or at the end. */
export const makeCircle = (
  app: App,
  by: By,
  {
    name,
    people = [],
    position = Infinity,
  }: { name: string; people?: number[] | undefined; position?: number | undefined },
): Promise<{ id: number; act: number | null }> =>
  perform(app, by, 'make circle', async (act) => {
    const [id] = (await act.trx('circles').insert({ library_id: act.library, name }).catch(taken)) as [number];
    act.made('circles', id);
    await fill(act, id, people);
    await put(act, id, position);
    act.words({ name });
    return { id };
  });

/** Renames a circle, says who is in it, or moves it in the order. */
export const changeCircle = (
  app: App,
  by: By,
  id: number,
  change: { [K in keyof CircleShape]?: CircleShape[K] | undefined },
): Promise<{ act: number | null }> =>
  perform(app, by, 'change circle', async (act) => {
    const name = await nameOf(act, id);
    if (change.name !== undefined) await act.trx('circles').where('id', id).update({ name: change.name }).catch(taken);
    if (change.people !== undefined) await fill(act, id, change.people);
    if (change.position !== undefined) await put(act, id, change.position);
    act.words({ name, what: Object.keys(change), ...(change.name === undefined ? {} : { to: change.name }) });
  });

/** Removes a circle; the people in it stay. */
export const removeCircle = (app: App, by: By, id: number): Promise<{ act: number | null }> =>
  perform(app, by, 'remove circle', async (act) => {
    const name = await nameOf(act, id);
    await act.hold('circle_people', [id]);
    await act.trx('circles').where({ id, library_id: act.library }).delete();
    act.words({ name });
  });
