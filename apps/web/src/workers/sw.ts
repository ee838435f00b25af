/**
 * The service worker: the application opens without a line; pictures seen lately, and those that are kept, are there; files that another
 * application of the device gives to Gemmel are taken in. Nothing of the library goes through it but picture files.
 */
import { createStore, set } from 'idb-keyval';
import { cacheNames } from 'workbox-core';
import { ExpirationPlugin } from 'workbox-expiration';
import { cleanupOutdatedCaches, createHandlerBoundToURL, precacheAndRoute } from 'workbox-precaching';
import { createPartialResponse } from 'workbox-range-requests';
import { NavigationRoute, registerRoute } from 'workbox-routing';
import { CacheFirst } from 'workbox-strategies';
import { CACHES } from '../device/stores';

/** The files of this version, with what tells one state of a file from another; filled in when the worker is built. */
declare const __SHELL__: { url: string; revision: string | null }[];

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
scope.addEventListener('install', (event: { waitUntil(work: Promise<unknown>): void }) =>
  event.waitUntil(bringShell().catch(() => undefined)),
);
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

/** Grows when somebody signs out: what was on its way for them is not kept. */
let epoch = 0;
const began = new WeakMap<Request, number>();
const seen = new ExpirationPlugin({ maxEntries: MOST_SEEN, purgeOnQuotaError: true });
const plain = (url: string): string => new URL(url).pathname;
const strategy = new CacheFirst({
  cacheName: CACHES.seen,
  plugins: [
    {
      // A picture is the same in whatever library of the household a tab shows it.
      cacheKeyWillBeUsed: async ({ request }) => plain(request.url),
      requestWillFetch: async ({ request }) => {
        began.set(request, epoch);
        return request;
      },
      cacheWillUpdate: async ({ request, response }) =>
        response.status === 200 && (began.get(request) ?? epoch) === epoch ? response : null,
    },
    seen,
  ],
});

const kept = async (request: Request): Promise<Response | undefined> =>
  (await caches.has(CACHES.kept)) ? (await caches.open(CACHES.kept)).match(plain(request.url)) : undefined;

registerRoute(
  // What a keeper sees by somebody else's eyes is not kept.
  ({ url }) => /^\/api\/derived\/[0-9a-f]{64}\/(?:small|large)$/.test(url.pathname) && !url.searchParams.has('eyes'),
  async ({ request, event }) => (await kept(request)) ?? strategy.handle({ request, event }),
);
registerRoute(
  ({ url }) => /^\/api\/(?:pictures\/\d+\/play|music\/\d+\/file)$/.test(url.pathname),
  async ({ request }) => {
    const here = await kept(request);
    if (!here) return fetch(request);
    return request.headers.has('range') ? createPartialResponse(request, here) : here;
  },
);

// Files from the share sheet of a phone: kept here until a page announces and sends them.
registerRoute(
  ({ url }) => url.pathname === '/give',
  async ({ request }) => {
    const form = await request.formData();
    const files = (form.getAll('files') as unknown[]).filter(
      (one): one is File => one instanceof File && one.size > 0,
    );
    if (files.length)
      await set(crypto.randomUUID(), { at: Date.now(), files }, createStore('gemmel-device-given', 'given'));
    return Response.redirect(files.length ? '/arrivals?given' : '/arrivals', 303);
  },
  'POST',
);

scope.addEventListener('message', (event: MessageEvent & { waitUntil(work: Promise<unknown>): void }) => {
  const { ports } = event;
  if (event.data === 'take over') void scope.skipWaiting();
  if (event.data === 'forget') {
    epoch++;
    event.waitUntil(seen.deleteCacheAndMetadata().finally(() => ports[0]?.postMessage('forgotten')));
  }
});
scope.addEventListener('activate', (event: { waitUntil(work: Promise<unknown>): void }) =>
  event.waitUntil(scope.clients.claim()),
);
