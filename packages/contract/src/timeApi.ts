import { Day } from '@gemmel/core';
import { z } from 'zod';
import { endpoint } from './endpoint';
import { Id, IdParam, Ids, Title } from './ids';
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

/** Events and pictures as they stood before a change: send it back to undo. */
export const EventsBefore = z.object({
  pictures: z.array(z.object({ id: Id, event: Id.nullable(), byHand: z.boolean() })).max(200_000),
  events: z.array(
    z.object({
      id: Id,
      title: z.string().max(160).nullable(),
      start: Day,
      end: Day,
      madeBy: z.enum(['found', 'hand']),
    }),
  ),
  made: z.array(Id),
});
export type EventsBefore = z.infer<typeof EventsBefore>;

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
  splitEvent: endpoint({
    method: 'POST',
    path: '/api/events/:id/split',
    part: 'helper',
    summary: 'Split an event before a picture',
    params: id,
    body: z.strictObject({ picture: Id }),
    answer: EventsBefore,
  }),
  joinEvents: endpoint({
    method: 'POST',
    path: '/api/events/:id/join',
    part: 'helper',
    summary: 'Join another event to this one',
    params: id,
    body: z.strictObject({ other: Id }),
    answer: EventsBefore,
  }),
  moveToEvent: endpoint({
    method: 'POST',
    path: '/api/events/move',
    part: 'helper',
    summary: 'Move pictures to an event, to a new one, or out of any',
    body: z.strictObject({
      ids: Ids.min(1),
      to: z.union([z.strictObject({ event: Id }), z.strictObject({ title: Title.nullable() })]).nullable(),
    }),
    answer: EventsBefore,
  }),
  makeEvent: endpoint({
    method: 'POST',
    path: '/api/events',
    part: 'helper',
    summary: 'Make an event for a span of days',
    body: z.strictObject({ title: Title.nullable(), from: Day, to: Day }),
    answer: EventsBefore.extend({ id: Id }),
  }),
  removeEvent: endpoint({
    method: 'DELETE',
    path: '/api/events/:id',
    part: 'helper',
    summary: 'Remove an event; its pictures stay',
    params: id,
    answer: EventsBefore,
  }),
  restoreEvents: endpoint({
    method: 'POST',
    path: '/api/events/restore',
    part: 'helper',
    summary: 'Undo a change of events',
    body: EventsBefore,
    answer: Done,
  }),
} as const;
