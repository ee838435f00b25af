import fc from 'fast-check';
import { NAME_PARTS, namesBy, type Nameable, type Naming } from './naming';

const file = (n: number, more: Partial<Nameable> = {}): Nameable => ({
  name: `IMG_${n}.jpg`,
  came: `IMG_${n}.jpg`,
  taken: `2026-05-1${n} 14:07:30`,
  event: 'Kite day',
  place: 'Skagen',
  device: 'Good camera',
  ...more,
});
const naming = (parts: Naming['parts'], more: Partial<Naming> = {}): Naming => ({
  parts,
  words: 'Harvest',
  start: 1,
  digits: 3,
  ...more,
});

describe('namesBy', () => {
  test.each<[Naming['parts'], string]>([
    [['words', 'number'], 'Harvest 001.jpg'],
    [['date', 'event', 'number'], '2026-05-16 Kite day 001.jpg'],
    [['year', 'month', 'words'], '2026 05 Harvest.jpg'],
    [['place', 'time', 'device'], 'Skagen 14.07 Good camera.jpg'],
    [['words', 'came'], 'Harvest IMG_6.jpg'],
    [['day'], '16.jpg'],
  ])('%j', (parts, name) => expect(namesBy(naming(parts), [file(6)])).toEqual([name]));

  test('what is not known is left out; nothing known at all keeps the name it came with', () => {
    const bare = file(6, { taken: null, event: null, place: null, device: null });
    expect(namesBy(naming(['date', 'event', 'number']), [bare])).toEqual(['001.jpg']);
    expect(namesBy(naming(['date', 'event']), [bare])).toEqual(['IMG_6.jpg']);
    expect(namesBy(naming(['time'], {}), [file(6, { taken: '1988-07' })])).toEqual(['IMG_6.jpg']);
  });

  test('names that would be the same get a running number; digits grow with the numbers', () => {
    const four = [1, 2, 3, 4].map((n) => file(n));
    expect(namesBy(naming(['event']), four)).toEqual([
      'Kite day.jpg',
      'Kite day (2).jpg',
      'Kite day (3).jpg',
      'Kite day (4).jpg',
    ]);
    expect(namesBy(naming(['number'], { start: 98, digits: 2 }), four)[0]).toBe('098.jpg');
    expect(namesBy(naming(['event']), [file(1, { event: 'Kite/Day' }), file(2, { event: 'kite-day' })])).toEqual([
      'Kite-Day.jpg',
      'kite-day (2).jpg',
    ]);
  });

  test('whatever is asked, names are plain and different', () => {
    const text = fc.option(fc.string({ unit: 'binary', maxLength: 40 }), { nil: null });
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom(...NAME_PARTS), { maxLength: 5 }),
        fc.string({ unit: 'binary', maxLength: 30 }),
        fc.array(fc.record({ event: text, place: text, device: text, taken: text }), { minLength: 1, maxLength: 12 }),
        (parts, words, more) => {
          const names = namesBy(
            naming(parts, { words }),
            more.map((one, i) => file(i % 3, one)),
          );
          if (names.some((name) => /[/\\\p{Cc}<>:"|?*]/u.test(name) || !name.endsWith('.jpg'))) return false;
          return new Set(names.map((name) => name.toLowerCase())).size === names.length;
        },
      ),
      { numRuns: 500 },
    );
  });
});
