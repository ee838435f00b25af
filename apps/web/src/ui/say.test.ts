import { i18n } from '@lingui/core';
import {
  firstDayOfWeek,
  sayBytes,
  sayClock,
  sayLeft,
  sayLongDay,
  sayMoment,
  sayMonth,
  sayNumber,
  sayShare,
  sayShortDay,
  weekdays,
} from './say';

describe('how things are said', () => {
  test('days and moments are written out', () => {
    expect(sayLongDay('2026-05-16')).toBe('Saturday 16 May 2026');
    expect(sayShortDay('2026-05-16')).toBe('Saturday 16 May');
    expect(sayMonth('2026-05')).toBe('May 2026');
    expect(sayMoment('2026-05-16T14:07:09.123')).toBe('Saturday 16 May 2026, 14:07');
    expect(sayMoment('2026-05-16 00:05:00')).toBe('Saturday 16 May 2026, 00:05');
  });
  test('numbers are parted in threes; a share is never more than there is', () => {
    expect(sayNumber(12840)).toBe('12,840');
    expect([sayShare(0.4), sayShare(0.999), sayShare(1)]).toEqual(['40%', '99%', '100%']);
  });
  test('a region’s habits are kept: its clock, its week, its figures', () => {
    const said = () => [
      sayMoment('2026-05-16T14:07:09'),
      sayNumber(12840),
      firstDayOfWeek(),
      weekdays('short')[0]!.name,
    ];
    expect(said()).toEqual(['Saturday 16 May 2026, 14:07', '12,840', 1, 'Mon']);
    const speak = (locale: string, region: string) => i18n.loadAndActivate({ locale, locales: [region], messages: {} });
    speak('en', 'en-US');
    expect(said()).toEqual(['Saturday, May 16, 2026, 02:07 PM', '12,840', 7, 'Sun']);
    speak('de', 'de-AT');
    expect(said()).toEqual(['Samstag, 16. Mai 2026, 14:07', '12\u00a0840', 1, 'Mo']);
    speak('sv', 'sv-SE');
    expect(said()).toEqual(['lördag 16 maj 2026, 14:07', '12\u00a0840', 1, 'mån']);
    speak('en', 'en-GB');
  });
  test.each([
    [0, '0 bytes'],
    [999, '999 bytes'],
    [1500, '1.5 kB'],
    [61_400_000, '61 MB'],
    [2_340_000_000, '2.3 GB'],
  ])('%i bytes are %s', (bytes, said) => expect(sayBytes(bytes)).toBe(said.replace(' ', '\u00a0')));
  test.each([
    [3, 'a few seconds'],
    [33, 'about 35 seconds'],
    [62, 'about a minute'],
    [600, 'about 10 minutes'],
    [9000, 'about 3 hours'],
    [3700, 'about an hour'],
  ])('%i seconds left are %s', (seconds, said) => expect(sayLeft(seconds)).toBe(said));
  test('the length of a clip', () => expect([sayClock(0), sayClock(62.9)]).toEqual(['0:00', '1:02']));
});
