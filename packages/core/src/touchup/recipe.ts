import { z } from 'zod';

/** A control that stands at nothing in the middle and goes as far either way, in hundredths. */
const Either = z.number().int().min(-100).max(100);
const Fraction = z.number().min(0).max(1);

/** Of one colour: the byte that becomes black, the one that becomes white, and the exponent between them, in hundredths. */
const Tones = z
  .tuple([z.number().int().min(0).max(254), z.number().int().min(1).max(255), z.number().int().min(20).max(500)])
  .refine(([black, white]) => white > black, 'white lies above black');
export type Tones = z.infer<typeof Tones>;

/** Whether four corners go round clockwise and none of them lies inside the others. */
function isConvex(corners: readonly number[]): boolean {
  return [0, 1, 2, 3].every((i) => {
    const at = (k: number) => [corners[2 * ((i + k) % 4)]!, corners[2 * ((i + k) % 4) + 1]!] as const;
    const [[ax, ay], [bx, by], [cx, cy]] = [at(0), at(1), at(2)];
    return (bx - ax) * (cy - by) - (by - ay) * (cx - bx) > 1e-4;
  });
}

/** A round spot of the picture as it was taken: its middle in fractions, and its radius as a share of the long side. */
const Spot = z.tuple([Fraction, Fraction, z.number().min(0.001).max(0.2)]);
export type Spot = z.infer<typeof Spot>;

/**
 * How a picture is shown instead of as it was taken. Always in this order, whatever was touched first: mended, turned and mirrored,
 * a print made upright, made level, cropped, and then its light and colours, and its detail; so that two recipes that say the same make the same picture. What is left out is
 * as it was taken. Version 1.
 */
export const Recipe = z.strictObject({
  v: z.literal(1),
  /** Quarter turns clockwise. */
  turn: z.union([z.literal(1), z.literal(2), z.literal(3)]).optional(),
  /** Mirrored left to right, after turning. */
  mirror: z.literal(true).optional(),
  /** The corners of a print that was photographed at a slant, clockwise from the top left, in fractions: it is made upright. */
  corners: z
    .tuple([Fraction, Fraction, Fraction, Fraction, Fraction, Fraction, Fraction, Fraction])
    .refine(isConvex, 'the corners of a print lie round it')
    .optional(),
  /** Turned clockwise by a part of a quarter, in hundredths of a degree; what would be empty at the corners is cut away. */
  level: z.number().int().min(-4500).max(4500).optional(),
  /** What is kept of it after that: left, top, right, bottom, in fractions. */
  crop: z
    .tuple([Fraction, Fraction, Fraction, Fraction])
    .refine(([left, top, right, bottom]) => right > left && bottom > top, 'a crop needs room')
    .optional(),
  light: z
    .strictObject({
      /** In hundredths of a stop, up to two either way. */
      exposure: z.number().int().min(-200).max(200),
      contrast: Either,
      shadows: Either,
      highlights: Either,
      /** Where black and white begin, in bytes. */
      black: z.number().int().min(0).max(100),
      white: z.number().int().min(155).max(255),
    })
    .partial()
    .optional(),
  colour: z.strictObject({ warmth: Either, tint: Either, vibrance: Either }).partial().optional(),
  /** Without colours: how much red, green and blue count, in hundredths. */
  grey: z
    .tuple([z.number().int().min(0).max(200), z.number().int().min(0).max(200), z.number().int().min(0).max(200)])
    .optional(),
  /** Local contrast, either way, fine edges, and noise taken out, in hundredths. */
  detail: z
    .strictObject({
      clarity: Either,
      sharp: z.number().int().min(0).max(100),
      noise: z.number().int().min(0).max(100),
    })
    .partial()
    .optional(),
  /** Eyes that a flash made red, and spots and scratches that are healed. */
  redEyes: z.array(Spot).max(40).optional(),
  spots: z.array(Spot).max(200).optional(),
  /** What the tones come from, when the picture itself asked for them. */
  by: z.enum(['automatic', 'tired']).optional(),
  /** Tones of each colour, as the picture itself asks for them: 256 bytes each are made of where black, middle and white lie. */
  tones: z.tuple([Tones, Tones, Tones]).optional(),
});
export type Recipe = z.infer<typeof Recipe>;

/** The corners of a picture itself. */
export const UPRIGHT = [0, 0, 1, 0, 1, 1, 0, 1] as const;

/** As it was taken. */
export const AS_TAKEN: Recipe = { v: 1 };

/** A recipe without what changes nothing, its parts in one order: recipes that make the same picture are the same text. */
export function plainRecipe(recipe: Recipe): Recipe {
  const some = <T extends Record<string, number | undefined>>(
    part: T | undefined,
    still: Partial<Record<keyof T, number>>,
  ) => {
    const kept = Object.entries(part ?? {})
      .filter(([key, value]) => value !== undefined && value !== (still[key as keyof T] ?? 0))
      .sort(([a], [b]) => (a < b ? -1 : 1));
    return kept.length ? (Object.fromEntries(kept) as T) : undefined;
  };
  const light = some(recipe.light, { white: 255 });
  const colour = some(recipe.colour, {});
  const detail = some(recipe.detail, {});
  const { turn, mirror, corners, level, crop, grey, tones, redEyes, spots, by } = recipe;
  const toned = tones && tones.some(([black, white, bend]) => black !== 0 || white !== 255 || bend !== 100);
  return {
    v: 1,
    ...(turn ? { turn } : {}),
    ...(mirror ? { mirror } : {}),
    ...(corners && corners.some((v, i) => v !== UPRIGHT[i]) ? { corners } : {}),
    ...(level ? { level } : {}),
    ...(crop && crop.some((edge, i) => edge !== (i < 2 ? 0 : 1)) ? { crop } : {}),
    ...(light ? { light } : {}),
    ...(colour ? { colour } : {}),
    ...(grey ? { grey } : {}),
    ...(detail ? { detail } : {}),
    ...(redEyes?.length ? { redEyes } : {}),
    ...(spots?.length ? { spots } : {}),
    ...(toned && by ? { by } : {}),
    ...(toned ? { tones } : {}),
  };
}

/** Whether a recipe leaves a picture as it was taken. */
export const isAsTaken = (recipe: Recipe): boolean => Object.keys(plainRecipe(recipe)).length === 1;
