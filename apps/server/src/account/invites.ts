import type { Invite, Invited } from '@gemmel/contract';
import type { App } from '../context';
import type { Db } from '../db/open';
import type { InvitesRow } from '../db/tables';
import { isRemoved } from '../library/removed';
import { notFound, refused } from '../problem';
import { addressAsKept, hashPassword, makeAccount, type NewAccount } from './accounts';
import { hashOf, newToken } from './links';
import { haveAccount } from './members';

/** How long an invitation can be accepted, in days. */
const DAYS = 7;

const iso = (at: string): string => `${at.replace(' ', 'T')}Z`;
type Row = Omit<InvitesRow, 'token_hash'> & { late: number };
const rows = (db: Db) =>
  db('invites').select(
    ...(['id', 'library_id', 'name', 'email', 'part', 'made_by', 'created_at', 'expires_at'] as const),
    ...(['used_at', 'member_id', 'revoked_at'] as const),
    db.raw('expires_at < UTC_TIMESTAMP(3) AS late'),
  );
const stateOf = (row: Row): Invite['state'] =>
  row.used_at ? 'accepted' : row.revoked_at ? 'revoked' : row.late ? 'over' : 'open';
const toInvite = (row: Row): Invite => ({
  id: row.id,
  name: row.name,
  email: row.email,
  part: row.part,
  state: stateOf(row),
  until: iso(row.expires_at),
});

/** Invitations that are open or over; those accepted or taken back are history. */
export async function listInvites({ db }: App, library: number): Promise<Invite[]> {
  const all = (await rows(db)
    .where('library_id', library)
    .whereNull('used_at')
    .whereNull('revoked_at')
    .orderBy('id')) as unknown as Row[];
  return all.map(toInvite);
}

const within = (db: Db) => db.raw('UTC_TIMESTAMP(3) + INTERVAL ? DAY', [DAYS]);
const pathOf = (token: string): string => `/invite/${token}`;

/** Invites somebody into a library. The link is told once; the database keeps only its hash. */
export async function invite(
  app: App,
  by: { library: number; member: number },
  who: { name: string; email?: string | undefined; part: Invite['part'] },
): Promise<{ invite: Invite; path: string }> {
  const { db } = app;
  const token = newToken();
  const email = who.email === undefined ? null : addressAsKept(who.email);
  const there =
    email !== null &&
    (await db('members as m')
      .join('accounts as a', 'a.id', 'm.account_id')
      .where({ 'm.library_id': by.library, 'a.email': email })
      .whereNull('m.left_at')
      .first('m.id'));
  if (there) throw refused('member-already');
  const [id] = (await db('invites').insert({
    library_id: by.library,
    token_hash: hashOf(token),
    name: who.name,
    email,
    part: who.part,
    made_by: by.member,
    expires_at: within(db),
  })) as [number];
  app.changed(by.library, 'members');
  return { invite: toInvite((await rows(db).where('id', id).first()) as unknown as Row), path: pathOf(token) };
}

/** A new link for an invitation, for another seven days; the old one leads nowhere from now on. */
export async function renewInvite(app: App, library: number, id: number): Promise<{ invite: Invite; path: string }> {
  const { db } = app;
  const token = newToken();
  const done = await db('invites')
    .where({ id, library_id: library })
    .whereNull('used_at')
    .whereNull('revoked_at')
    .update({ token_hash: hashOf(token), expires_at: within(db) });
  if (!done) throw notFound('invitation');
  app.changed(library, 'members');
  return { invite: toInvite((await rows(db).where('id', id).first()) as unknown as Row), path: pathOf(token) };
}

/** Takes an invitation back. Saying it twice changes nothing. */
export async function revokeInvite(app: App, library: number, id: number): Promise<void> {
  await app
    .db('invites')
    .where({ id, library_id: library })
    .whereNull('used_at')
    .whereNull('revoked_at')
    .update({ revoked_at: app.db.raw('UTC_TIMESTAMP(3)') });
  app.changed(library, 'members');
}

async function openRow(db: Db, token: string, locked = false): Promise<Row> {
  const asked = rows(db).where('token_hash', hashOf(token));
  const row = (await (locked ? asked.forUpdate() : asked).first()) as unknown as Row | undefined;
  // Whether one was taken back, accepted or never there is nobody's business who holds such a link.
  if (!row || stateOf(row) !== 'open' || (await isRemoved(db, row.library_id))) throw refused('invite-over');
  return row;
}

/** What an invitation says to whoever holds its link. */
export async function invited({ db }: App, token: string): Promise<Invited> {
  const row = await openRow(db, token);
  const library = (await db('libraries').where('id', row.library_id).first('name'))!;
  const from = await db('members').where('id', row.made_by).first('name');
  return {
    library: library.name,
    from: from?.name ?? library.name,
    name: row.name,
    email: row.email,
    part: row.part,
    until: iso(row.expires_at),
  };
}

/**
 * Accepts an invitation, once: with a new account, or as the account that is signed in. Somebody who left comes back as who they were.
 * Answers with the account and the library's slug.
 */
export async function acceptInvite(
  app: App,
  token: string,
  who: NewAccount | { account: number },
): Promise<{ account: number; slug: string }> {
  const { db } = app;
  const { library_id } = await openRow(db, token);
  const password_hash = 'account' in who ? '' : await hashPassword(who.password);
  const { library, ...done } = await db.transaction(async (plain) => {
    const trx = plain as unknown as Db;
    // Like all who change members: the library first.
    await trx('libraries').where('id', library_id).forUpdate().first('id');
    const row = await openRow(trx, token, true);
    const account = 'account' in who ? who.account : await makeAccount(trx, who, password_hash);
    const member = await haveAccount(trx, row.library_id, account, row.name, row.part);
    await trx('invites')
      .where('id', row.id)
      .update({ used_at: trx.raw('UTC_TIMESTAMP(3)'), member_id: member });
    const { slug } = (await trx('libraries').where('id', row.library_id).first('slug'))!;
    return { account, slug, library: row.library_id };
  });
  app.changed(library, 'members');
  return done;
}
