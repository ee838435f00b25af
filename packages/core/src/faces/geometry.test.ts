import fc from 'fast-check';
import {
  acceptFace,
  alignFace,
  areOneFace,
  bestOfEach,
  mirror,
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
import { clothesAlike, clothesOf } from './clothes';
import { findNeighbours } from './neighbours';
import { faceParts, faceQuality, isNoFace } from './quality';
import { VectorTable } from './table';

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

describe('descriptions', () => {
  test('vectors are of length one; the middle taken out parts what is alike everywhere', () => {
    const a = unit(Float32Array.of(3, 4));
    expect(dot(a, a)).toBeCloseTo(1);
    expect(dot(joined(a, a), joined(a, a))).toBeCloseTo(1);
    const mean = meanDescription([[unit(Float32Array.of(1, 0.1))], [unit(Float32Array.of(1, -0.1))]], 2);
    expect(
      dot(centred(unit(Float32Array.of(1, 0.1)), mean), centred(unit(Float32Array.of(1, -0.1)), mean)),
    ).toBeLessThan(dot(unit(Float32Array.of(1, 0.1)), unit(Float32Array.of(1, -0.1))));
  });
});

describe('many vectors at once', () => {
  let state = 3;
  const random = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32 - 0.5;
  const some = (n: number, length: number) =>
    Array.from({ length: n }, () => unit(Float32Array.from({ length }, random)));
  test('dot products are those of a plain loop, for lengths that are no multiple of sixteen too', () => {
    for (const length of [4, 16, 29, 704]) {
      const vectors = some(9, length);
      const table = new VectorTable(9, length);
      vectors.forEach((v, i) => table.set(i, v));
      const plain = (v: Float32Array) => vectors.map((o) => v.reduce((sum, x, k) => sum + x * o[k]!, 0));
      [...table.scan(vectors[3]!)].forEach((x, i) => expect(x).toBeCloseTo(plain(vectors[3]!)[i]!, 5));
      expect([...table.scan(3, 2, 5)]).toEqual([...table.scan(vectors[3]!)].slice(2, 5));
      expect(table.dot(1, 2)).toBeCloseTo(plain(vectors[1]!)[2]!, 5);
    }
  });
  test('a first look by sketches misses no pair that a full look finds', () => {
    const middles = some(12, 704);
    const vectors = some(600, 704).map((noise, i) => unit(noise.map((x, k) => middles[i % 12]![k]! + 0.9 * x)));
    const quick = findNeighbours(vectors, () => false, { above: 0.46, most: 600, exact: 0 });
    const full = findNeighbours(vectors, () => false, { above: 0.46, most: 600, exact: 1e6 });
    const n = (found: { who: Int32Array[] }) => found.who.reduce((sum, w) => sum + w.length, 0);
    expect(n(full)).toBeGreaterThan(10_000);
    expect(n(quick)).toBeGreaterThanOrEqual(0.999 * n(full));
    const few = findNeighbours(vectors, (a, b) => (a + b) % 2 === 0, { above: 0.3, most: 5, exact: 1e6 });
    for (const [i, who] of few.who.entries()) {
      expect(who.length).toBeLessThanOrEqual(5);
      for (const j of who) expect((i + j) % 2).toBe(1);
      expect([...few.like[i]!]).toEqual([...few.like[i]!].sort((a, b) => b - a));
    }
  });
});

describe('what makes a face good', () => {
  const grey = (value: (x: number, y: number) => number) => {
    const data = new Uint8Array(112 * 112 * 3);
    for (let y = 0; y < 112; y++)
      for (let x = 0; x < 112; x++) data.fill(value(x, y), 3 * (y * 112 + x), 3 * (y * 112 + x) + 3);
    return { width: 112, height: 112, data };
  };
  const lively = grey((x, y) => 130 + 60 * Math.sin(x) * Math.cos(y));
  test('size, sharpness, light and turn each take away from it', () => {
    const good = faceParts(lively, REFERENCE_POINTS, 90, 1);
    expect(faceQuality(good)).toBeGreaterThan(0.9);
    expect(faceParts(lively, REFERENCE_POINTS, 16, 1).size).toBe(0.25);
    expect(
      faceParts(
        grey((x) => 130 + x / 4),
        REFERENCE_POINTS,
        90,
        1,
      ).sharp,
    ).toBeLessThan(0.1);
    expect(
      faceParts(
        grey((x, y) => 14 + ((x + y) % 2)),
        REFERENCE_POINTS,
        90,
        1,
      ).light,
    ).toBeLessThan(0.1);
    expect(
      faceParts(
        grey((x, y) => 250 + ((x + y) % 2) * 5),
        REFERENCE_POINTS,
        90,
        1,
      ).light,
    ).toBeLessThan(0.1);
    const turned = REFERENCE_POINTS.map(([x, y], i): Point => (i === 2 ? [x + 18, y] : [x, y]));
    expect(faceParts(lively, turned, 90, 1).straight).toBeLessThan(0.5);
  });
  test('what is described weakly, unlike its mirror image and without a yes is no face; what is small or blurred has more leave', () => {
    const parts = { size: 1, sharp: 1, straight: 1, light: 1, check: 0.93 };
    // A dog, a tomato, a face half covered, a profile.
    expect(isNoFace(parts, 171, 2.06, 0.94)).toBe(true);
    expect(isNoFace({ ...parts, check: 0.31 }, 132, 1.93, 0.95)).toBe(true);
    expect(isNoFace({ ...parts, check: 0.998 }, 167, 2.11, 0.95)).toBe(false);
    expect(isNoFace({ ...parts, check: 0.9999 }, 72, 2.28, 0.935)).toBe(false);
    expect(isNoFace({ ...parts, sharp: 0.2 }, 171, 1.81, 0.94)).toBe(false);
    expect(isNoFace(parts, 26, 1.81, 0.92)).toBe(false);
    const image = { width: 2, height: 1, data: Uint8Array.of(1, 2, 3, 4, 5, 6) };
    expect([...mirror(image).data]).toEqual([4, 5, 6, 1, 2, 3]);
  });
  test('clothes are the colours below the face; none where the picture ends', () => {
    const picture = (r: number, g: number, b: number) => {
      const data = new Uint8Array(200 * 300 * 3);
      for (let i = 0; i < data.length; i += 3) data.set([r, g, b], i);
      return { width: 200, height: 300, data };
    };
    const box = [80, 40, 120, 90] as const;
    const [red, alsoRed, blue] = [picture(200, 30, 30), picture(190, 40, 35), picture(30, 30, 200)].map((p) =>
      clothesOf(p, box)!,
    );
    expect(clothesAlike(red!, alsoRed!)).toBeGreaterThan(0.7);
    expect(clothesAlike(red!, blue!)).toBeLessThan(0.1);
    expect(clothesOf(picture(1, 1, 1), [80, 230, 120, 290])).toBeNull();
  });
  test('two boxes on one face end at the same points', () => {
    const moved = (by: number) => REFERENCE_POINTS.map(([x, y]): Point => [x + by, y]);
    expect(areOneFace(REFERENCE_POINTS, moved(6))).toBe(true);
    expect(areOneFace(REFERENCE_POINTS, moved(30))).toBe(false);
  });
});
