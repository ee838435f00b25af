import { create } from 'zustand';
import { sentAll, Told } from '@/api/client';
import { whenStill } from '@/state/still';

/** A version of Gemmel that is there and waits to be taken, or that another page of this browser has taken. */
export const useUpdate = create<{ waiting: ServiceWorker | null; taken: boolean }>()(() => ({
  waiting: null,
  taken: false,
}));

/** How often it is looked whether there is a newer version, in ms. */
const LOOK = 3600_000;
/** How long the page goes first before the worker fetches what it needs, and at most while somebody moves about in it, in ms. */
const AFTER = 2500;
const AT_MOST = 30_000;
/** How long the worker that is there is given to make way for a newer one, in ms. */
const GIVES_WAY = 3000;

const has = (): boolean => typeof navigator !== 'undefined' && 'serviceWorker' in navigator && window.isSecureContext;

let begun = false;

/** Has the application be there without a line, where browsers allow it: over an encrypted way, or on this very machine. */
export function startWorker(): void {
  if (begun || !has() || process.env.NODE_ENV !== 'production') return;
  begun = true;
  const { serviceWorker: workers } = navigator;
  // The first worker there is takes nobody by surprise; a later one was taken by somebody.
  if (workers.controller) workers.addEventListener('controllerchange', () => useUpdate.setState({ taken: true }));
  // One that is there already can find a newer version at any moment, the page that asks for its own among them.
  const watched = workers.getRegistration().then((there) => there && watch(there), nothing);
  whenStill(() => void watched.then(register).catch(nothing), AFTER, AT_MOST);
}

const nothing = () => undefined;

async function register(there: ServiceWorkerRegistration | undefined): Promise<void> {
  const registration = await navigator.serviceWorker.register('/sw.js');
  if (registration !== there) watch(registration);
  const again = () => void registration.update().catch(nothing);
  setInterval(again, LOOK);
  document.addEventListener('visibilitychange', () => document.visibilityState === 'visible' && again());
}

/** Tells of every newer version, also of one that waits or is on its way already. */
function watch(registration: ServiceWorkerRegistration): ServiceWorkerRegistration {
  const look = () => {
    if (registration.waiting && navigator.serviceWorker.controller)
      useUpdate.setState({ waiting: registration.waiting });
  };
  const coming = () => registration.installing?.addEventListener('statechange', look);
  look();
  coming();
  registration.addEventListener('updatefound', coming);
  return registration;
}

/** Takes the new version: what is being written is left, and saved by that; what is being sent arrives first. Then the page begins anew. */
export async function takeUpdate(): Promise<void> {
  const { waiting, taken } = useUpdate.getState();
  if (!waiting && !taken) return;
  if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
  await new Promise((resolve) => setTimeout(resolve, 50));
  await sentAll();
  if (taken || !waiting) return location.reload();
  const { serviceWorker: workers } = navigator;
  const over = new Promise<true>((resolve) =>
    workers.addEventListener('controllerchange', () => resolve(true), { once: true }),
  );
  waiting.postMessage('take over');
  const late = new Promise<false>((resolve) => setTimeout(resolve, GIVES_WAY, false));
  if (!(await Promise.race([over, late]))) await dismiss();
  location.reload();
}

/**
 * Ends the worker that is there. A browser has a newer one wait, for minutes, as long as pages keep the old one busy; the page that
 * comes next is brought by the server and brings its own worker, so it is dismissed only while the server can be reached.
 */
async function dismiss(): Promise<void> {
  const reached = await fetch('/healthz', { cache: 'no-store' }).catch(() => null);
  if (!reached?.ok) throw new Told(null, 0);
  await (await navigator.serviceWorker.getRegistration())?.unregister();
}

/** Has the worker forget whose pictures were seen here, what is on its way among them. */
export async function forgetSeen(): Promise<void> {
  const worker = has() ? navigator.serviceWorker.controller : null;
  if (!worker) return;
  const { port1, port2 } = new MessageChannel();
  await Promise.race([
    new Promise((resolve) => {
      port1.onmessage = resolve;
      worker.postMessage('forget', [port2]);
    }),
    new Promise((resolve) => setTimeout(resolve, 2000)),
  ]);
}
