import { Day, VAULT_LAYOUTS } from '@gemmel/core';
import { z } from 'zod';
import { Did } from './actApi';
import { endpoint } from './endpoint';
import { Id, IdParam, Ids, Title } from './ids';
import { Event, WhenSpan } from './shapes';

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
  /**
   * Pictures before the first and after the last proof that may be wrong by as much, since a clock stays wrong until somebody
   * sets it: how many, and from or up to which day nothing speaks against it. Null when there are none.
   */
  earlier: z.object({ pictures: z.number().int(), from: Day }).nullable(),
  later: z.object({ pictures: z.number().int(), to: Day }).nullable(),
  examples: z.array(z.object({ sha: z.string(), other: z.string(), taken: z.string(), otherTaken: z.string() })),
});
export type ClockOffer = z.infer<typeof ClockOffer>;

/** How dates are to be mended. */
export const RedatingAsked = z.union([
  z.strictObject({ set: z.string().trim().min(1).max(60) }),
  z.strictObject({ shift: z.number().int().min(-4e9).max(4e9) }),
  z.strictObject({ zone: z.number().int().min(-720).max(840), keep: z.enum(['clock', 'instant']) }),
  z.strictObject({
    order: z.strictObject({ from: z.string().trim().min(1).max(60), step: z.number().int().min(0).max(86_400) }),
  }),
  z.strictObject({ from: z.enum(['file name', 'folder name', 'file']) }),
  z.strictObject({ none: z.literal(true) }),
]);
export type RedatingAsked = z.infer<typeof RedatingAsked>;

const Time = z.object({ local: z.string().nullable(), offset: z.number().int().nullable(), span: WhenSpan.nullable() });

/** Dates before and after mending. `after` is null where the way says nothing and the picture stays as it is. */
export const DatePreview = z.object({
  pictures: z.array(z.object({ id: Id, name: z.string(), before: Time, after: Time.nullable() })),
  changed: z.number().int(),
  left: z.number().int(),
});
export type DatePreview = z.infer<typeof DatePreview>;

/** An event with its best pictures and names it could have. */
export const EventDetail = z.object({
  event: Event,
  best: z.array(z.object({ id: Id, sha: z.string() })),
  names: z.array(z.string()),
});
export type EventDetail = z.infer<typeof EventDetail>;

/** What is open in the second step of the sitting: days, events and places. */
export const Sitting = z.object({
  events: z.array(EventDetail),
  /** Unnamed events in all; `events` holds the newest of them. */
  unnamed: z.number().int(),
  clocks: z.number().int(),
  undated: z.array(
    z.object({
      /** The folder they came in. */
      name: z.string().nullable(),
      ids: z.array(Id),
      best: z.array(z.object({ id: Id, sha: z.string() })),
      /** What its name says of when they were taken. */
      guess: WhenSpan.nullable(),
    }),
  ),
  unplaced: z.array(
    z.object({
      ids: z.array(Id),
      lat: z.number(),
      lon: z.number(),
      /** What the place is called, where it has a name. */
      name: z.string().nullable(),
      before: z.object({ id: Id, sha: z.string() }),
      after: z.object({ id: Id, sha: z.string() }),
      best: z.array(z.object({ id: Id, sha: z.string() })),
    }),
  ),
});
export type Sitting = z.infer<typeof Sitting>;

const Layout = z.enum(VAULT_LAYOUTS);

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
    summary: 'Mend a clock, with everything earlier and later if wished, or say that it is right',
    params: id,
    body: z.strictObject({ mend: z.boolean(), earlier: z.boolean().optional(), later: z.boolean().optional() }),
    answer: Did.extend({ mended: z.number().int() }),
  }),
  splitEvent: endpoint({
    method: 'POST',
    path: '/api/events/:id/split',
    part: 'helper',
    summary: 'Split an event before a picture',
    params: id,
    body: z.strictObject({ picture: Id }),
    answer: Did,
  }),
  joinEvents: endpoint({
    method: 'POST',
    path: '/api/events/:id/join',
    part: 'helper',
    summary: 'Join another event to this one',
    params: id,
    body: z.strictObject({ other: Id }),
    answer: Did,
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
    answer: Did,
  }),
  makeEvent: endpoint({
    method: 'POST',
    path: '/api/events',
    part: 'helper',
    summary: 'Make an event for a span of days',
    body: z.strictObject({ title: Title.nullable(), from: Day, to: Day }),
    answer: Did.extend({ id: Id }),
  }),
  removeEvent: endpoint({
    method: 'DELETE',
    path: '/api/events/:id',
    part: 'helper',
    summary: 'Remove an event; its pictures stay',
    params: id,
    answer: Did,
  }),
  event: endpoint({
    method: 'GET',
    path: '/api/events/:id',
    part: 'relative',
    summary: 'An event with its best pictures and names it could have',
    params: id,
    answer: EventDetail,
  }),
  changeEvent: endpoint({
    method: 'POST',
    path: '/api/events/:id/change',
    part: 'helper',
    summary: 'Set the days, the place or the cover of an event',
    params: id,
    body: z.strictObject({
      span: z.strictObject({ from: Day, to: Day }).optional(),
      place: z.string().trim().min(1).max(160).nullable().optional(),
      cover: Id.nullable().optional(),
    }),
    answer: Did,
  }),
  previewDates: endpoint({
    method: 'POST',
    reads: true,
    path: '/api/dates/preview',
    part: 'helper',
    summary: 'What mending dates would do',
    body: z.strictObject({ ids: Ids.min(1), how: RedatingAsked }),
    answer: DatePreview,
  }),
  mendDates: endpoint({
    method: 'POST',
    path: '/api/dates/mend',
    part: 'helper',
    summary: 'Mend the dates of pictures',
    body: z.strictObject({ ids: Ids.min(1), how: RedatingAsked }),
    answer: Did,
  }),
  sitting: endpoint({
    method: 'GET',
    path: '/api/sitting',
    part: 'helper',
    summary: 'Open questions about days, events and places',
    answer: Sitting,
  }),
  vaultLayout: endpoint({
    method: 'GET',
    path: '/api/vault/layout',
    part: 'helper',
    summary: 'How the folders of originals are laid out, and how far a change of them is',
    answer: z.object({
      layout: Layout,
      examples: z.array(z.object({ layout: Layout, example: z.string() })),
      moving: z
        .object({ done: z.number().int(), of: z.number().int(), secondsLeft: z.number().int().nullable() })
        .nullable(),
    }),
  }),
  setVaultLayout: endpoint({
    method: 'POST',
    path: '/api/vault/layout',
    part: 'keeper',
    summary: 'Lay the folders of originals out in another way',
    body: z.strictObject({ layout: Layout }),
    answer: Did,
  }),
} as const;
