import { LANGUAGES, LOOKS, NOTICED, OBSERVABLE, Observed, Question, Shape, WORD_KINDS } from '@gemmel/core';
import { z } from 'zod';
import { Did } from './actApi';
import { endpoint } from './endpoint';
import { Id, IdParam } from './ids';

const id = z.object({ id: IdParam });
const Count = z.number().int();

/**
 * In which order pictures stand: as the question is answered, newest, last or largest first; by likeness to the picture that the
 * question asks to be like, the likest first; by how well they answer its words, the best first.
 */
export const Sort = z.enum(['date', 'name', 'size', 'stars', 'shape', 'arrival', 'change', 'likeness', 'match']);
export type Sort = z.infer<typeof Sort>;

/** What pictures may stand under besides time: who is in them, where they were taken, the folder they came in. */
export const Under = z.enum(['person', 'place', 'folder']);
export type Under = z.infer<typeof Under>;

/** Ways in which pictures may be like one. */
export const LikeBy = z.enum(['look', 'moment', 'place', 'people']);
export type LikeBy = z.infer<typeof LikeBy>;

/** What typing may be completed to, with how many pictures the whole question would then have. */
export const Offered = z.object({
  kind: z.enum([...WORD_KINDS, 'observed', 'stars', 'word']),
  label: z.string(),
  /** What tells it from others of its name: the tag it lies below, the days of an event. */
  hint: z.string().nullable(),
  part: Question,
  question: Question,
  pictures: Count,
});
export type Offered = z.infer<typeof Offered>;

const Counted = <T extends z.ZodType>(of: T) => z.array(z.object({ of, pictures: Count }));

/** How the pictures of a question are made up. */
export const Facets = z.object({
  pictures: Count,
  tags: Counted(Id),
  people: Counted(Id),
  ratings: z.array(Count).length(6),
  favourites: Count,
  marks: Counted(Id),
  kinds: Counted(z.enum(['photo', 'video'])),
  cameras: Counted(z.string()),
  lenses: Counted(z.string()),
  formats: Counted(z.string()),
  shapes: Counted(Shape),
  /** Of each of core's `SIZES`, by its place in that list. */
  sizes: Counted(Count),
  observed: Counted(Observed),
});
export type Facets = z.infer<typeof Facets>;

/** A question kept at hand. */
export const Pin = z.object({ id: Id, name: z.string(), question: Question, pictures: Count });
export type Pin = z.infer<typeof Pin>;
const PinName = z.string().trim().min(1).max(120);

/** What the machine looks for: each kind of its own, on or off, with how many pictures it was noticed in. */
export const Observing = z.object({
  kinds: z.array(z.object({ kind: z.enum(NOTICED), on: z.boolean(), pictures: Count })),
  /** What is looked for when the keeper asks: how many photos were looked at, of how many, and what is left in seconds. */
  looks: z.array(
    z.object({
      look: z.enum(LOOKS),
      on: z.boolean(),
      paused: z.boolean(),
      /** Pictures in which something was found. */
      pictures: Count,
      done: Count,
      of: Count,
      left: Count.nullable(),
    }),
  ),
});
export type Observing = z.infer<typeof Observing>;

/** Routes of finding: what is typed, facets, pins. */
export const findApi = {
  ask: endpoint({
    method: 'POST',
    reads: true,
    path: '/api/ask',
    part: 'relative',
    summary: 'What typed words ask for, on top of a question, and what their end may be',
    body: z.strictObject({
      typed: z.string().max(400),
      question: Question.default({ all: [] }),
      language: z.enum(LANGUAGES),
    }),
    answer: z.object({
      /** The whole question there would be. */
      question: Question,
      pictures: Count,
      /** The first of them, newest first. */
      first: z.array(Id),
      completions: z.array(Offered),
    }),
  }),
  facets: endpoint({
    method: 'POST',
    reads: true,
    path: '/api/facets',
    part: 'relative',
    summary: 'How the pictures of a question are made up: tags, stars, marks, kinds, cameras, shapes, what was noticed',
    body: z.strictObject({ question: Question }),
    answer: Facets,
  }),
  observing: endpoint({
    method: 'GET',
    path: '/api/observing',
    part: 'helper',
    summary: 'What the machine looks for in pictures, and how often it noticed it',
    answer: Observing,
  }),
  setObserving: endpoint({
    method: 'PUT',
    path: '/api/observing/:kind',
    part: 'keeper',
    summary: 'Have a kind of thing looked for, or no longer: what was noticed of it goes at once',
    params: z.object({ kind: z.enum(OBSERVABLE) }),
    body: z.strictObject({ on: z.boolean() }),
    answer: Did,
  }),
  pauseLook: endpoint({
    method: 'PUT',
    path: '/api/observing/:look/paused',
    part: 'keeper',
    summary: 'Hold what is looked for in idle time, or let it go on where it was',
    params: z.object({ look: z.enum(LOOKS) }),
    body: z.strictObject({ paused: z.boolean() }),
    answer: z.object({}),
  }),
  sayNotSo: endpoint({
    method: 'POST',
    path: '/api/pictures/not-so',
    part: 'helper',
    summary: 'Say that what was noticed of some pictures is not so: it goes, and is not noticed again',
    body: z.strictObject({ ids: z.array(Id).min(1).max(5000), observed: Observed }),
    answer: Did,
  }),
  moreLike: endpoint({
    method: 'GET',
    path: '/api/pictures/:id/like',
    part: 'relative',
    summary:
      'Pictures like one, by look, moment, place or people: each as a question, with how many there are besides it',
    params: id,
    answer: z.object({ offers: z.array(z.object({ by: LikeBy, question: Question, pictures: Count })) }),
  }),
  thisDay: endpoint({
    method: 'GET',
    path: '/api/this-day',
    part: 'relative',
    summary: 'This day in other years: the best picture of each, without hidden people',
    answer: z.object({
      day: z.string(),
      question: Question,
      years: z.array(
        z.object({
          year: Count,
          id: Id,
          sha: z.string(),
          pictures: Count,
          event: z.object({ id: Id, title: z.string().nullable() }).nullable(),
        }),
      ),
    }),
  }),
  notAgain: endpoint({
    method: 'POST',
    path: '/api/this-day/not-again',
    part: 'helper',
    summary: 'Say that a picture, or an event, is not to be shown again among this day’s pictures of other years',
    body: z.union([z.strictObject({ picture: Id }), z.strictObject({ event: Id })]),
    answer: Did,
  }),
  metadata: endpoint({
    method: 'GET',
    path: '/api/pictures/:id/metadata',
    part: 'relative',
    summary: 'Everything the original file says of itself, in its groups',
    params: id,
    answer: z.object({
      groups: z.array(
        z.object({ name: z.string(), lines: z.array(z.object({ name: z.string(), value: z.string() })) }),
      ),
    }),
  }),
  pins: endpoint({
    method: 'GET',
    path: '/api/pins',
    part: 'relative',
    summary: 'Questions you keep at hand, in your order, with their counts',
    answer: z.object({ pins: z.array(Pin) }),
  }),
  makePin: endpoint({
    method: 'POST',
    path: '/api/pins',
    part: 'relative',
    summary: 'Keep a question at hand',
    body: z.strictObject({ name: PinName, question: Question }),
    answer: Did.extend({ id: Id }),
  }),
  changePin: endpoint({
    method: 'PATCH',
    path: '/api/pins/:id',
    part: 'relative',
    summary: 'Rename a pin, change its question, or put it elsewhere in the order',
    params: id,
    body: z.strictObject({
      name: PinName.optional(),
      question: Question.optional(),
      position: z.number().int().min(0).max(1000).optional(),
    }),
    answer: Did,
  }),
  removePin: endpoint({
    method: 'DELETE',
    path: '/api/pins/:id',
    part: 'relative',
    summary: 'No longer keep a question at hand',
    params: id,
    answer: Did,
  }),
} as const;
