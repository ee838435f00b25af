import { countBelow, patternsFor, type Below } from '../src/safe/prove';

/** What restic is asked for: whole folders where that is less work, and never files that were not counted. */
describe('patterns', () => {
  const belowOf = (paths: string[]): Below => {
    const below: Below = new Map();
    for (const at of paths) countBelow(below, at);
    return below;
  };
  const year = (y: number, n: number) =>
    Array.from({ length: n }, (_, i) => `/vault/home/${y}/${y}-05 Kites/IMG_${i}.jpg`);

  test('folders of which at least half is wanted, as high up as that holds', () => {
    const [a, b] = [year(2024, 10), year(2025, 10)];
    const all = belowOf([...a, ...b, ...year(2026, 60)]);
    expect(patternsFor([...a, ...b], all)).toEqual(['/vault/home/2024', '/vault/home/2025']);
    expect(patternsFor(a.slice(0, 3), all)).toEqual(a.slice(0, 3));
    expect(patternsFor([...a, ...b, ...year(2026, 60)], all)).toEqual(['/vault']);
  });

  test('what lies at the root is asked for by itself', () => {
    expect(patternsFor(['/database.sql', '/READ-ME.txt'], belowOf(year(2024, 2)))).toEqual([
      '/database.sql',
      '/READ-ME.txt',
    ]);
  });
});
