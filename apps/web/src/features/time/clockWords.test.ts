import { clockEarlier, clockEvidence, clockLater, clockTitle, sayShift } from './clockWords';

const clock = {
  id: 1,
  device: 'The good camera',
  from: '2026-02-21',
  to: '2026-11-14',
  shiftSeconds: 3720,
  pairs: 58,
  occasions: 6,
  spreadSeconds: 4,
  kind: 'a wrong clock' as const,
  pictures: 76,
  earlier: null,
  later: null,
  examples: [],
};

describe('clocks in words', () => {
  test.each([
    [40, '40 s'],
    [3720, '1 h 02 min'],
    [-2820, '47 min'],
    [7200, '2 h'],
    [19_800, '5 h 30 min'],
    [3599, '1 h'],
    [12 * 86_400, '12 days'],
    [9283 * 86_400, '25 years and 152 days'],
    [366 * 86_400, '1 year and 1 day'],
  ])('%d seconds', (seconds, words) => expect(sayShift(seconds)).toBe(words));
  test('what else may be wrong', () => {
    expect(clockEarlier({ pictures: 34, from: '2026-03-03' })).toBe(
      'Also the 34 pictures before, from 3 March 2026: nothing shows that the clock was right then.',
    );
    expect(clockLater({ pictures: 1, to: '2026-12-14' })).toBe(
      'Also the picture after, up to 14 December 2026: nothing shows that the clock was set since.',
    );
  });
  test('behind or ahead, and why', () => {
    expect(clockTitle(clock)).toBe('The good camera is 1 h 02 min behind');
    expect(clockTitle({ ...clock, shiftSeconds: -60 })).toBe('The good camera is 1 min ahead');
    expect(clockEvidence(clock)).toBe(
      '58 pairs of pictures on 6 occasions agree on +1 h 02 min, 21 February to 14 November 2026.',
    );
    expect(clockEvidence({ ...clock, kind: 'an hour', shiftSeconds: -3600 })).toMatch(/−1 h, .*That is summer time\.$/);
  });
});
