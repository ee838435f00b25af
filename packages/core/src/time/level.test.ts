import { EN } from '../words/en';
import { levelOf } from './level';

test('a day leads up to its month and year', () => {
  const day = levelOf({ taken: { from: '2024-02-29', to: '2024-02-29' } }, EN);
  expect(day).toMatchObject({ name: '29 February 2024', below: null, only: null });
  expect(day?.up).toEqual([
    { name: '2024', part: { taken: { from: '2024-01-01', to: '2024-12-31' } } },
    { name: 'February', part: { taken: { from: '2024-02-01', to: '2024-02-29' } } },
  ]);
});
test('a month and a year know all of it, and what is dated no closer', () => {
  const month = levelOf({ taken: { from: '2024-02-01', to: '2024-02-29' } }, EN);
  expect(month).toMatchObject({ name: 'February', isOnly: false, only: { taken: { only: '2024-02' } } });
  expect(levelOf(month!.only!, EN)).toMatchObject({
    isOnly: true,
    below: { taken: { from: '2024-02-01', to: '2024-02-29' } },
  });
  expect(levelOf({ taken: { only: '1974' } }, EN)).toMatchObject({ name: '1974', up: [], isOnly: true });
});
test.each([
  [{ taken: { from: '2024-02-01', to: '2024-02-28' } }],
  [{ taken: { from: '2024-01-01' } }],
  [{ taken: { lastDays: 7 } }],
  [{ favourite: true }],
])('%j is no level', (part) => expect(levelOf(part, EN)).toBeNull());
