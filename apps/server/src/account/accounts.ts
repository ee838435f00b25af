import type { Me, Part } from '@gemmel/contract';
import type { Language } from '@gemmel/core';
import { hash, verify } from '@node-rs/argon2';
import { createHash, randomBytes } from 'node:crypto';
import type { App } from '../context';
import { languageOf } from '../library/language';
import { Refused, refused } from '../problem';

/** Somebody signed in. */
export interface Session {
  library: number;
  member: number;
  part: Exclude<Part, 'nobody'>;
  csrf: string;
}

/** An e-mail address as it is kept and compared. */
export const addressAsKept = (email: string): string => email.normalize('NFC').trim().toLowerCase();

export const keptAlready = (): Refused => refused('keeper-exists');

const DAYS = 30;
const sha = (token: string) => createHash('sha256').update(token).digest();

/** argon2id with OWASP's parameters of 2024: 19 MiB, two passes. */
const hashPassword = (password: string) => hash(password, { memoryCost: 19_456, timeCost: 2, parallelism: 1 });
/** Compared when nobody has the address, so that an unknown address takes as long as a wrong password. */
const NOBODY = hashPassword(randomBytes(12).toString('hex'));

/** Makes a library's first member, its keeper. Works once. */
export async function makeKeeper(
  app: App,
  account: { library: string; name: string; email: string; password: string; language?: Language | undefined },
): Promise<number> {
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
    const [id] = await trx('members').insert({
      library_id: 1,
      name: account.name,
      email: addressAsKept(account.email),
      part: 'keeper',
      language: language ?? null,
      password_hash,
    });
    return id!;
  });
}

/** Begins a session; the token goes into the member's cookie, the database keeps its hash. */
export async function beginSession(app: App, library: number, member: number): Promise<string> {
  const token = randomBytes(32).toString('base64url');
  await app.db('sessions').insert({
    token_hash: sha(token),
    library_id: library,
    member_id: member,
    csrf: randomBytes(32).toString('base64url'),
    expires_at: app.db.raw('UTC_TIMESTAMP(3) + INTERVAL ? DAY', [DAYS]),
  });
  await app.db('sessions').where('expires_at', '<', app.db.raw('UTC_TIMESTAMP(3)')).delete();
  return token;
}

/** Checks address and password; answers with a new session's token. */
export async function signIn(app: App, email: string, password: string): Promise<string> {
  const row = await app
    .db('members')
    // To the letter: the table's own order of letters takes é for e, and a guesser would have an address for each accent.
    .whereRaw('email = ? COLLATE utf8mb4_bin', [addressAsKept(email)])
    .first('id', 'library_id', 'password_hash');
  const right = await verify(row?.password_hash ?? (await NOBODY), password);
  if (!row || !right) throw refused('wrong-password');
  return beginSession(app, row.library_id, row.id);
}

/** The session of a cookie's token, while it lasts. */
export async function sessionOf(app: App, token: string | undefined): Promise<Session | null> {
  if (!token) return null;
  const row = (await app
    .db('sessions as s')
    .join('members as m', 'm.id', 's.member_id')
    .where('s.token_hash', sha(token))
    .where('s.expires_at', '>', app.db.raw('UTC_TIMESTAMP(3)'))
    .first('s.library_id', 's.member_id', 's.csrf', 'm.part')) as
    { library_id: number; member_id: number; csrf: string; part: Session['part'] } | undefined;
  return row ? { library: row.library_id, member: row.member_id, part: row.part, csrf: row.csrf } : null;
}

/** Notes the language a member reads. */
export async function chooseLanguage(app: App, member: number, language: Language): Promise<void> {
  await app.db('members').where('id', member).update({ language });
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

/** Who is signed in. */
export async function me(app: App, session: Session | null, needsCode = false): Promise<Me> {
  const demo = app.config.demo ? { email: DEMO_ACCOUNT.email, password: DEMO_ACCOUNT.password } : null;
  if (!session) {
    const keeper = await app.db('members').first('id');
    return {
      signedIn: false,
      firstRun: !keeper,
      setUpCode: !keeper && needsCode,
      demo,
      member: null,
      library: null,
      language: await languageOf(app.db, 1),
      token: null,
    };
  }
  const member = await app
    .db('members as m')
    .join('libraries as l', 'l.id', 'm.library_id')
    .where('m.id', session.member)
    .first(
      'm.id',
      'm.name',
      'm.email',
      'm.part',
      'l.id as library_id',
      'l.name as library_name',
      'm.language',
      'l.language as library_language',
    );
  return {
    signedIn: true,
    firstRun: false,
    setUpCode: false,
    demo,
    member: { id: member.id, name: member.name, email: member.email, part: member.part, language: member.language },
    library: { id: member.library_id, name: member.library_name },
    language: member.library_language,
    token: session.csrf,
  };
}
