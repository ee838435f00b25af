import { TILES_AT_ONCE, type Tile } from '@gemmel/contract';
import { useEffect } from 'react';
import { create } from 'zustand';
import { call, smallOf } from '@/api/client';
import { rememberTiles } from '@/device/answers';
import { whenForgotten } from '@/device/stores';
import { bring, broughtAs } from './brought';
import { fetchSoon } from './inTurn';
import { useRush } from './rush';
import { isShown } from './sight';

interface Tiles {
  tiles: Map<number, Tile>;
  /** Grows with every change, since the map itself stays the same. */
  version: number;
}

export const useTileStore = create<Tiles>()(() => ({ tiles: new Map(), version: 0 }));

const MOST = 500;
let wanted = new Set<number>();
/** What is asked for, and by which request: one that was called off leaves alone what the next has asked for again. */
const asked = new Map<number, readonly number[]>();
let stale = new Set<number>();
const gone = new Set<number>();
let timer: ReturnType<typeof setTimeout> | undefined;

/** How long what is wanted is gathered, in ms: not at all when nothing was asked for lately, and longer while the page rushes by. */
const GATHER = { rest: 0, busy: 24, rushing: 150 };
const LATELY = 150;
let lately = 0;

/** A line over which what a window shows comes within this, in ms, brings its pictures along; over others each shows as soon as it is there. */
const QUICK = 300;
/** For how long nothing is brought along once that took longer, in ms. */
const SLOW = 60_000;
let slowUntil = 0;
/** What the last leap asked for, and what calls it off. */
let leaping: { ids: readonly number[]; off: AbortController } | undefined;

/** Asks for tiles; in a leap their pictures come along. */
async function ask(ids: number[], leap: boolean): Promise<readonly Tile[]> {
  const began = performance.now();
  if (!leap || began < slowUntil || ids.length > TILES_AT_ONCE) return (await call('tiles', { body: { ids } })).tiles;
  const off = new AbortController();
  leaping = { ids, off };
  const { tiles, smalls } = await call('tilesAtOnce', { body: { ids } }, off.signal);
  const now = performance.now();
  if (now - began > QUICK) slowUntil = now + SLOW;
  tiles.forEach(({ sha }, i) => smalls[i] && bring(sha, smalls[i]));
  return tiles;
}

async function fetchWanted(leap = false): Promise<void> {
  const ids = new Set([...wanted].slice(-MOST));
  wanted = new Set();
  if (ids.size === 0) return;
  const all = [...ids];
  lately = performance.now();
  ids.forEach((id) => asked.set(id, all));
  try {
    const tiles = await ask(all, leap);
    // Their files are asked for before anything is drawn.
    if (!useRush.getState().rushing)
      for (const { id, sha } of tiles) if (isShown(id) && !broughtAs(sha)) fetchSoon(smallOf(sha));
    rememberTiles(tiles);
    const { tiles: map, version } = useTileStore.getState();
    for (const tile of tiles) {
      map.set(tile.id, tile);
      stale.delete(tile.id);
      ids.delete(tile.id);
    }
    ids.forEach((id) => gone.add(id));
    useTileStore.setState({ version: version + 1 });
  } catch {
    // What is still in view is asked for again with the next movement.
  } finally {
    all.forEach((id) => asked.get(id) === all && asked.delete(id));
  }
}

whenForgotten(() => {
  gone.clear();
  stale = new Set();
  useTileStore.setState(({ version }) => ({ tiles: new Map(), version: version + 1 }));
});

/** Asks for tiles that are not here yet; the last asked for come first. */
export function want(ids: Iterable<number>): void {
  const { tiles } = useTileStore.getState();
  for (const id of ids)
    if ((!tiles.has(id) || stale.has(id)) && !asked.has(id) && !gone.has(id)) {
      wanted.delete(id);
      wanted.add(id);
    }
  if (wanted.size && timer === undefined)
    timer = setTimeout(
      () => {
        timer = undefined;
        void fetchWanted();
      },
      useRush.getState().rushing ? GATHER.rushing : performance.now() - lately < LATELY ? GATHER.busy : GATHER.rest,
    );
}

/** Asks for tiles at once, and for nothing else that was wanted: whoever leaps on has left that behind. */
export function wantNow(ids: Iterable<number>): void {
  clearTimeout(timer);
  timer = undefined;
  wanted = new Set();
  leaping?.off.abort();
  // What both windows show is asked for again.
  leaping?.ids.forEach((id) => asked.get(id) === leaping?.ids && asked.delete(id));
  leaping = undefined;
  want(ids);
  clearTimeout(timer);
  timer = undefined;
  void fetchWanted(true);
}

/** Some pictures, or all, may have changed: shown as they are, asked for again when in view. */
export function staleTiles(ids?: readonly number[] | null): void {
  const { tiles } = useTileStore.getState();
  if (ids) {
    const known = ids.filter((id) => tiles.has(id));
    if (known.length === 0) return;
    stale = new Set([...stale, ...known]);
  } else stale = new Set(tiles.keys());
  useTileStore.setState((state) => ({ version: state.version + 1 }));
}

/** The tiles of some pictures as far as they have come in. */
export function useTiles(ids: readonly number[]): Map<number, Tile> {
  const { tiles, version } = useTileStore();
  useEffect(() => want(ids), [ids, version]);
  return tiles;
}
