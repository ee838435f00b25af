import { Question } from '@gemmel/core';
import { z } from 'zod';
import { Did } from './actApi';
import { endpoint } from './endpoint';
import { Id, IdParam, Ids } from './ids';

const id = z.object({ id: IdParam });

/** Most marks a library has. */
export const MOST_MARKS = 8;
/** Colours of marks: names of the palette, each readable on both grounds. */
export const MARK_COLOURS = ['juniper', 'marigold', 'plum', 'brick', 'lake', 'moss', 'rose', 'slate'] as const;
export const MarkColour = z.enum(MARK_COLOURS);
export type MarkColour = z.infer<typeof MarkColour>;
/** Shapes of marks, so that none is told by its colour alone. */
export const MARK_SHAPES = ['ring', 'bars', 'oval', 'kite', 'wave', 'sprig', 'tent', 'knot'] as const;
export const MarkShape = z.enum(MARK_SHAPES);
export type MarkShape = z.infer<typeof MarkShape>;

/** One of a library's own marks: what it means, in words, and how it looks. */
export const Mark = z.object({
  id: Id,
  meaning: z.string(),
  colour: MarkColour,
  shape: MarkShape,
  pictures: z.number().int(),
});
export type Mark = z.infer<typeof Mark>;
const Meaning = z.string().trim().min(1).max(60);

/** What a member, or a guest of a share, wrote about a picture. */
export const Comment = z.object({
  id: Id,
  /** Who wrote it; null when nobody of that name is a member. */
  member: Id.nullable(),
  author: z.string(),
  text: z.string(),
  /** When, in UTC. */
  at: z.string(),
  edited: z.string().nullable(),
  /** Whether it belongs to a share, whose guests read it, and whether it is hidden from them; null for one of the house. */
  guests: z.enum(['read', 'hidden']).nullable(),
});
export type Comment = z.infer<typeof Comment>;
const Text = z.string().trim().min(1).max(4000);

const Word = z.string().trim().min(1).max(250);

/** A tag in its tree. */
export const Tag = z.object({
  id: Id,
  name: z.string(),
  parent: Id.nullable(),
  /** How many pictures bear the tag itself. */
  pictures: z.number().int(),
  /** How many bear it or a tag below it. */
  below: z.number().int(),
  /** Other spellings that find and complete it. */
  spellings: z.array(z.string()),
});
export type Tag = z.infer<typeof Tag>;

/** Why a word may say the same as a tag. */
export const TwinWhy = z.enum([
  'case',
  'plural',
  'letters',
  'person',
  'first name',
  'place',
  'year',
  'spelling',
  'branch',
]);
export type TwinWhy = z.infer<typeof TwinWhy>;

/** Two words that may be one. */
export const Twin = z.object({
  tag: Id,
  /** The other one: a tag that would take its pictures, or a person, a place, a year. */
  other: z.union([
    z.object({ tag: Id }),
    z.object({ person: Id, name: z.string() }),
    z.object({ place: z.string() }),
    z.object({ year: z.number().int() }),
  ]),
  why: TwinWhy,
});
export type Twin = z.infer<typeof Twin>;

/** What many pictures say together: for each thing, how many of them say it. */
export const SaidTogether = z.object({
  pictures: z.number().int(),
  ratings: z.array(z.number().int()).length(6),
  favourites: z.number().int(),
  marks: z.array(z.object({ id: Id, pictures: z.number().int() })),
  tags: z.array(z.object({ id: Id, name: z.string(), pictures: z.number().int() })),
  people: z.array(z.object({ id: Id, name: z.string(), pictures: z.number().int() })),
  /** A title or caption that all of them share; null where they differ, or where none has any. */
  title: z.string().nullable(),
  titles: z.number().int(),
  caption: z.string().nullable(),
  captions: z.number().int(),
});
export type SaidTogether = z.infer<typeof SaidTogether>;

/** Routes of what people say of pictures: marks, comments, the tree of tags. */
export const sayApi = {
  marks: endpoint({
    method: 'GET',
    path: '/api/marks',
    part: 'relative',
    summary: 'The library’s marks with their counts',
    answer: z.object({ marks: z.array(Mark) }),
  }),
  makeMark: endpoint({
    method: 'POST',
    path: '/api/marks',
    part: 'keeper',
    summary: 'Make a mark; its colour and shape are chosen where none is given',
    body: z.strictObject({ meaning: Meaning, colour: MarkColour.optional(), shape: MarkShape.optional() }),
    answer: Did.extend({ id: Id }),
  }),
  changeMark: endpoint({
    method: 'PATCH',
    path: '/api/marks/:id',
    part: 'keeper',
    summary: 'Change what a mark means, how it looks or where it stands',
    params: id,
    body: z.strictObject({
      meaning: Meaning.optional(),
      colour: MarkColour.optional(),
      shape: MarkShape.optional(),
      position: z.number().int().min(0).max(MOST_MARKS).optional(),
    }),
    answer: Did,
  }),
  removeMark: endpoint({
    method: 'DELETE',
    path: '/api/marks/:id',
    part: 'keeper',
    summary: 'Remove a mark, from every picture too',
    params: id,
    answer: Did,
  }),

  comment: endpoint({
    method: 'POST',
    path: '/api/comments',
    part: 'relative',
    summary: 'Write a comment, on one picture or the same on several',
    body: z.strictObject({ ids: z.array(Id).min(1).max(500), text: Text }),
    answer: Did.extend({ id: Id }),
  }),
  changeComment: endpoint({
    method: 'PATCH',
    path: '/api/comments/:id',
    part: 'relative',
    summary: 'Change a comment of your own',
    params: id,
    body: z.strictObject({ text: Text }),
    answer: Did,
  }),
  removeComment: endpoint({
    method: 'DELETE',
    path: '/api/comments/:id',
    part: 'relative',
    summary: 'Remove a comment of your own; the keeper may remove any',
    params: id,
    answer: Did,
  }),

  tags: endpoint({
    method: 'GET',
    path: '/api/tags',
    part: 'relative',
    summary: 'The tree of tags, with counts and other spellings',
    answer: z.object({ tags: z.array(Tag) }),
  }),
  makeTag: endpoint({
    method: 'POST',
    path: '/api/tags',
    part: 'helper',
    summary: 'Make a tag by its path from the widest word on',
    body: z.strictObject({ path: z.array(Word).min(1).max(8) }),
    answer: Did.extend({ id: Id }),
  }),
  changeTag: endpoint({
    method: 'PATCH',
    path: '/api/tags/:id',
    part: 'helper',
    summary: 'Rename a tag everywhere, move it below another or to the top, or say its other spellings',
    params: id,
    body: z.strictObject({
      name: Word.optional(),
      parent: Id.nullable().optional(),
      spellings: z.array(Word).max(20).optional(),
    }),
    answer: Did,
  }),
  joinTags: endpoint({
    method: 'POST',
    path: '/api/tags/:id/join',
    part: 'helper',
    summary:
      'Join a tag into another one, or into the person it names: its pictures go along, its word becomes a spelling',
    params: id,
    body: z.strictObject({ to: Id }),
    answer: Did.extend({ pictures: z.number().int() }),
  }),
  clearTag: endpoint({
    method: 'POST',
    path: '/api/tags/:id/clear',
    part: 'helper',
    summary: 'Take a tag off all pictures, or off those that answer a question; the word stays in the tree',
    params: id,
    body: z.strictObject({ where: Question.optional() }),
    answer: Did.extend({ pictures: z.number().int() }),
  }),
  removeTag: endpoint({
    method: 'DELETE',
    path: '/api/tags/:id',
    part: 'helper',
    summary: 'Remove a tag, off all pictures; what is below it moves up',
    params: id,
    answer: Did.extend({ pictures: z.number().int() }),
  }),
  tagsBeside: endpoint({
    method: 'GET',
    path: '/api/tags/:id/beside',
    part: 'relative',
    summary: 'Tags that are often given together with one, the most frequent first',
    params: id,
    answer: z.object({ tags: z.array(z.object({ id: Id, name: z.string(), pictures: z.number().int() })) }),
  }),
  twins: endpoint({
    method: 'GET',
    path: '/api/tags/twins',
    part: 'helper',
    summary: 'Words that may say the same',
    answer: z.object({ twins: z.array(Twin) }),
  }),
  keepApart: endpoint({
    method: 'POST',
    path: '/api/tags/:id/apart',
    part: 'helper',
    summary: 'Say that a tag and what it looks like are different, for good',
    params: id,
    body: z.strictObject({ other: Twin.shape.other }),
    answer: Did,
  }),
  likelyTags: endpoint({
    method: 'POST',
    reads: true,
    path: '/api/tags/likely',
    part: 'helper',
    summary: 'Tags that some pictures may want: of the same event, people and place, and those given last',
    body: z.strictObject({ ids: Ids.min(1).max(500) }),
    answer: z.object({
      tags: z.array(z.object({ id: Id, name: z.string(), why: z.enum(['last', 'event', 'people', 'place']) })),
    }),
  }),
  saidTogether: endpoint({
    method: 'POST',
    reads: true,
    path: '/api/said',
    part: 'relative',
    summary: 'What some pictures say together, and where they differ',
    body: z.strictObject({ ids: Ids.min(1) }),
    answer: SaidTogether,
  }),
} as const;
