import type { Safekeeping, SafePlace } from '@gemmel/contract';
import { troubleIn } from './SafeLine';
import { lost, sayLost, sayNow } from './words';

const NOW = Date.parse('2026-11-28T12:00:00Z');
const run = (began: string): SafePlace['last'] => ({
  id: 1,
  kind: 'backup',
  state: 'done',
  began,
  ended: began,
  still: began,
  files: 10,
  bytes: 1,
  added: 1,
  proven: 10,
  wrong: 0,
  why: null,
});
const place = (more: Partial<SafePlace> = {}): SafePlace => ({
  id: 1,
  kind: 'folder',
  name: 'The disk',
  location: '/media/disk',
  often: 'daily',
  hour: 2,
  kilobytes: null,
  paused: false,
  there: true,
  seen: null,
  pictures: 30,
  waiting: 4,
  last: run('2026-11-27T02:00:00Z'),
  latest: null,
  trial: null,
  latestTrial: null,
  checked: null,
  now: null,
  key: null,
  fingerprint: null,
  ...more,
});
const state = (more: Partial<Safekeeping> = {}): Safekeeping => ({
  pictures: 34,
  two: 30,
  one: 4,
  none: 0,
  since: null,
  words: { n: 0, since: '2026-11-27T02:00:00Z' },
  originals: { pictures: 34, whole: 34, damaged: 0, first: null, last: null, mended: [], now: null },
  house: null,
  places: [place()],
  ...more,
});

describe('safekeeping in words', () => {
  test('a fire takes every copy in the house: only what is elsewhere counts against it', () => {
    expect(lost(state())).toEqual({ n: 4, burned: false });
    const away = place({ id: 2, kind: 'machine', pictures: 20 });
    expect(lost(state({ places: [place(), away] }))).toEqual({ n: 14, burned: true });
    expect(sayLost(state({ places: [place(), away] }))).toBe('If this house burned now, you’d lose 14 pictures.');
  });

  test('what would be lost, with and without what was said', () => {
    expect(sayLost(state({ two: 34 }))).toBe('If this disk failed now, you’d lose nothing.');
    expect(sayLost(state({ two: 34, words: { n: 3, since: '2026-11-27T02:00:00Z' } }))).toMatch(
      /^If this disk failed now, you’d lose what was said and done since 27 November/,
    );
    expect(sayLost(state({ two: 0, places: [], words: { n: 9, since: null } }))).toBe(
      'If this disk failed now, you’d lose all 34 pictures.',
    );
  });

  test('how far work is, and how long it still takes', () => {
    const now = {
      kind: 'backup',
      step: 'copying',
      begun: true,
      done: 50,
      of: 100,
      since: NOW - 60_000,
      from: 0,
    } as const;
    expect(sayNow(now, NOW)).toBe('Copying: 50 of 100, 50%, about a minute left');
    expect(sayNow({ ...now, begun: false }, NOW)).toBe('Waiting for its turn');
    expect(sayNow({ ...now, of: 0 }, NOW)).toBe('Copying …');
  });

  test('a keeper is told of what is at stake, and of nothing that goes its way', () => {
    expect(troubleIn(state(), NOW)).toBeNull();
    expect(troubleIn(state({ places: [] }), NOW)?.loud).toBe(false);
    expect(troubleIn(state({ places: [place({ last: run('2026-11-10T02:00:00Z') })] }), NOW)?.text).toBe(
      '“The disk” has not come up to date for 18 days; 4 pictures wait.',
    );
    expect(troubleIn(state({ places: [place({ often: 'hand', last: run('2026-11-10T02:00:00Z') })] }), NOW)).toBeNull();
    expect(troubleIn(state({ originals: { ...state().originals, damaged: 1 } }), NOW)).toEqual({
      text: '1 original is damaged, and no place has helped so far.',
      loud: true,
    });
  });
});
