import fc from 'fast-check';
import { counterOf, deviceName, findGaps, standing, type LedgerFile } from './ledger';
import { numberNames } from './numbering';
import { paced, secondsLeft, type Pace } from './pace';
import { mergeSaid, NOTHING_SAID, plainest, sameSpot, type Said } from './said';

const shot = (n: number, day: string, here = true, prefix = 'IMG_'): LedgerFile => ({
  name: `${prefix}${String(n).padStart(4, '0')}.jpg`,
  taken: `2026-05-${day}T10:${String(Math.floor(n / 60) % 60).padStart(2, '0')}:${String(n % 60).padStart(2, '0')}`,
  here,
});

describe('the ledger', () => {
  test.each([
    ['IMG_2041.jpg', { series: 'IMG_', number: 2041, digits: 4 }],
    ['DCIM/100/DSC00012.ARW', { series: 'DSC', number: 12, digits: 5 }],
    ['IMG_2068V.mov', { series: 'IMG_', number: 2068, digits: 4 }],
    ['P1020304.jpg', null],
    ['20240817_173727.heic', null],
    ['photo_2026-05-16_13-02-39.jpg', null],
    ['keep 1.jpg', null],
  ])('the counter of %s', (name, counter) => expect(counterOf(name)).toEqual(counter));

  test('missing numbers are named, with the day before them', () => {
    const files = [2038, 2039, 2040, 2044, 2045].map((n) => shot(n, n < 2042 ? '16' : '17'));
    expect(findGaps(files)).toEqual([{ from: 'IMG_2041', to: 'IMG_2043', missing: 3, day: '2026-05-16' }]);
  });
  test('a counter that begins again, jumps far, or fills its gap elsewhere claims nothing', () => {
    expect(findGaps([shot(9998, '16'), shot(9999, '16'), shot(1, '17'), shot(2, '17')])).toEqual([]);
    expect(findGaps([shot(1, '16'), shot(4000, '17')])).toEqual([]);
    expect(findGaps([shot(1, '16'), shot(4, '17'), shot(2, '18'), shot(3, '18')])).toEqual([]);
    expect(findGaps([shot(1, '16'), shot(5, '16', true, 'DSC')])).toEqual([]);
  });

  test('everything up to the last day is here: it may be cleared up to that day', () =>
    expect(standing([shot(1, '14'), shot(2, '16')], null)).toEqual({
      clearUntil: '2026-05-16',
      gaps: [],
      missing: 0,
      missingSince: null,
    }));
  test('a file on it that is not here holds the day back to the one before', () => {
    const kept = [shot(1, '14'), shot(2, '15'), shot(3, '17')];
    expect(standing(kept, [...kept, shot(4, '16', false)])).toMatchObject({
      clearUntil: '2026-05-15',
      missing: 1,
      missingSince: '2026-05-16',
    });
  });
  test('what is stored but not yet proven whole holds it back as well', () =>
    expect(standing([shot(1, '14'), shot(2, '15', false), shot(3, '17')], null).clearUntil).toBe('2026-05-14'));
  test('missing numbers hold it back, unless the device was looked at or somebody said they are gone', () => {
    const kept = [shot(1, '14'), shot(2, '15'), shot(6, '17')];
    expect(standing(kept, null)).toMatchObject({
      clearUntil: '2026-05-14',
      gaps: [{ from: 'IMG_0003', to: 'IMG_0005' }],
    });
    expect(standing(kept, kept)).toMatchObject({ clearUntil: '2026-05-17', gaps: [] });
    expect(standing(kept, null, new Set(['IMG_0003']))).toMatchObject({ clearUntil: '2026-05-17', gaps: [] });
  });
  test('nothing known is nothing said; a file without a time holds everything', () => {
    expect(standing([], null).clearUntil).toBeNull();
    expect(standing([shot(1, '14')], [{ name: 'x.jpg', taken: null, here: false }]).clearUntil).toBeNull();
    expect(standing([shot(5, '14')], [shot(1, '14', false)]).clearUntil).toBeNull();
  });
  test('never a day on which something is missing', () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 1, max: 60 }), fc.integer({ min: 10, max: 28 }), fc.boolean()), {
          maxLength: 25,
        }),
        fc.boolean(),
        (drawn, looked) => {
          const files = drawn.map(([n, day, here]) => shot(n, String(day), here));
          const { clearUntil } = standing(looked ? [] : files, looked ? files : null);
          if (clearUntil === null) return;
          for (const file of files) if (!file.here) expect(file.taken!.slice(0, 10) > clearUntil).toBe(true);
        },
      ),
    ));
  test('a maker that is named in the model is said once', () => {
    expect(deviceName('Almgren & Ek', 'Almgren AO-5')).toBe('Almgren AO-5');
    expect(deviceName('Fjordlys', 'F7')).toBe('Fjordlys F7');
    expect(deviceName('', 'K-Nine')).toBe('K-Nine');
    expect(deviceName('Almgren & Ek', 'ALMGREN-AO5')).toBe('ALMGREN-AO5');
    expect(deviceName('EK Imaging', 'EK250')).toBe('EK250');
  });
});

describe('numbering', () => {
  const files = ['a.JPG', 'b.heic', 'c.mp4'].map((name, i) => ({ name, day: i === 2 ? null : '2026-10-03' }));
  test('base, number and day; endings stay', () => {
    expect(numberNames({ base: ' Harvest ', start: 1, digits: 3, day: 'none' }, files)).toEqual([
      'Harvest 001.JPG',
      'Harvest 002.heic',
      'Harvest 003.mp4',
    ]);
    expect(numberNames({ base: 'Harvest', start: 99, digits: 2, day: 'before' }, files)).toEqual([
      '2026-10-03 Harvest 099.JPG',
      '2026-10-03 Harvest 100.heic',
      'Harvest 101.mp4',
    ]);
    expect(numberNames({ base: 'Harvest', start: 0, digits: 1, day: 'after' }, files)[0]).toBe(
      'Harvest 2026-10-03 0.JPG',
    );
  });
  test('never two of one name, and in the order of the alphabet', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 1200 }),
        fc.integer({ min: 1, max: 4 }),
        fc.integer({ min: 1, max: 120 }),
        (start, digits, n) => {
          const names = numberNames(
            { base: 'x', start, digits, day: 'none' },
            Array.from({ length: n }, () => ({ name: 'a.jpg', day: null })),
          );
          expect(new Set(names).size).toBe(n);
          expect([...names].sort()).toEqual(names);
        },
      ),
    ));
});

describe('pace', () => {
  const walked = (steps: readonly [ms: number, done: number][]) =>
    steps.reduce<Pace | null>((pace, [at, done]) => paced(pace, at, done), null);
  test('steady work is told as it is', () => {
    const pace = walked(Array.from({ length: 20 }, (_, i) => [i * 1000, i * 5]));
    expect(pace!.perSecond).toBeCloseTo(5);
    expect(secondsLeft(pace, 50)).toBe(10);
  });
  test('a halt slows it down little by little, and a count that falls begins anew', () => {
    const before = walked(Array.from({ length: 20 }, (_, i) => [i * 1000, i * 5]));
    const after = paced(before, 25_000, 95);
    expect(after.perSecond!).toBeLessThan(5);
    expect(after.perSecond!).toBeGreaterThan(2);
    expect(paced(after, 26_000, 3).perSecond).toBeNull();
  });
  test('nobody knows before the first step', () => {
    expect(secondsLeft(walked([[0, 0]]), 10)).toBeNull();
    expect(
      secondsLeft(
        walked([
          [0, 0],
          [1000, 0],
        ]),
        10,
      ),
    ).toBeNull();
    expect(secondsLeft(null, 0)).toBe(0);
  });
});

describe('what two places say', () => {
  const said = (more: Partial<Said>): Said => ({ ...NOTHING_SAID, ...more });
  test('one fills what the other leaves open; words of both are kept', () => {
    const merged = mergeSaid(
      said({ title: 'Ours', tags: [['lake']], faces: [{ name: 'Åsa', x: 0.1, y: 0.1, w: 0.2, h: 0.3 }] }),
      said({
        caption: 'Theirs',
        rating: 4,
        label: 'to print',
        favourite: true,
        tags: [['Lake'], ['outdoors', 'jetty']],
        lat: 59,
        lon: 18,
        faces: [
          { name: 'somebody', x: 0.11, y: 0.12, w: 0.2, h: 0.3 },
          { name: 'Emil', x: 0.6, y: 0.1, w: 0.2, h: 0.3 },
        ],
      }),
    );
    expect(merged.conflicts).toEqual([]);
    expect(merged.said).toMatchObject({
      title: 'Ours',
      caption: 'Theirs',
      rating: 4,
      label: 'to print',
      favourite: true,
      lat: 59,
    });
    expect(merged.said.tags).toEqual([['lake'], ['outdoors', 'jetty']]);
    expect(merged.said.faces.map((f) => f.name)).toEqual(['Åsa', 'Emil']);
  });
  test('where both speak the first stays, and the other is named', () =>
    expect(
      mergeSaid(
        said({ title: 'A', caption: 'x', rating: 2, label: 'red', lat: 59, lon: 18 }),
        said({ title: 'B', caption: 'x ', rating: 5, label: 'blue', lat: 59.1, lon: 18 }),
      ).conflicts,
    ).toEqual(
      expect.arrayContaining([
        { what: 'title', kept: 'A', other: 'B' },
        { what: 'stars', kept: '2', other: '5' },
        { what: 'mark', kept: 'red', other: 'blue' },
        { what: 'place', kept: '59.0000, 18.0000', other: '59.1000, 18.0000' },
      ]),
    ));
  test('a step aside is no other place', () =>
    expect(mergeSaid(said({ lat: 59, lon: 18 }), said({ lat: 59.0002, lon: 18 })).conflicts).toEqual([]));
  test('a word that stands in a longer path need not stand alone', () =>
    expect(plainest([['lake'], ['family'], ['outdoors', 'Lake']])).toEqual([['family'], ['outdoors', 'Lake']]));
  test('two boxes are one face when each holds the middle of the other', () => {
    const a = { x: 0.1, y: 0.1, w: 0.2, h: 0.2 };
    expect(sameSpot(a, { ...a, x: 0.15 })).toBe(true);
    expect(sameSpot(a, { ...a, x: 0.25 })).toBe(false);
    expect(sameSpot(a, { x: 0.05, y: 0.05, w: 0.6, h: 0.6 })).toBe(false);
  });
  test('nothing said is ever lost in silence', () =>
    fc.assert(
      fc.property(
        fc.record({ title: fc.option(fc.constantFrom('a', 'b')), rating: fc.integer({ min: 0, max: 5 }) }),
        fc.record({ title: fc.option(fc.constantFrom('a', 'b')), rating: fc.integer({ min: 0, max: 5 }) }),
        (first, second) => {
          const { said: merged, conflicts } = mergeSaid(said(first), said(second));
          for (const one of [first, second])
            if (one.title && one.title !== merged.title)
              expect(conflicts).toContainEqual({ what: 'title', kept: merged.title, other: one.title });
        },
      ),
    ));
});
