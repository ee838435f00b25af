import { api, type Answer, type Api, type Endpoint, type HandlerInput } from '@gemmel/contract';
import { Hono, type Context } from 'hono';
import { bodyLimit } from 'hono/body-limit';
import { compress } from 'hono/compress';
import { deleteCookie, getCookie, setCookie } from 'hono/cookie';
import { secureHeaders } from 'hono/secure-headers';
import type { ZodType } from 'zod';
import {
  addressAsKept,
  beginSession,
  endSession,
  keptAlready,
  makeKeeper,
  me,
  sessionOf,
  signIn,
  type Session,
} from '../account/accounts';
import { diary } from '../act/diary';
import { undoAct } from '../act/undo';
import { addressOf } from '../account/address';
import { Guessing } from '../account/guessing';
import { rightCode } from '../account/setUp';
import {
  albumOf,
  changeAlbum,
  listAlbums,
  makePlainAlbum,
  makeSmartAlbum,
  putIntoAlbum,
  removeAlbum,
  setOrder,
  takeOut,
} from '../album/albums';
import type { App } from '../context';
import { isDbGone } from '../db/gate';
import { listEvents } from '../event/events';
import { refuseForeign } from '../library/own';
import { libraryState, listTroubles, retryTrouble } from '../library/library';
import { countOf, idsOf, pageOf, pictureOfId, skeleton, tilesOf } from '../picture/pictures';
import { changePictures } from '../picture/change';
import { readyZip } from '../picture/zip';
import { changePile, readPile } from '../pile/pile';
import { Refused } from '../problem';
import { Recent } from '../recent';
import { Shared } from '../shared';
import { guestView, listShares, openShare, setClosed } from '../share/shares';
import { listTags } from '../tag/tags';
import { listPlaces } from '../place/places';
import { addFileRoutes } from './fileRoutes';
import { addDav } from '../gather/dav';
import { addGatherFiles } from './gatherFiles';
import { guard, masked, type Vars } from './guard';
import { gatherHandlers } from './gatherHandlers';
import { peopleHandlers } from './peopleHandlers';
import { placeHandlers } from './placeHandlers';
import { timeHandlers } from './timeHandlers';
import { addUploads } from './uploads';
import { fromHere, onlyOwnNames } from './hosts';
import { openApi } from './openapi';
import { webFiles } from './web';

/** A handler's surroundings: the session (never null unless the endpoint is for nobody) and the raw request. */
interface Call {
  session: Session;
  c: Context<Vars>;
}

type Handlers = { [K in keyof Api]: (input: HandlerInput<Api[K]>, call: Call) => Promise<Answer<Api[K]>> };

const COOKIE = 'gemmel';
/** The mark of a browser that somebody was let in from before. */
const MARK = 'gemmel-known';
/** How much a request may carry as JSON, in bytes: from anybody, and from members, whose lists of pictures are long. */
const MOST_FROM_ANYBODY = 16_384;
const MOST_FROM_MEMBERS = 48 << 20;
/** How long the body of a request without a session may take, in ms. */
const BODY_PATIENCE = 20_000;
/** How long a request waits for a database that is being started again, in ms, and a moment for its end to be noticed. */
const DB_PATIENCE = 8000;
const NOTICED = 200;
const done = { done: true } as const;

function cookie(c: Context, name: string, value: string, days: number): void {
  const secure = new URL(c.req.url).protocol === 'https:' || c.req.header('x-forwarded-proto') === 'https';
  setCookie(c, name, value, { httpOnly: true, sameSite: 'Lax', path: '/', secure, maxAge: days * 86_400 });
}

function handlersOf(app: App, forget: (token: string) => void): Handlers {
  const guessing = new Guessing(app.config.secrets.links);
  const states = new Shared((library: number) => libraryState(app, library));
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
          if (!rightCode(app.config.setUpCode, body.code))
            throw new Refused(401, 'This is not the set-up code that Gemmel printed when it was started.');
        });
      return signInto(c, await beginSession(app, 1, await makeKeeper(app, body)), addressAsKept(body.email));
    },
    signIn: async ({ body }, { c }) => {
      const address = addressAsKept(body.email);
      const token = await guessing.attempt(tryingAs(c, address), () => signIn(app, address, body.password));
      return signInto(c, token, address);
    },
    signOut: async (_, { c }) => {
      const token = getCookie(c, COOKIE) ?? '';
      await endSession(app, token);
      forget(token);
      deleteCookie(c, COOKIE, { path: '/' });
      return done;
    },
    library: (_, { session }) => states.get(session.library),

    ...gatherHandlers(app),

    ...timeHandlers(app),
    ...peopleHandlers(app),
    ...placeHandlers(app),

    skeleton: ({ body }, { session }) => skeleton(app, session.library, body.question, body.oldestFirst),
    count: async ({ body }, { session }) => ({ count: await countOf(app, session.library, body.question) }),
    pictures: ({ body }, { session }) => pageOf(app, session.library, body.question, body.after, body.limit),
    tiles: async ({ body }, { session }) => ({ tiles: await tilesOf(app, session.library, body.ids) }),
    picture: ({ params }, { session }) => pictureOfId(app, session.library, params.id),
    change: ({ body }, { session }) => changePictures(app, session, body.ids, body.change),

    acts: ({ query }, { session }) => diary(app, session.library, query),
    undo: ({ params }, { session }) => undoAct(app, session, params.id),

    makeZip: ({ body }, { session }) => readyZip(app, session, body),
    events: async (_, { session }) => ({ events: await listEvents(app, session.library) }),

    tags: async (_, { session }) => ({ tags: await listTags(app.db, session.library) }),
    places: async (_, { session }) => ({ places: await listPlaces(app, session.library) }),

    pile: async (_, { session }) => ({ ids: await readPile(app, session.library, session.member) }),
    setPile: async ({ body }, { session }) => ({ ids: await changePile(app, session.library, session.member, body) }),

    albums: async (_, { session }) => ({ albums: await listAlbums(app, session.library) }),
    album: ({ params }, { session }) => albumOf(app, session.library, params.id),
    makeAlbum: async ({ body }, { session }) => {
      if (body.event !== undefined) await refuseForeign(app.db, session.library, 'events', [body.event], 'This event');
      if (body.folder !== undefined)
        await refuseForeign(app.db, session.library, 'folders', [body.folder], 'This folder');
      if (body.question) return makeSmartAlbum(app, session, body.name, body.question);
      const ids =
        body.event !== undefined
          ? await idsOf(app, session.library, { event: body.event }, true)
          : body.folder !== undefined
            ? await idsOf(app, session.library, { folder: { id: body.folder } }, true)
            : (body.ids ?? []);
      return makePlainAlbum(app, session, body.name, ids);
    },
    changeAlbum: ({ params, body }, { session }) => changeAlbum(app, session, params.id, body),
    putIntoAlbum: ({ params, body }, { session }) => putIntoAlbum(app, session, params.id, body.ids),
    takeOutOfAlbum: ({ params, body }, { session }) => takeOut(app, session, params.id, body.ids),
    orderAlbum: ({ params, body }, { session }) => setOrder(app, session, params.id, body.ids),
    removeAlbum: ({ params }, { session }) => removeAlbum(app, session, params.id),

    shares: async (_, { session }) => ({ shares: await listShares(app, session.library) }),
    openShare: ({ body }, { session }) => openShare(app, session, body),
    closeShare: ({ params }, { session }) => setClosed(app, session, params.id, true),
    reopenShare: ({ params }, { session }) => setClosed(app, session, params.id, false),
    guest: ({ params }) => guestView(app, params.token),

    troubles: async (_, { session }) => ({ troubles: await listTroubles(app, session.library) }),
    retryTrouble: async ({ params }, { session }) => (await retryTrouble(app, session.library, params.id), done),
  };
}

function checked<T>(schema: ZodType | undefined, value: unknown, what: string): T {
  if (!schema) return {} as T;
  const result = schema.safeParse(value);
  if (result.success) return result.data as T;
  const issue = result.error.issues[0];
  throw new Refused(
    400,
    `${what} cannot be read: ${issue?.path.join('.') ? `${issue.path.join('.')}: ` : ''}${issue?.message ?? 'wrong form'}.`,
  );
}

async function jsonOf(c: Context, patience: number): Promise<unknown> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise<never>((_, reject) => {
    if (Number.isFinite(patience))
      timer = setTimeout(() => reject(new Refused(408, 'The rest of the request did not come.')), patience);
  });
  try {
    return await Promise.race([c.req.json(), late]);
  } catch (error) {
    if (error instanceof Refused) throw error;
    throw new Refused(400, 'What was sent is not JSON.');
  } finally {
    clearTimeout(timer);
  }
}

/** Keeps a body within bounds, whether it says its length or not. */
const limited = (most: number) =>
  bodyLimit({
    maxSize: most,
    onError: () => {
      throw new Refused(413, 'That is more than can be sent at once. Nothing has been changed.');
    },
  });

/** Whether the first page asks for the set-up code: not when this machine itself asks, without somebody in between. */
function needsCode({ config }: App, c: Context): boolean {
  const between = ['forwarded', 'x-forwarded-for', 'x-real-ip', 'via'].some((name) => c.req.header(name));
  return config.setUpCode !== null && (between || !fromHere(addressOf(c)));
}

/** Requests that change something must come from our own pages (checked for everybody, signed in or not). */
function sameOrigin(c: Context): void {
  if (c.req.method === 'GET' || c.req.method === 'HEAD') return;
  const site = c.req.header('sec-fetch-site');
  const origin = c.req.header('origin');
  const foreign =
    (site && site !== 'same-origin' && site !== 'none') ||
    (origin && (!URL.canParse(origin) || new URL(origin).host !== c.req.header('host')));
  if (foreign) throw new Refused(403, 'This request came from another page.');
}

const away = (): Refused =>
  new Refused(503, 'The database is being started again. Nothing is lost; try again in a moment.');

/** What an error tells people; null for one that nobody foresaw. */
function toRefused(error: Error): Refused | null {
  if (error instanceof Refused) return error;
  if (isDbGone(error)) return away();
  const { code } = error as { code?: string };
  // Something it speaks of went in the meantime, or was never in this library.
  if (code === 'ER_NO_REFERENCED_ROW_2' || code === 'ER_ROW_IS_REFERENCED_2')
    return new Refused(409, 'Something this speaks of is no longer here. Nothing has been changed.');
  if (code === 'ER_LOCK_DEADLOCK' || code === 'ER_LOCK_WAIT_TIMEOUT')
    return new Refused(409, 'Somebody else is changing the same just now. Try again in a moment.');
  if (code === 'ER_DATA_TOO_LONG' || code === 'ER_TRUNCATED_WRONG_VALUE' || code === 'ER_WARN_DATA_OUT_OF_RANGE')
    return new Refused(400, 'Something that was sent does not fit. Nothing has been changed.');
  if (code === 'ER_DUP_ENTRY') return new Refused(409, 'This is here already. Nothing has been changed.');
  return null;
}

/** The whole HTTP side: JSON routes from the contract's table, files, progress, and the web application. */
export function makeHttp(app: App): Hono<Vars> {
  const http = new Hono<Vars>();
  const sessions = new Recent<string, Session>(1000, 5);
  http.onError((error, c) => {
    const said = toRefused(error);
    if (!said) console.error(`${c.req.method} ${masked(c.req.path)}:`, error);
    const { status, message, detail } =
      said ?? new Refused(500, 'Something went wrong here. Nothing is lost; try again.');
    return c.json({ type: 'about:blank', title: message, status, ...(detail ? { detail } : {}) }, status, {
      'content-type': 'application/problem+json',
      ...(status === 503 ? { 'retry-after': '5' } : {}),
      // What is left of a body that nobody reads is not waited for.
      ...(status === 408 || status === 413 ? { connection: 'close' } : {}),
    });
  });
  http.use(
    secureHeaders({
      crossOriginEmbedderPolicy: false,
      xFrameOptions: 'DENY',
      referrerPolicy: 'no-referrer',
      strictTransportSecurity: false,
    }),
  );
  http.use(onlyOwnNames(app));
  const present = async () => {
    if (!(await app.database.pass(DB_PATIENCE))) throw away();
  };
  /** Asks the database; what only reads is asked once more when it went away meanwhile. */
  const steady = async <T>(reads: boolean, act: () => Promise<T>): Promise<T> => {
    await present();
    try {
      return await act();
    } catch (error) {
      if (!reads || !isDbGone(error)) throw error;
      await new Promise((resolve) => setTimeout(resolve, NOTICED));
      await present();
      return act();
    }
  };
  http.use('/dav/*', async (_, next) => {
    await present();
    await next();
  });
  http.use('/api/*', async (c, next) => {
    sameOrigin(c);
    const token = getCookie(c, COOKIE);
    // A grid of pictures asks many times a second; who somebody is may be a few seconds old for reading.
    const known = token && c.req.method === 'GET' ? sessions.get(token) : undefined;
    const session = known ?? (await steady(true, () => sessionOf(app, token)));
    if (token && session && !known) sessions.set(token, session);
    c.set('session', session);
    await next();
  });
  const squeeze = compress({ threshold: 1024 });
  const handlers = handlersOf(app, (token) => sessions.forget(token));
  for (const [name, e] of Object.entries(api) as [keyof Api, Endpoint][]) {
    const anybody = e.part === 'nobody';
    const first = async (c: Context<Vars>, next: () => Promise<void>) => {
      guard(c, e.part);
      await next();
    };
    const bounds = limited(anybody ? MOST_FROM_ANYBODY : MOST_FROM_MEMBERS);
    http.on(e.method, e.path, first, bounds, squeeze, async (c) => {
      const session = c.get('session') as Session;
      const input = {
        params: checked(e.params, c.req.param(), 'The address'),
        query: checked(e.query, c.req.query(), 'The address'),
        body: e.body ? checked(e.body, await jsonOf(c, anybody ? BODY_PATIENCE : Infinity), 'What was sent') : {},
      };
      const handler = handlers[name] as (input: unknown, call: Call) => Promise<unknown>;
      const answer = await steady(e.method === 'GET', () => handler(input, { session, c }));
      return c.json(answer as object, 200, { 'cache-control': 'no-store' });
    });
  }
  http.get('/api/openapi.json', squeeze, (c) => c.json(openApi()));
  addGatherFiles(http, app);
  addUploads(http, app);
  addFileRoutes(http, app);
  addDav(http as unknown as Hono<never>, app);
  http.all('/api/*', (c) => {
    throw new Refused(404, `There is nothing at ${c.req.path}.`);
  });
  http.get('*', webFiles(app.config.web));
  return http;
}
