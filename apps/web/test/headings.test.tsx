import type { Event } from '@gemmel/contract';
import { regionOf, type Language } from '@gemmel/core';
import { i18n, type Messages } from '@lingui/core';
import {
  besideLength,
  besideWords,
  countedLength,
  countedOf,
  headingHeight,
  LETTER,
  LINE,
} from '@/features/browse/EventHeading';
import { capital, sayLongDay } from '@/ui/say';
import { messages as de } from '@/words/de/messages.po';
import { messages as en } from '@/words/en/messages.po';
import { saySpan } from '@/words/said';
import { messages as sv } from '@/words/sv/messages.po';

jest.mock('expo-router', () => jest.requireActual('./router'));

const CATALOGUES: Record<Language, Messages> = { en, de, sv };
const speak = (language: Language) =>
  i18n.loadAndActivate({ locale: language, locales: [regionOf(language, [])], messages: CATALOGUES[language] });
afterAll(() => speak('en'));

const DAY = 86_400_000;
const dayAfter = (day: string, n: number) => new Date(Date.parse(day) + n * DAY).toISOString().slice(0, 10);
const event = (more: Partial<Event>): Event =>
  ({ id: 1, title: 'Kites', people: [], place: null, town: null, pictures: 12, ...more }) as Event;

describe('the height of a heading is reckoned without saying its words', () => {
  test.each(['en', 'de', 'sv'] as const)('and makes room for all days of two years, in %s', (language) => {
    speak(language);
    const counted = '999 of 1000';
    let worst = Infinity;
    for (let n = 0; n < 731; n++)
      for (const days of [0, 1, 12, 45, 200, 400]) {
        const start = dayAfter('2025-01-01', n);
        const end = dayAfter(start, days);
        const when = days ? saySpan(start, end) : capital(sayLongDay(start));
        const one = event({ start, end });
        worst = Math.min(worst, besideLength(one, counted.length) - besideWords(one, when, counted).join(' · ').length);
      }
    expect(worst).toBeGreaterThanOrEqual(0);
  });

  test.each(['en', 'de', 'sv'] as const)('and for who is in it and where it was, in %s', (language) => {
    speak(language);
    const names = ['Ilse', 'Noor', 'Marten Hallorin', 'Tove', 'Great-aunt Henrietta of the mill', 'Bo'];
    for (let many = 0; many <= names.length; many++)
      for (const where of [{}, { place: 'The mill' }, { town: { name: 'Visby', country: 'SE' } }]) {
        const one = event({ title: null, people: names.slice(0, many), ...where } as Partial<Event>);
        const said = besideWords(one, '', '12 pictures').join(' · ').length;
        expect([many, besideLength(one, '12 pictures'.length) >= said]).toEqual([many, true]);
      }
  });

  test.each(['en', 'de', 'sv'] as const)('and for how many pictures there are, in %s', (language) => {
    speak(language);
    for (const pictures of [1, 2, 9, 10, 99, 100, 999, 1000, 12_345, 100_000])
      for (const shown of new Set([1, Math.ceil(pictures / 2), pictures])) {
        const one = event({ pictures });
        const said = [countedOf(shown, shown).length, countedOf(shown, pictures).length];
        expect([pictures, countedLength(one, false) >= said[0]!]).toEqual([pictures, true]);
        expect([pictures, countedLength(one, true) >= said[1]!]).toEqual([pictures, true]);
      }
  });

  test('a few people and pictures are one line on a phone, and no room is kept for another', () => {
    speak('en');
    const day = { start: '2026-11-21', end: '2026-11-21' };
    const few = event({ ...day, title: null, people: ['Ilse', 'Tove', 'Emil'], pictures: 3 });
    expect(headingHeight(few, 344, false)).toBe(LINE.name + LINE.small + LINE.act + 12);
    const said = besideWords(few, '', countedOf(3, 3)).join(' · ');
    expect(said.length * LETTER.small).toBeLessThan(344 - 82);
    const many = event({ ...day, title: null, people: ['Ilse', 'Tove', 'Emil', 'Marten', 'Noor'], pictures: 3 });
    expect(headingHeight(many, 344, false)).toBe(LINE.name + 2 * LINE.small + LINE.act + 12);
  });

  test('more words need more lines, on a narrow page above all', () => {
    speak('en');
    const short = event({ start: '2026-05-16', end: '2026-05-16' });
    const long = event({ ...short, people: Array.from({ length: 12 }, (_, i) => `Somebody ${i}`) });
    const heights = [
      headingHeight(short, 360, false),
      headingHeight(long, 360, false),
      headingHeight(long, 360, false),
    ];
    expect(heights[1]).toBeGreaterThan(heights[0]!);
    expect(heights[2]).toBe(heights[1]);
    expect(headingHeight(long, 320, false)).toBeGreaterThanOrEqual(heights[1]!);
    expect(headingHeight(short, 1200, true)).toBeLessThan(headingHeight(long, 600, true));
  });
});
