import fc from 'fast-check';
import { firstBelow, layoutTimeline, monthsOf, plainStrip, rowOf, stripUnder, unpack, type Strip } from './timeline';

const OPTIONS = { width: 360, rowHeight: 110, gap: 3, month: 70, event: 60, day: 30, after: 18 };

/** Strips with runs of days inside runs of events that do not end at the same places. */
const strips = fc
  .record({
    ratios: fc.array(fc.integer({ min: 40, max: 250 }), { minLength: 1, maxLength: 120 }),
    dayRun: fc.integer({ min: 1, max: 9 }),
    eventRun: fc.integer({ min: 1, max: 14 }),
  })
  .map(({ ratios, dayRun, eventRun }): Strip => {
    const n = ratios.length;
    const days: [string | null, number][] = [];
    for (let i = 0; i < n; i += dayRun)
      days.push([
        `2026-${String(12 - Math.floor(days.length / 6)).padStart(2, '0')}-${String(28 - (days.length % 6)).padStart(2, '0')}`,
        Math.min(dayRun, n - i),
      ]);
    const events: [number, number][] = [];
    for (let i = 0; i < n; i += eventRun) events.push([events.length % 3, Math.min(eventRun, n - i)]);
    return unpack({ ids: ratios.map(() => 1), shapes: ratios, days, events });
  });

describe('chapters', () => {
  const album = fc.record({
    ratios: fc.array(fc.integer({ min: 40, max: 250 }), { maxLength: 60 }),
    at: fc.array(fc.nat(70), { maxLength: 8 }),
  });
  test('stand between the pictures they part, and every picture is found in its row', () => {
    fc.assert(
      fc.property(album, ({ ratios, at }) => {
        const n = ratios.length;
        const chapters = at
          .map((one) => Math.min(one, n))
          .sort((a, b) => a - b)
          .map((one, i) => [one, i + 1] as const);
        const strip = plainStrip(
          [...ratios.keys()],
          ratios.map((r) => r / 100),
          chapters,
        );
        const { blocks, height } = layoutTimeline(strip, { ...OPTIONS, chapter: (id) => 20 * id });
        expect(blocks.flatMap((b) => (b.kind === 'chapter' ? [[b.from, b.chapter]] : []))).toEqual(chapters);
        let top = 0;
        for (const block of blocks) {
          expect(block.top).toBeGreaterThanOrEqual(top - 0.01);
          top = block.top + block.height;
        }
        expect(height).toBeGreaterThanOrEqual(top - 0.01);
        for (let i = 0; i < n; i++) {
          const row = blocks[rowOf(blocks, i)]!;
          expect(row.from <= i && i < row.to).toBe(true);
          expect(chapters.some(([one]) => row.from < one && one < row.to)).toBe(false);
        }
      }),
    );
  });
});

describe('timeline', () => {
  test('columns come back as they were', () => {
    const strip = unpack({ ids: [7, -3, 10], shapes: [150, 75, 100], days: [[null, 3]], events: [[0, 3]] });
    expect([...strip.ids]).toEqual([7, 4, 14]);
    expect([...strip.ratios]).toEqual([1.5, 0.75, 1]);
  });

  test('every picture stands in exactly one row, in order, and nothing overlaps', () => {
    fc.assert(
      fc.property(strips, (strip) => {
        const { blocks, height } = layoutTimeline(strip, OPTIONS);
        const rows = blocks.filter((b) => b.kind === 'row');
        expect(rows.flatMap((r) => Array.from({ length: r.to - r.from }, (_, i) => r.from + i))).toEqual([
          ...strip.ids.keys(),
        ]);
        for (let i = 1; i < blocks.length; i++)
          expect(blocks[i]!.top).toBeGreaterThanOrEqual(blocks[i - 1]!.top + blocks[i - 1]!.height);
        // Rows of one event lie as far apart as pictures in a row do.
        for (let i = 1; i < blocks.length; i++)
          if (blocks[i]!.kind === 'row' && blocks[i - 1]!.kind === 'row')
            expect(blocks[i]!.top - blocks[i - 1]!.top - blocks[i - 1]!.height).toBeCloseTo(OPTIONS.gap);
        const last = blocks[blocks.length - 1]!;
        expect(height).toBeGreaterThanOrEqual(last.top + last.height);
        for (const index of [0, strip.ids.length >> 1, strip.ids.length - 1]) {
          const row = blocks[rowOf(blocks, index)]!;
          expect(row.kind === 'row' && row.from <= index && index < row.to).toBe(true);
        }
        expect(monthsOf({ blocks, height }).reduce((n, m) => n + m.pictures, 0)).toBe(strip.ids.length);
      }),
    );
  });

  test('an event of two days has a heading for each, a day without event one of its own', () => {
    const strip = unpack({
      ids: [3, -1, -1],
      shapes: [100, 100, 100],
      days: [
        ['2026-05-17', 1],
        ['2026-05-16', 1],
        ['2026-04-30', 1],
      ],
      events: [
        [9, 2],
        [0, 1],
      ],
    });
    const kinds = layoutTimeline(strip, OPTIONS).blocks.map((b) => b.kind);
    expect(kinds).toEqual(['month', 'event', 'day', 'row', 'day', 'row', 'month', 'event', 'row']);
  });

  test('the first block below a line, and a list in its own order', () => {
    const timeline = layoutTimeline(plainStrip([5, 6, 7, 8], [1, 1, 1, 1]), OPTIONS);
    expect(timeline.blocks.every((b) => b.kind === 'row')).toBe(true);
    expect(firstBelow(timeline.blocks, -5)).toBe(0);
    expect(firstBelow(timeline.blocks, timeline.height + 1)).toBe(timeline.blocks.length);
    expect(rowOf(timeline.blocks, 99)).toBe(-1);
  });
});

describe('what pictures stand under', () => {
  const strip = unpack({
    ids: [5, 1, 1, 1, 1, 1],
    shapes: [150, 150, 75, 100, 150, 150],
    days: [
      ['2026-05-17', 2],
      ['2026-05-16', 1],
      ['2026-04-30', 2],
      [null, 1],
    ],
    events: [
      [7, 3],
      [0, 3],
    ],
  });
  const kinds = (under: Parameters<typeof stripUnder>[1], onlyMonths = false) =>
    layoutTimeline(stripUnder(strip, under), { ...OPTIONS, onlyMonths })
      .blocks.filter((b) => b.kind !== 'row')
      .map((b) => `${b.kind} ${b.from}-${b.to}`);

  test('events in their months, days in their months, months alone, nothing', () => {
    expect(kinds('event')).toContain('event 0-3');
    expect(kinds('day')).toEqual([
      'month 0-3',
      'event 0-2',
      'event 2-3',
      'month 3-5',
      'event 3-5',
      'month 5-6',
      'event 5-6',
    ]);
    expect(kinds('month', true)).toEqual(['month 0-3', 'month 3-5', 'month 5-6']);
    expect(kinds('none')).toEqual([]);
  });

  test('groups stand one below another, each with its pictures, whatever the days say', () => {
    const { blocks, height } = layoutTimeline(
      {
        ...strip,
        groups: [
          [{ event: 1 }, 4],
          [null, 2],
        ],
      },
      OPTIONS,
    );
    expect(blocks.filter((b) => b.kind === 'group')).toMatchObject([
      { of: { event: 1 }, from: 0, to: 4 },
      { of: null, from: 4, to: 6 },
    ]);
    expect(blocks.filter((b) => b.kind === 'row').at(-1)).toMatchObject({ to: 6 });
    for (const [i, block] of blocks.entries())
      if (i) expect(block.top).toBeGreaterThanOrEqual(blocks[i - 1]!.top + blocks[i - 1]!.height);
    expect(height).toBeGreaterThan(blocks.at(-1)!.top);
  });
});
