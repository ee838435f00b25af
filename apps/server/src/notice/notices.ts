import type { Notice } from '@gemmel/contract';
import type { Session } from '../account/accounts';
import type { App } from '../context';
import { todayIn } from '../time/home';

/** How far back is told, in days, and how much at most of each kind. */
const DAYS = 30;
const MOST = 40;

/** Whose notices they are. */
export type Whose = Pick<Session, 'library' | 'member' | 'part'>;

const iso = (at: string): string => `${at.replace(' ', 'T')}Z`;

/** What was written: for whoever lives in the house all of it, for a relative answers to what they wrote or brought. */
async function written({ db }: App, { library, member, part }: Whose, since: string) {
  const mine = 'p.batch_id IN (SELECT b.id FROM batches b WHERE b.library_id = ? AND b.brought_by = ?)';
  const answers = `AND (c.picture_id IN (SELECT o.picture_id FROM comments o WHERE o.library_id = ? AND o.member_id = ? AND o.at <= c.at) OR ${mine})`;
  const [rows] = (await db.raw(
    `SELECT c.picture_id AS picture, c.author, c.text, c.at FROM comments c JOIN pictures p ON p.id = c.picture_id
     WHERE c.library_id = ? AND NOT c.hidden AND COALESCE(c.member_id, 0) <> ? AND c.at > ? ${part === 'relative' ? answers : ''}
     ORDER BY c.at DESC LIMIT ?`,
    [library, member, since, ...(part === 'relative' ? [library, member, library, member] : []), MOST],
  )) as [{ picture: number; author: string; text: string; at: string }[]];
  return rows.map(({ picture, author, text, at }): Told => ({
    kind: 'comment',
    id: picture,
    at,
    who: author,
    text,
    pictures: 1,
  }));
}

/** What others of the family, or guests, have added: of interest to whoever files. */
async function added({ db }: App, { library, member }: Whose, since: string) {
  const [rows] = (await db.raw(
    `SELECT b.id, COALESCE(m.name, b.name) AS who, s.title, b.held, b.created_at AS at, COUNT(p.id) AS n
     FROM batches b JOIN pictures p ON p.batch_id = b.id
       LEFT JOIN members m ON m.id = b.brought_by LEFT JOIN shares s ON s.id = b.share_id
     WHERE b.library_id = ? AND b.created_at > ? AND (b.share_id IS NOT NULL OR b.brought_by <> ?)
       AND COALESCE(b.brought_by, 0) <> ?
     GROUP BY b.id ORDER BY b.created_at DESC LIMIT ?`,
    [library, since, member, member, MOST],
  )) as [{ id: number; who: string; title: string | null; held: number; at: string; n: number }[]];
  return rows.map(({ id, who, title, held, at, n }): Told => ({
    kind: held ? 'waiting' : 'added',
    id,
    at,
    who,
    text: title ?? '',
    pictures: Number(n),
  }));
}

/** Shares that were made for them and are still open. */
async function shared(app: App, { library, member }: Whose, since: string) {
  const { db } = app.whole ?? app;
  const [rows] = (await db.raw(
    `SELECT s.id, s.title, g.created_at AS at, m.name AS who FROM share_guests g JOIN shares s ON s.id = g.share_id
       JOIN members m ON m.id = s.created_by
     WHERE g.library_id = ? AND g.member_id = ? AND g.created_at > ? AND g.closed_at IS NULL AND s.closed_at IS NULL
       AND (s.until_day IS NULL OR s.until_day >= ?)
     ORDER BY g.created_at DESC LIMIT ?`,
    [library, member, since, await todayIn(db, library), MOST],
  )) as [{ id: number; title: string; at: string; who: string }[]];
  return rows.map(({ id, title, at, who }): Told => ({ kind: 'share', id, at, who, text: title, pictures: 0 }));
}

/** How many pictures that they have not brought themselves a relative sees since then. */
async function fresh({ db }: App, { library, member }: Whose, since: string): Promise<Told[]> {
  const [[row]] = (await db.raw(
    `SELECT COUNT(*) AS n, MAX(p.created_at) AS at FROM pictures p
     WHERE p.library_id = ? AND p.created_at > ?
       AND NOT COALESCE(p.batch_id IN (SELECT b.id FROM batches b WHERE b.library_id = ? AND b.brought_by = ?), FALSE)`,
    [library, since, library, member],
  )) as [[{ n: number; at: string | null }]];
  return row.at ? [{ kind: 'fresh', id: null, at: row.at, who: '', text: '', pictures: Number(row.n) }] : [];
}

type Told = Omit<Notice, 'fresh'>;

/**
 * What others did since a moment that concerns somebody, the latest first. `app` is the application as they see it; moments are written as
 * the database does.
 * @param seen pictures are counted that came in since then: what they have seen is no news
 */
export async function noticesSince(app: App, whose: Whose, since: string, seen = since): Promise<Told[]> {
  const parts = await Promise.all([
    written(app, whose, since),
    shared(app, whose, since),
    whose.part === 'relative' ? fresh(app, whose, seen) : added(app, whose, since),
  ]);
  return parts
    .flat()
    .sort((a, b) => (a.at < b.at ? 1 : a.at > b.at ? -1 : 0))
    .slice(0, MOST)
    .map((one) => ({ ...one, at: iso(one.at) }));
}

/** What is listed for somebody: what happened within 30 days, and which of it they have not looked at yet. */
export async function notices(app: App, session: Session): Promise<{ fresh: number; notices: Notice[] }> {
  const row = (await app
    .db('members')
    .where('id', session.member)
    .first(
      'noticed_at as looked',
      app.db.raw('GREATEST(created_at, UTC_TIMESTAMP(3) - INTERVAL ? DAY) AS since', [DAYS]),
    )) as { looked: string | null; since: string };
  const { looked, since } = row;
  const all = await noticesSince(app, session, since, looked !== null && looked > since ? looked : since);
  const told = all.map((one) => ({ ...one, fresh: looked === null || one.at > iso(looked) }));
  return { fresh: told.filter((one) => one.fresh).length, notices: told };
}

/** Notes that somebody has looked, up to a moment; never back. */
export async function lookedAt(app: App, { member, looking }: Session, until: string): Promise<void> {
  if (looking) return;
  const at = until.replace('T', ' ').replace('Z', '');
  await (app.whole ?? app)
    .db('members')
    .where('id', member)
    .where((q) => void q.whereNull('noticed_at').orWhere('noticed_at', '<', at))
    .update({ noticed_at: app.db.raw('LEAST(?, UTC_TIMESTAMP(3))', [at]) });
}
