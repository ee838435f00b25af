import type { Topic } from '@gemmel/contract';
import path from 'node:path';
import { Piscina } from 'piscina';
import type { Config } from './config';
import { Gate } from './db/gate';
import type { Db } from './db/open';
import { Feed } from './feed/feed';

/** What every service is handed: the database, the threads, the places on disk, and a way to say that something changed. */
export interface App {
  config: Config;
  db: Db;
  /** Whether the database is there; it is started again when it goes away. */
  database: Gate;
  pool: Piscina;
  /** A thread for what somebody waits for at the keyboard: names of places. Pictures that come in do not stand in its way. */
  lookups: Piscina;
  /** The one thread that looks at faces: it holds what describes them. */
  recogniser: Piscina;
  /** What changed, for every process and browser that watches a library. */
  feed: Feed;
  /** Says that something changed, to whoever watches this library. */
  changed(library: number, ...topics: Topic[]): void;
  /** The same for work that goes on by itself: lists may be told a moment older meanwhile (`http/remembered`). */
  worked(library: number, ...topics: Topic[]): void;
  /** Libraries whose work waits for room on the disk. */
  full: Set<number>;
  /** The whole of it, where this is only what somebody sees. */
  whole?: App;
  paths: { vault: string; derived: string; incoming: string; aside: string; uploads: string };
}

/** Puts an {@link App} together. `worker` is the bundled file of the worker threads. */
export function makeApp(config: Config, db: Db, worker: string, database = new Gate()): App {
  const feed = new Feed(db);
  return {
    config,
    db,
    database,
    pool: new Piscina({
      filename: worker,
      minThreads: 0,
      maxThreads: config.threads,
      idleTimeout: 120_000,
      concurrentTasksPerWorker: 1,
    }),
    lookups: new Piscina({ filename: worker, minThreads: 0, maxThreads: 1, idleTimeout: 3_600_000 }),
    recogniser: new Piscina({
      filename: worker,
      minThreads: 0,
      maxThreads: 1,
      idleTimeout: 600_000,
      concurrentTasksPerWorker: 1,
    }),
    feed,
    changed: (library, ...topics) => topics.forEach((topic) => feed.say(library, topic)),
    worked: (library, ...topics) => topics.forEach((topic) => feed.say(library, topic, null, true)),
    full: new Set(),
    paths: {
      vault: path.join(config.data, 'vault'),
      derived: path.join(config.data, 'derived'),
      incoming: path.join(config.data, 'incoming'),
      aside: path.join(config.data, 'aside'),
      uploads: path.join(config.data, 'uploads'),
    },
  };
}

/**
 * Says what is still to be said, and ends the threads, once one that is just starting has started: ended while it loads, it
 * would take the process with it.
 */
export async function endApp(app: App): Promise<void> {
  await app.feed.end();
  for (const pool of [app.pool, app.lookups, app.recogniser]) {
    if (pool.threads.length)
      await Promise.all(pool.threads.map(() => pool.run(null, { name: 'ready' }))).catch(() => undefined);
    await pool.destroy();
  }
}

/** Where a file's derived sizes lie, without `-small.webp` or `-large.jpg`. */
export const derivedBase = (app: App, sha: string): string => path.join(app.paths.derived, sha.slice(0, 2), sha);

export { chunks } from './lists';
