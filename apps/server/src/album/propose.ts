import type { Answer, Api, From } from '@gemmel/contract';
import type { BestWish } from '@gemmel/core';
import type { App } from '../context';
import { refuseForeign } from '../library/own';
import { conditionOf } from '../picture/pictures';
import { refuseForeignQuestion } from '../question/foreign';
import type { Sql } from '../question/toSql';
import { bestAmong } from './best';
import { askedBy, picturesOf } from './from';

/** Proposes the best of something, each with what speaks for it and the names of whom that speaks of; and says of how many. */
export async function proposeBest(
  app: App,
  library: number,
  from: From,
  wish: BestWish,
): Promise<Answer<Api['bestOf']>> {
  const { db } = app;
  const question = askedBy(from);
  const ids = question ? [] : await picturesOf(app, library, from);
  await refuseForeign(db, library, 'pictures', ids, 'pictures');
  const asked: Sql = question
    ? await conditionOf(app, library, question)
    : ids.length
      ? { sql: `p.id IN (${ids.map(() => '?').join(',')})`, values: ids }
      : { sql: 'FALSE', values: [] };
  if (question) await refuseForeignQuestion(db, library, question);
  const [[{ n }]] = (await db.raw(`SELECT COUNT(*) AS n FROM pictures p WHERE p.library_id = ? AND (${asked.sql})`, [
    library,
    ...asked.values,
  ])) as [[{ n: number }]];
  const best = await bestAmong(app, library, asked, wish);
  const whos = new Set(
    best.flatMap(({ reasons }) => reasons.flatMap((one) => (one.why === 'person' ? [one.who] : []))),
  );
  const people = await db('people')
    .where('library_id', library)
    .whereIn('id', [...whos])
    .select('id', 'name');
  const names = Object.fromEntries(people.map((person) => [person.id, person.name]));
  return {
    of: Number(n),
    // Somebody without a name is somebody, but nobody to speak of.
    pictures: best.map(({ id, reasons }) => ({
      id,
      reasons: reasons.filter((one) => one.why !== 'person' || String(one.who) in names),
    })),
    names,
  };
}
