import type { Pin } from '@gemmel/contract';
import type { Question } from '@gemmel/core';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import { notFound, refused } from '../problem';
import { newsOf } from '../question/news';
import { bitsOf, sizeOf } from '../question/sets';

/** Most pins one member keeps at hand. */
const MOST = 50;

/** The questions a member keeps at hand, in their order, with their counts. */
export async function listPins(app: App, library: number, member: number): Promise<Pin[]> {
  const rows = await app
    .db('pins')
    .where({ library_id: library, member_id: member })
    .orderBy(['position', 'id'])
    .select('id', 'name', 'question');
  // Counted by sets that are kept: after each thing said, most of them are what they were.
  const news = await newsOf(app.db, library);
  const pins: Pin[] = [];
  for (const { id, name, question } of rows) {
    const asked = (typeof question === 'string' ? JSON.parse(question) : question) as Question;
    pins.push({ id, name, question: asked, pictures: sizeOf(await bitsOf(app, library, asked, news)) });
  }
  return pins;
}

/** Keeps a question at hand, behind those that are there. */
export const makePin = (
  app: App,
  by: By & { member: number },
  { name, question }: { name: string; question: Question },
): Promise<{ id: number; act: number | null }> =>
  perform(app, by, 'make pin', async ({ trx, library, member, made, words }) => {
    const there = await trx('pins').where({ library_id: library, member_id: member! }).forUpdate().select('position');
    if (there.length >= MOST) throw refused('pins-full', { n: MOST });
    const [id] = (await trx('pins').insert({
      library_id: library,
      member_id: member!,
      name,
      question: JSON.stringify(question),
      position: Math.max(0, ...there.map((pin) => pin.position)) + 1,
    })) as [number];
    made('pins', id);
    words({ name });
    return { id };
  });

/** Renames a pin of one's own, changes what it asks, or puts it elsewhere. */
export const changePin = (
  app: App,
  by: By & { member: number },
  id: number,
  change: { name?: string | undefined; question?: Question | undefined; position?: number | undefined },
): Promise<{ act: number | null }> =>
  perform(app, by, 'change pin', async ({ trx, library, member, hold, words }) => {
    const all = await trx('pins')
      .where({ library_id: library, member_id: member! })
      .orderBy(['position', 'id'])
      .select('id');
    const [row] = (
      await hold(
        'pins',
        all.map((pin) => pin.id),
      )
    ).filter((pin) => pin['id'] === id);
    if (!row) throw notFound('pin');
    words({
      name: String(row['name']),
      what: Object.keys(change),
      ...(change.name === undefined ? {} : { to: change.name }),
    });
    if (change.name !== undefined) await trx('pins').where('id', id).update({ name: change.name });
    if (change.question)
      await trx('pins')
        .where('id', id)
        .update({ question: JSON.stringify(change.question) });
    if (change.position === undefined) return;
    const order = all.map((pin) => pin.id).filter((one) => one !== id);
    order.splice(change.position, 0, id);
    for (const [i, one] of order.entries())
      await trx('pins')
        .where('id', one)
        .update({ position: i + 1 });
  });

/** No longer keeps a question at hand. */
export const removePin = (app: App, by: By & { member: number }, id: number): Promise<{ act: number | null }> =>
  perform(app, by, 'remove pin', async ({ trx, library, member, hold, words }) => {
    const mine = await trx('pins').where({ id, library_id: library, member_id: member! }).first('id');
    const [row] = mine ? await hold('pins', [id]) : [];
    if (!row) throw notFound('pin');
    words({ name: String(row['name']) });
    await trx('pins').where('id', id).delete();
  });
