import type { Answer, Api, CallInput, Me, Tile } from '@gemmel/contract';
import { create } from 'zustand';
import { type Early, setEarly } from '@/api/early';
import { inLibrary } from '@/api/library';
import { queries } from '@/api/query';
import { fetchFirst } from '@/opening/first';
import { useTileStore } from '@/state/tiles';
import { openedWith, rememberTiles } from './answers';
import { useLine, watchLine, whenBack } from './line';
import { isLeaving } from './leaving';
import { believe, settle, whose } from './whose';
import { goWithout } from './without';

/** How long what this device keeps is waited for before anything is drawn, in ms. */
const PATIENCE = 250;

interface Ahead {
  me: Promise<Me | null>;
  opening: Promise<Answer<Api['opening']> | null> | null;
  oldestFirst: boolean;
}

function showTiles(tiles: readonly Tile[]): void {
  const { tiles: map, version } = useTileStore.getState();
  for (const tile of tiles) if (!map.has(tile.id)) map.set(tile.id, tile);
  useTileStore.setState({ version: version + 1 });
}

/** Hands on what was asked for while the scripts were still coming. */
function handOn({ me, opening, oldestFirst }: Ahead): void {
  const early: Early[] = [{ name: 'me', input: {}, answer: me }];
  if (opening) {
    const skeleton = opening.then((one) => one?.skeleton ?? null);
    early.push({ name: 'skeleton', input: { body: { question: { all: [] }, oldestFirst } }, answer: skeleton });
    void opening.then((one) => one && showTiles(one.tiles));
    void Promise.all([me, opening]).then(async ([who, one]) => {
      if (!who || !one) return;
      await settle(who);
      rememberTiles(one.tiles);
    });
  }
  setEarly(early);
}

/** Puts what this page showed last onto the screen at once; the library is asked all the same. */
async function showLast(): Promise<void> {
  const { answers, tiles } = await openedWith();
  if (whose() === null) return;
  fetchFirst(tiles, inLibrary('').slice(1));
  showTiles(tiles);
  for (const [name, input, answer] of answers)
    if (queries.getQueryData([name, input]) === undefined)
      queries.setQueryData([name, input as CallInput<Api[typeof name]>], answer, { updatedAt: 1 });
}

/** Whether the first page can be drawn. */
export const useBegun = create<{ begun: boolean }>()(() => ({ begun: false }));

/** Begins: whose device it is, what was seen last, and the line. Never throws. */
export async function beginHere(): Promise<void> {
  goWithout();
  try {
    watchLine();
    // Whoever signed out without a line is signed out first.
    if (isLeaving()) return;
    const { gemmelAhead: ahead } = globalThis as { gemmelAhead?: Ahead };
    if (ahead) handOn(ahead);
    believe();
    whenBack(async () => {
      await (await import('./replay')).replay();
      await queries.invalidateQueries();
      await (await import('./kept')).freshenKept();
    });
    await Promise.race([showLast(), new Promise((resolve) => setTimeout(resolve, PATIENCE))]);
  } catch {
    // A browser that keeps nothing shows what the server answers.
  } finally {
    useBegun.setState({ begun: true });
  }
}

/** Once the first page stands: what waits is read and sent, what is kept is brought up to date. */
export async function goOnHere(): Promise<void> {
  const { readOutbox, useOutbox } = await import('./outbox');
  await readOutbox();
  if (useLine.getState().away) return;
  if (useOutbox.getState().acts.some((act) => !act.stuck)) await (await import('./replay')).replay();
  await (await import('./kept')).freshenKept();
}
