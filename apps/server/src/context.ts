import type { Topic } from '@gemmel/contract';
import path from 'node:path';
import { Piscina } from 'piscina';
import { Once } from './apart/once';
import { Apart } from './apart/pool';
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
  /** Processes that unpack pictures and look for faces. */
  pool: Apart;
  /** A thread of this process for what takes it no time and somebody may wait for: names and zones of places. */
  lookups: Piscina;
  /** The one process that compares faces: it holds what describes them. */
  recogniser: Apart;
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
  const making = { worker, most: config.threads, idle: 120_000 };
  const seen = process.env.GEMMEL_SEEN;
  return {
    config,
    db,
    database,
    pool: seen ? new Once(making, seen) : new Apart(making),
    lookups: new Piscina({ filename: worker, minThreads: 0, maxThreads: 1, idleTimeout: 3_600_000 }),
    recogniser: new Apart({ worker, most: 1, idle: 600_000 }),
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
 * Says what is still to be said, and ends threads and processes; the thread of this one once it has started: ended while it loads, it
 * would take the process with it.
 */
export async function endApp(app: App): Promise<void> {
  await app.feed.end();
  const { lookups } = app;
  if (lookups.threads.length) await lookups.run(null, { name: 'ready' }).catch(() => undefined);
  await Promise.all([app.pool.destroy(), app.recogniser.destroy(), lookups.destroy()]);
}

/** Where a file's derived sizes lie, without `-small.webp` or `-large.jpg`. */
export const derivedBase = (app: App, sha: string): string => path.join(app.paths.derived, sha.slice(0, 2), sha);

export { chunks } from './lists';
