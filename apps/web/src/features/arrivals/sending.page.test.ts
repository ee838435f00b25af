import { useToast } from '@/state/toast';
import { endHere, goOn, pause, takeIn, useSending } from './sending';
import { upload, type Outcome } from './upload';
import type { Bundle } from './walk';

jest.mock('./upload', () => ({ upload: jest.fn() }));
jest.mock('./fingerprint', () => ({
  Unreadable: class extends Error {},
  fingerprint: jest.fn(async (file: File) => file.name.split('.')[0]!.padStart(64, '0')),
}));

const bundle = (name: string, n: number): Bundle => ({
  name,
  files: Array.from({ length: n }, (_, i) => ({
    path: `${name}/${i}.jpg`,
    file: { size: 10 + i, name: `${i}.jpg`, lastModified: 1000 + i } as File,
  })),
});

describe('sending', () => {
  /** How each try for an item ends, in order; sent when nothing is said. */
  let ends: Map<number, Outcome['how'][]>;
  let tries: { item: number; before: boolean }[];
  let known: number[];
  let opened: { name: string; files: { path: string; bytes: number; modified: number }[] }[];
  let waiting: { id: number; path: string; bytes: number; state: string }[];
  let asked: string[];
  let room = 1e9;
  let next = 0;

  beforeEach(() => {
    jest.useFakeTimers();
    ends = new Map();
    tries = [];
    known = [];
    opened = [];
    waiting = [];
    asked = [];
    room = 1e9;
    useSending.setState({ sendings: {}, doors: {} });
    (upload as jest.Mock).mockImplementation((item: number, file: File, before: boolean, told: (n: number) => void) => {
      tries.push({ item, before });
      const how = ends.get(item)?.shift() ?? 'sent';
      told(file.size);
      let hold: () => void = () => undefined;
      const done = new Promise<Outcome>((resolve) => {
        hold = () => resolve({ how: 'held' });
        setTimeout(() => resolve(how === 'refused' ? { how, reason: { code: 'damaged', params: {} } } : { how }), 20);
      });
      return { done, hold };
    });
    globalThis.fetch = jest.fn(async (path: string, init: RequestInit) => {
      const ok = (body: unknown) => ({ ok: true, json: async () => body }) as Response;
      asked.push(`${init.method} ${path}`);
      if (path === '/api/batches' && init.method === 'GET')
        return ok({
          batches: waiting.length
            ? [{ id: 7, way: 'browser', state: 'coming', counts: { waiting: waiting.length } }]
            : [],
        });
      if (path === '/api/batches') {
        const body = JSON.parse(init.body as string) as (typeof opened)[number];
        opened.push(body);
        next += 100;
        return ok({ id: next, items: body.files.map((_, i) => next + 1 + i) });
      }
      if (path.endsWith('/fingerprints')) {
        const { prints } = JSON.parse(init.body as string) as { prints: { item: number; sha256: string }[] };
        return ok({ known: prints.map((p) => p.item).filter((item) => known.includes(item)) });
      }
      if (path === '/api/room') return ok({ left: room, total: 1e12, full: false });
      if (path.endsWith('/items')) return ok({ items: waiting, after: null });
      return ok({ done: true });
    }) as never;
  });
  afterEach(() => jest.useRealTimers());
  const settle = (ms = 400) => jest.advanceTimersByTimeAsync(ms);
  const sending = (batch = next) => useSending.getState().sendings[batch]!;

  test('every bundle is a batch of its own, announced with paths, sizes and times, and all are sent', async () => {
    await takeIn([bundle('Harvest', 5), bundle('Lake', 2)]);
    await settle();
    expect(opened.map((o) => [o.name, o.files.length])).toEqual([
      ['Harvest', 5],
      ['Lake', 2],
    ]);
    expect(opened[0]!.files[1]).toEqual({ path: 'Harvest/1.jpg', bytes: 11, modified: 1001 });
    expect(tries).toHaveLength(7);
    expect([sending(next - 100), sending()].map((s) => [s.state, s.done])).toEqual([
      ['done', 5],
      ['done', 2],
    ]);
  });

  test('what the library has is told by its fingerprint and not sent', async () => {
    known = [next + 101, next + 103];
    await takeIn([bundle('Again', 3)]);
    await settle();
    expect(tries.map((t) => t.item)).toEqual([next + 2]);
    expect(sending()).toMatchObject({ state: 'done', done: 3, bytesDone: 10 + 11 + 12 });
  });

  test('what was said beside a picture goes first', async () => {
    const some = bundle('Words', 2);
    some.files.push({ path: 'Words/1.xmp', file: { size: 5, name: '9.xmp', lastModified: 0 } as File });
    await takeIn([some]);
    await settle();
    expect(tries[0]!.item).toBe(next + 3);
  });

  test('a broken line is said and goes on by itself where it stopped', async () => {
    ends.set(next + 101, ['lost']);
    await takeIn([bundle('Card', 2)]);
    await settle(200);
    expect(sending().state).toBe('lost');
    await settle(5000);
    expect(sending()).toMatchObject({ state: 'done', done: 2 });
    expect(tries.filter((t) => t.item === next + 1)).toEqual([
      { item: next + 1, before: false },
      { item: next + 1, before: true },
    ]);
  });

  test('a full disk waits for room and goes on by itself', async () => {
    ends.set(next + 101, ['full']);
    await takeIn([bundle('Full', 1)]);
    await settle(200);
    expect(sending().state).toBe('full');
    await settle(10_000);
    expect(sending().state).toBe('full');
    await settle(10_000);
    expect(sending()).toMatchObject({ state: 'done', done: 1 });
  });

  test('pausing holds what is on its way; going on sends the rest, each once to its end', async () => {
    await takeIn([bundle('Phone', 12)]);
    await jest.advanceTimersByTimeAsync(10);
    await pause(next);
    const before = tries.length;
    await settle(3000);
    expect(tries).toHaveLength(before);
    expect(sending().state).toBe('paused');
    await goOn(next, true);
    await settle(3000);
    expect(sending()).toMatchObject({ state: 'done', done: 12 });
    expect(new Set(tries.map((t) => t.item)).size).toBe(12);
    expect(asked).toEqual(
      expect.arrayContaining([`POST /api/batches/${next}/stop`, `POST /api/batches/${next}/resume`]),
    );
  });

  test('a file that is refused is named and does not hold up the others', async () => {
    ends.set(next + 102, ['refused']);
    await takeIn([bundle('Odd', 3)]);
    await settle();
    expect(sending()).toMatchObject({
      state: 'done',
      done: 3,
      unread: [{ path: 'Odd/1.jpg', reason: { code: 'damaged' } }],
    });
    expect(useToast.getState().note?.tone).not.toBe('trouble');
  });

  test('a folder that is chosen again goes on with the batch that waits for it', async () => {
    waiting = [
      { id: 72, path: 'Trip/1.jpg', bytes: 11, state: 'waiting' },
      { id: 73, path: 'Trip/2.jpg', bytes: 999, state: 'waiting' },
    ];
    await takeIn([bundle('Trip', 3)]);
    await settle();
    expect(opened).toEqual([]);
    // The second is another file by now: its size has changed.
    expect(tries).toEqual([{ item: 72, before: true }]);
  });

  test('what may not fit is said beforehand, and comes in as far as it goes', async () => {
    room = 15;
    await takeIn([bundle('Big', 3)]);
    await settle();
    expect(useToast.getState().note?.text).toMatch(/^This needs 33\sbytes; free: 15\sbytes\./);
    expect(sending().state).toBe('done');
  });

  test('ending a batch gives up what never came', async () => {
    ends.set(next + 101, ['lost', 'lost', 'lost']);
    await takeIn([bundle('Short', 1)]);
    await settle(200);
    await endHere(next);
    expect(asked).toContain(`POST /api/batches/${next}/give-up`);
    expect(useSending.getState().sendings[next]).toBeUndefined();
    const before = tries.length;
    await settle(60_000);
    expect(tries).toHaveLength(before);
  });
});
