import { isAsTaken, plainRecipe, Recipe, type Recipe as Made } from '@gemmel/core';
import fc from 'fast-check';
import { DIALS, dialOf, linesOf, TOOLS, type LineId, withDial, without } from './lines';

const some = <T>(of: fc.Arbitrary<T>) => fc.option(of, { nil: undefined, freq: 2 });
const dial = (id: LineId) => fc.integer({ min: DIALS[id]!.least, max: DIALS[id]!.most });
const part = (of: 'light' | 'colour' | 'detail') =>
  fc.record(
    Object.fromEntries(
      (Object.keys(DIALS) as LineId[]).filter((id) => DIALS[id]!.part === of).map((id) => [id, dial(id)]),
    ),
    { requiredKeys: [] },
  );
const spot = fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.constant(0.5), fc.constant(0.01));
/** Any recipe there may be, as the server takes it. */
const recipes: fc.Arbitrary<Made> = fc
  .record({
    v: fc.constant(1 as const),
    turn: some(fc.constantFrom(1 as const, 2 as const, 3 as const)),
    mirror: some(fc.constant(true as const)),
    corners: some(fc.constant([0.1, 0.1, 0.9, 0.05, 0.95, 0.9, 0.05, 0.95] as NonNullable<Made['corners']>)),
    level: some(fc.integer({ min: -4500, max: 4500 })),
    crop: some(fc.constant([0.1, 0, 0.9, 1] as NonNullable<Made['crop']>)),
    light: some(part('light')),
    colour: some(part('colour')),
    detail: some(part('detail')),
    grey: some(fc.constant([30, 59, 11] as NonNullable<Made['grey']>)),
    redEyes: some(fc.array(spot, { maxLength: 3 })),
    spots: some(fc.array(spot, { maxLength: 3 })),
    tones: some(
      fc.constant([
        [4, 250, 110],
        [0, 255, 100],
        [9, 240, 90],
      ] as NonNullable<Made['tones']>),
    ),
    by: some(fc.constantFrom('automatic' as const, 'tired' as const)),
  })
  .map((one) => Object.fromEntries(Object.entries(one).filter(([, value]) => value !== undefined)) as Made);

describe('the lines of a recipe', () => {
  test('whatever is done to a picture has one line each, and nothing else has one', () => {
    fc.assert(
      fc.property(recipes, (recipe) => {
        expect(Recipe.safeParse(recipe).success).toBe(true);
        const lines = linesOf(recipe, 1.5);
        expect(new Set(lines.map(({ id }) => id)).size).toBe(lines.length);
        expect(lines.length === 0).toBe(isAsTaken(recipe));
        for (const { said } of lines) expect(said).toMatch(/^\S.*\S$/);
        // What makes the same picture has the same lines.
        expect(linesOf(plainRecipe(recipe), 1.5)).toEqual(lines);
      }),
      { numRuns: 120 },
    );
  });

  test('a line that is taken away goes, and all others stay', () => {
    fc.assert(
      fc.property(recipes, (recipe) => {
        const before = structuredClone(recipe);
        const lines = linesOf(recipe, 1.5);
        for (const { id } of lines) {
          const left = without(recipe, id);
          expect(linesOf(left, 1.5)).toEqual(lines.filter((line) => line.id !== id));
          expect(Recipe.safeParse(left).success).toBe(true);
        }
        // One after another, in any order, the picture is as it was taken.
        expect(lines.reduceRight((now, { id }) => without(now, id), recipe)).toEqual({ v: 1 });
        expect(recipe).toEqual(before);
      }),
      { numRuns: 40 },
    );
  });

  test('a dial stands where it was set, and back in its middle it says nothing', () => {
    fc.assert(
      fc.property(
        recipes,
        fc.constantFrom(...(Object.keys(DIALS) as LineId[])),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (recipe, id, share) => {
          const { least, most, still } = DIALS[id]!;
          const value = Math.round(least + share * (most - least));
          const set = withDial(recipe, id, value);
          expect(dialOf(set, id)).toBe(value);
          expect(Recipe.safeParse(set).success).toBe(true);
          expect(linesOf(set, 1.5).some((line) => line.id === id)).toBe(value !== still);
          const back = withDial(set, id, still);
          expect(plainRecipe(back)).toEqual(without(recipe, id));
          expect(dialOf({ v: 1 }, id)).toBe(still);
        },
      ),
      { numRuns: 120 },
    );
  });

  test('everything that can be added can be found, once', () => {
    const all = TOOLS.flatMap(([, tools]) => tools.map(([id]) => id));
    expect(new Set(all).size).toBe(all.length);
    for (const id of Object.keys(DIALS)) expect(all).toContain(id);
  });

  test.each<[string, Made, number]>([
    ['Turned a quarter to the right', { v: 1, turn: 1 }, 1.5],
    ['Turned a quarter to the left', { v: 1, turn: 3 }, 1.5],
    ['Turned upside down', { v: 1, turn: 2 }, 1.5],
    ['Made level: 1.5° to the right', { v: 1, level: 150 }, 1.5],
    ['Made level: 0.4° to the left', { v: 1, level: -40 }, 1.5],
    ['Made level: 0.1° to the right', { v: 1, level: 2 }, 1.5],
    ['Cut to 10 × 15', { v: 1, crop: [0, 0, 0.9, 0.9] }, 1.5],
    ['Cut to 10 × 15', { v: 1, crop: [0, 0, 0.9, 0.9] }, 2 / 3],
    ['Cut to 1 : 1', { v: 1, crop: [0, 0, 0.9, 0.9] }, 1.005],
    ['Cut', { v: 1, crop: [0, 0, 0.9, 0.9] }, 1.1],
    ['A little lighter', { v: 1, light: { exposure: 20 } }, 1.5],
    ['Lighter', { v: 1, light: { exposure: 100 } }, 1.5],
    ['Much darker', { v: 1, light: { exposure: -180 } }, 1.5],
    ['White brightened', { v: 1, light: { white: 200 } }, 1.5],
    ['Black deepened', { v: 1, light: { black: 30 } }, 1.5],
    ['Much warmer', { v: 1, colour: { warmth: 80 } }, 1.5],
    ['A touch of green', { v: 1, colour: { tint: -5 } }, 1.5],
    ['1 spot healed', { v: 1, spots: [[0.5, 0.5, 0.01]] }, 1.5],
    [
      '2 red eyes calmed',
      {
        v: 1,
        redEyes: [
          [0.5, 0.5, 0.01],
          [0.6, 0.5, 0.01],
        ],
      },
      1.5,
    ],
    [
      'Tired print brought back',
      {
        v: 1,
        by: 'tired',
        tones: [
          [4, 250, 110],
          [0, 255, 100],
          [9, 240, 90],
        ],
      },
      1.5,
    ],
  ])('%s', (said, recipe, shape) => expect(linesOf(recipe, shape).map((line) => line.said)).toEqual([said]));
});
