import type { Topic } from '@gemmel/contract';
import { LRUCache } from 'lru-cache';
import type { App } from '../context';
import { seenBy } from '../sight/through';
import { Pace } from './pace';

/** Answers that are remembered at most, of all libraries. */
const MOST = 60;
/**
 * An answer that took longer than SLOW to work out is told as it was while only work goes on that nobody waits for, at most so OLD; it is
 * worked out anew soon, but never more often than PACE times as long as that takes, and not within LEAST. All such lists together take one
 * part in PACE of the time, apart from STRETCH, which is enough for each of them once when the work was little. All in ms.
 */
const [SLOW, OLD, PACE, LEAST, STRETCH] = [40, 600_000, 6, 3000, 6000] as const;

/** What is told when something has been worked out anew. */
type Anew = Extract<Topic, 'lists' | 'columns' | 'figures'>;

/** Where the news of some topics stands: of what people did, and of work. */
interface Mark {
  done: string;
  work: string;
}

interface Remembered extends Mark {
  answer: object;
  /** When it was begun to be worked out, and how long that took, in ms. */
  at: number;
  took: number;
}

/** What an application remembers, what it is working out now, and what it will soon. */
class Memory {
  readonly known = new LRUCache<string, Remembered>({ max: MOST });
  readonly making = new Map<string, Mark & { answer: Promise<object> }>();
  readonly soon = new Set<string>();
  readonly pace = new Pace(PACE, STRETCH);
}

const memories = new WeakMap<App, Memory>();

/** Has the answers of an application remembered: one for all who see everything, and one for each who does not. */
export const rememberAll = (app: App): void => void memories.set(app, new Memory());

/** Whether answers of an application are remembered. */
export const remembers = (app: App): boolean => memories.has(app);

/**
 * Where the news of some topics stands: it changes with every piece of news, also with one that was begun before another and is told after it,
 * which is why they are counted.
 */
async function markOf({ db, feed }: App, library: number, topics: readonly Topic[]): Promise<Mark> {
  const rows = (await db('changes')
    .where('library_id', library)
    .whereIn('topic', [...topics])
    .groupBy('work')
    .select('work', db.raw("CONCAT(COUNT(*), ' ', MAX(id)) AS stands"))) as unknown as {
    work: number;
    stands: string;
  }[];
  const of = (work: boolean) => rows.find((row) => Boolean(row.work) === work)?.stands ?? '';
  // What is about to be written is news already, and other news each time.
  const speaks = feed.speaks(library);
  return {
    done: `${seenBy(db)} ${speaks === 'done' ? `speaks ${++spoken}` : of(false)}`,
    work: speaks === 'work' ? `speaks ${++spoken}` : of(true),
  };
}
let spoken = 0;

/**
 * Answers as before while no news of these topics has come, from this process or another; else works the answer out anew, once for all who
 * ask meanwhile. It must depend on nothing but the library and what is seen of it, and nobody may change it.
 *
 * While pictures come in or faces are filed, every list would be worked out for every visit, by a machine that is busy as it is. A list that takes
 * long is told as it was then, and worked out anew in a moment; that it was is told as news of `anew`, and whoever looks at it asks again. What
 * somebody did is in the next answer, always.
 */
export async function remembered<T extends object>(
  app: App,
  library: number,
  name: string,
  topics: readonly Topic[],
  make: () => Promise<T>,
  anew: Anew = 'lists',
): Promise<T> {
  const memory = memories.get(app.whole ?? app);
  if (!memory) return make();
  // What changes while it is worked out is told after this mark.
  const mark = await markOf(app, library, topics);
  // Whoever sees a part has one answer of each name: what they see is part of where the news stands.
  const [member = ''] = seenBy(app.db).split(' ');
  const key = `${library} ${member} ${name}`;
  const before = memory.known.get(key);
  if (before && before.done === mark.done) {
    if (before.work === mark.work) return before.answer as T;
    if (before.took > SLOW && performance.now() - before.at < OLD) {
      anewSoon(app, memory, library, key, before, topics, make, anew);
      return before.answer as T;
    }
  }
  return (await workOut(memory, key, mark, make)) as T;
}

/** Works an answer out, with whoever does so already since the same news. */
function workOut(memory: Memory, key: string, mark: Mark, make: () => Promise<object>): Promise<object> {
  const there = memory.making.get(key);
  if (there?.done === mark.done && there.work === mark.work) return there.answer;
  const at = performance.now();
  const one = {
    ...mark,
    answer: make()
      .then((answer) => {
        const newer = memory.known.get(key);
        if (!newer || newer.at < at) memory.known.set(key, { ...mark, answer, at, took: performance.now() - at });
        return answer;
      })
      .finally(() => {
        if (memory.making.get(key) === one) memory.making.delete(key);
      }),
  };
  memory.making.set(key, one);
  return one.answer;
}

/** Works an answer out anew that was told although there had been news, and says so. */
function anewSoon(
  app: App,
  memory: Memory,
  library: number,
  key: string,
  { at, took }: Remembered,
  topics: readonly Topic[],
  make: () => Promise<object>,
  anew: Anew,
): void {
  if (memory.soon.has(key)) return;
  memory.soon.add(key);
  setTimeout(
    () => {
      void memory.pace
        .run(async () => {
          const mark = await markOf(app, library, topics);
          const now = memory.known.get(key);
          // Somebody has done something meanwhile, and had it worked out.
          if (now?.done !== mark.done || now.work !== mark.work) await workOut(memory, key, mark, make);
        })
        .then(() => app.feed.say(library, anew, null, true))
        // The database is away: it is worked out when it is asked for.
        .catch(() => undefined)
        .finally(() => memory.soon.delete(key));
    },
    Math.max(0, at + Math.max(LEAST, PACE * took) - performance.now()),
  ).unref();
}
