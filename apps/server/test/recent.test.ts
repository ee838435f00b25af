import { Recent } from '../src/recent';

describe('recent answers', () => {
  test('are kept for their seconds, at most so many, the oldest going first', () => {
    let now = 0;
    const recent = new Recent<string, number>(2, 10, () => now);
    recent.set('a', 1);
    recent.set('b', 2);
    recent.set('a', 3);
    recent.set('c', 4);
    expect([recent.get('a'), recent.get('b'), recent.get('c')]).toEqual([3, undefined, 4]);
    now = 10_001;
    expect(recent.get('a')).toBeUndefined();
    recent.set('a', 5);
    recent.forget('a');
    expect(recent.get('a')).toBeUndefined();
  });
});
