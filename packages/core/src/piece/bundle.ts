import { z } from 'zod';
import { LANGUAGES } from '../words/languages';

/** How plain pages are made that need no server. Kept with the piece. */
export const BundleSettings = z.strictObject({
  /** The pages speak this language. */
  language: z.enum(LANGUAGES),
  /** The longest side of pictures, in pixels; null for originals. */
  long: z.number().int().min(600).max(8000).nullable(),
  tells: z.strictObject({ caption: z.boolean(), date: z.boolean(), place: z.boolean(), names: z.boolean() }),
  /** A folder of this machine they are put into; null for a ZIP. */
  folder: z.string().max(1000).nullable(),
});
export type BundleSettings = z.infer<typeof BundleSettings>;

/** How pages are made when nobody has said otherwise: nobody's name and no place leave the house. */
export const PLAIN_BUNDLE: BundleSettings = {
  language: 'en',
  long: 1920,
  tells: { caption: true, date: true, place: false, names: false },
  folder: null,
};
