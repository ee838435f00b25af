import { api, type Api, type Endpoint, type Part } from '@gemmel/contract';
import { Hono, type Context } from 'hono';
import { compress } from 'hono/compress';
import { getCookie } from 'hono/cookie';
import { secureHeaders } from 'hono/secure-headers';
import { lookingAs, sessionOf, type Session } from '../account/accounts';
import type { App } from '../context';
import { isDbGone } from '../db/gate';
import { rememberAll } from './remembered';
import { doOnce, nameOf, ONCE } from '../act/once';
import { refused } from '../problem';
import { picturesIn, refuseUnseen } from '../sight/asked';
import { Eyes } from '../sight/eyes';
import { LRUCache } from 'lru-cache';
import { addFrameRoutes } from './frameRoutes';
import { addFileRoutes } from './fileRoutes';
import { addDav } from '../gather/dav';
import { addGuestPage } from './guestPage';
import { addGuestRoutes } from './guestRoutes';
import { addGatherFiles } from './gatherFiles';
import { addSafeFiles } from './safeHandlers';
import { guard, type Vars, COOKIE, EYES, LIBRARY, type Call } from './guard';
import { addUploads } from './uploads';
import { fromOf, noteFrom, proxies } from './from';
import { onlyOwnNames } from './hosts';
import { proofOf } from './reach';
import { openApi } from './openapi';
import { addMetrics } from './metrics';
import { addWeb } from './web';
import { handlersOf } from './handlers';
import { checked, jsonOf, limited } from './body';
import { away, tellError } from './errors';
import { Told } from './told';

/** How much a request may carry as JSON, in bytes: from anybody, and from members, whose lists of pictures are long. */
const MOST_FROM_ANYBODY = 16_384;
const MOST_FROM_MEMBERS = 48 << 20;
/** How long the body of a request without a session may take, in ms. */
const BODY_PATIENCE = 20_000;
/** What is asked by POST and changes nothing all the same, as far as its address says no numbers. */
const READING: ReadonlySet<string> = new Set(Object.values<Endpoint>(api).flatMap((e) => (e.reads ? [e.path] : [])));
/** Parts whose routes are about accounts, and not about what is in a library. */
const OF_ACCOUNTS: ReadonlySet<Part> = new Set(['nobody', 'account']);
/** How long a request waits for a database that is being started again, in ms, and a moment for its end to be noticed. */
const DB_PATIENCE = 8000;
const NOTICED = 200;

/** Requests that change something must come from our own pages (checked for everybody, signed in or not). */
function sameOrigin(c: Context): void {
  if (c.req.method === 'GET' || c.req.method === 'HEAD') return;
  const site = c.req.header('sec-fetch-site');
  const origin = c.req.header('origin');
  const foreign =
    (site && site !== 'same-origin' && site !== 'none') ||
    (origin && (!URL.canParse(origin) || new URL(origin).host !== fromOf(c).host));
  if (foreign) throw refused('foreign-page');
}

/** The pictures a request speaks of by number. */
const speaksOf = (e: Endpoint, { params, body }: { params: unknown; body: unknown }): Set<number> =>
  picturesIn(e.path.startsWith('/api/pictures/:id') ? { picture: (params as { id: number }).id, body } : body);

/** The whole HTTP side: JSON routes from the contract's table, files, progress, and the web application. */
export function makeHttp(app: App): Hono<Vars> {
  const http = new Hono<Vars>();
  const eyes = new Eyes(app);
  const sessions = new LRUCache<string, Session>({ max: 1000, ttl: 5000 });
  http.onError(tellError);
  http.use(
    secureHeaders({
      crossOriginEmbedderPolicy: false,
      xFrameOptions: 'DENY',
      referrerPolicy: 'no-referrer',
      strictTransportSecurity: false,
    }),
  );
  http.use(noteFrom(proxies(app.config.proxies)));
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
    const named = c.req.header(LIBRARY.header) ?? c.req.query(LIBRARY.query) ?? null;
    // A grid of pictures asks many times a second; who somebody is may be a few seconds old for reading.
    const key = `${token} ${named ?? ''}`;
    const reads = c.req.method === 'GET' || READING.has(c.req.path);
    const known = token && reads ? sessions.get(key) : undefined;
    const own = known ?? (await steady(true, () => sessionOf(app, token, named)));
    if (token && own && !known) sessions.set(key, own);
    const as = Number(c.req.header(EYES.header) ?? c.req.query(EYES.query));
    const session = own && as ? await steady(true, () => lookingAs(app, own, as)) : own;
    c.set('session', session);
    c.set('seen', session ? await steady(true, () => eyes.of(session, reads)) : app);
    await next();
  });
  const squeeze = compress({ threshold: 1024 });
  const asItIs: typeof squeeze = (_, next) => next();
  const told = new Told();
  const forget = () => {
    sessions.clear();
    eyes.forget();
    told.forget();
  };
  rememberAll(app);
  const whole = handlersOf(app, forget, told);
  for (const [name, e] of Object.entries(api) as [keyof Api, Endpoint][]) {
    const anybody = e.part === 'nobody';
    const first = async (c: Context<Vars>, next: () => Promise<void>) => {
      guard(c, e.part, e.method === 'GET' || e.reads);
      await next();
    };
    const bounds = limited(anybody ? MOST_FROM_ANYBODY : MOST_FROM_MEMBERS);
    http.on(e.method, e.path, first, bounds, e.packed ? asItIs : squeeze, async (c) => {
      const session = c.get('session') as Session;
      const input = {
        params: checked(e.params, c.req.param(), 'The address'),
        query: checked(e.query, c.req.query(), 'The address'),
        body: e.body ? checked(e.body, await jsonOf(c, anybody ? BODY_PATIENCE : Infinity), 'What was sent') : {},
      };
      const seen = c.get('seen');
      const handlers = seen === app || OF_ACCOUNTS.has(e.part) ? whole : handlersOf(seen, forget, told);
      if (seen !== app && e.method !== 'GET' && !e.reads)
        await refuseUnseen(app, seen, session.library, speaksOf(e, input));
      const handler = handlers[name] as (input: unknown, call: Call) => Promise<unknown>;
      const once = e.method === 'GET' || e.reads ? null : nameOf(c.req.header(ONCE));
      const work = () => handler(input, { session, c });
      const answer = once ? await doOnce(app, session.library, once, work) : await steady(e.method === 'GET', work);
      return c.json(answer as object, 200, { 'cache-control': 'no-store' });
    });
  }
  http.get('/api/reached/:nonce', (c) => c.json({ proof: proofOf(app, c.req.param('nonce')) }));
  http.get('/api/openapi.json', squeeze, (c) => c.json(openApi()));
  addGatherFiles(http, app);
  addSafeFiles(http, app);
  addUploads(http, app);
  addFileRoutes(http, app, told);
  addGuestRoutes(http, app);
  addDav(http as unknown as Hono<never>, app);
  http.all('/api/*', (c) => {
    throw refused('nothing-at', { path: c.req.path });
  });
  addFrameRoutes(http, app);
  addGuestPage(http, app);
  addMetrics(http, app);
  addWeb(http, app.config.web);
  return http;
}
