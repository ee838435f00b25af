import { isDue, type Timetable } from './timetable';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const MIDNIGHT = Date.UTC(2026, 10, 28);
const at = (hours: number, day = 0) => MIDNIGHT + day * DAY + hours * HOUR;
const table = (more: Partial<Timetable>): Timetable => ({
  often: 'daily',
  hour: 2,
  done: at(2, -1),
  tried: at(2, -1),
  there: true,
  back: false,
  ...more,
});

test('the first time is at once, unless it is done by hand', () => {
  expect(isDue(table({ done: null, tried: null }), MIDNIGHT, at(15))).toBe(true);
  expect(isDue(table({ often: 'hand', done: null, tried: null }), MIDNIGHT, at(15))).toBe(false);
});

test('daily: once a day, from its hour on', () => {
  expect(isDue(table({}), MIDNIGHT, at(1.9))).toBe(false);
  expect(isDue(table({}), MIDNIGHT, at(2.1))).toBe(true);
  expect(isDue(table({ done: at(2.1), tried: at(2.1) }), MIDNIGHT, at(20))).toBe(false);
});

test('weekly: after six days and more', () => {
  expect(isDue(table({ often: 'weekly', done: at(2, -5), tried: at(2, -5) }), MIDNIGHT, at(3))).toBe(false);
  expect(isDue(table({ often: 'weekly', done: at(2.5, -7), tried: at(2, -7) }), MIDNIGHT, at(3))).toBe(true);
});

test('what was missed is made up for at once, and what failed is tried again after a while', () => {
  expect(isDue(table({ done: at(2, -3), tried: at(2, -3) }), MIDNIGHT, at(0.5))).toBe(true);
  expect(isDue(table({ tried: at(2) }), MIDNIGHT, at(2.2))).toBe(false);
  expect(isDue(table({ tried: at(2) }), MIDNIGHT, at(2.6))).toBe(true);
  expect(isDue(table({ done: null, tried: at(2) }), MIDNIGHT, at(2.2))).toBe(false);
});

test('a disk that shows up is copied to then, and not again for a while', () => {
  const disk = table({ often: 'shows', done: at(2, -3), tried: at(2, -3), there: false });
  expect(isDue(disk, MIDNIGHT, at(12))).toBe(false);
  expect(isDue({ ...disk, there: true, back: true }, MIDNIGHT, at(12))).toBe(true);
  expect(isDue({ ...disk, there: true }, MIDNIGHT, at(12))).toBe(true);
  expect(isDue({ ...disk, there: true, done: at(2), tried: at(2) }, MIDNIGHT, at(12))).toBe(false);
  expect(isDue({ ...disk, back: true, done: at(10), tried: at(10) }, MIDNIGHT, at(12))).toBe(false);
});

test('a clock that was set back keeps nothing from being done', () => {
  expect(isDue(table({ done: at(2, 40), tried: at(2, 40) }), MIDNIGHT, at(12))).toBe(true);
});
