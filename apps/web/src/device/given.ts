import { plural } from '@lingui/core/macro';
import { del, entries, set } from 'idb-keyval';
import { say } from '@/state/toast';
import { newId } from './newId';
import { store } from './stores';

/** Files that came to this device and have not been announced to the library yet. */
export interface Given {
  at: number;
  files: File[];
  /** The folder they were in, where it is known. */
  name?: string | null;
  paths?: string[];
  /** The batch they became, from the moment it was opened; and what each of them is there, where only that lets them go on. */
  batch?: number;
  items?: readonly number[];
}

/** Everything that was given, the first first. */
export async function givenFiles(): Promise<[id: string, given: Given][]> {
  const on = store('given');
  if (!on) return [];
  return (await entries<string, Given>(on).catch(() => [])).sort(([, a], [, b]) => a.at - b.at);
}

/** Keeps files on this device until they can be announced. False where the browser can't keep them. */
export async function keepGiven(given: Given, id: string = newId()): Promise<boolean> {
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

/** Files with the paths they are announced by. Two that another application calls the same are two. */
export function namedApart({ files, paths }: Pick<Given, 'files' | 'paths'>): { path: string; file: File }[] {
  const used = new Map<string, number>();
  return files.map((file, i) => {
    const name = paths?.[i] ?? file.name;
    const n = (used.get(name) ?? 0) + 1;
    used.set(name, n);
    return { path: n === 1 ? name : name.replace(/(\.[^.]*)?$/, ` (${n})$1`), file };
  });
}

/** Has everything that was given sent, the first first, and lets go of it; `send` says no when that has to wait. One page of this browser does it. */
export async function sendGiven(send: (given: Given, id: string) => Promise<boolean>): Promise<void> {
  const act = async () => {
    for (const [id, given] of await givenFiles()) {
      if (!(await send(given, id))) return;
      await letGoGiven(id);
    }
  };
  if (!navigator.locks) return act();
  await navigator.locks.request('gemmel-given', { ifAvailable: true }, async (lock) => {
    if (lock) await act();
  });
}

/** Says that files are sent later. */
export const sayGivenWaits = (files: number): void =>
  say(
    plural(files, {
      one: 'It waits on this device and is sent as soon as there is a connection.',
      other: 'All # wait on this device and are sent as soon as there is a connection.',
    }),
  );
