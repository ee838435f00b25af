import { z } from 'zod';
import { endpoint } from './endpoint';
import { Id, IdParam, Ids } from './ids';

const Count = z.number().int().min(0);
const Some = z.object({ pictures: Count, ids: Ids });

/** Routes of the parlour, the first page of a relative, and of hearts of one's own. */
export const parlourApi = {
  parlour: endpoint({
    method: 'GET',
    path: '/api/parlour',
    part: 'relative',
    summary: 'What is new for whoever asks since they were last here, what is theirs, and who answered them',
    answer: z.object({
      /** When they were here before; null the first time. */
      since: z.string().nullable(),
      /** Whether anything has been chosen for them to see. */
      chosen: z.boolean(),
      fresh: Some,
      /** What they brought themselves. */
      brought: Some,
      /** What they gave a heart. */
      loved: Some,
      /** What others wrote on pictures that they brought or wrote about, the latest first. */
      answers: z.array(
        z.object({ id: Id, picture: Id, author: z.string(), text: z.string(), at: z.string(), fresh: z.boolean() }),
      ),
    }),
  }),
  ownHeart: endpoint({
    method: 'PUT',
    path: '/api/pictures/:id/heart',
    part: 'relative',
    summary: 'Give a picture a heart of one’s own, or take it back',
    params: z.object({ id: IdParam }),
    body: z.strictObject({ on: z.boolean() }),
    answer: z.object({ done: z.literal(true) }),
  }),
};
