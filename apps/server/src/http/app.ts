import { api, type Answer, type Api, type Endpoint, type HandlerInput, type Part } from '@gemmel/contract';
import { Hono, type Context } from 'hono';
import { getConnInfo } from '@hono/node-server/conninfo';
import { compress } from 'hono/compress';
import { deleteCookie, getCookie, setCookie } from 'hono/cookie';
import { secureHeaders } from 'hono/secure-headers';
import type { ZodType } from 'zod';
import { beginSession, endSession, makeKeeper, me, sessionOf, signIn, type Session } from '../account/accounts';
import { TryLimit } from '../account/limit';
import {
  albumOf,
  changeAlbum,
  listAlbums,
  makePlainAlbum,
  makeSmartAlbum,
  putIntoAlbum,
  setOrder,
  setRemoved,
  takeOut,
} from '../album/albums';
import type { App } from '../context';
import { listEvents, nameEvent } from '../event/events';
import { libraryState, listTroubles, retryTrouble } from '../library/library';
import { countOf, idsOf, pageOf, pictureOfId, skeleton, tilesOf } from '../picture/pictures';
import { changePictures, restorePictures } from '../picture/change';
import { readPile, setPile } from '../pile/pile';
import { Refused } from '../problem';
import { Recent } from '../recent';
import { guestView, listShares, openShare, setClosed } from '../share/shares';
import { listTags } from '../tag/tags';
import { listPlaces } from '../place/places';
import { addFileRoutes } from './fileRoutes';
import { addDav } from '../gather/dav';
import { addGatherFiles } from './gatherFiles';
import { gatherHandlers } from './gatherHandlers';
import { peopleHandlers } from './peopleHandlers';
import { placeHandlers } from './placeHandlers';
import { timeHandlers } from './timeHandlers';
import { addUploads } from './uploads';
import { openApi } from './openapi';
import { webFiles } from './web';

/** What a request carries through the routes. */
export interface Vars {
  Variables: { session: Session | null };
}

/** A handler's surroundings: the session (never null unless the endpoint is for nobody) and the raw request. */
interface Call {
  session: Session;
  c: Context<Vars>;
}

type Handlers = { [K in keyof Api]: (input: HandlerInput<Api[K]>, call: Call) => Promise<Answer<Api[K]>> };

const COOKIE = 'gemmel';
const RANK: Record<Part, number> = { nobody: 0, relative: 1, helper: 2, keeper: 3 };
const done = { done: true } as const;

/** Whether a part may do what another part is the least for. */
export const may = (part: Part, least: Part): boolean => RANK[part] >= RANK[least];

function cookie(c: Context, token: string): void {
  const secure = new URL(c.req.url).protocol === 'https:' || c.req.header('x-forwarded-proto') === 'https';
  setCookie(c, COOKIE, token, { httpOnly: true, sameSite: 'Lax', path: '/', secure, maxAge: 30 * 86_400 });
}

const addressOf = (c: Context): string => {
  try {
    return getConnInfo(c).remote.address ?? 'unknown';
  } catch {
    return 'unknown'; // called without a socket, in tests
  }
};

function handlersOf(app: App, forget: (token: string) => void): Handlers {
  const byAddress = new TryLimit(10, 5);
  const signInto = async (c: Context<Vars>, token: string) => {
    cookie(c, token);
    return me(app, await sessionOf(app, token));
  };
  return {
    me: (_, { session }) => me(app, session),
    firstRun: async ({ body }, { c }) => signInto(c, await beginSession(app, 1, await makeKeeper(app, body))),
    signIn: async ({ body }, { c }) => {
      const keys = [addressOf(c), body.email.trim().toLowerCase()];
      if (!keys.map((key) => byAddress.allow(key)).every(Boolean))
        throw new Refused(429, 'Too many tries. Wait five minutes, then try again.');
      const token = await signIn(app, body.email, body.password);
      keys.forEach((key) => byAddress.clear(key));
      return signInto(c, token);
    },
    signOut: async (_, { c }) => {
      const token = getCookie(c, COOKIE) ?? '';
      await endSession(app, token);
      forget(token);
      deleteCookie(c, COOKIE, { path: '/' });
      return done;
    },
    library: (_, { session }) => libraryState(app, session.library),

    ...gatherHandlers(app),

    ...timeHandlers(app),
    ...peopleHandlers(app),
    ...placeHandlers(app),

    skeleton: ({ body }, { session }) => skeleton(app, session.library, body.question, body.oldestFirst),
    count: async ({ body }, { session }) => ({ count: await countOf(app, session.library, body.question) }),
    pictures: ({ body }, { session }) => pageOf(app, session.library, body.question, body.after, body.limit),
    tiles: async ({ body }, { session }) => ({ tiles: await tilesOf(app, session.library, body.ids) }),
    picture: ({ params }, { session }) => pictureOfId(app, session.library, params.id),
    change: ({ body }, { session }) => changePictures(app, session.library, body.ids, body.change),
    restore: async ({ body }, { session }) => (await restorePictures(app, session.library, body), done),

    events: async (_, { session }) => ({ events: await listEvents(app, session.library) }),
    nameEvent: async ({ params, body }, { session }) => ({
      before: await nameEvent(app, session.library, params.id, body.title),
    }),

    tags: async (_, { session }) => ({ tags: await listTags(app.db, session.library) }),
    places: async (_, { session }) => ({ places: await listPlaces(app, session.library) }),

    pile: async (_, { session }) => ({ ids: await readPile(app, session.library, session.member) }),
    setPile: async ({ body }, { session }) => ({ ids: await setPile(app, session.library, session.member, body.ids) }),

    albums: async (_, { session }) => ({ albums: await listAlbums(app, session.library) }),
    album: ({ params }, { session }) => albumOf(app, session.library, params.id),
    makeAlbum: async ({ body }, { session }) => {
      if (body.question) return { id: await makeSmartAlbum(app, session.library, body.name, body.question) };
      const ids =
        body.event !== undefined
          ? await idsOf(app, session.library, { event: body.event }, true)
          : body.folder !== undefined
            ? await idsOf(app, session.library, { folder: { id: body.folder } }, true)
            : (body.ids ?? []);
      return { id: await makePlainAlbum(app, session.library, body.name, ids) };
    },
    changeAlbum: async ({ params, body }, { session }) => (
      await changeAlbum(app, session.library, params.id, body),
      done
    ),
    putIntoAlbum: async ({ params, body }, { session }) => ({
      added: await putIntoAlbum(app, session.library, params.id, body.ids),
    }),
    takeOutOfAlbum: async ({ params, body }, { session }) => ({
      before: await takeOut(app, session.library, params.id, body.ids),
    }),
    orderAlbum: async ({ params, body }, { session }) => (
      await setOrder(app, session.library, params.id, body.ids),
      done
    ),
    removeAlbum: async ({ params }, { session }) => (await setRemoved(app, session.library, params.id, true), done),
    restoreAlbum: async ({ params }, { session }) => (await setRemoved(app, session.library, params.id, false), done),

    shares: async (_, { session }) => ({ shares: await listShares(app, session.library) }),
    openShare: ({ body }, { session }) => openShare(app, session.library, session.member, body),
    closeShare: ({ params }, { session }) => setClosed(app, session.library, params.id, true),
    reopenShare: ({ params }, { session }) => setClosed(app, session.library, params.id, false),
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

async function jsonOf(c: Context): Promise<unknown> {
  try {
    return await c.req.json();
  } catch {
    throw new Refused(400, 'What was sent is not JSON.');
  }
}

/** Refuses whoever has too small a part, and everything that changes something without this session's own token. */
export function guard(c: Context<Vars>, least: Part): Session {
  const session = c.get('session');
  if (least !== 'nobody' && !session) throw new Refused(401, 'Please sign in.');
  if (!may(session?.part ?? 'nobody', least)) throw new Refused(403, 'Your part in this library does not allow that.');
  if (least !== 'nobody' && c.req.method !== 'GET' && c.req.header('x-gemmel-token') !== session?.csrf)
    throw new Refused(403, 'This page is out of date. Load it again.');
  return session as Session;
}

/** Requests that change something must come from our own pages (checked for everybody, signed in or not). */
function sameOrigin(c: Context): void {
  if (c.req.method === 'GET' || c.req.method === 'HEAD') return;
  const site = c.req.header('sec-fetch-site');
  const origin = c.req.header('origin');
  const foreign =
    (site && site !== 'same-origin' && site !== 'none') || (origin && new URL(origin).host !== c.req.header('host'));
  if (foreign) throw new Refused(403, 'This request came from another page.');
}

/** The whole HTTP side: JSON routes from the contract's table, files, progress, and the web application. */
export function makeHttp(app: App): Hono<Vars> {
  const http = new Hono<Vars>();
  const sessions = new Recent<string, Session>(1000, 5);
  http.onError((error, c) => {
    if (error instanceof Refused)
      return c.json(
        {
          type: 'about:blank',
          title: error.message,
          status: error.status,
          ...(error.detail ? { detail: error.detail } : {}),
        },
        error.status,
        { 'content-type': 'application/problem+json' },
      );
    console.error(`${c.req.method} ${c.req.path}:`, error);
    return c.json(
      { type: 'about:blank', title: 'Something went wrong here. Nothing is lost; try again.', status: 500 },
      500,
      { 'content-type': 'application/problem+json' },
    );
  });
  http.use(
    secureHeaders({
      crossOriginEmbedderPolicy: false,
      xFrameOptions: 'DENY',
      referrerPolicy: 'no-referrer',
      strictTransportSecurity: false,
    }),
  );
  http.use('/api/*', async (c, next) => {
    sameOrigin(c);
    const token = getCookie(c, COOKIE);
    // A grid of pictures asks many times a second; who somebody is may be a few seconds old for reading.
    const known = token && c.req.method === 'GET' ? sessions.get(token) : undefined;
    const session = known ?? (await sessionOf(app, token));
    if (token && session && !known) sessions.set(token, session);
    c.set('session', session);
    await next();
  });
  const squeeze = compress({ threshold: 1024 });
  const handlers = handlersOf(app, (token) => sessions.forget(token));
  for (const [name, e] of Object.entries(api) as [keyof Api, Endpoint][]) {
    http.on(e.method, e.path, squeeze, async (c) => {
      const session = guard(c, e.part);
      const input = {
        params: checked(e.params, c.req.param(), 'The address'),
        query: checked(e.query, c.req.query(), 'The address'),
        body: e.body ? checked(e.body, await jsonOf(c), 'What was sent') : {},
      };
      const answer = await (handlers[name] as (input: unknown, call: Call) => Promise<unknown>)(input, { session, c });
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
