import { createHash, randomInt } from 'node:crypto';
import { Secret, TOTP } from 'otpauth';
import type { App } from '../context';
import { refused } from '../problem';
import { seal, unseal } from '../share/links';
import { isPassword } from './accounts';

/** Codes for the day the telephone is lost: how many, of how many signs. Signs that look like others are not among them. */
const SPARES = 8;
const LENGTH = 10;
const SIGNS = 'abcdefghjkmnpqrstuvwxyz23456789';
/** How far clocks may be apart, in steps of half a minute. */
const WINDOW = 1;

/** One-time codes by time (RFC 6238) of an account, with what every such application on a telephone takes for granted. */
const codes = (secret: string, label: string): TOTP =>
  new TOTP({ issuer: 'Gemmel', label, algorithm: 'SHA1', digits: 6, period: 30, secret: Secret.fromBase32(secret) });

const hash = (account: number, code: string): Buffer =>
  createHash('sha256')
    .update(`spare ${account} ${code.toLowerCase().replace(/[^a-z0-9]/g, '')}`)
    .digest();

/** Begins a second step: a secret for the telephone, good once a code of it has been said. Asks for the password. */
export async function beginSecond(
  app: App,
  account: number,
  password: string,
): Promise<{ secret: string; uri: string }> {
  const { db } = app;
  if (!(await isPassword(db, account, password))) throw refused('password-not-yours');
  const row = (await db('accounts').where('id', account).first('email', 'second_on'))!;
  if (row.second_on) throw refused('second-already');
  const secret = new Secret({ size: 20 }).base32;
  await db('accounts')
    .where({ id: account, second_on: false })
    .update({ second: seal(app, secret), second_step: null });
  return { secret, uri: codes(secret, row.email).toString() };
}

/** Whether a code is right now and has not been used: each opens once. Notes that it has been. */
async function isRight(app: App, account: number, said: string): Promise<boolean> {
  const { db } = app;
  const row = await db('accounts').where('id', account).first('second', 'second_step', 'email');
  const secret = row && unseal(app, row.second);
  if (!row || !secret) return false;
  const totp = codes(secret, row.email);
  const delta = totp.validate({ token: said.replace(/\s/g, ''), window: WINDOW });
  if (delta === null) return false;
  const step = totp.counter() + delta;
  // Two at one moment: the database lets one of them.
  const done = await db('accounts')
    .where('id', account)
    .where((q) => void q.whereNull('second_step').orWhere('second_step', '<', step))
    .update({ second_step: step });
  return done > 0;
}

/** Makes the second step good by its first code; answers with the codes for the day the telephone is lost, this once. */
export async function confirmSecond(app: App, account: number, code: string): Promise<string[]> {
  const { db } = app;
  if (!(await isRight(app, account, code))) throw refused('wrong-code-second');
  const spares = Array.from({ length: SPARES }, () =>
    Array.from({ length: LENGTH }, () => SIGNS[randomInt(SIGNS.length)]!).join(''),
  );
  await db.transaction(async (trx) => {
    const done = await trx('accounts').where({ id: account, second_on: false }).update({ second_on: true });
    if (!done) throw refused('second-already');
    await trx('spare_codes').where('account_id', account).delete();
    await trx('spare_codes').insert(spares.map((one) => ({ account_id: account, code_hash: hash(account, one) })));
  });
  return spares.map((one) => `${one.slice(0, 5)} ${one.slice(5)}`);
}

/** Ends the second step, after the password; or by whoever runs the machine, without. */
export async function endSecond(app: App, account: number, password: string | null): Promise<void> {
  const { db } = app;
  if (password !== null && !(await isPassword(db, account, password))) throw refused('password-not-yours');
  await db.transaction(async (trx) => {
    await trx('accounts').where('id', account).update({ second: null, second_on: false, second_step: null });
    await trx('spare_codes').where('account_id', account).delete();
    // Whoever runs the machine does so for somebody whose telephone is lost: what it opened doors with goes, too.
    if (password === null) await trx('passkeys').where('account_id', account).delete();
  });
}

/** Lets an account through its second step, where it has one. @throws a refusal without a code, or with a wrong one. */
export async function passSecond(app: App, account: number, code: string | undefined): Promise<void> {
  const { db } = app;
  const row = await db('accounts').where('id', account).first('second_on');
  if (!row?.second_on) return;
  if (!code?.trim()) throw refused('code-needed');
  if (await isRight(app, account, code)) return;
  // A spare code opens once, and is gone.
  const spare = await db('spare_codes')
    .where({ account_id: account, code_hash: hash(account, code) })
    .delete();
  if (!spare) throw refused('wrong-code-second');
}
