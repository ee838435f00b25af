import { Day } from '@gemmel/core';
import { z } from 'zod';
import { Did } from './actApi';
import { endpoint } from './endpoint';
import { Id, IdParam, Title } from './ids';
import { Why } from './shapes';

const id = z.object({ id: IdParam });

export const Person = z.object({
  id: Id,
  name: z.string(),
  nickname: z.string().nullable(),
  /** The circles they are in. */
  circles: z.array(Id),
  born: Day.nullable(),
  favourite: z.boolean(),
  hidden: z.boolean(),
  /** False when this person is never to be recognised. */
  recognised: z.boolean(),
  pictures: z.number().int(),
  /** Faces that may be them. */
  likely: z.number().int(),
  portrait: Id.nullable(),
  /** Whether somebody chose the portrait. */
  portraitByHand: z.boolean(),
  /** First and last day they are seen on. */
  first: Day.nullable(),
  last: Day.nullable(),
});
export type Person = z.infer<typeof Person>;

/** A group of people: the cousins, the neighbours. In the keeper's order. */
export const Circle = z.object({ id: Id, name: z.string() });
export type Circle = z.infer<typeof Circle>;

/** What is said of a circle. `position` counts from 0 in the keeper's order. */
export const CircleShape = z.strictObject({
  name: Title,
  people: z.array(Id).max(2000),
  position: z.number().int().min(0).max(10_000),
});
export type CircleShape = z.infer<typeof CircleShape>;

/** What may be said of a person. */
export const PersonChange = z.strictObject({
  name: Title.optional(),
  nickname: Title.nullable().optional(),
  born: Day.nullable().optional(),
  favourite: z.boolean().optional(),
  hidden: z.boolean().optional(),
  circles: z.array(Id).max(200).optional(),
  /** A face of theirs; null lets the best one be chosen. */
  portrait: Id.nullable().optional(),
});
export type PersonChange = z.infer<typeof PersonChange>;

/** More of a person: how often in each year, with whom, like whom, and all their faces, newest first, in columns. */
export const PersonDetail = z.object({
  years: z.array(z.tuple([z.number().int(), z.number().int()])),
  together: z.array(z.object({ id: Id, pictures: z.number().int() })),
  alike: z.array(Id),
  faces: z.object({
    ids: z.array(Id),
    pictures: z.array(Id),
    days: z.array(Day.nullable()),
    /** Those the machine filed by itself. */
    byMachine: z.array(z.boolean()),
  }),
});
export type PersonDetail = z.infer<typeof PersonDetail>;

/** What joining two people into one would do. */
export const JoinPreview = z.object({
  pictures: z.number().int(),
  /** Pictures in which both are named: one of the two faces goes back to those who wait. */
  both: z.number().int(),
  albums: z.number().int(),
});
export type JoinPreview = z.infer<typeof JoinPreview>;

/** How sure a guess is. */
const Closeness = z.enum(['very close', 'close', 'perhaps']);
const WaitingFaces = z.array(z.object({ id: Id, picture: Id, taken: z.string().nullable() }));
export const Introduction = z.object({
  key: Id,
  faces: WaitingFaces,
  /** Other groups that are perhaps the same person. */
  perhaps: z.array(z.object({ key: Id, faces: WaitingFaces })),
  pictures: z.number().int(),
  from: Day.nullable(),
  to: Day.nullable(),
  candidates: z.array(
    z.object({
      person: Id,
      name: z.string(),
      portrait: Id.nullable(),
      closeness: Closeness,
      why: Why,
    }),
  ),
});
export type Introduction = z.infer<typeof Introduction>;

/** An answer about faces: who they are, or that they are nobody to name. */
export const FaceAnswer = z.strictObject({
  faces: z.array(Id).min(1).max(5000),
  /** Those of the group tapped away: they are not this person. */
  odd: z.array(Id).max(5000).default([]),
  is: z.union([
    z.strictObject({ person: Id }),
    z.strictObject({ newPerson: Title, born: Day.nullable().optional(), circles: z.array(Id).max(200).optional() }),
    z.literal('passer-by'),
    z.literal('not a face'),
    z.literal('later'),
    z.literal('unnamed'),
  ]),
});
export type FaceAnswer = z.infer<typeof FaceAnswer>;

/** What came of an answer about faces: the name they were filed under, or what was said. */
const Answered = Did.extend({ said: z.string() });

/** A box on a picture in fractions of it: left, top, width, height. */
const FaceBox = z.tuple([
  z.number().min(0).max(1),
  z.number().min(0).max(1),
  z.number().min(0.005).max(1),
  z.number().min(0.005).max(1),
]);

/** How sure recognition must be, and what that means on this household's own faces. */
export const Sureness = z.object({
  /** Whether faces are looked for at all in this library. */
  recognises: z.boolean(),
  ask: z.number(),
  file: z.number(),
  /** From how many answers of the household certainties are worked out. */
  answers: z.number().int(),
  /** Faces nobody has answered for by their certainty, in steps of a hundredth; and those of them that may be filed unasked. */
  faces: z.array(z.number().int()).length(101),
  mayFile: z.array(z.number().int()).length(101),
  /** Pairs of people who are easily taken for each other, by their names. */
  alike: z.array(z.tuple([z.string(), z.string()])),
  /** Pictures in which faces are still to be looked for, and of how many. */
  seeking: z.object({ done: z.number().int(), of: z.number().int() }).nullable(),
});
export type Sureness = z.infer<typeof Sureness>;

/** Everything about people and their faces. */
export const peopleApi = {
  people: endpoint({
    method: 'GET',
    path: '/api/people',
    part: 'relative',
    summary: 'Named people with their counts, and circles',
    answer: z.object({ people: z.array(Person), circles: z.array(Circle) }),
  }),
  person: endpoint({
    method: 'GET',
    path: '/api/people/:id',
    part: 'relative',
    summary: 'More of a person: years, company, look-alikes, faces',
    params: id,
    answer: PersonDetail,
  }),
  changePerson: endpoint({
    method: 'PATCH',
    path: '/api/people/:id',
    part: 'helper',
    summary: 'Change what is known of a person',
    params: id,
    body: PersonChange,
    answer: Did,
  }),
  recognisePerson: endpoint({
    method: 'PUT',
    path: '/api/people/:id/recognised',
    part: 'keeper',
    summary: 'Never recognise a person again, which deletes what describes their faces at once; or do',
    params: id,
    body: z.strictObject({ on: z.boolean() }),
    answer: Did.extend({ deleted: z.number().int() }),
  }),
  joinPreview: endpoint({
    method: 'GET',
    path: '/api/people/:id/join/:into',
    part: 'helper',
    summary: 'What joining a person into another would do',
    params: z.object({ id: IdParam, into: IdParam }),
    answer: JoinPreview,
  }),
  joinPeople: endpoint({
    method: 'POST',
    path: '/api/people/:id/join',
    part: 'helper',
    summary: 'Join a person into another',
    params: id,
    body: z.strictObject({ into: Id }),
    answer: Did,
  }),
  forgetPerson: endpoint({
    method: 'DELETE',
    path: '/api/people/:id',
    part: 'helper',
    summary: 'Take a name away: all faces wait again',
    params: id,
    answer: Did,
  }),
  makeCircle: endpoint({
    method: 'POST',
    path: '/api/circles',
    part: 'helper',
    summary: 'Make a circle, perhaps with people in it',
    body: CircleShape.partial({ people: true, position: true }),
    answer: Did.extend({ id: Id }),
  }),
  changeCircle: endpoint({
    method: 'PATCH',
    path: '/api/circles/:id',
    part: 'helper',
    summary: 'Rename a circle, say who is in it, or put it at another place in the order',
    params: id,
    body: CircleShape.partial(),
    answer: Did,
  }),
  removeCircle: endpoint({
    method: 'DELETE',
    path: '/api/circles/:id',
    part: 'helper',
    summary: 'Remove a circle, not the people in it',
    params: id,
    answer: Did,
  }),
  introductions: endpoint({
    method: 'GET',
    path: '/api/introductions',
    part: 'helper',
    summary: 'Likely people nobody has named, the largest group first: the first few, and how many there are',
    answer: z.object({ groups: z.array(Introduction), total: z.number().int(), faces: z.number().int() }),
  }),
  likelyFaces: endpoint({
    method: 'GET',
    path: '/api/people/:id/likely',
    part: 'helper',
    summary: 'Faces that may be a person, the likeliest first',
    params: id,
    answer: z.object({ faces: z.array(z.object({ id: Id, picture: Id, closeness: Closeness, why: Why })) }),
  }),
  answerFaces: endpoint({
    method: 'POST',
    path: '/api/faces/answer',
    part: 'helper',
    summary: 'Say who some faces are',
    body: FaceAnswer,
    answer: Answered,
  }),
  drawFace: endpoint({
    method: 'POST',
    path: '/api/pictures/:id/faces',
    part: 'helper',
    summary: 'Mark a face that was missed, perhaps with its name',
    params: id,
    body: z.strictObject({
      box: FaceBox,
      is: z.union([z.strictObject({ person: Id }), z.strictObject({ newPerson: Title })]).nullable(),
    }),
    answer: Answered,
  }),
  sureness: endpoint({
    method: 'GET',
    path: '/api/faces/sureness',
    part: 'helper',
    summary: 'How sure recognition must be, and what that means here',
    answer: Sureness,
  }),
  setSureness: endpoint({
    method: 'PUT',
    path: '/api/faces/sureness',
    part: 'keeper',
    summary: 'Set how sure recognition must be to ask and to file',
    body: z
      .strictObject({ ask: z.number().min(0.05).max(0.99), file: z.number().min(0.5).max(1) })
      .refine((v) => v.ask <= v.file, 'it cannot file what it would not even ask about'),
    answer: Did,
  }),
  setRecognition: endpoint({
    method: 'PUT',
    path: '/api/faces/recognition',
    part: 'keeper',
    summary: 'Look for faces or not; switching it off deletes what describes them at once',
    body: z.strictObject({ on: z.boolean() }),
    answer: Did.extend({ deleted: z.number().int() }),
  }),
};
