import type { Member } from '@gemmel/contract';
import type { App } from '../context';
import type { Db } from '../db/open';
import { notFound, refused } from '../problem';
import { readAgain } from '../question/words';

type InPart = 'keeper' | 'helper' | 'relative';
/** What becomes of what somebody wrote when they go. */
export type Left = 'stays' | 'goes';

const iso = (at: string): string => `${at.replace(' ', 'T')}Z`;

/** Who belongs to a library, those who have been there longest first. */
export async function listMembers({ db }: App, library: number): Promise<Member[]> {
  const rows = (await db('members as m')
    .join('accounts as a', 'a.id', 'm.account_id')
    .where('m.library_id', library)
    .whereNull('m.left_at')
    .orderBy('m.id')
    .select(
      'm.id',
      'm.name',
      'm.part',
      'm.created_at',
      'a.email',
      db.raw('(SELECT MAX(s.seen_at) FROM sessions s WHERE s.account_id = a.id) AS seen'),
    )) as { id: number; name: string; part: InPart; created_at: string; email: string; seen: string | null }[];
  return rows.map(({ id, name, part, created_at, email, seen }) => ({
    id,
    name,
    part,
    email,
    since: iso(created_at),
    seen: seen && iso(seen),
  }));
}

/** Locks a library's members, so that two who change them follow one another, and reads one of them. */
async function lockedMember(trx: Db, library: number, id: number) {
  await trx('libraries').where('id', library).forUpdate().first('id');
  const row = await trx('members').where({ id, library_id: library }).whereNull('left_at').first();
  if (!row) throw notFound('member');
  return row;
}

/** Refuses what would leave a library without a keeper. */
async function needAnother(trx: Db, library: number, id: number): Promise<void> {
  const other = await trx('members')
    .where({ library_id: library, part: 'keeper' })
    .whereNull('left_at')
    .whereNot('id', id)
    .first('id');
  if (!other) throw refused('last-keeper');
}

/** Takes back what a member has invited to and nobody has accepted: who may no longer invite keeps no way in either. */
const endInvitesOf = (trx: Db, library: number, id: number): PromiseLike<unknown> =>
  trx('invites')
    .where({ library_id: library, made_by: id })
    .whereNull('used_at')
    .whereNull('revoked_at')
    .update({ revoked_at: trx.raw('UTC_TIMESTAMP(3)') });

/** Makes an account a member of a library, as it is or as it was before it left; answers with the member. */
export async function haveAccount(
  trx: Db,
  library: number,
  account: number,
  name: string,
  part: InPart,
): Promise<number> {
  await trx('libraries').where('id', library).forUpdate().first('id');
  const there = await trx('members').where({ library_id: library, account_id: account }).first('id', 'left_at');
  if (there && !there.left_at) throw refused('member-already');
  if (there) {
    // What they saw before is chosen anew.
    await trx('members').where('id', there.id).update({ name, part, left_at: null, view: null, reach: 'family' });
    return there.id;
  }
  const [id] = (await trx('members').insert({ library_id: library, account_id: account, name, part })) as [number];
  return id;
}

/** Gives a member another part, or another name to go by in this library. */
export async function changeMember(
  app: App,
  library: number,
  id: number,
  change: { part?: InPart | undefined; name?: string | undefined },
): Promise<void> {
  await app.db.transaction(async (plain) => {
    const trx = plain as unknown as Db;
    const { part } = await lockedMember(trx, library, id);
    if (part === 'keeper' && change.part !== undefined && change.part !== 'keeper') {
      await needAnother(trx, library, id);
      await endInvitesOf(trx, library, id);
    }
    const set = {
      ...(change.part === undefined ? {} : { part: change.part }),
      ...(change.name === undefined ? {} : { name: change.name }),
    };
    if (Object.keys(set).length) await trx('members').where('id', id).update(set);
  });
  app.changed(library, 'members');
}

/**
 * Lets a member go. What they wrote stays under their name, or goes; pictures stay. An account that belongs nowhere any longer is
 * removed with its sessions.
 */
export async function removeMember(app: App, library: number, id: number, said: Left): Promise<void> {
  const read = await app.db.transaction(async (plain) => {
    const trx = plain as unknown as Db;
    const row = await lockedMember(trx, library, id);
    if (row.part === 'keeper') await needAnother(trx, library, id);
    const pictures = (await trx('comments').where({ library_id: library, member_id: id }).select('picture_id')).map(
      ({ picture_id }) => picture_id,
    );
    if (said === 'goes' && pictures.length) {
      await trx('comments').where({ library_id: library, member_id: id }).delete();
      await readAgain(trx, library, [...new Set(pictures)]);
    }
    await trx('pins').where({ library_id: library, member_id: id }).delete();
    await trx('members')
      .where('id', id)
      .update({ left_at: trx.raw('UTC_TIMESTAMP(3)') });
    await endInvitesOf(trx, library, id);
    const account = row.account_id!;
    const elsewhere = await trx('members').where('account_id', account).whereNull('left_at').first('id');
    if (!elsewhere) {
      await trx('members').where('account_id', account).update({ account_id: null });
      await trx('accounts').where('id', account).delete();
    }
    return said === 'goes' ? pictures : [];
  });
  app.changed(library, 'members', ...(read.length ? (['said'] as const) : []));
}
