import { Pace } from '../src/http/pace';

describe('work that is done at a measured pace', () => {
  beforeEach(() => void jest.useFakeTimers());
  afterEach(() => void jest.useRealTimers());

  /** Pieces of work that take 100 ms each, and when each began, in ms from now. */
  function pieces(pace: Pace, n: number) {
    const from = performance.now();
    const began: number[] = [];
    for (let i = 0; i < n; i++)
      void pace.run(async () => {
        began.push(performance.now() - from);
        await new Promise((resolve) => setTimeout(resolve, 100));
      });
    return began;
  }

  test('is done one after another, some of it at a stretch, and then for its part of the time', async () => {
    const began = pieces(new Pace(6, 300), 8);
    await jest.advanceTimersByTimeAsync(60_000);
    expect(began.slice(0, 4)).toEqual([0, 100, 200, 300]);
    // From here on one piece in six times what it takes, as if the stretch had been made up for.
    const apart = began.slice(1).map((at, i) => at - began[i]!);
    expect(apart.slice(4)).toEqual([600, 600, 600]);
    expect(began.at(-1)).toBeLessThanOrEqual(8 * 600);
  });

  test('may be done at a stretch again after a rest', async () => {
    const pace = new Pace(6, 300);
    pieces(pace, 4);
    await jest.advanceTimersByTimeAsync(60_000);
    const began = pieces(pace, 3);
    await jest.advanceTimersByTimeAsync(60_000);
    expect(began).toEqual([0, 100, 200]);
  });

  test('that fails says so, and what follows is done', async () => {
    const pace = new Pace(6, 300);
    const failed = expect(pace.run(() => Promise.reject(new Error('away')))).rejects.toThrow('away');
    await failed;
    await expect(pace.run(() => Promise.resolve('there'))).resolves.toBe('there');
  });
});
