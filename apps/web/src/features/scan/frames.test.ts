import type { Corners } from '@gemmel/core';
import { angleOf, asFrame, furtherFrame, middleOf, movedBy, numberAt, shapeOf } from './frames';

const frame: Corners = [0.1, 0.1, 0.5, 0.1, 0.5, 0.4, 0.1, 0.4];

describe('frames on the glass', () => {
  it('a frame moves as a whole, and no farther than the glass goes', () => {
    expect(movedBy(frame, 0.1, 0.2).map((v) => Math.round(v * 100) / 100)).toEqual([
      0.2, 0.3, 0.6, 0.3, 0.6, 0.6, 0.2, 0.6,
    ]);
    expect(movedBy(frame, -1, 2)).toEqual([0, 0.7, 0.4, 0.7, 0.4, 1, 0, 1]);
  });

  it('corners that cross are no frame; those beyond the glass are held on it', () => {
    expect(asFrame([0.1, 0.1, 0.5, 0.1, 0.1, 0.4, 0.5, 0.4])).toBeNull();
    expect(asFrame([-0.2, 0.1, 0.5, 0.1, 0.5, 0.4, 0.1, 0.4])![0]).toBe(0);
  });

  it('tells which way a print is read, and its shape', () => {
    expect(angleOf(frame, 100, 200)).toBe(0);
    const upsideDown: Corners = [0.5, 0.4, 0.1, 0.4, 0.1, 0.1, 0.5, 0.1];
    expect(Math.abs(angleOf(upsideDown, 100, 200))).toBe(180);
    const [u, v] = numberAt(frame, 0.5);
    expect([u, v]).toEqual([expect.closeTo(0.3, 6), expect.closeTo(0.175, 6)]);
    expect(shapeOf(frame, 100, 100)).toBeCloseTo(4 / 3, 1);
  });

  it('a further frame stands where there is room, and is one', () => {
    const further = furtherFrame([frame], 100, 140);
    const [x, y] = middleOf(further);
    expect(x).toBeGreaterThan(0.5);
    expect(y).toBeGreaterThan(0.5);
    expect(asFrame(further)).not.toBeNull();
    expect(asFrame(furtherFrame([], 140, 100))).not.toBeNull();
  });
});
