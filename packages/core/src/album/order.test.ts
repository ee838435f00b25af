import fc from 'fast-check';
import { justify, places } from '../layout/justify';
import { moveBefore } from './order';

describe('an order by hand', () => {
  test('some go before one, or to the end', () => {
    expect(moveBefore([1, 2, 3, 4], [4], 2)).toEqual([1, 4, 2, 3]);
    expect(moveBefore([1, 2, 3, 4], [1, 3], null)).toEqual([2, 4, 1, 3]);
    expect(moveBefore([1, 2, 3, 4], [2, 3], 2)).toEqual([1, 2, 3, 4]);
    expect(moveBefore([1, 2], [9], 1)).toEqual([1, 2]);
  });
  test('nothing is lost, nothing doubled, the rest keeps its order', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.nat(40)),
        fc.uniqueArray(fc.nat(40)),
        fc.option(fc.nat(40)),
        (list, moved, before) => {
          const next = moveBefore(list, moved, before);
          expect([...next].sort()).toEqual([...list].sort());
          const rest = (l: number[]) => l.filter((x) => !moved.includes(x));
          expect(rest(next)).toEqual(rest(list));
        },
      ),
    );
  });
});

describe('justified rows', () => {
  const ratios = fc.array(fc.double({ min: 0.1, max: 9, noNaN: true }), { minLength: 1, maxLength: 60 });
  const options = { width: 358, rowHeight: 120, gap: 3 };
  test('full rows end exactly at the edge and come near the wished height', () => {
    fc.assert(
      fc.property(ratios, (shapes) => {
        const rows = justify(shapes, 0, shapes.length, options);
        expect(rows.flatMap((r) => Array.from({ length: r.to - r.from }, (_, i) => r.from + i))).toEqual([
          ...shapes.keys(),
        ]);
        for (const row of rows.slice(0, -1)) {
          const cells = places(shapes, row, options.gap);
          const last = cells[cells.length - 1]!;
          expect(Math.abs(last.left + last.width - options.width)).toBeLessThanOrEqual(1);
          expect(row.height).toBeGreaterThan(options.rowHeight / 4);
        }
        const end = rows[rows.length - 1]!;
        const cells = places(shapes, end, options.gap);
        expect(cells[cells.length - 1]!.left + cells[cells.length - 1]!.width).toBeLessThanOrEqual(options.width + 1);
        cells.forEach(
          (cell, i) => i && expect(cell.left).toBeGreaterThanOrEqual(cells[i - 1]!.left + cells[i - 1]!.width),
        );
      }),
    );
  });
});
