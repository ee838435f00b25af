import { call } from '@/api/client';

const WORKER = '/workers/push.js';

/** Whether this browser can be told anything while the page is closed: browsers allow it over an encrypted way alone. */
export const canPush = (): boolean =>
  typeof window !== 'undefined' && window.isSecureContext && 'serviceWorker' in navigator && 'PushManager' in window;

/** This browser's own subscription; null where it is told nothing. */
export async function pushedHere(): Promise<PushSubscription | null> {
  if (!canPush()) return null;
  const there = await navigator.serviceWorker.getRegistration(WORKER);
  return (await there?.pushManager.getSubscription()) ?? null;
}

/** Has this browser told what is new. @throws when whoever sits there does not allow it, or the browser has no push service. */
export async function pushHere(key: string) {
  const registration = await navigator.serviceWorker.register(WORKER);
  if (registration.installing)
    await new Promise<void>((resolve) => {
      registration.installing!.addEventListener('statechange', () => registration.active && resolve());
    });
  const subscription = await registration.pushManager.subscribe({
    userVisibleOnly: true,
    applicationServerKey: key,
  });
  const { endpoint, keys } = subscription.toJSON();
  try {
    return await call('addPushPlace', {
      body: { endpoint: endpoint!, keys: { p256dh: keys!['p256dh']!, auth: keys!['auth']! } },
    });
  } catch (error) {
    await subscription.unsubscribe();
    throw error;
  }
}

/** Has this browser told nothing more. */
export async function pushNoMore() {
  const subscription = await pushedHere();
  await subscription?.unsubscribe();
  return call('endPushPlace', { body: subscription ? { endpoint: subscription.endpoint } : {} });
}
