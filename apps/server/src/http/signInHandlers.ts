import type { Answer, Api, HandlerInput, Invite } from '@gemmel/contract';
import type { Context } from 'hono';
import { deleteCookie, getCookie } from 'hono/cookie';
import {
  addressAsKept,
  beginSession,
  changeAccount,
  changePassword,
  chooseLanguage,
  endSession,
  keptAlready,
  makeKeeper,
  me,
  sessionOf,
  signIn,
  type Session,
} from '../account/accounts';
import { addressOf } from '../account/address';
import { Guessing } from '../account/guessing';
import { acceptInvite, invite, invited, listInvites, renewInvite, revokeInvite } from '../account/invites';
import { makeLibrary } from '../account/libraries';
import { changeMember, listMembers, removeMember } from '../account/members';
import {
  addPasskey,
  beginPasskey,
  beginPasskeySignIn,
  endPasskey,
  passkeysOf,
  signInByPasskey,
  type Place,
} from '../account/passkeys';
import { resetMember, resetOf, useReset } from '../account/resets';
import { beginSecond, confirmSecond, endSecond, passSecond } from '../account/second';
import { rightCode } from '../account/setUp';
import { endPlaces, placesOf } from '../account/signedIn';
import type { App } from '../context';
import { languageOf } from '../library/language';
import { originOf, postInvite } from '../mail/letters';
import { mailOf } from '../mail/mailer';
import { refused } from '../problem';
import { setOwnCookie } from './cookies';
import { guard, type Vars, COOKIE, type Call } from './guard';
import { fromOf } from './from';
import { fromHere } from './hosts';
import { hereOf } from './mailHandlers';

type Names =
  | ('me' | 'firstRun' | 'signIn' | 'signOut' | 'chooseLanguage')
  | ('beginSecond' | 'confirmSecond' | 'endSecond')
  | ('passkeys' | 'beginPasskey' | 'addPasskey' | 'endPasskey' | 'beginPasskeySignIn' | 'signInByPasskey')
  | ('changeAccount' | 'changePassword' | 'signedIn' | 'signOutAt' | 'signOutElsewhere' | 'leave')
  | ('makeLibrary' | 'members' | 'changeMember' | 'removeMember' | 'resetMember')
  | ('invite' | 'renewInvite' | 'revokeInvite' | 'invited' | 'acceptInvite' | 'resetOf' | 'useReset');
type Handlers = { [K in Names]: (input: HandlerInput<Api[K]>, call: Call) => Promise<Answer<Api[K]>> };

/** The mark of a browser that somebody was let in from before. */
const MARK = 'gemmel-known';

/** Where the page is that asks, as its browser has it. */
const placeOf = (c: Context<Vars>): Place => ({ host: fromOf(c).host.replace(/:\d+$/, ''), origin: hereOf(c) });

/** Whether the first page asks for the set-up code: not when this machine itself asks, without somebody in between. */
function needsCode({ config }: App, c: Context): boolean {
  const between = ['forwarded', 'x-forwarded-for', 'x-real-ip', 'via'].some((name) => c.req.header(name));
  return config.setUpCode !== null && (between || !fromHere(addressOf(c)));
}

/** Answers of the routes by which somebody comes in and goes; `forget` is called when who may what has changed. */
export function signInHandlers(app: App, forget: () => void): Handlers {
  const guessing = new Guessing(app.config.secrets.links);
  const signInto = async (c: Context<Vars>, account: number, address: string, slug: string | null = null) => {
    const token = await beginSession(app, account, c.req.header('user-agent') ?? null);
    setOwnCookie(c, COOKIE, token, 30);
    setOwnCookie(c, MARK, guessing.markFor(address), 400);
    return me(app, await sessionOf(app, token, slug));
  };
  const tryingAs = (c: Context<Vars>, address: string) => ({
    place: addressOf(c),
    address,
    mark: getCookie(c, MARK),
  });
  const tryingOf = (session: Session) => ({ place: `session ${session.id}`, address: 'own password', mark: undefined });
  /** Sends an invitation to its address, where it has one and e-mail can go out. */
  const mailed = async (made: { invite: Invite; path: string }, session: Session, here: string) => {
    const { invite: one, path } = made;
    if (!one.email || !mailOf(app)) return { ...made, sent: false };
    const [from, library, origin, language] = await Promise.all([
      app.db('members').where('id', session.member).first('name'),
      app.db('libraries').where('id', session.library).first('name'),
      originOf(app, session.library, here),
      languageOf(app.db, session.library),
    ]);
    const told = { name: one.name, from: from!.name, library: library!.name, href: `${origin}${path}` };
    const sent = await postInvite(app, one.email, told, language).then(
      () => true,
      () => false,
    );
    return { ...made, sent };
  };
  return {
    me: (_, { session, c }) => me(app, session, needsCode(app, c)),
    firstRun: async ({ body }, { c }) => {
      if (await app.db('members').first('id')) throw keptAlready();
      if (needsCode(app, c))
        await guessing.attempt(tryingAs(c, 'set-up code'), async () => {
          if (!rightCode(app.config.setUpCode, body.code)) throw refused('wrong-code');
        });
      await makeKeeper(app, body);
      return signInto(c, await signIn(app, body.email, body.password), addressAsKept(body.email));
    },
    signIn: async ({ body }, { c }) => {
      const address = addressAsKept(body.email);
      const account = await guessing.attempt(tryingAs(c, address), async () => {
        const id = await signIn(app, address, body.password);
        await passSecond(app, id, body.code);
        return id;
      });
      return signInto(c, account, address);
    },
    chooseLanguage: async ({ body }, { session }) => {
      await chooseLanguage(app, session.account, body.language);
      return { done: true };
    },
    signOut: async (_, { c }) => {
      // Pictures a browser has stored by itself go as well.
      c.header('clear-site-data', '"cache"');
      await endSession(app, getCookie(c, COOKIE) ?? '');
      forget();
      deleteCookie(c, COOKIE, { path: '/' });
      return { done: true };
    },

    changeAccount: async ({ body }, { session }) => {
      // Whoever sits at somebody else's open page must not be able to try passwords.
      await guessing.attempt(tryingOf(session), () => changeAccount(app, session.account, body));
      return me(app, session);
    },
    changePassword: async ({ body }, { session }) => {
      await guessing.attempt(tryingOf(session), () => changePassword(app, session, body.old, body.password));
      forget();
      return { done: true };
    },
    beginSecond: ({ body }, { session }) =>
      guessing.attempt(tryingOf(session), () => beginSecond(app, session.account, body.password)),
    confirmSecond: async ({ body }, { session }) => ({
      codes: await guessing.attempt(tryingOf(session), () => confirmSecond(app, session.account, body.code)),
    }),
    endSecond: async ({ body }, { session }) => {
      await guessing.attempt(tryingOf(session), () => endSecond(app, session.account, body.password));
      return { done: true };
    },
    passkeys: (_, { session }) => passkeysOf(app, session.account),
    beginPasskey: ({ body }, { session, c }) =>
      guessing.attempt(tryingOf(session), () => beginPasskey(app, session.account, body.password, placeOf(c))),
    addPasskey: async ({ body }, { session, c }) => {
      await addPasskey(app, session.account, body, placeOf(c));
      return passkeysOf(app, session.account);
    },
    endPasskey: async ({ params }, { session }) => {
      await endPasskey(app, session.account, params.id);
      return passkeysOf(app, session.account);
    },
    beginPasskeySignIn: (_, { c }) => beginPasskeySignIn(app, placeOf(c)),
    // What a passkey says cannot be guessed: tries at it are not counted.
    signInByPasskey: async ({ body }, { c }) => {
      const { account, email } = await signInByPasskey(app, body.response, placeOf(c));
      return signInto(c, account, email);
    },
    signedIn: async (_, { session }) => ({ places: await placesOf(app, session) }),
    signOutAt: async ({ params }, { session }) => {
      await endPlaces(app, session, params.id);
      forget();
      return { done: true };
    },
    signOutElsewhere: async (_, { session }) => {
      await endPlaces(app, session, null);
      forget();
      return { done: true };
    },
    leave: async ({ body }, { session, c }) => {
      await removeMember(app, session.library, session.member, body.said);
      forget();
      return me(app, await sessionOf(app, getCookie(c, COOKIE)));
    },

    makeLibrary: async ({ body }, { session, c }) => {
      const slug = await makeLibrary(app, session.account, body);
      return me(app, await sessionOf(app, getCookie(c, COOKIE), slug));
    },
    members: async (_, { session }) => ({
      members: await listMembers(app, session.library),
      invites: await listInvites(app, session.library),
    }),
    changeMember: async ({ params, body }, { session }) => {
      await changeMember(app, session.library, params.id, body);
      forget();
      return { done: true };
    },
    removeMember: async ({ params, body }, { session }) => {
      await removeMember(app, session.library, params.id, body.said);
      forget();
      return { done: true };
    },
    resetMember: async ({ params }, { session }) => ({ path: await resetMember(app, session.library, params.id) }),

    invite: async ({ body }, { session, c }) => mailed(await invite(app, session, body), session, hereOf(c)),
    renewInvite: async ({ params }, { session, c }) =>
      mailed(await renewInvite(app, session.library, params.id), session, hereOf(c)),
    revokeInvite: async ({ params }, { session }) => {
      await revokeInvite(app, session.library, params.id);
      return { done: true };
    },
    // Links of 256 random bits cannot be guessed: tries at them are not counted.
    invited: ({ params }) => invited(app, params.token),
    acceptInvite: async ({ params, body }, { c }) => {
      if (body.account) {
        const { account, slug } = await acceptInvite(app, params.token, body.account);
        return signInto(c, account, addressAsKept(body.account.email), slug);
      }
      // As who is signed in: then it is asked from their own page.
      const { account } = guard(c, 'account');
      const { slug } = await acceptInvite(app, params.token, { account });
      forget();
      return me(app, await sessionOf(app, getCookie(c, COOKIE), slug));
    },
    resetOf: ({ params }) => resetOf(app, params.token),
    useReset: async ({ params, body }, { c }) => {
      const { email } = await resetOf(app, params.token);
      const account = await useReset(app, params.token, body.password);
      forget();
      // A link in a letter is no second step: whoever has one signs in with both.
      const second = await app.db('accounts').where('id', account).first('second_on');
      return second?.second_on ? me(app, null) : signInto(c, account, email);
    },
  };
}
