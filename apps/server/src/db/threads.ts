import type { DbAddress } from './mariadb';
import { openDb, type Db } from './open';

const connections = new Map<string, Db>();

/** A thread's own way to the database, opened when it is first asked for something and ended with the thread. */
export function connectionTo(address: DbAddress): Db {
  const key = JSON.stringify(address);
  const there = connections.get(key);
  if (there) return there;
  const db = openDb(address, 2);
  connections.set(key, db);
  return db;
}
