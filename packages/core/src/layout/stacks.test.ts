import fc from 'fast-check';
import { foldRuns, type InRun } from './stacks';
import type { Strip } from './timeline';

const stripOf = (n: number, runs: readonly InRun[]): Strip => ({
  ids: Int32Array.from({ length: n }, (_, i) => 1000 - i),
  ratios: Float32Array.from({ length: n }, (_, i) => 1 + i / n),
  days: [
    ['2026-05-16', Math.ceil(n / 2)],
    ['2026-05-15', n - Math.ceil(n / 2), '2026-05'],
  ].filter((day) => day[1]) as never,
  events: n ? [[7, n]] : [],
  runs,
});

describe('runs in the grid', () => {
  test('a run is one picture, the one that stands highest in it, with its number', () => {
    const { strip, stacks } = foldRuns(
      stripOf(6, [
        [1, 9, 0],
        [2, 9, 3],
        [3, 9, 1],
        [5, 4, 0],
      ]),
    );
    expect([...strip.ids]).toEqual([1000, 998, 996, 995]);
    expect([...stacks]).toEqual([[998, { run: 9, shots: 3, open: false }]]);
    expect(strip.days).toEqual([
      ['2026-05-16', 2],
      ['2026-05-15', 2, '2026-05'],
    ]);
    expect(strip.events).toEqual([[7, 4]]);
  });
  test('an open run shows all its shots, and a day whose shots all stand elsewhere goes', () => {
    const runs: InRun[] = [
      [0, 9, 1],
      [1, 9, 0],
    ];
    expect(foldRuns(stripOf(2, runs), new Set([9])).strip.ids).toHaveLength(2);
    expect(foldRuns(stripOf(2, runs)).strip.days).toEqual([['2026-05-16', 1]]);
  });
  test('nothing is lost but shots of runs, whatever the strip', () =>
    fc.assert(
      fc.property(
        fc.nat(60),
        fc.array(fc.tuple(fc.nat(59), fc.integer({ min: 1, max: 6 }), fc.nat(9)), { maxLength: 40 }),
        fc.array(fc.integer({ min: 1, max: 6 })),
        (n, drawn, open) => {
          const runs = [...new Map(drawn.filter(([at]) => at < n).map((one) => [one[0], one])).values()];
          const { strip, stacks } = foldRuns(stripOf(n, runs), new Set(open));
          const gone = n - strip.ids.length;
          const folded = [...stacks.values()].filter((stack) => !stack.open).reduce((sum, s) => sum + s.shots - 1, 0);
          const days = strip.days.reduce((sum, [, count]) => sum + count, 0);
          return (
            gone === folded && days === strip.ids.length && [...stacks.keys()].every((id) => strip.ids.includes(id))
          );
        },
      ),
    ));
});
