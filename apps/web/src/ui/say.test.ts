import { count, sayBytes, sayClock, sayLeft, sayLongDay, sayMoment, sayMonth, sayNumber, sayShortDay } from './say';

describe('how things are said', () => {
  test('days and moments are written out', () => {
    expect(sayLongDay('2026-05-16')).toBe('Saturday 16 May 2026');
    expect(sayShortDay('2026-05-16')).toBe('Saturday 16 May');
    expect(sayMonth('2026-05')).toBe('May 2026');
    expect(sayMoment('2026-05-16T14:07:09.123')).toBe('Saturday 16 May 2026, 14:07');
    expect(sayMoment('2026-05-16 00:05:00')).toBe('Saturday 16 May 2026, 00:05');
  });
  test('numbers line up in threes; one is one', () => {
    expect(sayNumber(12840)).toBe('12 840');
    expect([count(0, 'picture'), count(1, 'picture'), count(2, 'batch', 'batches')]).toEqual([
      '0 pictures',
      '1 picture',
      '2 batches',
    ]);
  });
  test.each([
    [0, '0 bytes'],
    [999, '999 bytes'],
    [1500, '1.5 kB'],
    [61_400_000, '61 MB'],
    [2_340_000_000, '2.3 GB'],
  ])('%i bytes are %s', (bytes, said) => expect(sayBytes(bytes)).toBe(said));
  test.each([
    [3, 'a few seconds'],
    [33, 'about 35 seconds'],
    [62, 'about a minute'],
    [600, 'about 10 minutes'],
    [9000, 'about 3 hours'],
  ])('%i seconds left are %s', (seconds, said) => expect(sayLeft(seconds)).toBe(said));
  test('the length of a clip', () => expect([sayClock(0), sayClock(62.9)]).toEqual(['0:00', '1:02']));
});
