import { Recipe } from '@gemmel/core';
import { z } from 'zod';
import { Did } from './actApi';
import { endpoint } from './endpoint';
import { Id, IdParam } from './ids';

const id = z.object({ id: IdParam });

/** The corners of a print on a scan, in fractions, clockwise from what is its top left once it stands upright. */
export const PrintCorners = Recipe.shape.corners.unwrap();
export type PrintCorners = z.infer<typeof PrintCorners>;

const OneScan = z.object({
  id: Id,
  /** What its sizes as it was scanned are called. */
  sha: z.string(),
  thumb: z.string(),
  name: z.string(),
  width: z.number().int(),
  height: z.number().int(),
  /** Null when nobody has looked for prints on it. */
  prints: z.array(PrintCorners).nullable(),
  /** Whether they were turned by the faces on them. */
  turned: z.boolean(),
  /** Somebody said that it is one picture. */
  denied: z.boolean(),
  /** It shows one of its prints already. */
  apart: z.boolean(),
  /** The next scan that waits. */
  next: Id.nullable(),
});
export type OneScan = z.infer<typeof OneScan>;

/** A print's other side. */
export const OtherSide = z.object({
  id: Id,
  sha: z.string(),
  name: z.string(),
  shape: z.number(),
  /** Whether that one is the front. */
  front: z.boolean(),
});
export type OtherSide = z.infer<typeof OtherSide>;

const Side = OtherSide.omit({ front: true });

/** Routes about scans: prints on the glass, and front and back of a print. */
export const scansApi = {
  scans: endpoint({
    method: 'GET',
    path: '/api/scans',
    part: 'helper',
    summary: 'Scans on which several prints lie, latest first',
    query: z.object({ limit: z.coerce.number().int().min(1).max(200).default(60) }),
    answer: z.object({
      total: z.number().int(),
      scans: z.array(
        z.object({
          id: Id,
          sha: z.string(),
          thumb: z.string(),
          name: z.string(),
          shape: z.number(),
          prints: z.array(PrintCorners),
        }),
      ),
    }),
  }),
  scan: endpoint({
    method: 'GET',
    path: '/api/scans/:id',
    part: 'helper',
    summary: 'One picture as a scan, and where prints lie on it',
    params: id,
    answer: OneScan,
  }),
  lookForPrints: endpoint({
    method: 'POST',
    path: '/api/scans/:id/look',
    part: 'helper',
    summary: 'Look for prints on a picture now',
    params: id,
    answer: OneScan,
  }),
  takeApart: endpoint({
    method: 'POST',
    path: '/api/scans/:id/apart',
    part: 'helper',
    summary: 'Take a scan apart: each of its prints becomes a picture of its own; the original stays',
    params: id,
    body: z.strictObject({ prints: z.array(PrintCorners).min(1).max(24) }),
    answer: Did.extend({
      /** The pictures that were made beside the first print. */
      looks: z.array(Id),
    }),
  }),
  keepWhole: endpoint({
    method: 'POST',
    path: '/api/scans/:id/whole',
    part: 'helper',
    summary: 'Say that a scan is one picture as it is',
    params: id,
    answer: Did,
  }),
  secondLook: endpoint({
    method: 'POST',
    path: '/api/pictures/:id/second-look',
    part: 'helper',
    summary: 'Show a picture a second time, by another recipe, beside the first',
    params: id,
    body: z.strictObject({ recipe: Recipe.nullable() }),
    answer: Did.extend({ looks: z.array(Id) }),
  }),
  backs: endpoint({
    method: 'GET',
    path: '/api/backs',
    part: 'helper',
    summary: 'Pictures that seem to be front and back of one print, by their names',
    answer: z.object({ total: z.number().int(), pairs: z.array(z.object({ front: Side, back: Side })) }),
  }),
  pair: endpoint({
    method: 'POST',
    path: '/api/backs',
    part: 'helper',
    summary: 'Say that pictures are front and back of one print, or that they are not',
    body: z.strictObject({
      pairs: z
        .array(z.strictObject({ front: Id, back: Id }))
        .min(1)
        .max(1000),
      are: z.boolean(),
    }),
    answer: Did.extend({ pairs: z.number().int() }),
  }),
} as const;
