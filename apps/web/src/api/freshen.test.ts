import { STALE, type Api, type News } from '@gemmel/contract';
import { freshener, staleBy, type Stale } from './freshen';

describe('what goes stale', () => {
  const names = (news: News) => staleBy(news).map((s) => s.name);

  test('stars make nobody ask for the whole grid again, only for the pictures in view and for what asks by them', () => {
    const stale = staleBy({ topic: 'said', ids: [4, 5] });
    expect(stale.find((s) => s.name === 'picture')!.pictures).toEqual(new Set([4, 5]));
    for (const name of ['skeleton', 'count', 'positions'] as const)
      expect(stale.filter((s) => s.name === name)).toEqual([{ name, pictures: null, narrow: true }]);
    expect(names({ topic: 'said', ids: null })).not.toContain('folders');
  });

  test('new pictures change the grid whatever is asked', () => {
    expect(staleBy({ topic: 'pictures', ids: [9] }).find((s) => s.name === 'skeleton')).toMatchObject({
      narrow: false,
    });
  });
});

describe('asking again', () => {
  let asked: [number, keyof Api][];
  let fresh: ReturnType<typeof freshener>;
  let began: number;
  beforeEach(() => {
    jest.useFakeTimers();
    asked = [];
    began = Date.now();
    fresh = freshener((stale: Stale) => asked.push([Date.now() - began, stale.name]));
  });
  afterEach(() => {
    fresh.end();
    jest.useRealTimers();
  });
  const of = (name: keyof Api) => asked.filter(([, n]) => n === name);

  test('a single change is asked for at once', () => {
    fresh.hear([{ topic: 'albums', ids: null }]);
    jest.advanceTimersByTime(100);
    expect(asked.map(([, name]) => name).sort()).toEqual([...STALE.albums].sort());
  });

  test('while 300 pictures come in for a minute, the grid and the albums are asked for a few times, and at the end once more', () => {
    for (let i = 0; i < 300; i++) {
      fresh.hear([
        { topic: 'pictures', ids: [i] },
        { topic: 'batches', ids: null },
      ]);
      jest.advanceTimersByTime(200);
    }
    jest.advanceTimersByTime(15_000);
    expect(of('skeleton').length).toBeLessThanOrEqual(9);
    expect(of('albums').length).toBeLessThanOrEqual(9);
    expect(of('skeleton').at(-1)![0]).toBeGreaterThan(60_000);
    // After a quiet time the next change is asked for at once again.
    const before = of('skeleton').length;
    jest.advanceTimersByTime(60_000);
    fresh.hear([{ topic: 'pictures', ids: null }]);
    jest.advanceTimersByTime(100);
    expect(of('skeleton')).toHaveLength(before + 1);
  });

  test('what is heard while it waits is put together: pictures of all, and everything when one of them named none', () => {
    const stale: Stale[] = [];
    const one = freshener((s) => stale.push(s));
    one.hear([{ topic: 'said', ids: [1] }]);
    one.hear([{ topic: 'said', ids: [2] }]);
    jest.advanceTimersByTime(100);
    expect(stale.find((s) => s.name === 'picture')!.pictures).toEqual(new Set([1, 2]));
    one.hear([{ topic: 'said', ids: [1] }]);
    one.hear([{ topic: 'pictures', ids: null }]);
    jest.advanceTimersByTime(3000);
    expect(stale.at(-1)).toBeDefined();
    expect(stale.filter((s) => s.name === 'picture').at(-1)!.pictures).toBeNull();
    expect(stale.filter((s) => s.name === 'skeleton').at(-1)!.narrow).toBe(false);
    one.end();
  });
});
