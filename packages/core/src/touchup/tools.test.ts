import fc from 'fast-check';
import type { Box, Pixels } from '../faces/geometry';
import { toGrey } from '../likeness/likeness';
import { detailed } from './detail';
import { boxIn, framed, placeIn, placeOut, sizeAfter } from './frame';
import { mended } from './mend';
import { guessLevel, PAPERS, proposeCrop } from './propose';
import { plainRecipe, Recipe } from './recipe';
import { touched } from './touch';

const paint = (
  width: number,
  height: number,
  of: (x: number, y: number) => readonly [number, number, number],
): Pixels => {
  const data = new Uint8Array(width * height * 3);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) data.set(of(x, y), 3 * (y * width + x));
  return { width, height, data };
};
const at = ({ width, data }: Pixels, x: number, y: number) => [
  ...data.subarray(3 * (y * width + x), 3 * (y * width + x) + 3),
];

/** A shore with a house: a horizon, walls, and soft noise. */
const scene = (seed: number) => {
  let state = seed * 7919;
  const random = () => ((state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32) * 2 - 1;
  const horizon = 110 + random() * 40;
  const [left, right] = [50 + random() * 30, 150 + random() * 40];
  return paint(320, 240, (x, y) => {
    const noise = random() * 8;
    const base = y < horizon ? [150, 180, 215] : y < horizon + 50 ? [60, 95, 120] : [170, 150, 110];
    const house = x > left && x < right && y > horizon - 60 && y < horizon + 25 ? [150, 60, 45] : base;
    return house.map((v) => Math.max(0, Math.min(255, v + noise))) as [number, number, number];
  });
};

describe('level', () => {
  test('a slanting horizon is found and made level, on many drawn shores', () => {
    let near = 0;
    let worst = 0;
    for (let n = 1; n <= 16; n++) {
      const slant = Math.round(((n % 19) - 9) * 90);
      const slanted = framed(scene(n), { v: 1, level: slant });
      const off = Math.abs(guessLevel(toGrey(slanted.data, slanted.width, slanted.height)) + slant);
      worst = Math.max(worst, off);
      if (off <= 60) near++;
    }
    console.log(
      `${near} of 16 slanting shores are guessed within 0.6 degrees, the worst is ${(worst / 100).toFixed(1)} off`,
    );
    expect(near).toBeGreaterThanOrEqual(15);
  });
  test('what has no edges is left as it is', () => {
    const fog = paint(200, 150, (x, y) => [120 + (x % 7), 120 + (y % 5), 125]);
    expect(guessLevel(toGrey(fog.data, 200, 150))).toBe(0);
  });
});

describe('crops', () => {
  const box = fc
    .tuple(
      fc.double({ min: 0, max: 0.8, noNaN: true }),
      fc.double({ min: 0, max: 0.8, noNaN: true }),
      fc.double({ min: 0.02, max: 0.2, noNaN: true }),
    )
    .map(([x, y, s]): Box => [x, y, x + s, y + s]);
  test('no face is cut where all of them fit, and the shape is the one that was asked for', () =>
    fc.assert(
      fc.property(
        fc.constantFrom(...Object.values(PAPERS), ...Object.values(PAPERS).map((v) => 1 / v)),
        fc.double({ min: 0.4, max: 2.5, noNaN: true }),
        fc.array(box, { maxLength: 5 }),
        (wanted, shape, faces) => {
          const [l, t, r, b] = proposeCrop(shape, wanted, faces);
          expect(((r - l) * shape) / (b - t)).toBeCloseTo(wanted, 5);
          expect(Math.min(l, t)).toBeGreaterThanOrEqual(-1e-9);
          expect(Math.max(r, b)).toBeLessThanOrEqual(1 + 1e-9);
          const wide = Math.max(0, ...faces.map((f) => f[2])) - Math.min(1, ...faces.map((f) => f[0]));
          const tall = Math.max(0, ...faces.map((f) => f[3])) - Math.min(1, ...faces.map((f) => f[1]));
          if (faces.length === 0 || wide > r - l || tall > b - t) return;
          for (const f of faces) {
            expect(f[0]).toBeGreaterThanOrEqual(l - 1e-9);
            expect(f[2]).toBeLessThanOrEqual(r + 1e-9);
            expect(f[1]).toBeGreaterThanOrEqual(t - 1e-9);
            expect(f[3]).toBeLessThanOrEqual(b + 1e-9);
          }
        },
      ),
    ));
});

describe('detail and mending', () => {
  test('sharpening makes an edge steeper, clarity lifts it, noise is calmed, and colours stay', () => {
    const soft = paint(64, 16, (x) =>
      x < 30 ? [80, 80, 80] : x > 34 ? [160, 160, 160] : [80 + 16 * (x - 29), 80 + 16 * (x - 29), 80 + 16 * (x - 29)],
    );
    const sharp = detailed(soft, { v: 1, detail: { sharp: 80 } });
    expect(at(sharp, 34, 8)[0]! - at(sharp, 30, 8)[0]!).toBeGreaterThan(at(soft, 34, 8)[0]! - at(soft, 30, 8)[0]!);
    const clear = detailed(soft, { v: 1, detail: { clarity: 80 } });
    expect(at(clear, 35, 8)[0]!).toBeGreaterThan(at(soft, 35, 8)[0]!);
    const noisy = paint(40, 40, (x, y) => ((x * 31 + y * 17) % 5 > 2 ? [104, 90, 76] : [96, 90, 84]));
    const calm = detailed(noisy, { v: 1, detail: { noise: 100 } });
    const spread = (p: Pixels) => {
      const reds = Array.from({ length: 900 }, (_, i) => at(p, 5 + (i % 30), 5 + Math.floor(i / 30))[0]!);
      const mean = reds.reduce((a, b) => a + b) / reds.length;
      return reds.reduce((sum, v) => sum + (v - mean) ** 2, 0) / reds.length;
    };
    expect(spread(calm)).toBeLessThan(spread(noisy) / 2);
    expect(detailed(soft, { v: 1 })).toBe(soft);
  });
  test('a red eye loses its red and keeps its glint', () => {
    const eye = paint(40, 40, (x, y) => {
      const out = Math.hypot(x - 20, y - 20);
      return out < 2 ? [250, 245, 245] : out < 7 ? [190, 40, 45] : [205, 160, 140];
    });
    const calm = mended(eye, { v: 1, redEyes: [[0.5, 0.5, 0.2]] });
    const [r, g, b] = at(calm, 20, 15) as [number, number, number];
    expect(Math.abs(r - (g + b) / 2)).toBeLessThan(3);
    expect(at(calm, 20, 20)).toEqual([250, 245, 245]);
    // Skin round it is not touched.
    expect(at(calm, 20, 13)).toEqual([205, 160, 140]);
  });
  test('a spot is filled with what is beside it', () => {
    const dusty = paint(120, 80, (x, y) => (Math.hypot(x - 60, y - 40) < 4 ? [250, 250, 250] : [90 + x / 4, 110, 130]));
    const healed = mended(dusty, { v: 1, spots: [[0.5, 0.5, 0.06]] });
    const [r, g, b] = at(healed, 60, 40) as [number, number, number];
    expect(Math.abs(r - 105)).toBeLessThan(8);
    expect([g, b]).toEqual([110, 130]);
    expect(at(healed, 5, 5)).toEqual(at(dusty, 5, 5));
  });
});

describe('a whole recipe', () => {
  test('says the same in one text, whatever was touched first, and does nothing when it says nothing', () => {
    const recipe: Recipe = {
      v: 1,
      detail: { sharp: 20, clarity: 0 },
      light: { exposure: 10 },
      redEyes: [],
      by: 'tired',
    };
    expect(JSON.stringify(plainRecipe(recipe))).toBe('{"v":1,"light":{"exposure":10},"detail":{"sharp":20}}');
    expect(Recipe.parse(plainRecipe(recipe))).toEqual(plainRecipe(recipe));
    const image = scene(3);
    expect(touched(image, { v: 1 })).toEqual(image);
  });
  test('a preview is what the whole picture becomes when it is made as small', () => {
    let worst = 0;
    for (let n = 1; n <= 10; n++) {
      const whole = scene(n);
      // The same recipe on the same pixels, in another place: nothing of it depends on where it runs.
      const recipe: Recipe = {
        v: 1,
        turn: ((n % 3) + 1) as 1,
        level: 10 * n,
        crop: [0.1, 0.05, 0.9, 0.95],
        light: { exposure: n, shadows: 10 },
        colour: { warmth: n },
        detail: { clarity: n, sharp: 20 },
      };
      const [a, b] = [
        touched(whole, recipe),
        touched({ ...whole, data: Uint8Array.from(whole.data) }, JSON.parse(JSON.stringify(recipe)) as Recipe),
      ];
      expect([a.width, a.height]).toEqual([b.width, b.height]);
      if (Buffer.compare(a.data, b.data) !== 0) worst++;
    }
    expect(worst).toBe(0);
  });
});

describe('the frame', () => {
  const recipe = fc.record({
    v: fc.constant(1 as const),
    turn: fc.constantFrom<1 | 2 | 3 | undefined>(1, 2, 3, undefined),
    mirror: fc.constantFrom<true | undefined>(true, undefined),
    level: fc.integer({ min: -1500, max: 1500 }),
    corners: fc.constantFrom<Recipe['corners']>(undefined, [0.1, 0.05, 0.92, 0.12, 0.88, 0.9, 0.04, 0.97]),
    crop: fc.constantFrom<[number, number, number, number]>([0, 0, 1, 1], [0.1, 0.2, 0.8, 0.9]),
  });
  const fraction = fc.double({ min: 0, max: 1, noNaN: true });
  test('a point that goes into a frame and out of it again is where it was', () =>
    fc.assert(
      fc.property(
        recipe,
        fraction,
        fraction,
        fc.constantFrom([4000, 3000], [3000, 4000], [500, 500]),
        (some, x, y, [w, h]) => {
          const [u, v] = placeOut(some as Recipe, w!, h!, placeIn(some as Recipe, w!, h!, [x, y]));
          return Math.abs(u - x) < 1e-9 && Math.abs(v - y) < 1e-9;
        },
      ),
    ));
  test('a print that was photographed at a slant stands upright', () => {
    // A green print on a dark table.
    const corners = [0.2, 0.15, 0.85, 0.25, 0.8, 0.85, 0.15, 0.8] as [
      number,
      number,
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    const inside = (x: number, y: number) =>
      [0, 1, 2, 3].every((i) => {
        const [ax, ay, bx, by] = [
          corners[2 * i]!,
          corners[2 * i + 1]!,
          corners[(2 * i + 2) % 8]!,
          corners[(2 * i + 3) % 8]!,
        ];
        return (bx - ax) * (y - ay) - (by - ay) * (x - ax) >= 0;
      });
    const table = paint(200, 160, (x, y) => (inside((x + 0.5) / 200, (y + 0.5) / 160) ? [40, 160, 70] : [30, 20, 15]));
    const print = framed(table, { v: 1, corners });
    let green = 0;
    for (let i = 0; i < print.data.length; i += 3) if (print.data[i + 1]! > 120) green++;
    expect((3 * green) / print.data.length).toBeGreaterThan(0.97);
    expect(sizeAfter(200, 160, { corners })).toEqual([print.width, print.height]);
    expect(Recipe.safeParse({ v: 1, corners: [0, 0, 1, 0, 0.2, 0.2, 0, 1] }).success).toBe(false);
  });
  test('a face keeps its place in what is shown, and one that was cut away has none', () => {
    const half: Recipe = { v: 1, turn: 1, crop: [0, 0, 0.5, 1] };
    // Bottom left as taken is top left once turned by a quarter to the right.
    expect(boxIn(half, 400, 300, [0, 0.8, 0.1, 0.1]).map((v) => Number(v.toFixed(3)))).toEqual([0.2, 0, 0.2, 0.1]);
    expect(boxIn(half, 400, 300, [0.4, 0.05, 0.1, 0.1])[2]).toBe(0);
  });
});
