import { regionOf, type Language } from '@gemmel/core';
import { i18n, type Messages } from '@lingui/core';
import { actWords } from '@/features/acts/actWords';
import {
  byName,
  firstDayOfWeek,
  sayBytes,
  sayLeft,
  sayList,
  sayLongDay,
  sayShare,
  sayTimeOfDay,
  weekdays,
} from '@/ui/say';
import { messages as de } from './de/messages.po';
import { messages as en } from './en/messages.po';
import { sayProblem, sayReason, sayWork } from './problems';
import { batchName, sayEdtf, sayPlace, saySpan, sayTrouble, tileLabel } from './said';
import { messages as sv } from './sv/messages.po';

const CATALOGUES: Record<Language, Messages> = { en, de, sv };
const speak = (language: Language, ...wishes: string[]) =>
  i18n.loadAndActivate({ locale: language, locales: [regionOf(language, wishes)], messages: CATALOGUES[language] });
afterAll(() => speak('en'));

/** What one and the same is called in each language. */
const inEach = (say: () => string): string[] =>
  (['en', 'de', 'sv'] as const).map((language) => {
    speak(language);
    return say();
  });

describe('the same in each language', () => {
  test.each<[string, () => string, string[]]>([
    ['a day', () => sayLongDay('2026-05-16'), ['Saturday 16 May 2026', 'Samstag, 16. Mai 2026', 'lördag 16 maj 2026']],
    ['days', () => saySpan('2026-05-04', '2026-05-09'), ['4 to 9 May 2026', '4. bis 9. Mai 2026', '4 till 9 maj 2026']],
    ['a remembered season', () => sayEdtf('1988-22'), ['summer 1988', 'Sommer 1988', 'sommaren 1988']],
    ['a remembered year', () => sayEdtf('1960~'), ['about 1960', 'etwa 1960', 'omkring 1960']],
    ['a size', () => sayBytes(3_100_000), ['3.1\u00a0MB', '3,1\u00a0MB', '3,1\u00a0MB']],
    ['a share, never rounded up', () => sayShare(0.999), ['99%', '99 %', '99 %']],
    [
      'a list',
      () => sayList(['Ilse', 'Marten', 'Tove']),
      ['Ilse, Marten and Tove', 'Ilse, Marten und Tove', 'Ilse, Marten och Tove'],
    ],
    ['time left', () => sayLeft(60), ['about a minute', 'etwa eine Minute', 'ungefär en minut']],
    [
      'a place',
      () => sayPlace({ ownPlace: null, where: { country: 'SE', region: null, place: 'Visby', km: 0 } })!,
      ['Visby, Sweden', 'Visby, Schweden', 'Visby, Sverige'],
    ],
    [
      'a tile',
      () => tileLabel({ name: 'Kites', day: null, about: '1988-22' }),
      ['Kites, summer 1988', 'Kites, Sommer 1988', 'Kites, sommaren 1988'],
    ],
    [
      'a batch of a device',
      () => batchName({ name: 'Noor', named: 'source', createdAt: '2026-05-16T12:00:00.000Z' }),
      ['Noor, 16 May 2026', 'Noor, 16. Mai 2026', 'Noor, 16 maj 2026'],
    ],
    [
      'an act on one picture',
      () => actWords({ kind: 'say', words: { rating: 3 }, pictures: 1 }),
      ['Gave ★★★ to 1 picture', '1 Bild bekam ★★★', 'Gav ★★★ till 1 bild'],
    ],
    [
      'a problem with what it speaks of',
      () => sayProblem({ code: 'device-taken', params: { name: 'Noor' } })!,
      [
        'There is already a device called “Noor”.',
        'Ein Gerät namens „Noor“ gibt es schon.',
        'Det finns redan en apparat som heter ”Noor”.',
      ],
    ],
    [
      'something gone',
      () => sayProblem({ code: 'gone', params: { thing: 'picture' } })!,
      ['This picture is no longer here.', 'Dieses Bild ist nicht mehr hier.', 'Bilden är inte kvar.'],
    ],
    [
      'a reason',
      () => sayReason({ code: 'not-by-its-ending', params: { ending: 'jpg' } }),
      [
        'Not a picture, although its name ends in .jpg',
        'Kein Bild, obwohl der Name auf .jpg endet',
        'Inte en bild, fast namnet slutar på .jpg',
      ],
    ],
    [
      'work that failed',
      () => sayTrouble({ kind: 'clocks', path: null }),
      ['Comparing clocks', 'Uhren vergleichen', 'Jämför klockor'],
    ],
    ['the first day of a week', () => weekdays('long')[0]!.name, ['Monday', 'Montag', 'måndag']],
  ])('%s', (_, say, said) => expect(inEach(say)).toEqual(said.map((one) => one.replace(/ %/, '\u00a0%'))));
});

test('what a page of an older version does not know is not said wrongly', () => {
  speak('de');
  expect(sayProblem({ code: 'from-the-future', params: {} })).toBeNull();
  expect(sayReason({ code: 'from-the-future', params: {} })).toBe('Unbekannt');
  expect(sayWork('alike')).toBe('Serien und doppelte Bilder finden');
});

test('a region’s own habits are followed within a language', () => {
  speak('en', 'en-US');
  expect(firstDayOfWeek()).toBe(7);
  expect(sayTimeOfDay('2026-05-16T14:07:00')).toBe('02:07 PM');
  speak('de', 'de-AT');
  expect(firstDayOfWeek()).toBe(1);
  expect(sayTimeOfDay('2026-05-16T14:07:00')).toBe('14:07');
  expect(inEach(() => ['Ö', 'Z', 'A'].sort(byName).join(''))).toEqual(['AÖZ', 'AÖZ', 'AZÖ']);
});
