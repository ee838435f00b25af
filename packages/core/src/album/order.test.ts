import fc from 'fast-check';
import { justify, places } from '../layout/justify';
import { keyAfter, keyBetween, keysBetween, LONGEST_KEY, moveBefore, spacedKeys } from './order';

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

describe('keys of an order by hand', () => {
  test('whatever is moved wherever, the keys sort as the list stands, and one key is written for each', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 40 }),
        fc.array(fc.tuple(fc.nat(100), fc.nat(100)), { maxLength: 120 }),
        (n, moves) => {
          const list = spacedKeys(n).map((key, id) => ({ id, key }));
          for (const [a, b] of moves) {
            const [moved] = list.splice(a % list.length, 1);
            const to = b % (list.length + 1);
            const key = keyBetween(list[to - 1]?.key ?? null, list[to]?.key ?? null);
            if (key === null) return;
            list.splice(to, 0, { ...moved!, key });
          }
          const sorted = [...list].sort((x, y) => (x.key < y.key ? -1 : 1));
          expect(sorted.map(({ id }) => id)).toEqual(list.map(({ id }) => id));
          expect(new Set(list.map(({ key }) => key)).size).toBe(n);
        },
      ),
    );
  });
  test('many at once stand between their neighbours, in order', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 60 }), fc.nat(60), fc.integer({ min: 0, max: 400 }), (n, at, more) => {
        const keys = spacedKeys(n);
        const i = at % (n - 1);
        const between = keysBetween(keys[i]!, keys[i + 1]!, more)!;
        const all = [...keys.slice(0, i + 1), ...between, ...keys.slice(i + 1)];
        expect(all).toEqual([...all].sort());
        expect(new Set(all).size).toBe(n + more);
      }),
    );
  });
  test('5 000 keys are short, and what comes after stands last', () => {
    const keys = spacedKeys(5000);
    expect(Math.max(...keys.map((key) => key.length))).toBeLessThanOrEqual(4);
    expect(keyAfter(keys.at(-1)!) > keys.at(-1)!).toBe(true);
    expect(keyAfter(null)).toBe(spacedKeys(1)[0]);
    // Numbers as they were kept before, with a letter for their length, are keys.
    expect(keyAfter('i000000009')).toBe('i00000000A');
    expect(keyBetween('i000000003', 'i000000004')!.startsWith('i000000003')).toBe(true);
  });
  test('the same gap takes some seven hundred before the list is to be spaced anew; equal neighbours take none', () => {
    let after = 'a1';
    let times = 0;
    for (let key = keyBetween('a0', after); key !== null; key = keyBetween('a0', after)) {
      expect(key > 'a0' && key < after && key.length <= LONGEST_KEY).toBe(true);
      after = key;
      times++;
    }
    expect(times).toBeGreaterThan(600);
    expect(keysBetween('a0', 'a0', 1)).toBeNull();
    expect(keysBetween('a1', 'a0', 1)).toBeNull();
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
