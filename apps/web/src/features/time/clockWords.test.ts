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

/** A number and its unit stay together on screen; here any space will do. */
const loose = (said: string) => said.replaceAll('\u00a0', ' ');

describe('clocks in words', () => {
  test.each([
    [40, '40 secs'],
    [3720, '1 hr 2 mins'],
    [-2820, '47 mins'],
    [7200, '2 hrs'],
    [19_800, '5 hrs 30 mins'],
    [3599, '1 hr'],
    [12 * 86_400, '12 days'],
    [9283 * 86_400, '25 years 152 days'],
    [366 * 86_400, '1 year 1 day'],
  ])('%d seconds', (seconds, words) => expect(loose(sayShift(seconds))).toBe(words));
  test('what else may be wrong', () => {
    expect(clockEarlier({ pictures: 34, from: '2026-03-03' })).toBe(
      'Also the 34 pictures before, from 3 March 2026: nothing shows the clock was right then.',
    );
    expect(clockLater({ pictures: 1, to: '2026-12-14' })).toBe(
      'Also the picture after, up to 14 December 2026: nothing shows the clock was set since.',
    );
  });
  test('behind or ahead, and why', () => {
    expect(loose(clockTitle(clock))).toBe('The good camera is 1 hr 2 mins slow');
    expect(loose(clockTitle({ ...clock, shiftSeconds: -60 }))).toBe('The good camera is 1 min fast');
    expect(loose(clockEvidence(clock))).toBe(
      '58 pairs of pictures on 6 occasions: +1 hr 2 mins, 21 February to 14 November 2026.',
    );
    expect(clockEvidence({ ...clock, kind: 'an hour', shiftSeconds: -3600 })).toMatch(
      /−1\shr, .*It looks like summer time\.$/,
    );
  });
});
