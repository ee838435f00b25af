import { cellAt, cellsIn, cellsNear, gapAt, together } from './arranging';

describe('arranging an album', () => {
  test('chapters stand before the picture they begin with, or at the end', () => {
    expect(
      together(
        [1, 2, 3],
        [
          { id: 7, at: 0 },
          { id: 8, at: 2 },
          { id: 9, at: 2 },
          { id: 5, at: 3 },
        ],
      ),
    ).toEqual([
      { chapter: 7 },
      { picture: 1 },
      { picture: 2 },
      { chapter: 8 },
      { chapter: 9 },
      { picture: 3 },
      { chapter: 5 },
    ]);
    expect(together([], [{ id: 1, at: 0 }])).toEqual([{ chapter: 1 }]);
  });

  test('the gap is the one nearest to where something is let go', () => {
    const cells = cellsIn(358, 100, 96, 8);
    expect(cells.columns).toBe(3);
    const n = 8;
    for (let i = 0; i < n; i++) {
      const { left, top } = cellAt(cells, i);
      expect(gapAt(cells, n, left + cells.width * 0.2, top + 40)).toBe(i);
      expect(gapAt(cells, n, left + cells.width * 0.9, top + 40)).toBe(i + 1);
    }
    expect(gapAt(cells, n, 20, 5000)).toBe(n);
    expect(gapAt(cells, n, -20, -20)).toBe(0);
  });

  test('of 5 000 cells only those near the window exist', () => {
    const cells = cellsIn(358, 100, 96, 8);
    const { first, last } = cellsNear(cells, 5000, 20_000, 20_844);
    expect(last - first).toBeLessThan(40);
    expect(cellAt(cells, first).top).toBeLessThanOrEqual(20_000);
    expect(cellAt(cells, last - 1).top + 96).toBeGreaterThan(20_800);
    expect(cellsNear(cells, 4, 0, 900)).toEqual({ first: 0, last: 4 });
  });
});
