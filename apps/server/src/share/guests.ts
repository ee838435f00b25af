import type { Answer, Api, Share } from '@gemmel/contract';
import type { App } from '../context';
import { notFound } from '../problem';
import { todayIn } from '../time/home';
import { shown } from './holding';
import { forgetLately } from './lately';
import { newLink, unseal } from './links';
import { shareRow, stateOf, type ShareRow } from './row';
import { toShare } from './toShare';

/** Somebody who is to have a link of their own. */
export interface NewGuest {
  name: string;
  email: string | null;
}

/** Gives some people and members links of their own to a share; a member who has one keeps it. */
export async function insertGuests(
  app: App,
  share: ShareRow,
  people: readonly NewGuest[],
  members: readonly number[],
): Promise<void> {
  const { db } = app;
  const named = members.length
    ? await db('members')
        .where('library_id', share.library_id)
        .whereNull('left_at')
        .whereIn('id', [...members])
        .select('id', 'name')
    : [];
  if (named.length < new Set(members).size) throw notFound('member');
  const there = new Set(
    (await db('share_guests').where('share_id', share.id).whereNotNull('member_id').select('member_id')).map(
      ({ member_id }) => member_id,
    ),
  );
  const rows = [
    ...named.filter(({ id }) => !there.has(id)).map(({ id, name }) => ({ member_id: id, name, email: null })),
    ...people.map(({ name, email }) => ({ member_id: null, name, email })),
  ].map((row) => ({
    library_id: share.library_id,
    share_id: share.id,
    ...row,
    name: row.name.slice(0, 80),
    ...newLink(app),
  }));
  if (rows.length) await db('share_guests').insert(rows);
  app.changed(share.library_id, 'shares');
}

/** Gives more people links of their own. */
export async function addGuests(
  app: App,
  library: number,
  id: number,
  { people, members }: { people: readonly NewGuest[]; members: readonly number[] },
): Promise<Share> {
  await insertGuests(app, await shareRow(app, library, id), people, members);
  return toShare(app, await shareRow(app, library, id));
}

/** Closes somebody's own link, or gives them a new one in its place. */
export async function setGuest(
  app: App,
  library: number,
  id: number,
  guest: number,
  what: 'close' | 'renew',
): Promise<Share> {
  const done = await app
    .db('share_guests')
    .where({ id: guest, share_id: id, library_id: library })
    .update(
      what === 'close'
        ? { closed_at: app.db.raw('COALESCE(closed_at, UTC_TIMESTAMP(3))'), token_hash: null, sealed: null }
        : { closed_at: null, ...newLink(app) },
    );
  if (!done) throw notFound('member');
  forgetLately(app);
  app.changed(library, 'shares');
  return toShare(app, await shareRow(app, library, id));
}

/** The open shares that were made for a member, newest first. */
export async function sharedWith(app: App, library: number, member: number): Promise<Answer<Api['mine']>> {
  const { db } = app;
  const rows = await db('share_guests')
    .where({ library_id: library, member_id: member })
    .whereNull('closed_at')
    .orderBy('share_id', 'desc');
  const today = await todayIn(db, library);
  const found: Answer<Api['mine']>['shares'] = [];
  for (const guest of rows) {
    const share = await shareRow(app, library, guest.share_id);
    const token = unseal(app, guest.sealed);
    if (stateOf(share, today) !== 'open' || !token) continue;
    const { join, sql, values, order } = await shown(app, share);
    const [[row]] = (await db.raw(
      `SELECT COUNT(*) OVER () AS n, p.shown FROM pictures p ${join} WHERE ${sql} AND p.library_id = ? ORDER BY ${order} LIMIT 1`,
      [...values, library],
    )) as [[{ n: number; shown: Buffer } | undefined]];
    const from = await db('members').where('id', share.created_by).first('name');
    found.push({
      title: share.title,
      from: from?.name ?? '',
      pictures: Number(row?.n ?? 0),
      cover: row?.shown.toString('hex') ?? null,
      path: `/s/${token}`,
    });
  }
  return { shares: found };
}
