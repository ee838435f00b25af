import { mostOpen, type BurstFace } from './burst';

const face = (x: number, eyes: number): BurstFace => ({ x, y: 0.4, eyes });

describe('the best shot of a burst', () => {
  test('somebody blinks in the first: another is taken', () =>
    expect(
      mostOpen([
        [face(0.3, 0.45), face(0.6, 0.7)],
        [face(0.62, 0.7), face(0.31, 0.8)],
      ]),
    ).toBe(1));
  test('nobody blinks: the first stands, though eyes are never the same twice', () =>
    expect(mostOpen([[face(0.3, 0.78)], [face(0.3, 0.8)], [face(0.3, 0.77)]])).toBe(0));
  test('glasses and narrow eyes are measured against themselves', () =>
    expect(
      mostOpen([
        [face(0.3, 0.3), face(0.7, 0.9)],
        [face(0.3, 0.45), face(0.7, 0.88)],
      ]),
    ).toBe(1));
  test('a face that is not found where it was counts as shut; without faces the first stands', () => {
    expect(mostOpen([[face(0.3, 0.8)], []])).toBe(0);
    expect(mostOpen([[], [face(0.3, 0.8)]])).toBe(0);
  });
});
