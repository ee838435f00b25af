import { Recipe } from '@gemmel/core';
import { z } from 'zod';
import { Did } from './actApi';
import { endpoint } from './endpoint';
import { Id, IdParam, Ids } from './ids';

const id = z.object({ id: IdParam });

/** How many of a picture's earlier looks are kept; null: all of them. */
export const LOOKS_KEPT = [10, 50, null] as const;
const Kept = z.number().int().min(1).max(10_000).nullable();

/** Routes about touch-ups. */
export const touchupApi = {
  look: endpoint({
    method: 'GET',
    path: '/api/pictures/:id/look',
    part: 'helper',
    summary: 'How a picture is shown and was before, with its size and its faces as it was taken',
    params: id,
    answer: z.object({
      /** Null when it is shown as it was taken. */
      recipe: Recipe.nullable(),
      /** What the picture's sizes as it was taken are called. */
      sha: z.string(),
      width: z.number().int(),
      height: z.number().int(),
      /** Left, top, right and bottom of its faces, in fractions of the picture as it was taken. */
      faces: z.array(z.tuple([z.number(), z.number(), z.number(), z.number()])),
      /** Its looks, latest first. */
      looks: z.array(z.object({ id: Id, recipe: Recipe.nullable(), at: z.string(), by: z.string().nullable() })),
      /** The last recipe that was saved in this library, for “like last time”. */
      last: Recipe.nullable(),
    }),
  }),
  touchUp: endpoint({
    method: 'POST',
    path: '/api/touch-ups',
    part: 'helper',
    summary: 'Show pictures by a recipe, or as they were taken; the originals stay',
    body: z.strictObject({
      ids: Ids.min(1).max(5000),
      recipe: Recipe.nullable(),
      /** Only its light and colours: each picture keeps its own frame. */
      colours: z.boolean().default(false),
    }),
    answer: Did,
  }),
  looksKept: endpoint({
    method: 'GET',
    path: '/api/looks-kept',
    part: 'helper',
    summary: 'How many of a picture’s earlier looks are kept',
    answer: z.object({ kept: Kept }),
  }),
  setLooksKept: endpoint({
    method: 'PUT',
    path: '/api/looks-kept',
    part: 'keeper',
    summary: 'Set how many of a picture’s earlier looks are kept',
    body: z.strictObject({ kept: Kept }),
    answer: Did,
  }),
} as const;
