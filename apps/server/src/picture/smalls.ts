import type { Tile } from '@gemmel/contract';
import { readFile } from 'node:fs/promises';
import { derivedBase, type App } from '../context';

/** How many small files go along with tiles at most: a large window holds about as many. */
const MOST = 120;

/**
 * The small files of some tiles as base64, in their order. Null for one that is not there, which is made when it is asked for by itself,
 * and for those beyond the first {@link MOST}.
 */
export const smallsOf = (app: App, tiles: readonly Tile[]): Promise<(string | null)[]> =>
  Promise.all(
    tiles.map(({ sha }, i) =>
      i < MOST ? readFile(`${derivedBase(app, sha)}-small.webp`, 'base64').catch(() => null) : null,
    ),
  );
