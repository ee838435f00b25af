import { LRUCache } from 'lru-cache';
import type { App } from '../context';
import type { Sql } from '../question/toSql';
import type { GuestPictureRow } from './guestView';
import type { GuestRow, ShareRow } from './row';

/**
 * What thumbnails of shares are looked up by, for a moment: a family that opens one link at once asks for the same pictures thousands of
 * times. Nothing is older than so many ms, and what is changed about a share in this process is known at once.
 */
const FRESH = 1000;

interface Lately {
  shares: LRUCache<string, { share: ShareRow; guest: GuestRow | null }>;
  reach: LRUCache<string, Sql>;
  pictures: LRUCache<string, { row: GuestPictureRow | null }>;
}

const known = new WeakMap<App, Lately>();

/** What was looked up lately by this application. */
export function lately(app: App): Lately {
  const own = app.whole ?? app;
  const there = known.get(own) ?? {
    shares: new LRUCache<string, { share: ShareRow; guest: GuestRow | null }>({ max: 500, ttl: FRESH }),
    reach: new LRUCache<string, Sql>({ max: 500, ttl: FRESH }),
    pictures: new LRUCache<string, { row: GuestPictureRow | null }>({ max: 20_000, ttl: FRESH }),
  };
  known.set(own, there);
  return there;
}

/** Forgets all of it: something about a share, or about who may see what, has changed. */
export function forgetLately(app: App): void {
  const { shares, reach, pictures } = lately(app);
  shares.clear();
  reach.clear();
  pictures.clear();
}
