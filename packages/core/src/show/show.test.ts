import fc from 'fast-check';
import { panOver, partAt, type Part } from './pan';
import { lengthOf, PLAIN_SHOW, planShow, shuffled, type ShowPicture, type ShowSettings } from './plan';

const pictures = fc
  .array(
    fc.record({
      ratio: fc.constantFrom(0.56, 0.75, 1, 1.33, 1.5, 1.78, 2.6),
      seconds: fc.option(fc.integer({ min: 1, max: 40 }), { freq: 6 }),
      taken: fc.option(fc.constantFrom('2024-01-01T10:00:00', '2026-05-16T12:00:00', '2026-05-16T12:00:01')),
    }),
    { maxLength: 40 },
  )
  .map((rows) => rows.map((row, i): ShowPicture => ({ ...row, id: i + 1 })));
const settings = fc.record({
  order: fc.constantFrom('given' as const, 'time' as const, 'shuffled' as const),
  seconds: fc.option(fc.integer({ min: 1, max: 20 })),
  pairs: fc.boolean(),
  cards: fc.boolean(),
});
const of = fc.record({
  pictures,
  screen: fc.constantFrom(0.46, 0.75, 1, 1.6, 1.78),
  music: fc.integer({ min: 0, max: 900 }),
  seed: fc.integer(),
});
const wish = (more: Partial<ShowSettings>): ShowSettings => ({ ...PLAIN_SHOW, ...more });
const idsOf = (slides: ReturnType<typeof planShow>) =>
  slides.flatMap((slide) => (slide.kind === 'picture' ? [...slide.ids] : []));

describe('a show', () => {
  test('has every picture once, in the order wished; clips keep their length and stand alone; nothing stays for no time', () => {
    fc.assert(
      fc.property(of, settings, (what, how) => {
        const slides = planShow(what, wish(how));
        const ids = idsOf(slides);
        const by = new Map(what.pictures.map((one) => [one.id, one]));
        if (how.order === 'given') expect(ids).toEqual(what.pictures.map(({ id }) => id));
        else expect([...ids].sort((a, b) => a - b)).toEqual(what.pictures.map(({ id }) => id));
        if (how.order === 'time')
          ids.forEach((id, i) => {
            const [a, b] = [by.get(ids[i - 1] ?? id)!.taken ?? '~', by.get(id)!.taken ?? '~'];
            expect(a <= b).toBe(true);
          });
        for (const slide of slides) {
          expect(slide.seconds).toBeGreaterThan(0);
          if (slide.kind === 'picture' && slide.ids.length === 2) {
            const [a, b] = slide.ids.map((id) => by.get(id!)!);
            expect([a!.seconds, b!.seconds]).toEqual([null, null]);
            expect(how.pairs).toBe(true);
            expect(what.screen > 1 ? a!.ratio < 1 && b!.ratio < 1 : a!.ratio > 1 && b!.ratio > 1).toBe(true);
          } else if (slide.kind === 'picture') {
            const { seconds } = by.get(slide.ids[0])!;
            if (seconds !== null) expect(slide.seconds).toBe(seconds);
          }
        }
        const cards = slides.filter((slide) => slide.kind === 'card').length;
        expect(cards).toBe(how.cards && what.pictures.length ? 2 : 0);
      }),
    );
  });

  test('lasts as long as its music, as far as pictures neither flash by nor stand forever', () => {
    fc.assert(
      fc.property(of, (what) => {
        const slides = planShow(what, wish({ seconds: null, cards: false, pairs: false }));
        const still = what.pictures.filter(({ seconds }) => seconds === null).length;
        const clips = what.pictures.reduce((sum, { seconds }) => sum + (seconds ?? 0), 0);
        const each = still ? (what.music - clips) / still : 0;
        if (what.music && each >= 1.5 && each <= 30) expect(lengthOf(slides)).toBeCloseTo(what.music, 6);
      }),
    );
  });

  test('chapters have their cards before their pictures, and part what would stand together', () => {
    const four = [1, 2, 3, 4].map((id): ShowPicture => ({ id, ratio: 0.75, seconds: null, taken: null }));
    const slides = planShow(
      {
        pictures: four,
        chapters: [
          { id: 7, at: 0 },
          { id: 8, at: 1 },
        ],
        screen: 1.6,
        music: 0,
        seed: 1,
      },
      wish({}),
    );
    expect(slides.map((slide) => (slide.kind === 'picture' ? slide.ids.join('+') : slide.card))).toEqual([
      'begin',
      'chapter',
      '1',
      'chapter',
      '2+3',
      '4',
      'end',
    ]);
  });

  test('shuffled is the same for one seed, and another for the next', () => {
    const list = Array.from({ length: 30 }, (_, i) => i);
    expect(shuffled(list, 5)).toEqual(shuffled(list, 5));
    expect(shuffled(list, 5)).not.toEqual(shuffled(list, 6));
    expect(planShow({ pictures: [], screen: 1, music: 0, seed: 0 }, wish({}))).toEqual([]);
  });
});

describe('a gentle movement', () => {
  const face = fc
    .record({
      x: fc.double({ min: 0, max: 0.9, noNaN: true }),
      y: fc.double({ min: 0, max: 0.9, noNaN: true }),
      w: fc.double({ min: 0.01, max: 0.5, noNaN: true }),
      h: fc.double({ min: 0.01, max: 0.5, noNaN: true }),
    })
    .map((f): Part => ({ ...f, w: Math.min(f.w, 1 - f.x), h: Math.min(f.h, 1 - f.y) }));
  test('keeps every face in view all the time, stays within the picture, and stretches nothing', () => {
    fc.assert(
      fc.property(fc.array(face, { maxLength: 5 }), fc.integer(), (faces, seed) => {
        const pan = panOver(faces, seed);
        for (const share of [0, 0.25, 0.5, 0.75, 1]) {
          const part = partAt(pan, share);
          expect(part.w).toBeCloseTo(part.h, 9);
          expect(part.x).toBeGreaterThanOrEqual(-1e-9);
          expect(part.y).toBeGreaterThanOrEqual(-1e-9);
          expect(part.x + part.w).toBeLessThanOrEqual(1 + 1e-9);
          expect(part.y + part.h).toBeLessThanOrEqual(1 + 1e-9);
          for (const one of faces) {
            expect(part.x).toBeLessThanOrEqual(one.x + 1e-9);
            expect(part.y).toBeLessThanOrEqual(one.y + 1e-9);
            expect(part.x + part.w).toBeGreaterThanOrEqual(one.x + one.w - 1e-9);
            expect(part.y + part.h).toBeGreaterThanOrEqual(one.y + one.h - 1e-9);
          }
        }
        if (faces.length === 0) expect(Math.min(pan.from.w, pan.to.w)).toBeLessThan(0.96);
      }),
    );
  });
});
