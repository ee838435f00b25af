import type { Tile } from '@gemmel/contract';
import { LRUCache } from 'lru-cache';
import type { Db } from '../db/open';
import { seenBy } from '../sight/through';

/**
 * Files of pictures that were lately told to a library, as far as somebody sees it: a grid asks for the small size of each picture it was told
 * of, many at once, and who may see them need not be looked up for every one. Forgotten after a minute.
 */
export class Told {
  private readonly files = new LRUCache<string, true>({ max: 20_000, ttl: 60_000 });

  private key(db: Db, library: number, sha: string): string {
    return `${library} ${seenBy(db)} ${sha}`;
  }
  has(db: Db, library: number, sha: string): boolean {
    return this.files.get(this.key(db, library, sha)) === true;
  }
  add(db: Db, library: number, sha: string): void {
    this.files.set(this.key(db, library, sha), true);
  }
  /** Who may see what has changed. */
  forget(): void {
    this.files.clear();
  }
  /** Notes what tiles show. What was touched up is looked up all the same: its file may have to be made. */
  addTiles(db: Db, library: number, tiles: readonly Tile[]): void {
    for (const { sha, touched } of tiles) if (!touched) this.add(db, library, sha);
  }
}
