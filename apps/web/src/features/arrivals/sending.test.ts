import { useToast } from '@/state/toast';
import { goOn, stop, takeIn, useSending } from './sending';
import type { Bundle } from './walk';

const bundle = (name: string, n: number): Bundle => ({
  name,
  files: Array.from({ length: n }, (_, i) => ({
    path: `${name}/${i}.jpg`,
    file: { size: 10 + i, name: `${i}.jpg` } as File,
  })),
});

describe('sending', () => {
  /** What the server is to do with the nth try for an item: a status, or nothing for a broken connection. */
  let answers: Map<string, (number | null)[]>;
  let puts: string[];
  let opened: { name: string; files: { path: string; bytes: number }[] }[];
  let next = 0;

  beforeEach(() => {
    jest.useFakeTimers();
    answers = new Map();
    puts = [];
    opened = [];
    useSending.setState({ sendings: {} });
    globalThis.fetch = jest.fn(async (path: string, init: RequestInit) => {
      const ok = (body: unknown) => ({ ok: true, json: async () => body }) as Response;
      if (path === '/api/batches') {
        const body = JSON.parse(init.body as string) as (typeof opened)[number];
        opened.push(body);
        next += 100;
        return ok({ id: next, items: body.files.map((_, i) => next + 1 + i) });
      }
      if (init.method !== 'PUT') return ok({ done: true });
      puts.push(path);
      const status = answers.get(path)?.shift();
      if (status === null) throw new TypeError('broken');
      if (status !== undefined && status >= 300)
        return { ok: false, status, json: async () => ({ title: `refused with ${status}` }) } as Response;
      return ok({ state: 'received' });
    }) as never;
  });
  afterEach(() => jest.useRealTimers());
  const settle = (ms = 50) => jest.advanceTimersByTimeAsync(ms);
  const sending = () => Object.values(useSending.getState().sendings);
  const item = (batch: number, i: number) => `/api/batches/${batch}/items/${batch + 1 + i}`;

  test('every bundle is a batch of its own, announced with its paths and sizes, and all are sent', async () => {
    await takeIn([bundle('Harvest', 5), bundle('Lake', 2)]);
    await settle();
    expect(opened.map((o) => [o.name, o.files.length])).toEqual([
      ['Harvest', 5],
      ['Lake', 2],
    ]);
    expect(opened[0]!.files[1]).toEqual({ path: 'Harvest/1.jpg', bytes: 11 });
    expect(new Set(puts).size).toBe(7);
    expect(sending().map((s) => [s.state, s.sent])).toEqual([
      ['done', 5],
      ['done', 2],
    ]);
  });

  test('a broken connection is tried again; one that stays broken is told, and goes on where it was', async () => {
    const batch = next + 100;
    answers.set(item(batch, 0), [null, 503, 400]);
    answers.set(item(batch, 1), [null, null, null, null, null, null]);
    await takeIn([bundle('Card', 2)]);
    await settle(60_000);
    expect(sending()[0]).toMatchObject({ state: 'lost', sent: 1 });
    expect(sending()[0]!.waiting).toHaveLength(1);
    await goOn(batch, false);
    await settle();
    expect(sending()[0]).toMatchObject({ state: 'done', sent: 2 });
    expect(puts.filter((p) => p === item(batch, 0))).toHaveLength(4);
  });

  test('stopping sends no more; going on sends the rest, each once', async () => {
    const batch = next + 100;
    await Promise.all([takeIn([bundle('Phone', 12)]), Promise.resolve()]);
    const stopping = stop(batch);
    await settle();
    await stopping;
    const before = puts.length;
    await settle(1000);
    expect(puts.length).toBe(before);
    expect(sending()[0]!.state).toBe('stopped');
    await goOn(batch, true);
    await settle();
    expect(sending()[0]).toMatchObject({ state: 'done', sent: 12 });
    expect(new Set(puts).size).toBe(12);
  });

  test('a full disk is said at once and waits; a file that is refused is named and does not hold up the others', async () => {
    const full = next + 100;
    answers.set(item(full, 0), [507]);
    await takeIn([bundle('Full', 1)]);
    await settle();
    expect(sending()[0]!.state).toBe('lost');
    expect(useToast.getState().note).toMatchObject({ tone: 'trouble', text: 'refused with 507' });
    const refused = next + 100;
    answers.set(item(refused, 1), [413]);
    await takeIn([bundle('Odd', 3)]);
    await settle();
    const odd = useSending.getState().sendings[refused]!;
    expect(odd).toMatchObject({ state: 'done', sent: 3, unread: [{ path: 'Odd/1.jpg', reason: 'refused with 413' }] });
  });
});
