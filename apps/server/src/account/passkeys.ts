import type { Answer, Api } from '@gemmel/contract';
import type {
  AuthenticationResponseJSON,
  AuthenticatorTransport,
  RegistrationResponseJSON,
} from '@simplewebauthn/server';
import { createHash, createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import type { App } from '../context';
import { notFound, refused } from '../problem';
import { isPassword } from './accounts';

/** How long a challenge may be answered, in ms. */
const PATIENCE = 5 * 60_000;
/** How many one account may have. */
const MOST = 20;

/** How passkeys are made and checked: three hundred files that a house without any never loads. */
const webAuthn = () => import('@simplewebauthn/server');

/** Where the page that asks is: what a passkey is bound to. */
export interface Place {
  /** The name of the house, without a port. */
  host: string;
  /** The page's origin, as the browser has it. */
  origin: string;
}

/** What a challenge is for: one that was made for one thing answers no other. */
type Purpose = `add ${number}` | 'sign in';

const sha = (data: Buffer | string): Buffer => createHash('sha256').update(data).digest();
const markOf = (app: App, purpose: Purpose, head: Buffer): Buffer =>
  createHmac('sha256', app.config.secrets.links).update(`passkey ${purpose} `).update(head).digest();

/**
 * A challenge that vouches for itself: when it was made, chance, and this house's mark over both and what it is for. Nothing is kept
 * until it has been answered, so that asking for many costs nothing.
 */
function challenge(app: App, purpose: Purpose): Uint8Array<ArrayBuffer> {
  const head = Buffer.alloc(24);
  head.writeBigUInt64BE(BigInt(Date.now()));
  randomBytes(16).copy(head, 8);
  return new Uint8Array(Buffer.concat([head, markOf(app, purpose, head)]));
}

/** Whether a challenge, in base64url, is ours, for this, and young. */
function isOurs(app: App, purpose: Purpose, text: string): boolean {
  const data = Buffer.from(text, 'base64url');
  if (data.length !== 56) return false;
  const head = data.subarray(0, 24);
  const age = Date.now() - Number(head.readBigUInt64BE());
  return age >= 0 && age < PATIENCE && timingSafeEqual(data.subarray(24), markOf(app, purpose, head));
}

/** Notes that a challenge was answered; the database lets one of two. @throws a refusal for the second. */
async function useUp({ db }: App, response: { response: { clientDataJSON: string } }): Promise<void> {
  const said = JSON.parse(Buffer.from(response.response.clientDataJSON, 'base64url').toString('utf8')) as {
    challenge?: unknown;
  };
  await db('passkey_answers').where('at', '<', db.raw('UTC_TIMESTAMP(3) - INTERVAL 1 HOUR')).delete();
  const [done] = (await db.raw('INSERT IGNORE INTO passkey_answers (challenge_hash) VALUES (?)', [
    sha(String(said.challenge)),
  ])) as [{ affectedRows: number }];
  if (!done.affectedRows) throw refused('passkey-not-known');
}

/** The passkeys of an account, the newest first. */
export async function passkeysOf({ db }: App, account: number): Promise<Answer<Api['passkeys']>> {
  const rows = await db('passkeys').where('account_id', account).orderBy('id', 'desc');
  const iso = (at: string) => `${at.replace(' ', 'T')}Z`;
  return {
    passkeys: rows.map(({ id, name, created_at, used_at }) => ({
      id,
      name,
      since: iso(created_at),
      used: used_at && iso(used_at),
    })),
  };
}

/** Begins a passkey: what the browser is told to make one. Asks for the password. */
export async function beginPasskey(
  app: App,
  account: number,
  password: string,
  { host }: Place,
): Promise<Record<string, unknown>> {
  const { db } = app;
  if (!(await isPassword(db, account, password))) throw refused('password-not-yours');
  const row = (await db('accounts').where('id', account).first('email', 'name'))!;
  const there = await db('passkeys').where('account_id', account);
  if (there.length >= MOST) throw refused('passkeys-enough');
  const { generateRegistrationOptions } = await webAuthn();
  const options = await generateRegistrationOptions({
    rpName: 'Gemmel',
    rpID: host,
    userName: row.email,
    userDisplayName: row.name,
    // The same for all passkeys of an account, and nothing by which it is known elsewhere.
    userID: new Uint8Array(createHmac('sha256', app.config.secrets.links).update(`account ${account}`).digest()),
    challenge: challenge(app, `add ${account}`),
    timeout: PATIENCE,
    attestationType: 'none',
    excludeCredentials: there.map(({ credential }) => ({ id: credential.toString('base64url') })),
    // It is a whole key to the house: whoever uses it shows that they are the one whose it is.
    authenticatorSelection: { residentKey: 'required', userVerification: 'required' },
  });
  return options as unknown as Record<string, unknown>;
}

/** Keeps a passkey that a browser has made. @throws a refusal when it is not for this house, or was asked for by somebody else. */
export async function addPasskey(
  app: App,
  account: number,
  { name, response }: { name: string; response: Record<string, unknown> },
  { host, origin }: Place,
): Promise<void> {
  const { db } = app;
  const said = response as unknown as RegistrationResponseJSON;
  const { verifyRegistrationResponse } = await webAuthn();
  const verified = await verifyRegistrationResponse({
    response: said,
    expectedChallenge: (text) => isOurs(app, `add ${account}`, text),
    expectedOrigin: origin,
    expectedRPID: host,
    requireUserVerification: true,
  }).catch(() => null);
  if (!verified?.verified) throw refused('passkey-not-known');
  await useUp(app, said);
  const { credential } = verified.registrationInfo;
  const id = Buffer.from(credential.id, 'base64url');
  await db('passkeys').insert({
    account_id: account,
    credential_hash: sha(id),
    credential: id,
    public_key: Buffer.from(credential.publicKey),
    counter: credential.counter,
    transports: (credential.transports ?? []).join(' ').slice(0, 120),
    name: name.trim(),
  });
}

/** Forgets a passkey of an account. */
export async function endPasskey({ db }: App, account: number, id: number): Promise<void> {
  if (!(await db('passkeys').where({ id, account_id: account }).delete())) throw notFound('passkey');
}

/** What a browser is told to sign somebody in by a passkey; it is the browser that knows whose there are. */
export async function beginPasskeySignIn(app: App, { host }: Place): Promise<Record<string, unknown>> {
  const { generateAuthenticationOptions } = await webAuthn();
  const options = await generateAuthenticationOptions({
    rpID: host,
    challenge: challenge(app, 'sign in'),
    timeout: PATIENCE,
    userVerification: 'required',
  });
  return options as unknown as Record<string, unknown>;
}

/**
 * The account whose passkey has answered. It shows at once that somebody has it and that it is them: no further step is asked for.
 * @throws a refusal, the same whatever is wrong
 */
export async function signInByPasskey(
  app: App,
  response: Record<string, unknown>,
  { host, origin }: Place,
): Promise<{ account: number; email: string }> {
  const { db } = app;
  const said = response as unknown as AuthenticationResponseJSON;
  const id = Buffer.from(typeof said.id === 'string' ? said.id : '', 'base64url');
  const row = await db('passkeys').where('credential_hash', sha(id)).first();
  if (!row) throw refused('passkey-not-known');
  const { verifyAuthenticationResponse } = await webAuthn();
  const verified = await verifyAuthenticationResponse({
    response: said,
    expectedChallenge: (text) => isOurs(app, 'sign in', text),
    expectedOrigin: origin,
    expectedRPID: host,
    requireUserVerification: true,
    credential: {
      id: row.credential.toString('base64url'),
      publicKey: new Uint8Array(row.public_key),
      counter: row.counter,
      transports: row.transports.split(' ').filter(Boolean) as AuthenticatorTransport[],
    },
  }).catch(() => null);
  if (!verified?.verified) throw refused('passkey-not-known');
  await useUp(app, said);
  await db('passkeys')
    .where('id', row.id)
    .update({ counter: verified.authenticationInfo.newCounter, used_at: db.raw('UTC_TIMESTAMP(3)') });
  return { account: row.account_id, email: (await db('accounts').where('id', row.account_id).first('email'))!.email };
}
