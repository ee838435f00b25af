import type { Tile } from '@gemmel/contract';
import { broughtAs } from './brought';
import { fetchSoon } from './inTurn';
import { lookAt } from './sight';
import { useTileStore, want, wantNow } from './tiles';

const mockCall = jest.fn();
jest.mock('@/api/client', () => ({
  call: (...said: unknown[]) => mockCall(...said) as unknown,
  smallOf: (sha: string) => `/small/${sha}`,
}));
jest.mock('@/device/answers', () => ({ rememberTiles: jest.fn() }));
jest.mock('./inTurn', () => ({ fetchSoon: jest.fn() }));

const sha = (id: number) => `sha ${id}`;
const tile = (id: number) => ({ id, sha: sha(id) }) as Tile;
const window = (from: number, n = 20) => Array.from({ length: n }, (_, i) => from + i);
type Said = [name: string, input: { body: { ids: number[] } }, signal?: AbortSignal];
const said = () => mockCall.mock.calls as Said[];

/** A server that answers after so long, in ms; it has no small file of picture 3. */
function serverThatTakes(ms: number): void {
  mockCall.mockImplementation(async (...[name, { body }, signal]: Said) => {
    await new Promise((resolve, reject) => {
      setTimeout(resolve, ms);
      signal?.addEventListener('abort', () => reject(new DOMException('off', 'AbortError')));
    });
    const tiles = body.ids.map(tile);
    return name === 'tiles' ? { tiles } : { tiles, smalls: body.ids.map((id) => (id === 3 ? null : btoa(sha(id)))) };
  });
}

describe('tiles of a window that is leapt to', () => {
  let first = -1000;
  let later = 0;
  const leap = async (ids = window((first += 1000))) => {
    lookAt(0, 100, ids);
    wantNow(ids);
    await jest.advanceTimersByTimeAsync(2000);
    return said().at(-1)!;
  };
  beforeEach(() => {
    jest.useFakeTimers();
    // No line was slow before.
    jest.advanceTimersByTime((later += 300_000));
    mockCall.mockReset();
    jest.mocked(fetchSoon).mockReset();
    serverThatTakes(20);
  });
  afterEach(() => jest.useRealTimers());

  test('bring their pictures along; one whose file is not there is asked for by itself', async () => {
    const [name, { body }] = await leap();
    expect([name, body.ids]).toEqual(['tilesAtOnce', window(0)]);
    expect(broughtAs(sha(4))).toBe(`data:image/webp;base64,${btoa(sha(4))}`);
    expect(broughtAs(sha(3))).toBeUndefined();
    expect(jest.mocked(fetchSoon).mock.calls).toEqual([[`/small/${sha(3)}`]]);
    expect(useTileStore.getState().tiles.get(4)).toEqual(tile(4));
  });

  test('those that only scroll near are asked about without their pictures', async () => {
    want(window(500_000));
    await jest.advanceTimersByTimeAsync(100);
    expect(said().map(([name]) => name)).toEqual(['tiles']);
  });

  test('a leap that follows calls the one before off, and asks again for what both show', async () => {
    wantNow(window(600_000));
    const [, , signal] = said()[0]!;
    wantNow(window(600_010));
    expect(signal!.aborted).toBe(true);
    expect(said()[1]![1].body.ids).toEqual(window(600_010));
    await jest.advanceTimersByTimeAsync(100);
    expect(useTileStore.getState().tiles.has(600_009)).toBe(false);
    expect(useTileStore.getState().tiles.has(600_015)).toBe(true);
  });

  test('what the next leap asks for again is not asked for a third time', async () => {
    wantNow(window(700_000));
    wantNow(window(700_010));
    await jest.advanceTimersByTimeAsync(5);
    want(window(700_010));
    await jest.advanceTimersByTimeAsync(100);
    expect(said()).toHaveLength(2);
  });

  test('over a slow line pictures come one by one, until it may have become quicker', async () => {
    serverThatTakes(900);
    expect((await leap())[0]).toBe('tilesAtOnce');
    expect((await leap())[0]).toBe('tiles');
    expect(jest.mocked(fetchSoon)).toHaveBeenCalledTimes(20);
    await jest.advanceTimersByTimeAsync(60_000);
    expect((await leap())[0]).toBe('tilesAtOnce');
  });

  test('what was brought long ago makes room', async () => {
    for (let i = 0; i < 20; i++) await leap();
    expect(broughtAs(sha(first))).toBeDefined();
    expect(broughtAs(sha(first - 19_000))).toBeUndefined();
  });
});
