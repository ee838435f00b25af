import { del, entries, set } from 'idb-keyval';
import { store } from './stores';

/** Files that came to this device and have not been announced to the library yet. */
export interface Given {
  at: number;
  files: File[];
  /** The folder they were in, where it is known. */
  name?: string | null;
  paths?: string[];
  /** The batch they became, from the moment it was opened. */
  batch?: number;
}

/** Everything that was given, the first first. */
export async function givenFiles(): Promise<[id: string, given: Given][]> {
  const on = store('given');
  if (!on) return [];
  return (await entries<string, Given>(on).catch(() => [])).sort(([, a], [, b]) => a.at - b.at);
}

/** Keeps files on this device until they can be announced. False where the browser can't keep them. */
export async function keepGiven(given: Given, id: string = crypto.randomUUID()): Promise<boolean> {
  const on = store('given');
  if (!on) return false;
  return set(id, given, on).then(
    () => true,
    () => false,
  );
}

/** Lets go of files that are on their way. */
export async function letGoGiven(id: string): Promise<void> {
  const on = store('given');
  if (on) await del(id, on).catch(() => undefined);
}
