import fc from 'fast-check';
import { hashDistance, perceptualHash, sharpness, shrink, toGrey, type Grey } from './likeness';

/** A made-up picture: soft hills of light, with noise of the given strength. */
function scene(seed: number, noise = 0, size = 128): Grey {
  let state = seed * 2654435761;
  const random = () => (state = Math.imul(state ^ (state >>> 15), 2246822519) >>> 0) / 2 ** 32;
  const waves = Array.from({ length: 5 }, () => [random() * 9, random() * 9, random() * 6, random() * 40] as const);
  const data = new Uint8Array(size * size);
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++) {
      let v = 128;
      for (const [fx, fy, phase, amplitude] of waves) v += amplitude * Math.sin((fx * x + fy * y) / size + phase);
      data[y * size + x] = Math.max(0, Math.min(255, v + noise * (random() - 0.5)));
    }
  return { width: size, height: size, data };
}

describe('likeness', () => {
  test('the same scene smaller, brighter or noisier is near; another scene is far', () => {
    for (let seed = 1; seed <= 12; seed++) {
      const base = scene(seed);
      const hash = perceptualHash(base);
      const bright = { ...base, data: base.data.map((v) => Math.min(255, v + 12)) };
      expect(hashDistance(hash, perceptualHash(shrink(base, 64, 64)))).toBeLessThanOrEqual(6);
      expect(hashDistance(hash, perceptualHash(bright))).toBeLessThanOrEqual(8);
      expect(hashDistance(hash, perceptualHash(scene(seed, 20)))).toBeLessThanOrEqual(12);
      expect(hashDistance(hash, perceptualHash(scene(seed + 100)))).toBeGreaterThan(12);
    }
  });
  test('distance is a metric on 64 bits', () => {
    const bits = fc.bigInt({ min: 0n, max: 2n ** 64n - 1n });
    fc.assert(
      fc.property(bits, bits, bits, (a, b, c) => {
        expect(hashDistance(a, a)).toBe(0);
        expect(hashDistance(a, b)).toBe(hashDistance(b, a));
        expect(hashDistance(a, c)).toBeLessThanOrEqual(hashDistance(a, b) + hashDistance(b, c));
      }),
    );
  });
  test('blurring lowers sharpness', () => {
    const sharp = scene(3, 60);
    const soft = shrink(shrink(sharp, 32, 32), 128, 128);
    expect(sharpness(sharp)).toBeGreaterThan(4 * sharpness(soft));
    expect(sharpness({ width: 2, height: 2, data: new Uint8Array(4) })).toBe(0);
  });
  test('grey is luma', () =>
    expect([...toGrey(Uint8Array.of(255, 255, 255, 255, 0, 0, 0, 0, 255), 3, 1).data]).toEqual([255, 76, 28]));
});
