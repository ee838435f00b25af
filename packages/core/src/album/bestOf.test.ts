import fc from 'fast-check';
import { bestOf, isSame, type BestWish, type Eligible } from './bestOf';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const plain = (id: number, more: Partial<Eligible> = {}): Eligible => ({
  id,
  at: id * HOUR,
  exact: true,
  rating: 0,
  favourite: false,
  run: null,
  runBest: false,
  alike: null,
  hash: null,
  sharp: 100,
  pixels: 12_000_000,
  people: [],
  faces: null,
  place: null,
  flaws: [],
  albums: 0,
  ...more,
});
const wish = (n: number, spread = 0.5, people = 0.5): BestWish => ({ n, spread, people });
const ids = (pictures: readonly Eligible[], how: BestWish) => bestOf(pictures, how).map(({ id }) => id);

const hash = fc.tuple(fc.integer({ min: 0, max: 0xffffffff }), fc.integer({ min: 0, max: 0xffffffff }));
/** A year of some household: busy days and long gaps, runs, doubles, people and places. */
const household = fc
  .array(
    fc.record({
      day: fc.nat(360),
      second: fc.nat(86_399),
      exact: fc.boolean(),
      rating: fc.integer({ min: 0, max: 5 }),
      favourite: fc.boolean(),
      run: fc.option(fc.nat(8)),
      runBest: fc.boolean(),
      hash: fc.option(hash),
      people: fc.uniqueArray(fc.nat(6), { maxLength: 3 }),
      place: fc.option(fc.constantFrom('Visby', 'Kiel', 'Ulm')),
      sharp: fc.option(fc.integer({ min: 1, max: 900 })),
    }),
    { maxLength: 120 },
  )
  .map((rows) => rows.map(({ day, second, ...row }, i) => plain(i + 1, { ...row, at: day * DAY + second * 1000 })));
const wishes = fc.record({
  n: fc.integer({ min: 1, max: 40 }),
  spread: fc.double({ min: 0, max: 1, noNaN: true }),
  people: fc.double({ min: 0, max: 1, noNaN: true }),
});

describe('the best of some pictures', () => {
  test('are never two that show nearly the same, and no more than wished; nothing that could stand there is left out', () => {
    fc.assert(
      fc.property(household, wishes, (pictures, how) => {
        const by = new Map(pictures.map((one) => [one.id, one]));
        const chosen = ids(pictures, how).map((id) => by.get(id)!);
        expect(chosen.length).toBeLessThanOrEqual(how.n);
        for (const [i, a] of chosen.entries()) for (const b of chosen.slice(i + 1)) expect(isSame(a, b)).toBe(false);
        if (chosen.length < how.n)
          for (const one of pictures)
            expect(chosen.some((other) => other.id === one.id || isSame(one, other))).toBe(true);
      }),
    );
  });

  test('begin with those of a smaller wish, and do not depend on the order they come in', () => {
    fc.assert(
      fc.property(household, wishes, fc.nat(40), (pictures, how, fewer) => {
        const all = bestOf(pictures, how);
        expect(bestOf([...pictures].reverse(), how)).toEqual(all);
        const n = Math.min(how.n, fewer);
        expect(bestOf(pictures, { ...how, n })).toEqual(all.slice(0, n));
        for (const one of all) expect(one.reasons.length).toBeGreaterThan(0);
      }),
    );
  });

  test('of everything: days of which there are many pictures do not crowd out those of few', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 60 }), { minLength: 2, maxLength: 12 }), (counts) => {
        let id = 0;
        const pictures = counts.flatMap((count, day) =>
          Array.from({ length: count }, (_, i) =>
            plain(++id, { at: day * 3 * DAY + 8 * HOUR + i * 180_000, sharp: (id * 7919) % 500 }),
          ),
        );
        const day = (one: number) => Math.floor(pictures[one - 1]!.at! / (3 * DAY));
        const chosen = ids(pictures, wish(counts.length, 1));
        expect(new Set(chosen.map(day)).size).toBe(counts.length);
      }),
    );
  });

  test('nothing but the best: stars and hearts go first, whenever they were taken', () => {
    const pictures = Array.from({ length: 60 }, (_, i) =>
      plain(i + 1, { at: (i < 30 ? 0 : i) * DAY + i * 300_000, rating: i < 8 ? 5 : 2 }),
    );
    expect(ids(pictures, wish(8, 0)).sort((a, b) => a - b)).toEqual([1, 2, 3, 4, 5, 6, 7, 8]);
    const spread = ids(pictures, wish(12, 1));
    expect(spread.filter((id) => id > 8).length).toBeGreaterThan(3);
  });

  test('everybody is there before anybody is there often', () => {
    const pictures = Array.from({ length: 50 }, (_, i) =>
      plain(i + 1, { at: i * 400_000, people: [i < 45 ? 1 : i - 43], faces: 0.6 }),
    );
    const who = new Set(ids(pictures, wish(6, 1, 1)).map((id) => pictures[id - 1]!.people[0]));
    expect(who.size).toBe(6);
    const [first] = bestOf(pictures, wish(1, 1, 1));
    expect(first!.reasons).toContainEqual({ why: 'person', who: expect.any(Number) });
  });

  test('leaning to people or to views, and to every place once', () => {
    const pictures = Array.from({ length: 40 }, (_, i) =>
      plain(i + 1, i % 2 ? { people: [i % 7], faces: 0.5 } : { place: `Place ${i % 10}` }),
    );
    const withPeople = (lean: number) => ids(pictures, wish(10, 0.5, lean)).filter((id) => id % 2 === 0).length;
    expect(withPeople(1)).toBe(10);
    expect(withPeople(0)).toBe(0);
    const places = new Set(ids(pictures, wish(5, 1, 0)).map((id) => pictures[id - 1]!.place));
    expect(places.size).toBe(5);
  });

  test('what is blurred, dark or off a screen goes last; the chosen shot stands for its run', () => {
    const pictures = [
      plain(1, { flaws: ['blurred'] }),
      plain(2, { flaws: ['screenshot'] }),
      plain(3, { run: 9 }),
      plain(4, { run: 9, runBest: true }),
      plain(5),
    ];
    expect(ids(pictures, wish(5, 0))).toEqual([4, 5, 1, 2]);
  });

  test('two of one moment are one, unless they look quite different; alike ones are one whenever they were taken', () => {
    const a = plain(1, { at: 0, hash: [0, 0] });
    expect(isSame(a, plain(2, { at: 9000, hash: [0xffff, 0] }))).toBe(true);
    expect(isSame(a, plain(2, { at: 9000, hash: [0xffffffff, 0] }))).toBe(false);
    expect(isSame(a, plain(2, { at: 40 * DAY, hash: [3, 3] }))).toBe(true);
    expect(isSame(a, plain(2, { at: 40 * DAY, hash: [0xfff, 0] }))).toBe(false);
    expect(isSame(plain(1, { at: null }), plain(2, { at: null }))).toBe(false);
    expect(isSame(plain(1, { alike: 7 }), plain(7))).toBe(true);
  });

  test('20 000 pictures are looked through in no time that anybody would notice', () => {
    const pictures = Array.from({ length: 20_000 }, (_, i) =>
      plain(i + 1, {
        at: i * 97_000,
        hash: [Math.imul(i + 1, 2654435761) >>> 0, Math.imul(i + 1, 40503) >>> 0],
        rating: (i * 7) % 6,
        people: [i % 30],
        place: `Place ${i % 100}`,
      }),
    );
    expect(ids(pictures, wish(100, 0.7))).toHaveLength(100);
  });
});
