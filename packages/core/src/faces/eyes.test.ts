import { eyesOpen, MESH, meshFace } from './eyes';

/** A mesh in which the lids of the right and of the left eye stand so far apart, each eye 30 wide. */
function mesh(right: number, left: number): Float32Array {
  const points = new Float32Array(468 * 3);
  const at = (i: number, x: number, y: number) => points.set([x, y, 0], 3 * i);
  at(33, 60, 80);
  at(133, 90, 80);
  at(362, 110, 80);
  at(263, 140, 80);
  for (const [upper, lower] of [
    [159, 145],
    [158, 153],
    [160, 144],
  ] as const) {
    at(upper, 75, 80 - right / 2);
    at(lower, 75, 80 + right / 2);
  }
  for (const [upper, lower] of [
    [386, 374],
    [385, 380],
    [387, 373],
  ] as const) {
    at(upper, 125, 80 - left / 2);
    at(lower, 125, 80 + left / 2);
  }
  return points;
}

describe('how open eyes are', () => {
  test('the distance of the lids over the width of the eye; the more open one counts, since one may be hidden', () => {
    expect(eyesOpen(mesh(9, 9))).toBeCloseTo(0.3);
    expect(eyesOpen(mesh(3, 3))).toBeCloseTo(0.1);
    expect(eyesOpen(mesh(3, 9))).toBeCloseTo(0.3);
  });

  test('a face is cut out with its eyes level and in their place', () => {
    const data = new Uint8Array(400 * 400 * 3);
    // Two white eyes on black, turned by a quarter: one above the other.
    for (const [x, y] of [
      [200, 150],
      [200, 250],
    ] as const)
      for (let v = -6; v <= 6; v++)
        for (let u = -6; u <= 6; u++) data.fill(255, 3 * ((y + v) * 400 + x + u), 3 * ((y + v) * 400 + x + u) + 3);
    const cut = meshFace({ width: 400, height: 400, data }, [
      [200, 150],
      [200, 250],
      [150, 200],
      [90, 160],
      [90, 240],
    ]);
    expect([cut.width, cut.height]).toEqual([MESH, MESH]);
    const lit = (from: number, to: number) => {
      let [x, y, n] = [0, 0, 0];
      for (let v = 0; v < MESH; v++)
        for (let u = from; u < to; u++) if (cut.data[3 * (v * MESH + u)]! > 128) [x, y, n] = [x + u, y + v, n + 1];
      return [x / n, y / n] as const;
    };
    const [left, right] = [lit(0, MESH / 2), lit(MESH / 2, MESH)];
    expect(Math.abs(left[1] - right[1])).toBeLessThan(3);
    expect(right[0] - left[0]).toBeGreaterThan(40);
    expect(left[1]).toBeLessThan(MESH / 2);
  });
});
