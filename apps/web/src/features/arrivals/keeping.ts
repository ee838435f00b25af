import { createStore, delMany, entries, get, set, setMany, type UseStore } from 'idb-keyval';

/** A file that waits to be sent, kept over a reload. */
export interface Kept {
  batch: number;
  item: number;
  path: string;
  file: File;
}

/** At most so much is copied into the browser's own store, and at most this share of what it allows. */
const MOST = 1_500_000_000;
const SHARE = 0.3;

let files: UseStore | null | undefined;
let folders: UseStore | null = null;

function open(): UseStore | null {
  if (files !== undefined) return files;
  if (typeof indexedDB === 'undefined') return (files = null);
  files = createStore('gemmel-sending', 'files');
  folders = createStore('gemmel-folders', 'folders');
  return files;
}

const keyOf = (batch: number, item: number) => `${batch}/${item}`;

/**
 * Keeps files that are still to be sent where the browser finds them after a reload. Too much for that is not kept: then
 * the folder has to be chosen again. Never throws.
 */
export async function keep(some: readonly Kept[]): Promise<boolean> {
  const store = open();
  if (!store) return false;
  try {
    const room = (await navigator.storage?.estimate?.())?.quota ?? MOST;
    const bytes = some.reduce((sum, one) => sum + one.file.size, 0);
    if (bytes > Math.min(MOST, room * SHARE)) return false;
    for (let i = 0; i < some.length; i += 40)
      await setMany(
        some.slice(i, i + 40).map((one) => [keyOf(one.batch, one.item), one]),
        store,
      );
    return true;
  } catch {
    return false;
  }
}

/** Lets go of files that were sent. */
export async function release(batch: number, items: readonly number[]): Promise<void> {
  const store = open();
  if (!store || items.length === 0) return;
  await delMany(
    items.map((item) => keyOf(batch, item)),
    store,
  ).catch(() => undefined);
}

/** What is kept, by batch. */
export async function kept(): Promise<Map<number, Kept[]>> {
  const found = new Map<number, Kept[]>();
  const store = open();
  if (!store) return found;
  const all = (await entries<string, Kept>(store).catch(() => [])).map(([, one]) => one);
  for (const one of all) found.set(one.batch, [...(found.get(one.batch) ?? []), one]);
  return found;
}

/** Keeps the door to a dropped folder, where browsers allow it, so that going on needs one touch and no copy. */
export async function keepFolder(batch: number, folder: FileSystemDirectoryHandle): Promise<void> {
  open();
  if (folders) await set(String(batch), folder, folders).catch(() => undefined);
}

/** The door to the folder of a batch. */
export async function keptFolder(batch: number): Promise<FileSystemDirectoryHandle | null> {
  open();
  return folders ? ((await get<FileSystemDirectoryHandle>(String(batch), folders).catch(() => null)) ?? null) : null;
}

export async function releaseFolder(batch: number): Promise<void> {
  open();
  if (folders) await delMany([String(batch)], folders).catch(() => undefined);
}
