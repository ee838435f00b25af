import { z } from 'zod';
import { Did } from './actApi';
import { endpoint } from './endpoint';
import { Id, IdParam, Ids } from './ids';

const id = z.object({ id: IdParam });

/** What speaks for a shot or against it; `who` is the person of a face: see {@link RunFace}. */
export const ShotWhy = z.object({
  why: z.enum([
    'said',
    'album',
    'sharp',
    'blurred',
    'light',
    'dark',
    'bright',
    'large',
    'everybody',
    'eyes',
    'shut',
    'sharper',
    'turned',
    'away',
    'cut',
    'missing',
  ]),
  who: z.number().int().optional(),
});
export type ShotWhy = z.infer<typeof ShotWhy>;

/** A face in a shot of a run. Box in fractions of the upright picture. */
export const RunFace = z.object({
  id: Id,
  /** The same for one person in every shot of the run. */
  who: z.number().int(),
  x: z.number(),
  y: z.number(),
  w: z.number(),
  h: z.number(),
});

/** A shot of a run. */
export const RunShot = z.object({
  id: Id,
  sha: z.string(),
  thumb: z.string(),
  name: z.string(),
  width: z.number().int(),
  height: z.number().int(),
  bytes: z.number(),
  taken: z.string(),
  device: z.string().nullable(),
  rating: z.number().int(),
  favourite: z.boolean(),
  albums: z.number().int(),
  /** Whether somebody chose to keep it before. */
  chosen: z.boolean(),
  faces: z.array(RunFace),
  /** What speaks against it; empty for the best. */
  against: z.array(ShotWhy),
});
export type RunShot = z.infer<typeof RunShot>;

/** A run as the list tells it. */
export const RunListed = z.object({
  id: Id,
  shots: z.number().int(),
  /** Wall-clock times of the first and the last shot. */
  from: z.string(),
  to: z.string(),
  event: z.string().nullable(),
  place: z.string().nullable(),
  /** The shot that is shown for it, and a few others. */
  shas: z.array(z.string()),
});
export type RunListed = z.infer<typeof RunListed>;

/** One of some pictures that are the same one, and what is known of it. */
export const Double = z.object({
  id: Id,
  sha: z.string(),
  thumb: z.string(),
  name: z.string(),
  format: z.string(),
  width: z.number().int(),
  height: z.number().int(),
  bytes: z.number(),
  taken: z.string().nullable(),
  camera: z.string().nullable(),
  /** What it knows that people said: each kind by how much there is of it. */
  knows: z.object({
    title: z.string().nullable(),
    caption: z.string().nullable(),
    rating: z.number().int(),
    favourite: z.boolean(),
    tags: z.array(z.string()),
    people: z.array(z.string()),
    albums: z.array(z.string()),
    place: z.string().nullable(),
    comments: z.number().int(),
  }),
});
export type Double = z.infer<typeof Double>;

/** Routes about runs and doubles. */
export const runsApi = {
  runs: endpoint({
    method: 'GET',
    path: '/api/runs',
    part: 'helper',
    summary: 'Runs nobody has chosen in, latest first, and how many runs and doubles there are to choose in',
    query: z.object({ limit: z.coerce.number().int().min(1).max(2000).default(60) }),
    answer: z.object({ runs: z.array(RunListed), total: z.number().int(), doubles: z.number().int() }),
  }),
  run: endpoint({
    method: 'GET',
    path: '/api/runs/:id',
    part: 'helper',
    summary: 'The shots of one run, which of them is the best, and why',
    params: id,
    answer: z.object({
      id: Id,
      shots: z.array(RunShot),
      /** The one that is proposed, and what speaks for it. */
      best: Id,
      reasons: z.array(ShotWhy),
      /** Names of those in it, by `who`; nobody's name is missing who has one. */
      names: z.record(z.string(), z.string()),
      event: z.string().nullable(),
      place: z.string().nullable(),
    }),
  }),
  chooseInRun: endpoint({
    method: 'POST',
    path: '/api/runs/:id/choose',
    part: 'helper',
    summary: 'Keep some shots of a run and move the others to the bin; with all of them, keep all',
    params: id,
    body: z.strictObject({ keep: Ids.min(1) }),
    answer: Did.extend({ kept: z.number().int(), binned: z.number().int() }),
  }),
  doubles: endpoint({
    method: 'GET',
    path: '/api/doubles',
    part: 'helper',
    summary: 'Pictures that are here more than once, a page at a time; the fullest of each first',
    query: z.object({ after: IdParam.optional(), limit: z.coerce.number().int().min(1).max(100).default(20) }),
    answer: z.object({
      groups: z.array(z.array(Double)),
      after: Id.nullable(),
      total: z.number().int(),
    }),
  }),
  mergeDoubles: endpoint({
    method: 'POST',
    path: '/api/doubles/merge',
    part: 'helper',
    summary: 'Keep one of some doubles, carry over what the others know, and move those to the bin',
    body: z.strictObject({ keep: Id, others: Ids.min(1) }),
    answer: Did.extend({
      binned: z.number().int(),
      /** What was carried over to the kept one. */
      carried: z.array(
        z.enum(['title', 'caption', 'stars', 'heart', 'mark', 'tags', 'people', 'albums', 'place', 'date', 'comments']),
      ),
    }),
  }),
  keepDoublesApart: endpoint({
    method: 'POST',
    path: '/api/doubles/apart',
    part: 'helper',
    summary: 'Say that some pictures are not the same one, or that all of them stay',
    body: z.strictObject({ ids: Ids.min(2).max(50) }),
    answer: Did,
  }),
} as const;
