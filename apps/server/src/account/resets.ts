import type { App } from '../context';
import { notFound, refused } from '../problem';
import { addressAsKept, hashPassword } from './accounts';
import { hashOf, newToken } from './links';

/** How long a link that sets a password is good, in hours. */
const HOURS = 24;

async function resetFor(app: App, account: number): Promise<string> {
  const token = newToken();
  await app.db.transaction(async (trx) => {
    // The newest link alone is good.
    await trx('resets').where('account_id', account).delete();
    await trx('resets').insert({
      token_hash: hashOf(token),
      account_id: account,
      expires_at: trx.raw('UTC_TIMESTAMP(3) + INTERVAL ? HOUR', [HOURS]),
    });
  });
  return `/password/${token}`;
}

/**
 * A link by which a member who forgot their password sets a new one, made by the keeper. Not for somebody who belongs to another
 * library as well: its keeper has a say in that, and so has whoever runs the machine.
 */
export async function resetMember(app: App, library: number, id: number): Promise<string> {
  const row = await app.db('members').where({ id, library_id: library }).whereNull('left_at').first('account_id');
  if (!row?.account_id) throw notFound('member');
  const elsewhere = await app
    .db('members')
    .where('account_id', row.account_id)
    .whereNot('library_id', library)
    .whereNull('left_at')
    .first('id');
  if (elsewhere) throw refused('belongs-elsewhere');
  return resetFor(app, row.account_id);
}

/** The same, for whoever runs the machine, by address; null when nobody has it. */
export async function resetAddress(app: App, email: string): Promise<string | null> {
  const row = await app
    .db('accounts')
    .whereRaw('email = ? COLLATE utf8mb4_bin', [addressAsKept(email)])
    .first('id');
  return row ? resetFor(app, row.id) : null;
}

const alive = (app: App, token: string) =>
  app.db('resets').where('token_hash', hashOf(token)).where('expires_at', '>', app.db.raw('UTC_TIMESTAMP(3)'));

/** Whose password a link sets. */
export async function resetOf(app: App, token: string): Promise<{ name: string; email: string }> {
  const row = await alive(app, token).first('account_id');
  const account = row && (await app.db('accounts').where('id', row.account_id).first('name', 'email'));
  if (!account) throw refused('reset-over');
  return account;
}

/** Sets a password by a link, once; wherever the account was signed in, it is signed out. Answers with the account. */
export async function useReset(app: App, token: string, password: string): Promise<number> {
  if (!(await alive(app, token).first('account_id'))) throw refused('reset-over');
  const password_hash = await hashPassword(password);
  return app.db.transaction(async (trx) => {
    const row = await trx('resets')
      .where('token_hash', hashOf(token))
      .where('expires_at', '>', trx.raw('UTC_TIMESTAMP(3)'))
      .forUpdate()
      .first('account_id');
    if (!row) throw refused('reset-over');
    await trx('accounts').where('id', row.account_id).update({ password_hash });
    await trx('resets').where('account_id', row.account_id).delete();
    await trx('sessions').where('account_id', row.account_id).delete();
    return row.account_id;
  });
}
