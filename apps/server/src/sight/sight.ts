import { EVERYTHING, SavedQuestion, type Question } from '@gemmel/core';
import { createHash } from 'node:crypto';
import type { Session } from '../account/accounts';
import type { Db } from '../db/open';
import { newsOf } from '../question/news';
import { toSql, type Sql } from '../question/toSql';
import { worldOf } from '../question/world';
import { atLeast, type Said } from './audience';
import { saidIn } from './said';

/** What somebody sees of a library. */
export interface Sight extends Sql {
  library: number;
  member: number;
  /** Whether names of people, albums and tags are told only where one of the pictures they see has them. */
  names: boolean;
  /** What tells apart answers that are kept: other for another view, and other once anything has changed. */
  key: string;
}

/** What a relative sees beside their own: a question, and how far beyond the family's pictures it reaches. */
export interface View {
  question: Question | null;
  reach: 'house' | 'family';
}

/** The question that is kept as text. */
export const viewIn = (view: string | null): Question | null =>
  view === null ? null : SavedQuestion.parse(JSON.parse(view)).question;

/** True for pictures `p` that a relative sees: what their view asks for, as far as it is for them, and what they brought themselves. */
export async function sqlOfView(db: Db, library: number, member: number, view: View): Promise<Sql> {
  const { said, usual } = await saidIn(db, library);
  const own: Sql = {
    sql: 'p.batch_id IN (SELECT b.id FROM batches b WHERE b.library_id = ? AND b.brought_by = ?)',
    values: [library, member],
  };
  const { question } = view;
  if (!question) return own;
  const asked = toSql(question, library, await worldOf(db, library, question));
  const meant = atLeast(view.reach, { library, member, said, usual });
  return {
    // What a guest has added and nobody has said yes to is the house's to see.
    sql: `((${meant.sql}) AND COALESCE((${asked.sql}), FALSE) AND NOT COALESCE(p.batch_id IN (SELECT h.id FROM batches h WHERE h.library_id = ? AND h.held), FALSE)) OR ${own.sql}`,
    values: [...meant.values, ...asked.values, library, ...own.values],
  };
}

/** Whether anything is kept to one member alone. */
async function anyAlone(db: Db, library: number, member: number, said: readonly Said[]): Promise<boolean> {
  if (said.some(({ audience, by }) => audience === 'me' && by !== member)) return true;
  const row = await db('pictures')
    .where({ library_id: library, audience: 'me' })
    .where((q) => void q.whereNot('audience_by', member).orWhereNull('audience_by'))
    .first('id');
  return row !== undefined;
}

/**
 * What somebody signed in sees of their library; null for all of it. A relative sees what their view asks for; whoever lives in the
 * house sees all but what another keeps to themselves.
 */
export async function sightOf(
  db: Db,
  { library, member, part }: Pick<Session, 'library' | 'member' | 'part'>,
): Promise<Sight | null> {
  if (part === 'account') return null;
  let sql: Sql;
  if (part === 'relative') {
    const row = await db('members').where('id', member).first('view', 'reach');
    sql = await sqlOfView(db, library, member, {
      question: viewIn(row?.view ?? null) ?? null,
      reach: row?.reach ?? 'family',
    });
  } else {
    const { said, usual } = await saidIn(db, library);
    if (!(await anyAlone(db, library, member, said))) return null;
    sql = atLeast('house', { library, member, said, usual });
  }
  const news = JSON.stringify([...(await newsOf(db, library))]);
  const hash = createHash('sha256').update(JSON.stringify(sql)).update(news).digest('base64url');
  return { ...sql, library, member, names: part === 'relative', key: `${member} ${hash}` };
}

/** A view that asks for everything. */
export const ALL_OF_IT: View = { question: EVERYTHING, reach: 'house' };
