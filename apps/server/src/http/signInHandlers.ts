import type { Answer, Api, HandlerInput } from '@gemmel/contract';
import type { Context } from 'hono';
import { deleteCookie, getCookie, setCookie } from 'hono/cookie';
import {
  addressAsKept,
  beginSession,
  chooseLanguage,
  endSession,
  keptAlready,
  makeKeeper,
  me,
  sessionOf,
  signIn,
} from '../account/accounts';
import { addressOf } from '../account/address';
import { Guessing } from '../account/guessing';
import { rightCode } from '../account/setUp';
import type { App } from '../context';
import { refused } from '../problem';
import { type Vars, COOKIE, type Call } from './guard';
import { fromHere } from './hosts';

type Names = 'me' | 'firstRun' | 'signIn' | 'signOut' | 'chooseLanguage';
type Handlers = { [K in Names]: (input: HandlerInput<Api[K]>, call: Call) => Promise<Answer<Api[K]>> };

/** The mark of a browser that somebody was let in from before. */
const MARK = 'gemmel-known';

function cookie(c: Context, name: string, value: string, days: number): void {
  const secure = new URL(c.req.url).protocol === 'https:' || c.req.header('x-forwarded-proto') === 'https';
  setCookie(c, name, value, { httpOnly: true, sameSite: 'Lax', path: '/', secure, maxAge: days * 86_400 });
}

/** Whether the first page asks for the set-up code: not when this machine itself asks, without somebody in between. */
function needsCode({ config }: App, c: Context): boolean {
  const between = ['forwarded', 'x-forwarded-for', 'x-real-ip', 'via'].some((name) => c.req.header(name));
  return config.setUpCode !== null && (between || !fromHere(addressOf(c)));
}

/** Answers of the routes by which somebody comes in and goes; `forget` is told the session that ends. */
export function signInHandlers(app: App, forget: (token: string) => void): Handlers {
  const guessing = new Guessing(app.config.secrets.links);
  const signInto = async (c: Context<Vars>, token: string, address: string) => {
    cookie(c, COOKIE, token, 30);
    cookie(c, MARK, guessing.markFor(address), 400);
    return me(app, await sessionOf(app, token));
  };
  const tryingAs = (c: Context<Vars>, address: string) => ({
    place: addressOf(c),
    address,
    mark: getCookie(c, MARK),
  });
  return {
    me: (_, { session, c }) => me(app, session, needsCode(app, c)),
    firstRun: async ({ body }, { c }) => {
      if (await app.db('members').first('id')) throw keptAlready();
      if (needsCode(app, c))
        await guessing.attempt(tryingAs(c, 'set-up code'), async () => {
          if (!rightCode(app.config.setUpCode, body.code)) throw refused('wrong-code');
        });
      return signInto(c, await beginSession(app, 1, await makeKeeper(app, body)), addressAsKept(body.email));
    },
    signIn: async ({ body }, { c }) => {
      const address = addressAsKept(body.email);
      const token = await guessing.attempt(tryingAs(c, address), () => signIn(app, address, body.password));
      return signInto(c, token, address);
    },
    chooseLanguage: async ({ body }, { session }) => {
      await chooseLanguage(app, session.member, body.language);
      return { done: true };
    },
    signOut: async (_, { c }) => {
      const token = getCookie(c, COOKIE) ?? '';
      await endSession(app, token);
      forget(token);
      deleteCookie(c, COOKIE, { path: '/' });
      return { done: true };
    },
  };
}
