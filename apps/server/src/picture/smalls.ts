import type { Tile } from '@gemmel/contract';
import { readFile } from 'node:fs/promises';
import { derivedBase, type App } from '../context';

/** The small files of some tiles as base64, in their order; null for one that is not there, which is made when it is asked for by itself. */
export const smallsOf = (app: App, tiles: readonly Tile[]): Promise<(string | null)[]> =>
  Promise.all(tiles.map(({ sha }) => readFile(`${derivedBase(app, sha)}-small.webp`, 'base64').catch(() => null)));
