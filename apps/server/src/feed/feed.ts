import { MOST_IDS, type News, type Topic } from '@gemmel/contract';
import { wholly } from '../db/turn';
import type { Db } from '../db/open';

/** A piece of news with its place in the feed. */
export interface Row extends News {
  id: number;
  library: number;
}

/** What changed, by its kind; null for too many to name. */
export type Changed = ReadonlyMap<Topic, readonly number[] | null>;

/** How often the feed is looked at while somebody listens, and how long what this process says is gathered, in ms. */
const LOOK = 300;
const GATHER = 40;
/**
 * A transaction may end after another that began later: rows are read again for so long, in seconds, so that none is missed.
 */
export const LATE = 15;
/** How long news is kept for browsers that come back, and how often what is older is removed, in minutes. */
const KEPT = 60;
const TIDY = 10 * 60_000;
/** Most news that a browser coming back is told one by one. */
const MOST_BACK = 2000;

/**
 * Writes into the feed that things of a library changed; to be called in the transaction that changes them. `work` is what goes on by
 * itself, such as pictures coming in, and not what somebody did.
 */
export async function tell(db: Db, library: number, changed: Changed, work = false): Promise<void> {
  const rows = [...changed].map(([topic, ids]) => ({
    library_id: library,
    topic,
    ids: ids && ids.length <= MOST_IDS ? ids.join(',') : null,
    work,
  }));
  if (rows.length) await db('changes').insert(rows);
}

const toNews = (row: { id: number; library_id: number; topic: Topic; ids: string | null }): Row => ({
  id: Number(row.id),
  library: row.library_id,
  topic: row.topic,
  ids: row.ids === null ? null : row.ids === '' ? [] : row.ids.split(',').map(Number),
});

/** Puts pieces of news of one kind together. */
export function together(news: readonly News[]): News[] {
  const by = new Map<Topic, Set<number> | null>();
  for (const { topic, ids } of news) {
    const there = by.get(topic);
    if (there === null) continue;
    if (ids === null) by.set(topic, null);
    else {
      const all = there ?? new Set<number>();
      ids.forEach((id) => all.add(id));
      by.set(topic, all.size > MOST_IDS ? null : all);
    }
  }
  return [...by].map(([topic, ids]) => ({ topic, ids: ids && [...ids] }));
}

/** News of a library that is about to be written: of what somebody did, and of work. */
class Waiting {
  readonly done = new Map<Topic, Set<number> | null>();
  readonly work = new Map<Topic, Set<number> | null>();
}

type Listener = (news: readonly Row[]) => void;

/**
 * What changed, heard by every process that shares the database: news is a row of a table, written in the transaction that
 * makes it true or a moment later, and each process reads the rows of all.
 */
export class Feed {
  private readonly listeners = new Map<Listener, number>();
  private waiting = new Map<number, Waiting>();
  private gathering: ReturnType<typeof setTimeout> | undefined;
  private looking: ReturnType<typeof setTimeout> | undefined;
  private turn: Promise<void> = Promise.resolve();
  /** News that was passed on, and when; what is older than `floor` is not read again. */
  private readonly passed = new Map<number, number>();
  private floor: number | null = null;
  private tidied = Date.now();
  private ended = false;

  constructor(private readonly db: Db) {}

  /** Says that something changed, outside a transaction; what is said in quick succession is written as one. `work` as in {@link tell}. */
  say(library: number, topic: Topic, ids: readonly number[] | null = null, work = false): void {
    if (this.ended) return;
    const waiting = this.waiting.get(library) ?? new Waiting();
    this.waiting.set(library, waiting);
    const topics = work ? waiting.work : waiting.done;
    if (ids === null) topics.set(topic, null);
    else if (topics.get(topic) !== null) {
      const there = topics.get(topic) ?? new Set<number>();
      ids.forEach((id) => there.add(id));
      topics.set(topic, there);
    }
    this.gathering ??= setTimeout(() => void this.write(), GATHER);
  }

  /** What news of a library is about to be written: of what somebody did, or of work alone. */
  speaks(library: number): 'done' | 'work' | null {
    const waiting = this.waiting.get(library);
    return waiting ? (waiting.done.size ? 'done' : 'work') : null;
  }

  /** Hears of all news of a library from now on, until what it answers is called. */
  async listen(library: number, listener: Listener): Promise<() => void> {
    if (this.listeners.size === 0) {
      this.floor = null;
      this.passed.clear();
    }
    this.listeners.set(listener, library);
    await (this.turn = this.turn.then(() => this.look()));
    return () => {
      this.listeners.delete(listener);
    };
  }

  /** Looks for news now. */
  nudge(): void {
    if (this.listeners.size) this.later(0);
  }

  /** Where the feed stands now. */
  async last(): Promise<number> {
    const [{ id }] = (await this.db('changes').max('id as id')) as [{ id: number | null }];
    return Number(id ?? 0);
  }

  /** News of a library since a piece that was heard; null when that is too long ago to tell. */
  async since(library: number, id: number): Promise<Row[] | null> {
    const known = await this.db('changes').where('id', id).first('at');
    if (!known) return null;
    const rows = (await this.db('changes')
      .where('library_id', library)
      .where((q) => q.where('id', '>', id).orWhere('at', '>', this.db.raw('? - INTERVAL ? SECOND', [known.at, LATE])))
      .whereNot('id', id)
      .orderBy('id')
      .limit(MOST_BACK + 1)) as Parameters<typeof toNews>[0][];
    return rows.length > MOST_BACK ? null : rows.map(toNews);
  }

  /** News of a library of the last so many ms; null when it is too much to tell. */
  async over(library: number, ms: number): Promise<Row[] | null> {
    if (ms === 0) return [];
    const rows = (await this.db('changes')
      .where('library_id', library)
      .where('at', '>', this.db.raw('UTC_TIMESTAMP(3) - INTERVAL ? SECOND', [ms / 1000]))
      .orderBy('id')
      .limit(MOST_BACK + 1)) as Parameters<typeof toNews>[0][];
    return rows.length > MOST_BACK ? null : rows.map(toNews);
  }

  /** Writes what waits, and is silent from now on. */
  async end(): Promise<void> {
    clearTimeout(this.looking);
    await this.write();
    this.ended = true;
    this.listeners.clear();
    clearTimeout(this.looking);
    await this.turn;
  }

  private async write(): Promise<void> {
    clearTimeout(this.gathering);
    this.gathering = undefined;
    const waiting = this.waiting;
    this.waiting = new Map();
    try {
      for (const [library, { done, work }] of waiting)
        await wholly(this.db, async (trx) => {
          for (const topics of [done, work])
            await tell(
              trx,
              library,
              new Map([...topics].map(([topic, ids]) => [topic, ids && [...ids]])),
              topics === work,
            );
        });
      if (Date.now() - this.tidied > TIDY) {
        this.tidied = Date.now();
        await this.db('changes')
          .where('at', '<', this.db.raw('UTC_TIMESTAMP(3) - INTERVAL ? MINUTE', [KEPT]))
          .limit(10_000)
          .delete();
      }
    } catch {
      // The database is away: browsers ask for everything again when it is back.
    }
    this.nudge();
  }

  private later(ms: number): void {
    if (this.ended) return;
    clearTimeout(this.looking);
    this.looking = setTimeout(() => {
      this.turn = this.turn.then(() => this.look());
    }, ms);
  }

  private async look(): Promise<void> {
    try {
      if (this.floor === null) this.floor = await this.last();
      else {
        const rows = (
          (await this.db('changes').where('id', '>', this.floor).orderBy('id').limit(5000)) as Parameters<
            typeof toNews
          >[0][]
        ).map(toNews);
        const now = Date.now();
        const fresh = rows.filter((row) => !this.passed.has(row.id));
        for (const row of fresh) this.passed.set(row.id, now);
        for (const [id, at] of this.passed)
          if (now - at > LATE * 1000) {
            this.floor = Math.max(this.floor, id);
            this.passed.delete(id);
          }
        for (const [listener, library] of this.listeners) {
          const mine = fresh.filter((row) => row.library === library);
          if (mine.length) listener(mine);
        }
      }
    } catch {
      // The database is away; it is looked at again in a moment.
    }
    if (this.listeners.size) this.later(LOOK);
  }
}
