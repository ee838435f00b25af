import fc from 'fast-check';
import type { Pixels } from '../faces/geometry';
import { automatic, tiredPrint } from './automatic';
import { framed, insideTurned, placeIn, sizeAfter, turned } from './frame';
import { curveOf, lit } from './light';
import { AS_TAKEN, isAsTaken, plainRecipe, Recipe } from './recipe';

/** A picture of soft shapes in many colours, the same for a seed. */
function drawn(width: number, height: number, seed = 1): Pixels {
  const data = new Uint8Array(width * height * 3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < 3; c++)
        data[3 * (y * width + x) + c] =
          127.5 + 127.5 * Math.sin((x * (c + 2) + seed * 7) / 17) * Math.cos((y * (3 - c) + seed * 3) / 13);
  return { width, height, data };
}
const at = (image: Pixels, x: number, y: number) => [
  ...image.data.subarray(3 * (y * image.width + x), 3 * (y * image.width + x) + 3),
];
/** The mean difference of two pictures, in bytes. */
const apart = (a: Pixels, b: Pixels): number =>
  a.data.reduce((sum, v, i) => sum + Math.abs(v - b.data[i]!), 0) / a.data.length;

const recipes: fc.Arbitrary<Recipe> = fc.record(
  {
    v: fc.constant(1 as const),
    turn: fc.constantFrom(1 as const, 2 as const, 3 as const),
    mirror: fc.constant(true as const),
    level: fc.integer({ min: -1500, max: 1500 }),
    crop: fc
      .tuple(
        fc.double({ min: 0, max: 0.3, noNaN: true }),
        fc.double({ min: 0, max: 0.3, noNaN: true }),
        fc.double({ min: 0.7, max: 1, noNaN: true }),
        fc.double({ min: 0.7, max: 1, noNaN: true }),
      )
      .map((crop): [number, number, number, number] => crop),
    light: fc.record({ exposure: fc.integer({ min: -200, max: 200 }), contrast: fc.integer({ min: -100, max: 100 }) }),
    colour: fc.record({ warmth: fc.integer({ min: -100, max: 100 }), vibrance: fc.integer({ min: -100, max: 100 }) }),
  },
  { requiredKeys: ['v'] },
);

describe('recipes', () => {
  test('what changes nothing is left out, and what makes the same picture is the same text', () => {
    expect(plainRecipe({ v: 1, level: 0, crop: [0, 0, 1, 1], light: { exposure: 0, white: 255 } })).toEqual(AS_TAKEN);
    expect(isAsTaken({ v: 1, colour: { warmth: 0 } })).toBe(true);
    expect(isAsTaken({ v: 1, light: { white: 240 } })).toBe(false);
    expect(JSON.stringify(plainRecipe({ v: 1, light: { shadows: 5, contrast: 3 } }))).toBe(
      JSON.stringify(plainRecipe({ light: { contrast: 3, shadows: 5 }, v: 1 })),
    );
  });

  test('drawn recipes are read, and plain ones stay as they are', () => {
    fc.assert(
      fc.property(recipes, (recipe) => {
        expect(Recipe.safeParse(recipe).success).toBe(true);
        const plain = plainRecipe(recipe);
        expect(plainRecipe(plain)).toEqual(plain);
        expect(Recipe.safeParse(plain).success).toBe(true);
      }),
    );
    expect(Recipe.safeParse({ v: 1, crop: [0.5, 0, 0.5, 1] }).success).toBe(false);
    expect(Recipe.safeParse({ v: 2 }).success).toBe(false);
  });
});

describe('frames', () => {
  test('four quarters bring a picture back, one puts its left column on top', () => {
    const image = drawn(7, 5);
    expect(turned(turned(turned(turned(image, 1), 1), 1), 1)).toEqual(image);
    expect(turned(image, 3)).toEqual(turned(turned(image, 1), 2));
    const quarter = turned(image, 1);
    expect([quarter.width, quarter.height]).toEqual([5, 7]);
    expect(at(quarter, 0, 0)).toEqual(at(image, 0, 4));
    expect(at(quarter, 4, 0)).toEqual(at(image, 0, 0));
  });

  test('the size that is told is the size that is made, and no empty corner is left', () => {
    fc.assert(
      fc.property(
        recipes,
        fc.integer({ min: 20, max: 90 }),
        fc.integer({ min: 20, max: 90 }),
        (recipe, width, height) => {
          const white = { width, height, data: new Uint8Array(width * height * 3).fill(255) };
          const made = framed(white, recipe);
          expect([made.width, made.height]).toEqual(sizeAfter(width, height, recipe));
          // Outside a picture all is black; a rim that is half outside may be grey.
          expect(made.data.every((v) => v > 100)).toBe(true);
        },
      ),
      { numRuns: 60 },
    );
  });

  test('turned by an angle the largest rectangle of the same shape touches the edge and stays inside', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.2, max: 5, noNaN: true }),
        fc.double({ min: -44, max: 44, noNaN: true }),
        (shape, angle) => {
          const k = insideTurned(shape, 1, angle);
          const a = (Math.abs(angle) * Math.PI) / 180;
          // A corner of the rectangle, turned back: the furthest it reaches across and along.
          const across = (k * (shape * Math.cos(a) + Math.sin(a))) / shape;
          const along = k * (shape * Math.sin(a) + Math.cos(a));
          expect(Math.max(across, along)).toBeCloseTo(1, 6);
        },
      ),
    );
  });

  test('a point is found again where the frame shows it', () => {
    fc.assert(
      fc.property(
        recipes,
        fc.double({ min: 0.45, max: 0.55, noNaN: true }),
        fc.double({ min: 0.45, max: 0.55, noNaN: true }),
        (recipe, x, y) => {
          const { light: _, colour: __, ...frame } = recipe;
          const [width, height] = [160, 120];
          const data = new Uint8Array(width * height * 3);
          const [px, py] = [Math.round(x * width), Math.round(y * height)];
          for (let v = -3; v <= 3; v++)
            for (let u = -3; u <= 3; u++)
              data.fill(255, 3 * ((py + v) * width + px + u), 3 * ((py + v) * width + px + u) + 3);
          const made = framed({ width, height, data }, frame);
          let [sx, sy, n] = [0, 0, 0];
          for (let v = 0; v < made.height; v++)
            for (let u = 0; u < made.width; u++)
              if (made.data[3 * (v * made.width + u)]! > 127) [sx, sy, n] = [sx + u + 0.5, sy + v + 0.5, n + 1];
          const [u, v] = placeIn(frame, width, height, [(px + 0.5) / width, (py + 0.5) / height]);
          expect(Math.abs(sx / n - u * made.width)).toBeLessThan(1.5);
          expect(Math.abs(sy / n - v * made.height)).toBeLessThan(1.5);
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('light and colours', () => {
  test('nothing said changes nothing', () => {
    const image = drawn(40, 30);
    expect(lit(image, AS_TAKEN).data).toEqual(image.data);
    expect([...curveOf({ v: 1, light: { exposure: 0 } }, 1)]).toEqual(Array.from({ length: 256 }, (_, i) => i));
  });

  test('curves never fall, keep black and white where nothing moves them, and go the way they are pushed', () => {
    fc.assert(
      fc.property(recipes, (recipe) => {
        for (const colour of [0, 1, 2] as const) {
          expect(curveOf(recipe, colour).every((v, i, curve) => i === 0 || v >= curve[i - 1]!)).toBe(true);
        }
      }),
    );
    const middle = (light: NonNullable<Recipe['light']>) => curveOf({ v: 1, light }, 1)[128]!;
    expect(middle({ exposure: 100 })).toBeGreaterThan(165);
    expect(middle({ exposure: -100 })).toBeLessThan(100);
    for (const light of [
      { shadows: 100 },
      { shadows: -100 },
      { highlights: 100 },
      { highlights: -100 },
      { contrast: 100 },
    ]) {
      const curve = curveOf({ v: 1, light }, 1);
      expect([curve[0], curve[255]]).toEqual([0, 255]);
    }
    expect(curveOf({ v: 1, light: { shadows: 60 } }, 0)[64]! - 64).toBeGreaterThan(30);
    expect(curveOf({ v: 1, colour: { warmth: 50 } }, 0)[128]!).toBeGreaterThan(
      curveOf({ v: 1, colour: { warmth: 50 } }, 2)[128]!,
    );
  });

  test('without colours the three are one; with less vibrance they come nearer', () => {
    const image = drawn(40, 30);
    const grey = lit(image, { v: 1, grey: [30, 59, 11] });
    for (let i = 0; i < grey.data.length; i += 3)
      expect([grey.data[i], grey.data[i]]).toEqual([grey.data[i + 1], grey.data[i + 2]]);
    const spread = ({ data }: Pixels) => {
      let sum = 0;
      for (let i = 0; i < data.length; i += 3)
        sum += Math.max(data[i]!, data[i + 1]!, data[i + 2]!) - Math.min(data[i]!, data[i + 1]!, data[i + 2]!);
      return sum;
    };
    expect(spread(lit(image, { v: 1, colour: { vibrance: -80 } }))).toBeLessThan(spread(image));
    expect(spread(lit(image, { v: 1, colour: { vibrance: 80 } }))).toBeGreaterThan(spread(image));
  });
});

describe('by itself', () => {
  /** A picture as an old print of it looks: each colour drawn together and moved, as dyes fade. */
  const faded = (image: Pixels, keeps: readonly [number, number][]): Pixels => ({
    ...image,
    data: image.data.map((v, i) => keeps[i % 3]![0] + (v * (keeps[i % 3]![1] - keeps[i % 3]![0])) / 255),
  });

  test('a tired print comes back near to what it was, whichever colour has faded most', () => {
    let [before, after] = [0, 0];
    for (const [i, keeps] of [
      [
        [70, 235],
        [60, 200],
        [40, 140],
      ],
      [
        [50, 180],
        [70, 220],
        [80, 230],
      ],
      [
        [90, 210],
        [80, 200],
        [90, 190],
      ],
    ].entries()) {
      const image = drawn(120, 90, i + 1);
      const print = faded(image, keeps as [number, number][]);
      const back = lit(print, { v: 1, tones: tiredPrint(print) });
      before += apart(image, print);
      after += apart(image, back);
      expect(apart(image, back)).toBeLessThan(apart(image, print) / 2);
    }
    console.log(
      `tired prints: ${(before / 3).toFixed(1)} bytes from what they were, ${(after / 3).toFixed(1)} when they are bright again`,
    );
  });

  test('a picture that is right is left nearly as it is, a flat one gets its black and white', () => {
    const image = drawn(120, 90);
    expect(apart(image, lit(image, { v: 1, tones: automatic(image) }))).toBeLessThan(6);
    const flat = faded(image, [
      [40, 215],
      [40, 215],
      [40, 215],
    ]);
    const better = lit(flat, { v: 1, tones: automatic(flat) });
    expect(Math.min(...better.data)).toBeLessThan(8);
    expect(Math.max(...better.data)).toBeGreaterThan(247);
  });

  test('a cast is taken out where there is no skin, and hardly where there is', () => {
    const cast = (image: Pixels) => {
      const [red, , blue] = automatic(image);
      return Math.abs(red[1] - blue[1]);
    };
    const scene = faded(drawn(120, 90), [
      [20, 250],
      [10, 225],
      [0, 200],
    ]);
    const skin: Pixels = { ...scene, data: scene.data.map((v, i) => (i % 9 < 6 ? [205, 150, 120][i % 3]! : v)) };
    expect(cast(scene)).toBeGreaterThan(8);
    expect(cast(skin)).toBeLessThan(cast(scene) / 2);
  });

  test('an empty and a one-coloured picture do not break it', () => {
    const plain: Pixels = { width: 4, height: 4, data: new Uint8Array(48).fill(200) };
    for (const tones of [automatic(plain), tiredPrint(plain)]) {
      expect(Recipe.safeParse({ v: 1, tones }).success).toBe(true);
      expect(lit(plain, { v: 1, tones }).data.length).toBe(48);
    }
  });
});
