import type { Answer, Api } from '@gemmel/contract';
import type { Session } from '../account/accounts';
import type { App } from '../context';
import type { Db } from '../db/open';
import { notFound } from '../problem';

/** How long a stay in the parlour lasts, in hours: what was new when somebody came stays new for so long. */
const STAYS = 6;
/** Pictures and answers that are named. */
const FIRST = 60;
const ANSWERS = 20;

const iso = (at: string | null): string | null => at && `${at.replace(' ', 'T')}Z`;

/** Notes that a member is in the parlour; answers when they were here before. */
async function come({ db }: App, session: Session): Promise<string | null> {
  if (!session.looking)
    await db('members')
      .where('id', session.member)
      .where(
        (q) => void q.whereNull('parlour_at').orWhereRaw('parlour_at < UTC_TIMESTAMP(3) - INTERVAL ? HOUR', [STAYS]),
      )
      .update({ parlour_before: db.raw('parlour_at'), parlour_at: db.raw('UTC_TIMESTAMP(3)') });
  return (await db('members').where('id', session.member).first('parlour_before'))?.parlour_before ?? null;
}

/** How many pictures fit, and the first of them. */
async function some(db: Db, sql: string, values: (string | number)[], order: string) {
  const [rows] = (await db.raw(`SELECT p.id, COUNT(*) OVER () AS n ${sql} ORDER BY ${order} LIMIT ?`, [
    ...values,
    FIRST,
  ])) as [{ id: number; n: number }[]];
  return { pictures: Number(rows[0]?.n ?? 0), ids: rows.map(({ id }) => id) };
}

/** What a relative finds on their first page. `app` is the application as they see it. */
export async function parlour(app: App, session: Session): Promise<Answer<Api['parlour']>> {
  const { db } = app;
  const { library, member } = session;
  const since = await come(app.whole ?? app, session);
  const { view } = (await db('members').where('id', member).first('view'))!;
  const mine = 'p.batch_id IN (SELECT b.id FROM batches b WHERE b.library_id = ? AND b.brought_by = ?)';
  const from = 'FROM pictures p WHERE p.library_id = ? AND';
  const [fresh, brought, loved, answers] = await Promise.all([
    // The first time everything is new.
    some(
      db,
      `${from} NOT COALESCE(${mine}, FALSE) AND p.created_at > ?`,
      [library, library, member, since ?? '1970-01-01'],
      'p.created_at DESC, p.taken_local DESC, p.id DESC',
    ),
    some(db, `${from} ${mine}`, [library, library, member], 'p.created_at DESC, p.id DESC'),
    some(
      db,
      'FROM hearts h JOIN pictures p ON p.id = h.picture_id WHERE h.library_id = ? AND h.member_id = ?',
      [library, member],
      'h.at DESC',
    ),
    db('comments as c')
      .join('pictures as p', 'p.id', 'c.picture_id')
      .where('c.library_id', library)
      .where('c.hidden', false)
      .whereRaw('COALESCE(c.member_id, 0) <> ?', [member])
      .whereRaw(
        `(c.picture_id IN (SELECT o.picture_id FROM comments o WHERE o.library_id = ? AND o.member_id = ? AND o.at <= c.at) OR ${mine})`,
        [library, member, library, member],
      )
      .orderBy('c.at', 'desc')
      .limit(ANSWERS)
      .select('c.id', 'c.picture_id as picture', 'c.author', 'c.text', 'c.at') as unknown as Promise<
      { id: number; picture: number; author: string; text: string; at: string }[]
    >,
  ]);
  return {
    since: iso(since),
    chosen: view !== null || session.part !== 'relative',
    fresh,
    brought,
    loved,
    answers: answers.map((one) => ({ ...one, at: iso(one.at)!, fresh: since === null || one.at > since })),
  };
}

/** Gives a picture a member's own heart, or takes it back. */
export async function setHeart(app: App, { library, member }: Session, picture: number, on: boolean): Promise<void> {
  const { db } = app;
  if (!(await db('pictures').where({ id: picture, library_id: library }).first('id'))) throw notFound('picture');
  const row = { picture_id: picture, member_id: member };
  if (on)
    await db('hearts')
      .insert({ library_id: library, ...row })
      .onConflict()
      .ignore();
  else await db('hearts').where(row).delete();
  app.feed.say(library, 'said', [picture]);
}

/** Who gave a picture a heart of their own: whether whoever asks did, and the others by name. */
export async function heartsOf(db: Db, picture: number, member: number): Promise<{ mine: boolean; by: string[] }> {
  const rows = (await db('hearts as h')
    .join('members as m', 'm.id', 'h.member_id')
    .where('h.picture_id', picture)
    .orderBy('h.at')
    .select('m.id', 'm.name')) as { id: number; name: string }[];
  return {
    mine: rows.some(({ id }) => id === member),
    by: rows.filter(({ id }) => id !== member).map(({ name }) => name),
  };
}
