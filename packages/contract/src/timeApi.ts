import { Day } from '@gemmel/core';
import { z } from 'zod';
import { endpoint } from './endpoint';
import { Id, IdParam } from './ids';
import { Done } from './shapes';

const id = z.object({ id: IdParam });

/** A device's clock that disagrees with others', and the pictures that say so. */
export const ClockOffer = z.object({
  id: Id,
  device: z.string(),
  from: Day,
  to: Day,
  /** What has to be added to the device's times. */
  shiftSeconds: z.number().int(),
  /** Pairs of pictures that agree, and on how many separate occasions. */
  pairs: z.number().int(),
  occasions: z.number().int(),
  spreadSeconds: z.number().int(),
  kind: z.enum(['an hour', 'a time zone', 'a wrong clock']),
  /** How many of the device's pictures would be mended. */
  pictures: z.number().int(),
  examples: z.array(z.object({ sha: z.string(), other: z.string(), taken: z.string(), otherTaken: z.string() })),
});
export type ClockOffer = z.infer<typeof ClockOffer>;

/** Routes about time. */
export const timeApi = {
  clocks: endpoint({
    method: 'GET',
    path: '/api/clocks',
    part: 'helper',
    summary: 'Clocks that disagree with others at the same events',
    answer: z.object({ clocks: z.array(ClockOffer) }),
  }),
  answerClock: endpoint({
    method: 'POST',
    path: '/api/clocks/:id',
    part: 'helper',
    summary: 'Mend a clock, or say that it is right',
    params: id,
    body: z.strictObject({ mend: z.boolean() }),
    answer: z.object({ mended: z.number().int() }),
  }),
  reopenClock: endpoint({
    method: 'POST',
    path: '/api/clocks/:id/reopen',
    part: 'helper',
    summary: 'Take an answer about a clock back',
    params: id,
    answer: Done,
  }),
} as const;
