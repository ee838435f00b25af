import type { Me, Part } from '@gemmel/contract';
import type { Language } from '@gemmel/core';
import { hash, verify } from '@node-rs/argon2';
import { createHash, randomBytes } from 'node:crypto';
import type { App } from '../context';
import type { Db } from '../db/open';
import { languageOf } from '../library/language';
import { notFound, Refused, refused } from '../problem';
import { homeOf } from '../time/home';

/** Somebody signed in, in the library a request names. */
export interface Session {
  /** The session's own number. */
  id: number;
  account: number;
  /** 0 for somebody who belongs to no library, or not to the one named; their part is `account` then. */
  library: number;
  member: number;
  part: Exclude<Part, 'nobody'>;
  csrf: string;
  /** Set where a keeper looks as this member does. */
  looking?: true;
}

/** An e-mail address as it is kept and compared. */
export const addressAsKept = (email: string): string => email.normalize('NFC').trim().toLowerCase();

export const keptAlready = (): Refused => refused('keeper-exists');

const DAYS = 30;
/** How old "seen last" of a session may be, in ms: it is not written with every request. */
const SEEN = 5 * 60_000;
const sha = (token: string) => createHash('sha256').update(token).digest();

/** argon2id with OWASP's parameters of 2024: 19 MiB, two passes. */
export const hashPassword = (password: string): Promise<string> =>
  hash(password, { memoryCost: 19_456, timeCost: 2, parallelism: 1 });
/** Compared when nobody has the address, so that an unknown address takes as long as a wrong password. */
const NOBODY = hashPassword(randomBytes(12).toString('hex'));

/** What an account is made of. */
export interface NewAccount {
  name: string;
  email: string;
  password: string;
  language?: Language | undefined;
}

/** Makes an account; refuses an address that has one. `password_hash` is worked out before, outside the transaction. */
export async function makeAccount(trx: Db, account: NewAccount, password_hash: string): Promise<number> {
  const email = addressAsKept(account.email);
  if (await trx('accounts').where('email', email).first('id')) throw refused('address-taken');
  const [id] = (await trx('accounts').insert({
    name: account.name,
    email,
    language: account.language ?? null,
    password_hash,
  })) as [number];
  return id;
}

/** Makes a library's first member, its keeper. Works once. Answers with the member. */
export async function makeKeeper(app: App, account: NewAccount & { library: string }): Promise<number> {
  if (await app.db('members').where('library_id', 1).first('id')) throw keptAlready();
  const password_hash = await hashPassword(account.password);
  return app.db.transaction(async (trx) => {
    // Two first runs at the same moment must not both win.
    await trx.raw("INSERT IGNORE INTO libraries (id, slug, name) VALUES (1, 'home', ?)", [account.library]);
    await trx.raw('SELECT id FROM libraries WHERE id = 1 FOR UPDATE');
    if (await trx('members').where('library_id', 1).first('id')) throw keptAlready();
    const { language } = account;
    await trx('libraries')
      .where('id', 1)
      .update({ name: account.library, ...(language ? { language } : {}) });
    const account_id = await makeAccount(trx as unknown as Db, account, password_hash);
    const [id] = (await trx('members').insert({
      library_id: 1,
      account_id,
      name: account.name,
      part: 'keeper',
    })) as [number];
    // Libraries that were rebuilt from files alone, and of which nobody is a member, are the first keeper's, too.
    await trx.raw(
      `INSERT INTO members (library_id, account_id, name, part)
       SELECT l.id, ?, ?, 'keeper' FROM libraries l WHERE NOT EXISTS (SELECT 1 FROM members m WHERE m.library_id = l.id)`,
      [account_id, account.name],
    );
    return id;
  });
}

/** Begins a session; the token goes into the browser's cookie, the database keeps its hash. `device` is what the browser says it is. */
export async function beginSession(app: App, account: number, device: string | null = null): Promise<string> {
  const token = randomBytes(32).toString('base64url');
  await app.db('sessions').insert({
    token_hash: sha(token),
    account_id: account,
    csrf: randomBytes(32).toString('base64url'),
    device: device?.slice(0, 160) ?? null,
    expires_at: app.db.raw('UTC_TIMESTAMP(3) + INTERVAL ? DAY', [DAYS]),
  });
  await app.db('sessions').where('expires_at', '<', app.db.raw('UTC_TIMESTAMP(3)')).delete();
  return token;
}

/** Checks address and password; answers with the account. */
export async function signIn(app: App, email: string, password: string): Promise<number> {
  const row = await app
    .db('accounts')
    // To the letter: the table's own order of letters takes é for e, and a guesser would have an address for each accent.
    .whereRaw('email = ? COLLATE utf8mb4_bin', [addressAsKept(email)])
    .first('id', 'password_hash');
  const right = await verify(row?.password_hash || (await NOBODY), password);
  if (!row || !right) throw refused('wrong-password');
  return row.id;
}

/** Whether a password is an account's. */
export async function isPassword(db: Db, account: number, password: string): Promise<boolean> {
  const row = await db('accounts').where('id', account).first('password_hash');
  return row ? verify(row.password_hash, password).catch(() => false) : false;
}

/**
 * The session of a cookie's token, while it lasts, in the library that is named by its slug; without a name, in the one the account
 * has belonged to longest.
 */
export async function sessionOf(
  app: App,
  token: string | undefined,
  named: string | null = null,
): Promise<Session | null> {
  if (!token) return null;
  const { db } = app;
  const row = await db('sessions')
    .where('token_hash', sha(token))
    .where('expires_at', '>', db.raw('UTC_TIMESTAMP(3)'))
    .first('id', 'account_id', 'csrf', 'seen_at');
  if (!row) return null;
  if (Date.now() - Date.parse(`${row.seen_at.replace(' ', 'T')}Z`) > SEEN)
    await db('sessions')
      .where('id', row.id)
      .update({ seen_at: db.raw('UTC_TIMESTAMP(3)') });
  const member = (await db('members as m')
    .join('libraries as l', 'l.id', 'm.library_id')
    .where('m.account_id', row.account_id)
    .whereNull('m.left_at')
    .whereNull('l.removed_at')
    .where((q) => void (named !== null && q.where('l.slug', named)))
    .orderBy('m.id')
    .first('m.id', 'm.library_id', 'm.part')) as { id: number; library_id: number; part: Session['part'] } | undefined;
  return {
    id: row.id,
    account: row.account_id,
    library: member?.library_id ?? 0,
    member: member?.id ?? 0,
    part: member?.part ?? 'account',
    csrf: row.csrf,
  };
}

/** Notes the language somebody reads. */
export async function chooseLanguage(app: App, account: number, language: Language): Promise<void> {
  await app.db('accounts').where('id', account).update({ language });
}

/** Changes the name or the address of an account; the address asks for the password. */
export async function changeAccount(
  app: App,
  account: number,
  change: { name?: string | undefined; email?: string | undefined; password?: string | undefined },
): Promise<void> {
  const { db } = app;
  const email = change.email === undefined ? undefined : addressAsKept(change.email);
  const now = (await db('accounts').where('id', account).first('email', 'name'))!;
  if (email !== undefined && email !== now.email && !(await isPassword(db, account, change.password ?? '')))
    throw refused('password-not-yours');
  await db.transaction(async (trx) => {
    await trx('accounts').where('id', account).forUpdate().first('id');
    if (email !== undefined && (await trx('accounts').where('email', email).whereNot('id', account).first('id')))
      throw refused('address-taken');
    if (email !== undefined) await trx('accounts').where('id', account).update({ email });
    if (change.name !== undefined) {
      await trx('accounts').where('id', account).update({ name: change.name });
      // A library that calls them something else keeps to that.
      await trx('members').where({ account_id: account, name: now.name }).update({ name: change.name });
    }
  });
}

/** Sets a new password after the old one; every other place where the account is signed in is signed out. */
export async function changePassword(app: App, session: Session, old: string, fresh: string): Promise<void> {
  if (!(await isPassword(app.db, session.account, old))) throw refused('password-not-yours');
  await setPassword(app, session.account, fresh, session.id);
}

/** Sets a password and ends all sessions of the account but one; links that would set it anew are void. */
export async function setPassword(app: App, account: number, password: string, but: number | null): Promise<void> {
  const password_hash = await hashPassword(password);
  await app.db.transaction(async (trx) => {
    await trx('accounts').where('id', account).update({ password_hash });
    await trx('resets').where('account_id', account).delete();
    await trx('sessions')
      .where('account_id', account)
      .where((q) => void (but !== null && q.whereNot('id', but)))
      .delete();
  });
}

/** Ends a session. */
export async function endSession(app: App, token: string): Promise<void> {
  await app.db('sessions').where('token_hash', sha(token)).delete();
}

/** The demo's own account, shown on its sign-in page. */
export const DEMO_ACCOUNT = {
  library: 'Home library',
  name: 'Ilse Hallorin',
  email: 'ilse@hallorin.example',
  password: 'sunday-table',
};

/** Another member in place of the one a library is seen by. */
async function memberNamed<T extends { member: number; called: string; part: Session['part'] }>(
  db: Db,
  own: T,
  member: number,
): Promise<T> {
  const row = (await db('members').where('id', member).first('name', 'part'))!;
  return { ...own, member, called: row.name, part: row.part };
}

/** A keeper's session as one of their library's members looks through it. @throws a refusal for anybody else. */
export async function lookingAs({ db }: App, session: Session, member: number): Promise<Session> {
  const row = await db('members')
    .where({ id: member, library_id: session.library })
    .whereNull('left_at')
    .first('id', 'part');
  if (session.part !== 'keeper') throw refused('not-allowed');
  if (!row) throw notFound('member');
  return { ...session, member: row.id, part: row.part, looking: true };
}

/** Who is signed in. */
export async function me(app: App, session: Session | null, needsCode = false): Promise<Me> {
  const { db } = app;
  const demo = app.config.demo ? { email: DEMO_ACCOUNT.email, password: DEMO_ACCOUNT.password } : null;
  const nowhere = {
    demo,
    mail: app.config.mail !== null,
    member: null,
    library: null,
    looking: session?.looking ?? false,
    address: session?.library
      ? ((await db('libraries').where('id', session.library).first('address'))?.address ?? null)
      : null,
    language: await languageOf(db, session?.library || 1),
    zone: await homeOf(db, session?.library || 1),
  };
  if (!session) {
    const keeper = await db('members').first('id');
    return {
      ...nowhere,
      signedIn: false,
      firstRun: !keeper,
      setUpCode: !keeper && needsCode,
      account: null,
      libraries: [],
      token: null,
    };
  }
  const account = (await db('accounts').where('id', session.account).first('name', 'email', 'language', 'second_on'))!;
  const libraries = (await db('members as m')
    .join('libraries as l', 'l.id', 'm.library_id')
    .where('m.account_id', session.account)
    .whereNull('m.left_at')
    .whereNull('l.removed_at')
    .orderBy('m.id')
    .select('l.id', 'l.slug', 'l.name', 'm.part', 'm.id as member', 'm.name as called')) as {
    id: number;
    slug: string;
    name: string;
    part: 'keeper' | 'helper' | 'relative';
    member: number;
    called: string;
  }[];
  const own = libraries.find(({ id }) => id === session.library);
  const here = own && (session.looking ? await memberNamed(db, own, session.member) : own);
  return {
    ...nowhere,
    signedIn: true,
    firstRun: false,
    setUpCode: false,
    account: {
      name: account.name,
      email: account.email,
      language: account.language,
      second: Boolean(account.second_on),
    },
    member: here ? { id: here.member, name: here.called, part: here.part, language: account.language } : null,
    library: here ? { id: here.id, slug: here.slug, name: here.name } : null,
    libraries: libraries.map(({ id, slug, name, part }) => ({ id, slug, name, part })),
    token: session.csrf,
  };
}
