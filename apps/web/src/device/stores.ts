import { clear, createStore, type UseStore } from 'idb-keyval';

/** What a device keeps, each in a store of its own: none of it outlives whoever is signed in. */
const NAMES = ['answers', 'tiles', 'acts', 'kept', 'pictures', 'given'] as const;
type StoreName = (typeof NAMES)[number];

/** Caches of picture files, which the service worker fills and answers from: seen lately, and chosen to be kept. */
export const CACHES = { seen: 'gemmel-seen', kept: 'gemmel-kept' } as const;

const open = new Map<StoreName, UseStore>();

/** A store of this device; null where the browser has none. */
export function store(name: StoreName): UseStore | null {
  if (typeof indexedDB === 'undefined') return null;
  if (!open.has(name)) open.set(name, createStore(`gemmel-device-${name}`, name));
  return open.get(name)!;
}

const forgetting: (() => void)[] = [];
/** Has something forgotten that a page still holds, and has not written yet. */
export const whenForgotten = (then: () => void): void => void forgetting.push(then);

/** Removes everything this device keeps of whoever was signed in. Never throws. */
export async function forgetDevice(): Promise<void> {
  for (const then of forgetting) then();
  const sending = typeof indexedDB === 'undefined' ? [] : [createStore('gemmel-sending', 'files')];
  const all = [...NAMES.map(store).filter((one) => one !== null), ...sending];
  await Promise.allSettled([
    ...all.map((one) => clear(one)),
    ...(typeof caches === 'undefined' ? [] : Object.values(CACHES).map((name) => caches.delete(name))),
  ]);
}
