/**
 * The service worker: the application opens without a line; pictures seen lately, and those that are kept, are there; files that another
 * application of the device gives to Gemmel are taken in. Nothing of the library goes through it but picture files.
 */
import { createStore, set } from 'idb-keyval';
import { cacheNames } from 'workbox-core';
import { CacheExpiration } from 'workbox-expiration';
import { cleanupOutdatedCaches, createHandlerBoundToURL, precacheAndRoute } from 'workbox-precaching';
import { createPartialResponse } from 'workbox-range-requests';
import { NavigationRoute, registerRoute } from 'workbox-routing';
import { CACHES } from '../device/stores';

/** The files of this version, with what tells one state of a file from another; filled in when the worker is built. */
declare const __SHELL__: { url: string; revision: string | null }[];

/**
 * Who answers what, the first line that fits, in browsers that know such lines; others ask this worker, and it says the same. Pictures
 * in the window and everything of the library that is no file are asked of the server itself: a worker that is never woken by them
 * keeps nobody waiting, and makes way for a newer one.
 */
const ROUTES = [
  { condition: { urlPattern: { pathname: '/api/derived/*', search: '*line' } }, source: 'network' },
  { condition: { urlPattern: { pathname: '/api/derived/*' } }, source: 'fetch-event' },
  { condition: { urlPattern: { pathname: '/api/pictures/:id/play' } }, source: 'fetch-event' },
  { condition: { urlPattern: { pathname: '/api/music/:id/file' } }, source: 'fetch-event' },
  { condition: { urlPattern: { pathname: '/api/*' } }, source: 'network' },
] as const;

interface Installing {
  waitUntil(work: Promise<unknown>): void;
  addRoutes?: (routes: typeof ROUTES) => Promise<void>;
}

interface Scope {
  skipWaiting(): Promise<void>;
  clients: { claim(): Promise<void> };
  addEventListener(name: string, hear: (event: never) => void): void;
}
const scope = self as unknown as Scope;

/** Files that are fetched at once while a version is being installed; one after another would take half a minute. */
const AT_ONCE = 8;

/** Brings the files of this version here, several at once; whatever is missing then is brought by what follows. */
async function bringShell(): Promise<void> {
  const cache = await caches.open(cacheNames.precache);
  const waiting = [...__SHELL__].reverse();
  const one = async (): Promise<void> => {
    for (let file = waiting.shift(); file; file = waiting.shift()) {
      const key = new URL(file.url, location.href);
      if (file.revision) key.searchParams.set('__WB_REVISION__', file.revision);
      if (await cache.match(key.href)) continue;
      const answer = await fetch(file.url, { cache: file.revision ? 'no-cache' : 'default' });
      if (answer.ok) await cache.put(key.href, answer);
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, one));
}
scope.addEventListener('install', (event: Installing) => {
  event.waitUntil(bringShell().catch(() => undefined));
  if (event.addRoutes) event.waitUntil(event.addRoutes(ROUTES).catch(() => undefined));
});
precacheAndRoute(__SHELL__);
cleanupOutdatedCaches();
// Pages of the application; what the server answers itself, guests' pages among it, is asked of the server.
registerRoute(
  new NavigationRoute(createHandlerBoundToURL('/index.html'), {
    denylist: [/^\/(?:api|s|frame|dav|healthz|metrics|workers|map)(?:\/|$)/, /^\/give$/, /\/[^/?]+\.[^/]+$/],
  }),
);

/** How many pictures that were seen are at hand again, small and large ones together. */
const MOST_SEEN = 3000;

/** How long a picture is waited for before a copy of it is shown, in ms. */
const PATIENCE = 1500;

/** Grows when somebody signs out: what was on its way for them is not kept. */
let epoch = 0;
const plain = (url: string): string => new URL(url, location.href).pathname;
const expiration = () => new CacheExpiration(CACHES.seen, { maxEntries: MOST_SEEN });

/** Keeps picture files that a page has shown, one after another and behind everything else; the browser has them still. */
async function keepSeen(urls: readonly string[]): Promise<void> {
  const mine = epoch;
  const cache = await caches.open(CACHES.seen);
  const ages = expiration();
  for (const url of urls) {
    const key = plain(url);
    if (!(await caches.match(key))) {
      const answer = await fetch(url).catch(() => null);
      if (!answer?.ok) continue;
      if (mine !== epoch) return;
      await cache.put(key, answer);
    }
    await ages.updateTimestamp(new URL(key, location.href).href);
  }
  if (mine === epoch) await ages.expireEntries();
}

registerRoute(
  // What a keeper sees by somebody else's eyes is not kept.
  ({ url }) => /^\/api\/derived\/[0-9a-f]{64}\/(?:small|large)$/.test(url.pathname) && !url.searchParams.has('eyes'),
  async ({ request }) => {
    // With a line the browser's own store is the quicker one; a server that does not answer is not waited for where there is a copy.
    const coming = navigator.onLine ? fetch(request).catch(() => null) : Promise.resolve(null);
    const late = new Promise<null>((resolve) => setTimeout(resolve, PATIENCE, null));
    const there = await Promise.race([coming, late]);
    return there ?? (await caches.match(plain(request.url))) ?? (await coming) ?? Response.error();
  },
);
registerRoute(
  ({ url }) => /^\/api\/(?:pictures\/\d+\/play|music\/\d+\/file)$/.test(url.pathname),
  async ({ request }) => {
    const here = await caches.match(plain(request.url));
    if (!here) return fetch(request);
    return request.headers.has('range') ? createPartialResponse(request, here) : here;
  },
);

// Files from the share sheet of a phone: kept here until a page announces and sends them.
registerRoute(
  ({ url }) => url.pathname === '/give',
  async ({ request }) => {
    const form = await request.formData();
    const files = (form.getAll('files') as unknown[]).filter((one): one is File => one instanceof File && one.size > 0);
    if (files.length)
      await set(crypto.randomUUID(), { at: Date.now(), files }, createStore('gemmel-device-given', 'given'));
    return Response.redirect(files.length ? '/arrivals?given' : '/arrivals', 303);
  },
  'POST',
);

interface Told extends MessageEvent<'take over' | 'forget' | { seen: string[] }> {
  waitUntil(work: Promise<unknown>): void;
}
scope.addEventListener('message', (event: Told) => {
  const { data, ports } = event;
  if (data === 'take over') void scope.skipWaiting();
  else if (data === 'forget') {
    epoch++;
    const gone = Promise.all([caches.delete(CACHES.seen), expiration().delete()]);
    event.waitUntil(gone.finally(() => ports[0]?.postMessage('forgotten')));
  } else event.waitUntil(keepSeen(data.seen).catch(() => undefined));
});
scope.addEventListener('activate', (event: { waitUntil(work: Promise<unknown>): void }) =>
  event.waitUntil(scope.clients.claim()),
);
