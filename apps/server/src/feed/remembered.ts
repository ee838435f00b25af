import type { Topic } from '@gemmel/contract';
import { LRUCache } from 'lru-cache';
import type { App } from '../context';

/** Answers that are remembered at most, of all libraries. */
const MOST = 60;

interface Remembered {
  mark: string;
  answer: object;
}

/** Applications that see everything, each with what it remembers. What only some see is worked out each time. */
const whole = new WeakMap<App, LRUCache<string, Remembered>>();

/** Has the answers of an application that sees everything remembered. */
export const rememberAll = (app: App): void => void whole.set(app, new LRUCache({ max: MOST }));

/** Whether answers of an application are remembered. */
export const remembers = (app: App): boolean => whole.has(app);

/**
 * Where the news of some topics stands: it changes with every piece of news, also with one that was begun before another and is told after it,
 * which is why they are counted.
 */
async function markOf({ db }: App, library: number, topics: readonly Topic[]): Promise<string> {
  const [{ n, last }] = (await db('changes')
    .where('library_id', library)
    .whereIn('topic', [...topics])
    .count('* as n')
    .max('id as last')) as unknown as [{ n: number; last: number | null }];
  return `${n} ${last}`;
}

/**
 * Answers as before while no news of these topics has come, from this process or another; else works the answer out anew. It must depend on
 * nothing but the library, and nobody may change it.
 */
export async function remembered<T extends object>(
  app: App,
  library: number,
  name: string,
  topics: readonly Topic[],
  make: () => Promise<T>,
): Promise<T> {
  const known = whole.get(app);
  if (!known || app.feed.speaks(library)) return make();
  // What changes while it is worked out is told after this mark.
  const mark = await markOf(app, library, topics);
  const key = `${library} ${name}`;
  const before = known.get(key);
  if (before?.mark === mark) return before.answer as T;
  const answer = await make();
  known.set(key, { mark, answer });
  return answer;
}
