import { readAmount, readZone } from './amounts';

test.each([
  ['1:02', 3720],
  ['-1:02:30', -3750],
  ['3 days', 259_200],
  ['2 h 15 min', 8100],
  ['1 hour and 30 minutes', 5400],
  ['−45 min', -2700],
  ['1 year', 31_536_000],
  ['', null],
  ['soon', null],
  ['3 moons', null],
  ['1:75', null],
])('the amount %p is %p seconds', (typed, seconds) => expect(readAmount(typed)).toBe(seconds));

test.each([
  ['+2', 120],
  ['-3:30', -210],
  ['5.5', 330],
  ['0', 0],
  ['+15', null],
  ['-13', null],
  ['east', null],
])('the zone %p is %p minutes', (typed, minutes) => expect(readZone(typed)).toBe(minutes));
