import { Question } from '@gemmel/core';
import { z } from 'zod';
import { Did } from './actApi';
import { endpoint } from './endpoint';
import { Audience, Id, IdParam, Ids } from './ids';
import { AskedNames } from './shapes';

const id = z.object({ id: IdParam });
const Count = z.number().int();

/** How far beyond what is for the family a relative's view reaches: to what is for the house, too, or not. */
const Reach = z.enum(['house', 'family']);

/** Some pictures, by how many there are and the first of them. */
const Some = z.object({ pictures: Count, ids: Ids });

/** What a relative would see. */
export const Seen = Some.extend({
  /** What is asked for but is only for the house, and so stays unseen. */
  beyond: Some,
});
export type Seen = z.infer<typeof Seen>;

/** What a relative sees: a question, and what it finds for them. */
export const View = Seen.extend({
  /** Null while nobody has chosen anything. */
  question: Question.nullable(),
  names: AskedNames.nullable(),
  reach: Reach,
});
export type View = z.infer<typeof View>;

/** Things that pictures belong to, of which it can be said for whom they are. */
export const AudienceOf = z.enum(['pictures', 'person', 'circle', 'album', 'device', 'place', 'library']);
export type AudienceOf = z.infer<typeof AudienceOf>;

/** Why pictures are for whom they are. */
export const AudienceWhy = z.object({
  /** What it is said of; `pictures` for the picture itself, `library` where nothing else is said. */
  of: AudienceOf,
  name: z.string().nullable(),
});
export type AudienceWhy = z.infer<typeof AudienceWhy>;

/** For whom some pictures are. */
export const Meant = z.object({
  /** How many are for each. */
  meant: z.object({ me: Count, house: Count, family: Count, link: Count }),
  /** Of how many it was said themselves. */
  said: Count,
  /** Why, for a single picture. */
  why: AudienceWhy.nullable(),
});
export type Meant = z.infer<typeof Meant>;

/** Routes about what somebody sees, and for whom pictures are. */
export const sightApi = {
  view: endpoint({
    method: 'GET',
    path: '/api/members/:id/view',
    part: 'keeper',
    summary: 'What a relative sees',
    params: id,
    answer: View,
  }),
  tryView: endpoint({
    method: 'POST',
    path: '/api/members/:id/view',
    reads: true,
    part: 'keeper',
    summary: 'What a relative would see',
    params: id,
    body: z.strictObject({ question: Question, reach: Reach }),
    answer: Seen,
  }),
  setView: endpoint({
    method: 'PUT',
    path: '/api/members/:id/view',
    part: 'keeper',
    summary: 'Choose what a relative sees',
    params: id,
    body: z.strictObject({ question: Question.nullable(), reach: Reach }),
    answer: z.object({ done: z.literal(true) }),
  }),
  meant: endpoint({
    method: 'POST',
    path: '/api/audience/of',
    reads: true,
    part: 'helper',
    summary: 'For whom some pictures are',
    body: z.strictObject({ ids: Ids.min(1) }),
    answer: Meant,
  }),
  sayAudience: endpoint({
    method: 'PUT',
    path: '/api/audience',
    part: 'helper',
    summary: 'Say for whom pictures are, or what they belong to; null to leave it to what they belong to',
    body: z.union([
      z.strictObject({ of: z.literal('pictures'), ids: Ids.min(1), audience: Audience.nullable() }),
      z.strictObject({
        of: z.enum(['person', 'circle', 'album', 'device', 'place']),
        id: Id,
        audience: Audience.nullable(),
      }),
      z.strictObject({ of: z.literal('library'), audience: z.enum(['house', 'family', 'link']) }),
    ]),
    answer: Did,
  }),
  audiences: endpoint({
    method: 'GET',
    path: '/api/audience',
    part: 'helper',
    summary: 'For whom what nothing is said of is, and all that is said of people, circles, albums, devices and places',
    answer: z.object({
      library: Audience,
      said: z.array(z.object({ of: AudienceOf, id: Id, name: z.string(), audience: Audience })),
    }),
  }),
};
