import fc from 'fast-check';
import { arrangementsOf } from './arrange';
import { fullPage, type BookPicture } from './flow';
import { areaOf, BLEED, FACE_ROOM, PAGES, type PaperBox, type PageSize } from './paper';
import { planBook, spans, type BookOf, type BookPlan } from './plan';
import { NO_EDITS, PLAIN_BOOK, type BookEdits, type BookSettings } from './settings';
import { linesOf, TYPE, type Measure } from './text';
import { times } from '../long.testing';

/** Letters that are all half as wide as they are high. */
const measure: Measure = (text, role) => text.length * TYPE[role].size * 0.5 * (25.4 / 72);
const papers = Object.keys(PAGES) as PageSize[];
const RUNS = times(80, 2000);

const face = fc
  .record({
    x: fc.double({ min: 0, max: 0.8, noNaN: true }),
    y: fc.double({ min: 0, max: 0.8, noNaN: true }),
    size: fc.double({ min: 0.03, max: 0.2, noNaN: true }),
  })
  .map(({ x, y, size }) => ({ x, y, w: size, h: size }));
const pictureOf = fc.record({
  ratio: fc.oneof(fc.constantFrom(1.5, 4 / 3, 0.75, 2 / 3, 16 / 9, 1), fc.double({ min: 0.3, max: 3.5, noNaN: true })),
  pixels: fc.integer({ min: 300, max: 6000 }),
  good: fc.double({ min: 0, max: 1, noNaN: true }),
  faces: fc.array(face, { maxLength: 4 }),
  day: fc.option(fc.integer({ min: 1, max: 28 }).map((day) => `2026-05-${String(day).padStart(2, '0')}`)),
  caption: fc.option(fc.lorem({ maxCount: 30 }), { freq: 3 }),
});

const bookOf = fc
  .array(
    fc.record({
      pictures: fc.array(pictureOf, { maxLength: 40 }),
      title: fc.option(fc.lorem({ maxCount: 12 })),
      words: fc.option(fc.lorem({ maxCount: 120 })),
      map: fc.boolean(),
    }),
    { maxLength: 4 },
  )
  .map((chapters): BookOf => {
    let id = 0;
    const captions = new Map<number, string>();
    const names = new Map<number, string[]>();
    return {
      title: 'A year',
      subtitle: null,
      captions,
      names,
      people: [],
      says: { people: 'People', index: 'Who is where' },
      chapters: chapters.map(({ pictures, title, words, map }, i) => ({
        key: `c${i}`,
        title,
        days: title && '1 to 4 May',
        words: title && words,
        map: map ? 1.3 : null,
        pictures: pictures.map(({ caption, ...rest }): BookPicture => {
          id++;
          if (caption) captions.set(id, caption);
          if (id % 3 === 0) names.set(id, [`Person ${id % 7}`]);
          return { id, rows: Math.round(rest.pixels / rest.ratio), below: 0, ...rest };
        }),
      })),
    };
  });
const settingsOf = fc
  .record({ paper: fc.constantFrom(...papers), fill: fc.constantFrom('airy', 'even', 'full') })
  .map((some): BookSettings => ({ ...PLAIN_BOOK, ...some }) as BookSettings);

const overlap = (a: PaperBox, b: PaperBox): boolean =>
  a.x < b.x + b.w - 1e-6 && b.x < a.x + a.w - 1e-6 && a.y < b.y + b.h - 1e-6 && b.y < a.y + a.h - 1e-6;
const textBox = (t: BookPlan['pages'][number]['texts'][number]): PaperBox => ({
  x: t.x,
  y: t.y,
  w: t.w,
  h: t.lines.length * TYPE[t.role].size * TYPE[t.role].line * (25.4 / 72),
});
const flowed = (plan: BookPlan) => plan.pages.filter(({ kind }) => kind === 'pictures' || kind === 'full');
const shown = (plan: BookPlan): number[] => flowed(plan).flatMap((page) => page.pictures.map(({ id }) => id));

describe('a book', () => {
  test('shows every picture once, whole, in its own shape, on paper, and nothing on top of anything', () => {
    fc.assert(
      fc.property(bookOf, settingsOf, (of, settings) => {
        const plan = planBook(of, settings, NO_EDITS, measure);
        const all = of.chapters.flatMap(({ pictures }) => pictures);
        expect(shown(plan).sort((a, b) => a - b)).toEqual(all.map(({ id }) => id));
        expect(plan.pages.length % 4).toBe(0);
        for (const page of plan.pages) {
          const area = areaOf(settings.paper, page.number);
          const boxes = [...page.pictures.map(({ box }) => box), ...(page.map ? [page.map] : [])];
          for (const [i, a] of boxes.entries()) for (const b of boxes.slice(i + 1)) expect(overlap(a, b)).toBe(false);
          for (const t of page.texts) {
            for (const line of t.lines) expect(measure(line, t.role)).toBeLessThanOrEqual(t.w + 1e-6);
            for (const box of boxes) expect(overlap(textBox(t), box)).toBe(false);
          }
          if (page.kind !== 'pictures') continue;
          for (const { id, box, part } of page.pictures) {
            expect(part).toBeNull();
            expect(box.w / box.h).toBeCloseTo(all.find((one) => one.id === id)!.ratio, 4);
            expect(box.x).toBeGreaterThanOrEqual(area.x - 1e-6);
            expect(box.y).toBeGreaterThanOrEqual(area.y - 1e-6);
            expect(box.x + box.w).toBeLessThanOrEqual(area.x + area.w + 1e-6);
            expect(box.y + box.h).toBeLessThanOrEqual(area.y + area.h + 1e-6);
          }
        }
      }),
      { numRuns: RUNS },
    );
  });

  test('is the same each time it is laid out', () => {
    fc.assert(
      fc.property(bookOf, settingsOf, (of, settings) => {
        expect(planBook(of, settings, NO_EDITS, measure)).toEqual(planBook(of, settings, NO_EDITS, measure));
      }),
      { numRuns: RUNS / 4 },
    );
  });

  test('cuts little of a picture that fills a page, and never a face', () => {
    fc.assert(
      fc.property(pictureOf, fc.constantFrom(...papers), (picture, paper) => {
        const part = fullPage(picture, paper);
        if (!part) return;
        const { width, height } = PAGES[paper];
        expect(part.w * part.h).toBeGreaterThanOrEqual(0.73);
        expect((picture.ratio * part.w) / part.h).toBeCloseTo((width + 2 * BLEED) / (height + 2 * BLEED), 5);
        const [mm, down] = [(width + 2 * BLEED) / part.w, (height + 2 * BLEED) / part.h];
        for (const { x, y, w, h } of picture.faces) {
          expect((x - part.x) * mm - BLEED).toBeGreaterThanOrEqual(FACE_ROOM - 1e-6);
          expect((part.x + part.w - x - w) * mm - BLEED).toBeGreaterThanOrEqual(FACE_ROOM - 1e-6);
          expect((y - part.y) * down - BLEED).toBeGreaterThanOrEqual(FACE_ROOM - 1e-6);
          expect((part.y + part.h - y - h) * down - BLEED).toBeGreaterThanOrEqual(FACE_ROOM - 1e-6);
        }
      }),
      { numRuns: RUNS * 5 },
    );
  });

  test('keeps pages as they were left, and lets the rest flow around them', () => {
    fc.assert(
      fc.property(bookOf, settingsOf, fc.nat(), fc.nat({ max: 11 }), (of, settings, which, way) => {
        const plan = planBook(of, settings, NO_EDITS, measure);
        const pages = flowed(plan).filter(({ pictures }) => pictures.length);
        if (!pages.length) return;
        const page = pages[which % pages.length]!;
        const ids = page.pictures.map(({ id }) => id);
        const edits: BookEdits = { ...NO_EDITS, kept: [{ ids, way, full: page.kind === 'full' }] };
        const next = planBook(of, settings, edits, measure);
        expect(shown(next).sort((a, b) => a - b)).toEqual(shown(plan).sort((a, b) => a - b));
        const kept = next.pages.find((one) => one.pictures.some(({ id }) => id === ids[0]) && one.kind !== 'people')!;
        expect(kept.pictures.map(({ id }) => id)).toEqual(ids);
        expect(kept.kept).toBe(true);
        expect(kept.kind).toBe(page.kind);
      }),
      { numRuns: RUNS },
    );
  });

  test('has a full page now and then, and pages that are well filled', () => {
    const pictures = Array.from({ length: 120 }, (_, i): BookPicture => ({
      id: i + 1,
      ratio: [1.5, 0.75, 4 / 3, 1.5, 1][i % 5]!,
      pixels: 4000,
      rows: 3000,
      good: ((i * 37) % 100) / 100,
      faces: [],
      day: `2026-05-${String(1 + Math.floor(i / 12)).padStart(2, '0')}`,
      below: 0,
    }));
    const of: BookOf = {
      title: 'T',
      subtitle: null,
      captions: new Map(),
      names: new Map(),
      people: [],
      says: { people: '', index: '' },
      chapters: [{ key: 'a', title: 'All', days: null, words: null, map: null, pictures }],
    };
    const plan = planBook(of, PLAIN_BOOK, NO_EDITS, measure);
    const full = plan.pages.filter(({ kind }) => kind === 'full');
    expect(full.length).toBeGreaterThanOrEqual(4);
    const filled = plan.pages.filter(({ kind, opens }) => kind === 'pictures' && !opens);
    const shares = filled.map((page) => {
      const area = areaOf('square 21', page.number);
      return page.pictures.reduce((sum, { box }) => sum + box.w * box.h, 0) / (area.w * area.h);
    });
    expect(shares.reduce((a, b) => a + b, 0) / shares.length).toBeGreaterThan(0.8);
    expect(Math.min(...shares)).toBeGreaterThan(0.55);
    // Never the same number of pictures on many pages in a row.
    expect(new Set(filled.map((page) => page.pictures.length)).size).toBeGreaterThan(1);
  });

  test('good pictures stand larger than others', () => {
    const area = areaOf('A4 wide', 1);
    const one = (good: number) => ({ ratio: 1.5, pixels: 5000, good, below: 0 });
    for (const best of [0, 1, 2, 3]) {
      const pictures = [0, 1, 2, 3].map((i) => one(i === best ? 1 : 0.1));
      const { boxes } = arrangementsOf(area, pictures)[0]!;
      const sizes = boxes.map(({ w }) => w);
      expect(Math.max(...sizes)).toBe(sizes[best]);
    }
  });

  test('a picture that is large for its pixels says so', () => {
    const of = (pixels: number): BookOf => ({
      title: 'T',
      subtitle: null,
      captions: new Map(),
      names: new Map(),
      people: [],
      says: { people: '', index: '' },
      chapters: [
        {
          key: 'a',
          title: null,
          days: null,
          words: null,
          map: null,
          pictures: [{ id: 1, ratio: 1.5, pixels, rows: pixels / 1.5, good: 0.5, faces: [], day: null, below: 0 }],
        },
      ],
    });
    const ppi = (pixels: number) => flowed(planBook(of(pixels), PLAIN_BOOK, NO_EDITS, measure))[0]!.pictures[0]!.ppi;
    // 179 mm wide at most, of a page of 210.
    expect(ppi(1800)).toBeGreaterThan(240);
    expect(ppi(600)).toBeLessThan(120);
  });
});

describe('text', () => {
  test('is broken where it fits, long words too, and ends in an ellipsis', () => {
    expect(linesOf('one two three', 'caption', measure('one two', 'caption') + 0.01, measure)).toEqual([
      'one two',
      'three',
    ]);
    expect(linesOf('abcdefghij', 'caption', measure('abcd', 'caption') + 0.01, measure)).toEqual([
      'abcd',
      'efgh',
      'ij',
    ]);
    expect(linesOf('one two three four', 'caption', measure('one two', 'caption') + 0.01, measure, 1)).toEqual([
      'one tw…',
    ]);
    expect(linesOf('one\ntwo', 'caption', 100, measure)).toEqual(['one', 'two']);
  });

  test('pages that follow each other are told as spans', () => {
    expect(spans([2, 4, 5, 6, 9, 10])).toBe('2, 4–6, 9, 10');
  });
});
