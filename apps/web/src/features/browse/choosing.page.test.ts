import type { Person } from '@gemmel/contract';
import { layoutTimeline, places, plainStrip } from '@gemmel/core';
import fc from 'fast-check';
import { whoBegins } from '../person/NameInput';
import { dayFromNow } from '../share/settings';
import { touched } from './useChoosing';

describe('the rubber band', () => {
  test('takes exactly the pictures whose boxes it touches', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0.5, max: 2, noNaN: true }), { minLength: 1, maxLength: 40 }),
        fc.record({
          left: fc.integer({ min: 0, max: 350 }),
          top: fc.integer({ min: 0, max: 900 }),
          width: fc.integer({ min: 1, max: 200 }),
          height: fc.integer({ min: 1, max: 400 }),
        }),
        (ratios, band) => {
          const strip = plainStrip([...ratios.keys()], ratios);
          const { blocks } = layoutTimeline(strip, {
            width: 360,
            rowHeight: 110,
            gap: 3,
            month: 0,
            event: 0,
            day: 0,
            after: 0,
          });
          const expected = blocks.flatMap((row) =>
            places(strip.ratios, row, 3).flatMap((cell, i) =>
              row.top < band.top + band.height &&
              row.top + row.height > band.top &&
              cell.left < band.left + band.width &&
              cell.left + cell.width > band.left
                ? [row.from + i]
                : [],
            ),
          );
          expect(touched(strip, blocks, 3, band)).toEqual(expected);
        },
      ),
    );
  });
});

describe('names typed ahead', () => {
  const circles = ['Cousins', 'Grandparents', 'Friends'].map((name, i) => ({ id: i + 1, name }));
  const person = (id: number, name: string, nickname: string | null, circle: string): Person => ({
    id,
    name,
    nickname,
    circles: circles.filter((c) => c.name === circle).map((c) => c.id),
    born: null,
    favourite: false,
    hidden: false,
    recognised: true,
    pictures: 0,
    likely: 0,
    portrait: null,
    portraitByHand: false,
    first: null,
    last: null,
  });
  const people = [
    person(1, 'Noor Castell', null, 'Cousins'),
    person(2, 'Samira Castell', null, 'Cousins'),
    person(3, 'Agathe Wend', 'Gran', 'Grandparents'),
    person(4, 'Åsa Öberg', null, 'Friends'),
  ];
  test.each([
    ['no', [1]],
    ['cas', [1, 2]],
    ['gran', [3]],
    ['asa', [4]],
    ['cous', [1, 2]],
    ['zz', []],
    ['', []],
  ])('%j finds %j', (typed, ids) => expect(whoBegins(people, circles, typed).map((p) => p.id)).toEqual(ids));
});

test('a day from now is the calendar’s, also at the end of a month', () => {
  expect(dayFromNow(7, new Date(2026, 10, 25, 23, 59))).toBe('2026-12-02');
  expect(dayFromNow(0, new Date(2026, 0, 1, 0, 1))).toBe('2026-01-01');
});
