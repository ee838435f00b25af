import fc from 'fast-check';
import {
  acceptFace,
  alignFace,
  bestOfEach,
  overlap,
  planes,
  REFERENCE_POINTS,
  rollOf,
  similarity,
  unmap,
  warp,
  type Point,
} from './geometry';
import { centred, dot, joined, meanDescription, unit } from './vector';
import { groupFaces } from './group';

describe('geometry', () => {
  test('a similarity is found from points it moved, and undone', () => {
    const number = fc.double({ min: -3, max: 3, noNaN: true });
    fc.assert(
      fc.property(
        number,
        number,
        fc.double({ min: 0.2, max: 4, noNaN: true }),
        fc.double({ min: -3.1, max: 3.1, noNaN: true }),
        (tx, ty, scale, turn) => {
          const [a, b] = [scale * Math.cos(turn), scale * Math.sin(turn)];
          const moved = REFERENCE_POINTS.map(([x, y]): Point => [a * x - b * y + tx, b * x + a * y + ty]);
          const m = similarity(REFERENCE_POINTS, moved);
          expect(m.a).toBeCloseTo(a, 6);
          expect(m.b).toBeCloseTo(b, 6);
          const [x, y] = unmap(m, ...moved[2]!);
          expect(x).toBeCloseTo(REFERENCE_POINTS[2]![0], 5);
          expect(y).toBeCloseTo(REFERENCE_POINTS[2]![1], 5);
        },
      ),
    );
  });
  test('warping by the identity changes nothing; outside is black', () => {
    const image = { width: 3, height: 2, data: Uint8Array.from({ length: 18 }, (_, i) => i * 10) };
    expect([...warp(image, { a: 1, b: 0, tx: 0, ty: 0 }, 3, 2).data]).toEqual([...image.data]);
    expect(Math.max(...warp(image, { a: 1, b: 0, tx: 50, ty: 50 }, 3, 2).data)).toBe(0);
    expect(alignFace(image, REFERENCE_POINTS)).toMatchObject({ width: 112, height: 112 });
  });
  test('boxes: overlap, and the best of every heap', () => {
    expect(overlap([0, 0, 10, 10], [5, 0, 15, 10])).toBeCloseTo(1 / 3);
    expect(overlap([0, 0, 10, 10], [2, 2, 4, 4], 'min')).toBe(1);
    expect(overlap([0, 0, 1, 1], [2, 2, 3, 3])).toBe(0);
    const found = [
      { box: [0, 0, 10, 10] as const, score: 0.8 },
      { box: [1, 0, 11, 10] as const, score: 0.9 },
      { box: [30, 0, 40, 10] as const, score: 0.7 },
    ];
    expect(bestOfEach(found, 0.4).map((f) => f.score)).toEqual([0.9, 0.7]);
  });
  test('roll of a face', () => {
    const turn = (degrees: number) =>
      REFERENCE_POINTS.map(([x, y]): Point => [
        x * Math.cos((degrees * Math.PI) / 180) - y * Math.sin((degrees * Math.PI) / 180),
        x * Math.sin((degrees * Math.PI) / 180) + y * Math.cos((degrees * Math.PI) / 180),
      ]);
    for (const degrees of [-60, -10, 0, 25, 80]) expect(rollOf(turn(degrees))).toBeCloseTo(degrees, 0);
  });
  test('what counts as a face', () => {
    expect(acceptFace({ detector: 0.995, check: 0.1, votes: 2, height: 30 })).toBe(true);
    expect(acceptFace({ detector: 0.995, check: 0.1, votes: 1, height: 30 })).toBe(false);
    expect(acceptFace({ detector: 0.85, check: 0.95, votes: 1, height: 30 })).toBe(true);
    expect(acceptFace({ detector: 0.999, check: 0.99, votes: 3, height: 11 })).toBe(false);
  });
  test('planes in the order networks take them', () => {
    const image = { width: 2, height: 1, data: Uint8Array.of(1, 2, 3, 4, 5, 6) };
    expect([...planes(image, 0, 1)]).toEqual([1, 4, 2, 5, 3, 6]);
    expect([...planes(image, 0, 1, { bgr: true })]).toEqual([3, 6, 2, 5, 1, 4]);
  });
});

describe('descriptions and groups', () => {
  const near = (base: number[], shift: number) => unit(Float32Array.from(base, (v, i) => v + (i === 0 ? shift : 0)));
  test('vectors are of length one; the middle taken out parts what is alike everywhere', () => {
    const a = unit(Float32Array.of(3, 4));
    expect(dot(a, a)).toBeCloseTo(1);
    expect(dot(joined(a, a), joined(a, a))).toBeCloseTo(1);
    const mean = meanDescription([[unit(Float32Array.of(1, 0.1))], [unit(Float32Array.of(1, -0.1))]], 2);
    expect(
      dot(centred(unit(Float32Array.of(1, 0.1)), mean), centred(unit(Float32Array.of(1, -0.1)), mean)),
    ).toBeLessThan(dot(unit(Float32Array.of(1, 0.1)), unit(Float32Array.of(1, -0.1))));
  });
  test('two faces of one picture are never one person, however alike; the order they came in does not matter', () => {
    const same = [0, 0, 1, 0];
    const faces = [
      { vector: near(same, 0.01), picture: 1, quality: 0.9 },
      { vector: near(same, 0.02), picture: 1, quality: 0.8 },
      { vector: near(same, 0.03), picture: 2, quality: 0.7 },
      { vector: near([0, 1, 0, 0], 0), picture: 3, quality: 0.9 },
    ];
    const labels = groupFaces(faces);
    expect(labels[0]).not.toBe(labels[1]);
    expect(labels[2] === labels[0] || labels[2] === labels[1]).toBe(true);
    expect([...labels.slice(0, 3)]).not.toContain(labels[3]);
    const pairs = (of: ArrayLike<number>, order: number[]) =>
      order.flatMap((_, i) => order.map((__, j) => of[order.indexOf(i)] === of[order.indexOf(j)]));
    const order = [3, 2, 1, 0];
    expect(pairs(groupFaces(order.map((i) => faces[i]!)), order)).toEqual(pairs(labels, [0, 1, 2, 3]));
  });
});
