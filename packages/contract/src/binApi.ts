import { z } from 'zod';
import { Did } from './actApi';
import { endpoint } from './endpoint';
import { Id, IdParam, Ids } from './ids';

/** How long pictures may stay in the bin before they go by themselves, in days; null: until somebody empties it. */
export const BIN_DAYS = [7, 30, 90, 365, null] as const;
const Days = z.number().int().min(1).max(3650).nullable();

/** A picture in the bin. */
export const Binned = z.object({
  id: Id,
  sha: z.string(),
  thumb: z.string(),
  kind: z.enum(['photo', 'video']),
  name: z.string(),
  seconds: z.number().nullable(),
  width: z.number().int(),
  height: z.number().int(),
  /** What its original and all that is kept beside it take up. */
  bytes: z.number(),
  /** When it went into the bin and when it will leave it by itself, in UTC; null: never. */
  at: z.string(),
  until: z.string().nullable(),
  /** Who put it there; null when that is not known any longer. */
  by: z.string().nullable(),
});
export type Binned = z.infer<typeof Binned>;

/** What is in the bin, altogether. */
const Amount = z.object({ pictures: z.number().int(), bytes: z.number() });

/** Routes about the bin. */
export const binApi = {
  bin: endpoint({
    method: 'GET',
    path: '/api/bin',
    part: 'helper',
    summary: 'What is in the bin, latest first, a page at a time',
    query: z.object({ before: IdParam.optional(), limit: z.coerce.number().int().min(1).max(200).default(60) }),
    answer: Amount.extend({
      binned: z.array(Binned),
      /** Give it as `before` for the next page; null at the end. */
      before: Id.nullable(),
      days: Days,
      /** How many are just being removed for good. */
      going: z.number().int(),
    }),
  }),
  intoBin: endpoint({
    method: 'POST',
    path: '/api/bin',
    part: 'helper',
    summary: 'Move pictures to the bin: they leave every view, album and share until they are brought back',
    body: z.strictObject({ ids: Ids.min(1) }),
    answer: Did.extend({ pictures: z.number().int() }),
  }),
  restore: endpoint({
    method: 'POST',
    path: '/api/bin/restore',
    part: 'helper',
    summary: 'Bring pictures back from the bin as they were, some or all',
    body: z.union([z.strictObject({ ids: Ids.min(1) }), z.strictObject({ all: z.literal(true) })]),
    answer: Did.extend({
      pictures: z.number().int(),
      /** How many stay in the bin, since the very same picture has come in anew. */
      left: z.number().int(),
    }),
  }),
  emptyBin: endpoint({
    method: 'POST',
    path: '/api/bin/empty',
    part: 'keeper',
    summary:
      'Remove pictures in the bin for good, some or all; the library’s name or the keeper’s password is asked for',
    body: z.union([
      z.strictObject({ ids: Ids.min(1), word: z.string().max(200) }),
      z.strictObject({ all: z.literal(true), word: z.string().max(200) }),
    ]),
    answer: Did.extend(Amount.shape),
  }),
  setBinDays: endpoint({
    method: 'PUT',
    path: '/api/bin/days',
    part: 'keeper',
    summary: 'Set after how many days pictures leave the bin by themselves, or that they never do',
    body: z.strictObject({ days: Days }),
    answer: Did,
  }),
  takeBinned: endpoint({
    method: 'POST',
    path: '/api/batches/:id/take-binned',
    part: 'helper',
    summary: 'Take in what a batch left out since it had been binned: it is brought back, or taken in anew',
    params: z.object({ id: IdParam }),
    answer: Did.extend({
      /** Brought back from the bin. */
      back: z.number().int(),
      /** Being taken in anew. */
      coming: z.number().int(),
      /** Have to be sent once more, since their files are no longer at hand. */
      again: z.number().int(),
    }),
  }),
} as const;
