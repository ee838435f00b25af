import { calendarOf, dayAfter, fullDay, fullness } from './calendar';
import fc from 'fast-check';
import { ALL_WORDS } from '../words/all';
import { DE } from '../words/de';
import { EN } from '../words/en';
import { SV } from '../words/sv';
import { fromEdtf, middleOf, readWhen, sayWhenSpan, toEdtf, type When } from './when';

describe('times as people write them', () => {
  test.each([
    ['1974', '1974-01-01', '1974-12-31', 'year', false],
    ['about 1960', '1960-01-01', '1960-12-31', 'year', true],
    ['ca. 1960', '1960-01-01', '1960-12-31', 'year', true],
    ['~1960', '1960-01-01', '1960-12-31', 'year', true],
    ['1960s', '1960-01-01', '1969-12-31', 'decade', false],
    ['the 1960s', '1960-01-01', '1969-12-31', 'decade', false],
    ['Summer 1988', '1988-06-01', '1988-08-31', 'season', false],
    ['winter 1987', '1987-12-01', '1988-02-29', 'season', false],
    ['about fall 2001', '2001-09-01', '2001-11-30', 'season', true],
    ['may 24', '2024-05-01', '2024-05-31', 'month', false],
    ['may 88', '1988-05-01', '1988-05-31', 'month', false],
    ['May 2024', '2024-05-01', '2024-05-31', 'month', false],
    ['2024 may', '2024-05-01', '2024-05-31', 'month', false],
    ['2024-02', '2024-02-01', '2024-02-29', 'month', false],
    ['feb 2023', '2023-02-01', '2023-02-28', 'month', false],
    ['16 May 2026', '2026-05-16', '2026-05-16', 'day', false],
    ['May 16th, 2026', '2026-05-16', '2026-05-16', 'day', false],
    ['16.5.2026', '2026-05-16', '2026-05-16', 'day', false],
    ['2026-5-16', '2026-05-16', '2026-05-16', 'day', false],
    ['29 Feb 2024', '2024-02-29', '2024-02-29', 'day', false],
    ['16 may ’99', '1999-05-16', '1999-05-16', 'day', false],
  ] as const)('%s', (text, from, to, exact, about) => expect(readWhen(text, 2026)).toEqual({ from, to, exact, about }));
  test.each(['', 'kite', '24', 'may', '29 Feb 2023', '2026-13-01', '32.1.2026', 'summer', 'may may', '1700', '12345'])(
    '%j is none',
    (text) => expect(readWhen(text, 2026)).toBeNull(),
  );
  test.each(['about 1960', 'summer 1988', '16 May 2026', 'May 2024', '1974', '1960s', 'winter 1987'])(
    '%s is said as it is read',
    (text) => expect(sayWhenSpan(readWhen(text, 2026)!, EN)).toBe(text),
  );
  test.each([
    ['etwa 1960', '1960~'],
    ['um 1960', '1960~'],
    ['Sommer 1988', '1988-22'],
    ['im Frühjahr 1988', '1988-21'],
    ['1970er Jahre', '197X'],
    ['16. Mai 2026', '2026-05-16'],
    ['März 2024', '2024-03'],
    ['16.5.26', '2026-05-16'],
    ['den 16 maj 2026', '2026-05-16'],
    ['omkring 1960', '1960~'],
    ['sommaren 1988', '1988-22'],
    ['hösten 2001', '2001-23'],
    ['1970-talet', '197X'],
    ['3:e okt 1999', '1999-10-03'],
  ])('%s, in German and Swedish', (text, edtf) => expect(toEdtf(readWhen(text, 2026)!)).toBe(edtf));

  const year = fc.integer({ min: 1850, max: 2099 });
  const remembered = fc
    .record({
      year,
      month: fc.integer({ min: 1, max: 12 }),
      season: fc.integer({ min: 0, max: 3 }),
      about: fc.boolean(),
    })
    .chain(({ year: y, month, season, about }) =>
      fc
        .constantFrom(
          `${y}`,
          `${y}-${String(month).padStart(2, '0')}`,
          `${y}-${String(month).padStart(2, '0')}-0${1 + (y % 9)}`,
          `${y}-${21 + season}`,
          `${Math.floor(y / 10)}X`,
        )
        .map((edtf): When => fromEdtf(about ? `${edtf}~` : edtf)!),
    );
  test('what is shown in a language is understood when it is typed in it, whatever is shown', () => {
    fc.assert(
      fc.property(remembered, (when) => {
        for (const words of ALL_WORDS) {
          const shown = sayWhenSpan(when, words);
          expect([shown, readWhen(shown, 2026, [words])]).toEqual([shown, when]);
          expect([shown, readWhen(shown, 2026)]).toEqual([shown, when]);
        }
      }),
      { numRuns: 500 },
    );
  });
  test('on disk it stands in no language, and comes back', () => {
    fc.assert(fc.property(remembered, (when) => expect(fromEdtf(toEdtf(when))).toEqual(when)));
    expect(['about 1960', 'summer 1988', '1960s', 'winter 1987'].map((text) => toEdtf(readWhen(text, 2026)!))).toEqual([
      '1960~',
      '1988-22',
      '196X',
      '1987-24',
    ]);
    expect(['1988-13', '1988-02-30', 'summer 1988', '', '198'].map(fromEdtf)).toEqual([null, null, null, null, null]);
    expect(sayWhenSpan(fromEdtf('1988-24')!, DE)).toBe('Winter 1988');
    expect(sayWhenSpan(fromEdtf('197X~')!, SV)).toBe('omkring 1970-talet');
  });
  test('sorts in the middle of its days', () => {
    expect(middleOf(readWhen('1974', 2026)!)).toBe('1974-07-02T12:00:00.000');
    expect(middleOf(readWhen('16 May 2026', 2026)!)).toBe('2026-05-16T12:00:00.000');
  });
});

describe('the calendar', () => {
  const years = calendarOf([
    ['2026-05-16', 12],
    ['2026-05-17', 1],
    ['2024-02-29', 3],
    [null, 9],
    ['2026-05-16', 4],
  ]);
  test('years and months, the newest first, with every day', () => {
    expect(years.map((y) => [y.year, y.pictures, y.months.map((m) => m.month)])).toEqual([
      [2026, 17, ['2026-05']],
      [2024, 3, ['2024-02']],
    ]);
    const [may] = years[0]!.months;
    // The first of May 2026 is a Friday.
    expect([may!.days.length, may!.days[15], may!.days[16], may!.starts]).toEqual([31, 16, 1, 4]);
    expect(years[1]!.months[0]!.days).toHaveLength(29);
  });
  test('how full a day is', () => {
    expect([0, 1, 10, 40, 400].map((n) => fullness(n, 40))).toEqual([0, 1, 2, 4, 4]);
    expect(fullDay(years)).toBe(16);
    expect(fullDay([])).toBe(1);
    expect([dayAfter('2024-02-28', 1), dayAfter('2026-01-01', -1)]).toEqual(['2024-02-29', '2025-12-31']);
  });
});
