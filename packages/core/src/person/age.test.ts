import { EN } from '../words/en';
import { sayAge } from './age';

test.each([
  ['2017-06-02', '2026-06-01', '8'],
  ['2017-06-02', '2026-06-02', '9'],
  ['2024-02-29', '2026-02-28', '23 months'],
  ['2026-01-31', '2026-03-30', '8 weeks'],
  ['2026-01-31', '2026-03-31', '2 months'],
  ['2026-05-01', '2026-05-08', '1 week'],
  ['2026-05-02', '2026-05-01', null],
  [null, '2026-05-01', null],
  ['2026-05-02', null, null],
])('born %s, on %s: %s', (born, day, said) => expect(sayAge(born, day, EN)).toBe(said));
