import { useAsk, useSequence } from './ask';
import { isDark } from './look';
import { usePile } from './pile';
import { useRush, watchRush } from './rush';
import { staleTiles, useTileStore, want } from './tiles';
import { useToast } from './toast';

interface Sent {
  path: string;
  method: string;
  body: { ids: number[] };
}

describe('what the pages share', () => {
  let sent: Sent[];
  let answer: (sent: Sent) => unknown;

  beforeEach(() => {
    jest.useFakeTimers();
    sent = [];
    answer = () => ({});
    globalThis.fetch = jest.fn(async (path: string, init: RequestInit) => {
      const one = { path, method: init.method!, body: init.body ? JSON.parse(init.body as string) : undefined } as Sent;
      sent.push(one);
      const given = answer(one);
      return { ok: true, json: async () => given } as Response;
    }) as never;
    usePile.setState({ ids: [], has: new Set(), choosing: false });
    useTileStore.setState({ tiles: new Map(), version: 0 });
  });
  afterEach(() => jest.useRealTimers());
  const settle = async (ms: number) => {
    await jest.advanceTimersByTimeAsync(ms);
  };

  describe('the pile', () => {
    test('keeps the order of picking, holds nothing twice, and is kept on the server a moment later', async () => {
      const pile = usePile.getState();
      pile.add([3, 1]);
      pile.add([1, 2]);
      pile.toggle(3);
      expect(usePile.getState().ids).toEqual([1, 2]);
      expect(usePile.getState().has.has(3)).toBe(false);
      expect(sent).toHaveLength(0);
      await settle(300);
      expect(sent).toEqual([
        { path: '/api/pile', method: 'PUT', body: { drop: [3] } },
        { path: '/api/pile', method: 'PUT', body: { put: [1, 2] } },
      ]);
    });

    test('is put down with an undo, and choosing ends with it', async () => {
      usePile.getState().add([5, 6]);
      usePile.getState().setChoosing(true);
      usePile.getState().putDown();
      expect(usePile.getState()).toMatchObject({ ids: [], choosing: false });
      expect(useToast.getState().note?.text).toBe('2 pictures put down; nothing else changed');
      await useToast.getState().note!.way!.act();
      expect(usePile.getState().ids).toEqual([5, 6]);
      await settle(300);
    });

    test('comes back as the server has it', async () => {
      answer = () => ({ ids: [9, 8] });
      await usePile.getState().load();
      expect(usePile.getState().ids).toEqual([9, 8]);
      expect(usePile.getState().has.has(8)).toBe(true);
    });
  });

  describe('tiles', () => {
    const tile = (id: number) => ({
      id,
      sha: `sha${id}`,
      thumb: '',
      kind: 'photo',
      seconds: null,
      rating: 0,
      favourite: false,
      label: '',
    });

    test('are asked for in one go, once, and never again when they are not there', async () => {
      answer = ({ body }) => ({ tiles: body.ids.filter((id) => id !== 13).map(tile) });
      want([1, 2, 13]);
      want([2, 3]);
      await settle(30);
      expect(sent.map((s) => [...s.body.ids].sort((a, b) => a - b))).toEqual([[1, 2, 3, 13]]);
      want([1, 2, 3, 13]);
      await settle(50);
      expect(sent).toHaveLength(1);
      expect(useTileStore.getState().tiles.get(2)?.sha).toBe('sha2');
    });

    test('are shown as they are and asked for again when something changed', async () => {
      answer = ({ body }) => ({ tiles: body.ids.map(tile) });
      want([21]);
      await settle(30);
      staleTiles();
      expect(useTileStore.getState().tiles.has(21)).toBe(true);
      want([21]);
      await settle(30);
      expect(sent).toHaveLength(2);
    });

    test('what could not be fetched is asked for with the next movement', async () => {
      globalThis.fetch = jest.fn().mockRejectedValueOnce(new TypeError('offline')) as never;
      want([31]);
      await settle(30);
      globalThis.fetch = jest.fn(
        async () => ({ ok: true, json: async () => ({ tiles: [tile(31)] }) }) as Response,
      ) as never;
      want([31]);
      await settle(30);
      expect(useTileStore.getState().tiles.has(31)).toBe(true);
    });
  });

  describe('rushing', () => {
    const element = () => {
      const div = document.createElement('div');
      Object.defineProperty(div, 'clientHeight', { value: 800 });
      return div;
    };
    test('a fast scroll rushes, a slow one does not, a jump does not, and it ends by itself', async () => {
      const div = element();
      const rush = watchRush(div);
      const roll = async (pixels: number, times: number) => {
        for (let i = 0; i < times; i++) {
          await settle(16);
          div.scrollTop += pixels;
          rush.scrolled();
        }
      };
      await roll(10, 30);
      expect(useRush.getState().rushing).toBe(false);
      await roll(80, 30);
      expect(useRush.getState().rushing).toBe(true);
      expect(div.dataset['rushing']).toBe('');
      await settle(200);
      expect(useRush.getState().rushing).toBe(false);
      expect(div.dataset['rushing']).toBeUndefined();
      await settle(16);
      div.scrollTop += 40_000;
      rush.scrolled();
      expect(useRush.getState().rushing).toBe(false);
      rush.end();
    });
  });

  test('the question over Browse gains and loses parts', () => {
    useAsk.getState().set({ all: [] });
    useAsk.getState().narrow({ favourite: true });
    useAsk.getState().narrow({ tag: 2 });
    expect(useAsk.getState().question).toEqual({ all: [{ favourite: true }, { tag: 2 }] });
    useAsk.getState().widen(0);
    expect(useAsk.getState().question).toEqual({ tag: 2 });
    useSequence.getState().open([4, 5], '/albums/2');
    expect(useSequence.getState()).toMatchObject({ ids: [4, 5], from: '/albums/2' });
  });

  test('the scheme follows the device unless somebody chose', () => {
    window.matchMedia = ((query: string) => ({ matches: query.includes('dark') })) as never;
    expect([isDark('system'), isDark('light'), isDark('dark')]).toEqual([true, false, true]);
  });
});
