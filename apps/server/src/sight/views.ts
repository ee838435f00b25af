import type { Answer, Api, Seen } from '@gemmel/contract';
import type { Question, SavedQuestion } from '@gemmel/core';
import type { App } from '../context';
import type { Db } from '../db/open';
import { wholly } from '../db/turn';
import { tell } from '../feed/feed';
import { notFound, refused } from '../problem';
import { refuseForeignQuestion } from '../question/foreign';
import { namesAsked } from '../question/names';
import type { Sql } from '../question/toSql';
import { sqlOfView, viewIn, type View } from './sight';

/** How many of the pictures found are named. */
const FIRST = 60;

async function relative(db: Db, library: number, id: number) {
  const row = await db('members')
    .where({ id, library_id: library })
    .whereNull('left_at')
    .first('part', 'view', 'reach');
  if (!row) throw notFound('member');
  if (row.part !== 'relative') throw refused('sees-everything');
  return row;
}

/** How many pictures are found, and the newest of them. */
async function some(db: Db, library: number, { sql, values }: Sql): Promise<{ pictures: number; ids: number[] }> {
  const from = `FROM pictures p WHERE p.library_id = ? AND (${sql})`;
  const [[[{ n }]], [rows]] = (await Promise.all([
    db.raw(`SELECT COUNT(*) AS n ${from}`, [library, ...values]),
    db.raw(`SELECT p.id ${from} ORDER BY p.taken_local DESC, p.id DESC LIMIT ?`, [library, ...values, FIRST]),
  ])) as [[[{ n: number }]], [{ id: number }[]]];
  return { pictures: Number(n), ids: rows.map(({ id }) => id) };
}

/** What a member sees with a view, and what it asks for that is not for them. */
async function seenWith(db: Db, library: number, member: number, view: View): Promise<Seen> {
  const shown = await sqlOfView(db, library, member, view);
  if (!view.question || view.reach === 'house') {
    return { ...(await some(db, library, shown)), beyond: { pictures: 0, ids: [] } };
  }
  const wider = await sqlOfView(db, library, member, { ...view, reach: 'house' });
  const beyond = { sql: `(${wider.sql}) AND NOT (${shown.sql})`, values: [...wider.values, ...shown.values] };
  return { ...(await some(db, library, shown)), beyond: await some(db, library, beyond) };
}

/** What a relative sees. @throws a refusal for somebody of the house, who sees everything. */
export async function viewOf({ db }: App, library: number, id: number): Promise<Answer<Api['view']>> {
  const { view, reach } = await relative(db, library, id);
  const question = viewIn(view);
  const names = question ? (await namesAsked(db, library, [question]))(question) : null;
  return { question, names, reach, ...(await seenWith(db, library, id, { question, reach })) };
}

/** What a relative would see. */
export async function tryView({ db }: App, library: number, id: number, view: View): Promise<Seen> {
  await relative(db, library, id);
  if (view.question) await refuseForeignQuestion(db, library, view.question);
  return seenWith(db, library, id, view);
}

/** Chooses what a relative sees; from this moment on they see that and nothing else. */
export async function setView(
  app: App,
  library: number,
  id: number,
  { question, reach }: { question: Question | null; reach: View['reach'] },
): Promise<{ done: true }> {
  await relative(app.db, library, id);
  if (question) await refuseForeignQuestion(app.db, library, question);
  const view = question && JSON.stringify({ v: 1, question } satisfies SavedQuestion);
  await wholly(app.db, async (trx) => {
    const done = await trx('members')
      .where({ id, library_id: library, part: 'relative' })
      .whereNull('left_at')
      .update({ view, reach });
    if (!done) throw notFound('member');
    await tell(
      trx,
      library,
      new Map([
        ['members', null],
        ['pictures', null],
      ]),
    );
  });
  app.feed.nudge();
  return { done: true };
}
