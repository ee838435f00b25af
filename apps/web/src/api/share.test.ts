import { shareBefore } from './share';

const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

test('an answer that says the same is the one before, and what of it is the same stays', () => {
  const before = {
    ids: [1, 2, 3],
    events: [
      { id: 1, people: ['Ilse'] },
      { id: 2, people: [] },
    ],
    none: null,
  };
  expect(shareBefore(before, copy(before))).toBe(before);
  const now = copy(before);
  now.events[1]!.people.push('Tove' as never);
  const shared = shareBefore(before, now) as typeof before;
  expect(shared).toEqual(now);
  expect([shared === before, shared.ids === before.ids, shared.events[0] === before.events[0]]).toEqual([
    false,
    true,
    true,
  ]);
  expect(shared.events[1]).not.toBe(before.events[1]);
});

test('what is shorter, longer, of another kind or was not there is new', () => {
  for (const [before, now] of [
    [[1, 2], [1]],
    [[1], [1, 2]],
    [{ a: 1, b: 2 }, { a: 1 }],
    [{ a: 1 }, { a: 1, b: undefined }],
    [[], {}],
    [undefined, { a: [1] }],
    [{ a: null }, { a: {} }],
    [NaN, 1],
  ]) {
    const shared = shareBefore(before, now);
    expect(shared).toEqual(now);
    expect(shared).not.toBe(before);
  }
});
