import { z } from 'zod';
import { endpoint } from './endpoint';
import { Id } from './ids';

const Count = z.number().int().min(0);

/** How often a letter tells what is new. */
export const Digest = z.enum(['never', 'daily', 'weekly']);
export type Digest = z.infer<typeof Digest>;

/** Something that happened and is told to a member, who did not do it. */
export const Notice = z.object({
  /**
   * `comment`: somebody wrote on picture `id`; `added`: somebody added `pictures` in batch `id`; `waiting`: the same, and a guest's
   * wait for a yes; `share`: share `id` was made for them; `fresh`: so many pictures are new to a relative.
   */
  kind: z.enum(['comment', 'added', 'waiting', 'share', 'fresh']),
  id: Id.nullable(),
  /** When, by the world's clock. */
  at: z.string(),
  /** Who did it, as they are called. */
  who: z.string(),
  /** What was written, or the title of what was shared. */
  text: z.string(),
  pictures: Count,
  /** Whether it is newer than what they have looked at. */
  fresh: z.boolean(),
});
export type Notice = z.infer<typeof Notice>;

/** A browser's address at its push service, with the keys that letters to it are locked with (RFC 8291). */
export const PushPlace = z.strictObject({
  endpoint: z.url().max(1000),
  keys: z.strictObject({ p256dh: z.string().min(80).max(100), auth: z.string().min(16).max(40) }),
});
export type PushPlace = z.infer<typeof PushPlace>;

/** What a member has chosen to be told, and how. */
const Told = z.object({
  digest: Digest,
  /** Whether this house can send e-mail at all. */
  mail: z.boolean(),
  /** The key by which push services know this house; what a browser subscribes with. */
  key: z.string(),
  /** Browsers of theirs that are told. */
  places: Count,
});

/** Routes of quiet notices: what happened that somebody may want to hear of, and how they are told. */
export const noticeApi = {
  notices: endpoint({
    method: 'GET',
    path: '/api/notices',
    part: 'relative',
    summary: 'What others did of late that concerns whoever asks, the latest first',
    answer: z.object({ fresh: Count, notices: z.array(Notice) }),
  }),
  noticesSeen: endpoint({
    method: 'POST',
    path: '/api/notices/seen',
    part: 'relative',
    summary: 'Note that notices were looked at, up to a moment',
    body: z.strictObject({ until: z.iso.datetime() }),
    answer: z.object({ done: z.literal(true) }),
  }),
  told: endpoint({
    method: 'GET',
    path: '/api/notices/told',
    part: 'relative',
    summary: 'How whoever asks is told what is new',
    answer: Told,
  }),
  setTold: endpoint({
    method: 'PUT',
    path: '/api/notices/told',
    part: 'relative',
    summary: 'Choose how often a letter tells what is new',
    body: z.strictObject({ digest: Digest }),
    answer: Told,
  }),
  addPushPlace: endpoint({
    method: 'PUT',
    path: '/api/push-places',
    part: 'relative',
    summary: 'Have this browser told what is new, by its own push service',
    body: PushPlace,
    answer: Told,
  }),
  endPushPlace: endpoint({
    method: 'DELETE',
    path: '/api/push-places',
    part: 'relative',
    summary: 'Tell this browser nothing more; without an address, none of theirs',
    body: z.strictObject({ endpoint: z.string().max(1000).optional() }),
    answer: Told,
  }),
};
