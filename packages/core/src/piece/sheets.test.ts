import fc from 'fast-check';
import { TYPE, type Measure } from '../book/text';
import {
  cropAround,
  monthShape,
  ofMonths,
  passportPart,
  planCalendar,
  planCard,
  planCollage,
  planPrints,
  PRINTS,
  type PrintSettings,
  type PrintSize,
  type Sheet,
  type SheetPicture,
} from './sheets';

const measure: Measure = (text, role) => text.length * TYPE[role].size * 0.5 * (25.4 / 72);
const fraction = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const face = fc
  .record({ x: fraction(0, 0.8), y: fraction(0, 0.8), w: fraction(0.03, 0.2) })
  .map(({ x, y, w }) => ({ x, y, w, h: w }));
const pictures = (most: number, least = 1) =>
  fc
    .array(
      fc.record({
        ratio: fc.oneof(fc.constantFrom(1.5, 0.75, 1), fraction(0.3, 3.5)),
        faces: fc.array(face, { maxLength: 3 }),
        good: fraction(0, 1),
      }),
      { minLength: least, maxLength: most },
    )
    .map((all) =>
      all.map((one, i): SheetPicture => ({
        id: i + 1,
        pixels: 3000,
        name: `IMG_${i}.jpg`,
        when: '4 May 2026',
        month: `2026-${String((i % 12) + 1).padStart(2, '0')}`,
        ...one,
      })),
    );

const PLAIN: PrintSettings = {
  language: 'en',
  size: '10x15',
  paper: 'A4',
  border: false,
  date: false,
  copies: 1,
  as: 'pdf',
  finish: 'glossy',
};
const inside = (sheet: Sheet): void => {
  const boxes = sheet.pictures.map(({ box }) => box);
  for (const [i, a] of boxes.entries()) {
    expect(a.x).toBeGreaterThanOrEqual(-1e-6);
    expect(a.y).toBeGreaterThanOrEqual(-1e-6);
    expect(a.x + a.w).toBeLessThanOrEqual(sheet.width + 1e-6);
    expect(a.y + a.h).toBeLessThanOrEqual(sheet.height + 1e-6);
    for (const b of boxes.slice(i + 1))
      expect(a.x < b.x + b.w - 1e-6 && b.x < a.x + a.w - 1e-6 && a.y < b.y + b.h - 1e-6 && b.y < a.y + a.h - 1e-6).toBe(
        false,
      );
  }
};

describe('prints', () => {
  test('a crop has the print’s shape and keeps faces whole', () => {
    fc.assert(
      fc.property(pictures(1), fraction(0.4, 2.5), ([picture], shape) => {
        const box = { w: 150, h: 150 / shape };
        const part = cropAround(picture!, box);
        if (!part) return;
        expect((picture!.ratio * part.w) / part.h).toBeCloseTo(shape, 5);
        for (const { x, y, w, h } of picture!.faces) {
          expect(x).toBeGreaterThanOrEqual(part.x - 1e-6);
          expect(y).toBeGreaterThanOrEqual(part.y - 1e-6);
          expect(x + w).toBeLessThanOrEqual(part.x + part.w + 1e-6);
          expect(y + h).toBeLessThanOrEqual(part.y + part.h + 1e-6);
        }
      }),
    );
  });

  test('each is there as often as it was wished, on paper, beside the others', () => {
    fc.assert(
      fc.property(
        pictures(20),
        fc.constantFrom(...(Object.keys(PRINTS) as PrintSize[])),
        fc.constantFrom('own', 'A4'),
        fc.integer({ min: 1, max: 5 }),
        fc.boolean(),
        (some, size, paper, copies, border) => {
          const { sheets, left } = planPrints(some, { ...PLAIN, size, paper: paper as 'A4', copies, border }, measure);
          const counts = new Map<number, number>();
          for (const sheet of sheets) {
            inside(sheet);
            for (const { id } of sheet.pictures) counts.set(id, (counts.get(id) ?? 0) + 1);
          }
          for (const { id } of some)
            expect(counts.get(id) ?? 0).toBe(left.includes(id) ? 0 : size === 'contact' ? 1 : copies);
          if (size !== '35x45') expect(left).toEqual([]);
        },
      ),
    );
  });

  test('two fit on A4 that are 13 by 18, eight that are 10 by 15 need two more sheets than four', () => {
    const some = Array.from({ length: 8 }, (_, i): SheetPicture => ({
      id: i + 1,
      ratio: 1.5,
      pixels: 3000,
      good: 0.5,
      faces: [],
      name: '',
      when: null,
      month: null,
    }));
    expect(planPrints(some.slice(0, 2), { ...PLAIN, size: '13x18' }, measure).sheets.length).toBe(1);
    expect(planPrints(some, PLAIN, measure).sheets.length).toBe(
      planPrints(some.slice(0, 4), PLAIN, measure).sheets.length + 2,
    );
  });

  test('a passport picture has its head where passports want it', () => {
    const part = passportPart({ ratio: 1, faces: [{ x: 0.4, y: 0.4, w: 0.2, h: 0.2 }] })!;
    const mm = 45 / part.h;
    // From crown to chin 34 mm, the middle of the face in the middle.
    expect(0.2 * 1.4 * mm).toBeCloseTo(34, 5);
    expect((0.6 - part.y) * mm).toBeCloseTo(38.5, 5);
    expect(part.x + part.w / 2).toBeCloseTo(0.5, 5);
    expect(part.w / part.h).toBeCloseTo(35 / 45, 5);
    expect(passportPart({ ratio: 1, faces: [] })).toBeNull();
    expect(passportPart({ ratio: 1, faces: [{ x: 0, y: 0, w: 0.3, h: 0.3 }] })).toBeNull();
  });

  test('a contact sheet names all', () => {
    fc.assert(
      fc.property(pictures(70), (some) => {
        const { sheets } = planPrints(some, { ...PLAIN, size: 'contact' }, measure);
        expect(sheets.length).toBe(Math.ceil(some.length / 30));
        expect(sheets.flatMap(({ texts }) => texts.filter((text) => text.lines[0]!.startsWith('IMG'))).length).toBe(
          some.length,
        );
      }),
    );
  });
});

test('a collage shows up to forty, each whole and in its shape', () => {
  fc.assert(
    fc.property(pictures(45, 2), fraction(0, 20), (some, gap) => {
      const [sheet] = planCollage(
        some,
        { language: 'en', paper: 'A4 wide', gap, background: '#f6f1e7', title: 'Us', as: 'pdf' },
        measure,
      ) as [Sheet];
      inside(sheet);
      expect(sheet.pictures.map(({ id }) => id)).toEqual(some.slice(0, 40).map(({ id }) => id));
      for (const { id, box, part } of sheet.pictures) {
        expect(part).toBeNull();
        expect(box.w / box.h).toBeCloseTo(some[id - 1]!.ratio, 4);
      }
    }),
  );
});

test('a card has a front and a back', () => {
  fc.assert(
    fc.property(pictures(7), fc.lorem({ maxCount: 80 }), (some, words) => {
      const sheets = planCard(
        some,
        { language: 'en', paper: 'A6', background: '#ffffff', title: 'Dear all', words, as: 'pdf' },
        measure,
      );
      expect(sheets.length).toBe(2);
      for (const sheet of sheets) inside(sheet);
      const back = sheets[1]!.texts[0]!;
      expect(back.y).toBeGreaterThanOrEqual(0);
    }),
  );
});

describe('a calendar', () => {
  const words = {
    months: Array.from({ length: 12 }, (_, i) => `Month ${i + 1}`),
    weekdays: ['Mo', 'Tu', 'We', 'Th', 'Fr', 'Sa', 'Su'],
    firstDay: 1,
  };
  const settings = {
    language: 'en',
    paper: 'A4 upright',
    year: 2028,
    country: null,
    birthdays: true,
    title: '',
    as: 'pdf',
  } as const;

  test('has every day of the year on its weekday', () => {
    for (const firstDay of [1, 7]) {
      const sheets = planCalendar([], settings, [], { ...words, firstDay }, measure);
      expect(sheets.length).toBe(13);
      for (let month = 1; month <= 12; month++) {
        const { texts } = sheets[month]!;
        const days = texts.filter(({ role }) => role === 'day' || role === 'feast');
        expect(days.length).toBe(new Date(2028, month, 0).getDate());
        const columns = texts.filter(({ role }) => role === 'year').map(({ x, lines }) => [x, lines[0]!] as const);
        for (const day of days) {
          const weekday = new Date(Date.UTC(2028, month - 1, Number(day.lines[0]))).getUTCDay() || 7;
          expect(columns.find(([x]) => Math.abs(x - day.x) < 0.01)![1]).toBe(words.weekdays[weekday - 1]);
          expect(day.y + 3).toBeLessThan(297);
        }
      }
    }
    expect(monthShape(2028, 2)).toEqual({ days: 29, first: 2 });
  });

  test('shows birthdays and holidays on their day', () => {
    const sheets = planCalendar([], settings, [{ day: '02-29', words: 'Tove (12)', holiday: false }], words, measure);
    const { texts } = sheets[2]!;
    const mark = texts.find(({ role }) => role === 'mark')!;
    const day = texts.find(({ role, lines }) => role !== 'mark' && lines[0] === '29')!;
    expect(mark.lines).toEqual(['Tove (12)']);
    expect(mark.x).toBe(day.x);
  });

  test('gives each month a picture of its own where there is one', () => {
    fc.assert(
      fc.property(pictures(30), (some) => {
        const months = ofMonths(some);
        const shown = months.flatMap((one) => (one ? [one.id] : []));
        expect(new Set(shown).size).toBe(shown.length);
        expect(shown.length).toBe(Math.min(12, some.length));
        for (const [i, one] of months.entries())
          if (some.some(({ month }) => Number(month!.slice(5)) === i + 1))
            expect(Number(one!.month!.slice(5))).toBe(i + 1);
      }),
    );
  });
});
