import { Day, NAME_PARTS } from '@gemmel/core';
import { z } from 'zod';
import { Id } from './ids';
import { Saying } from './sayings';

export const BatchCounts = z.object({
  total: z.number().int(),
  waiting: z.number().int(),
  received: z.number().int(),
  stored: z.number().int(),
  known: z.number().int(),
  /** Of those here already: how many were damaged or lost here, and are whole again by what came. */
  mended: z.number().int(),
  skipped: z.number().int(),
  aside: z.number().int(),
  failed: z.number().int(),
  /** Files kept beside a picture, and opened archives. */
  beside: z.number().int(),
});

/**
 * How a batch is called. `given`: by its folder, as `name` says; `source`: after the card or phone `name` and the day it began;
 * `loose`: files that came without a folder, after the moment.
 */
const batchName = { id: Id, name: z.string(), named: z.enum(['given', 'source', 'loose']), createdAt: z.string() };
export const BatchName = z.object(batchName);
export type BatchName = z.infer<typeof BatchName>;

export const Batch = z.object({
  ...batchName,
  state: z.enum(['coming', 'stopped', 'done']),
  way: z.enum(['browser', 'card', 'watched', 'phone', 'folder']),
  counts: BatchCounts,
  /** Finished items over all, 0..1. */
  share: z.number(),
  secondsLeft: z.number().nullable(),
  bytes: z.number(),
  bytesDone: z.number(),
  bytesPerSecond: z.number().nullable(),
  offer: z.enum(['open', 'made', 'declined']),
  /** The share whose guest brought it, and whether it waits for a yes. */
  guest: z.object({ share: Id, title: z.string(), held: z.boolean() }).nullable(),
  /** The albums that were made of it and are still there. */
  albums: z.array(z.object({ id: Id, name: z.string() })),
  /** The folders in it that hold pictures, when there are several and the offer is open. */
  folders: z.array(z.object({ folder: z.string(), pictures: z.number().int() })),
  /** What was said differently elsewhere and is not settled. */
  conflicts: z.number().int(),
  /** How many of its files were left out since they had been binned. */
  binned: z.number().int(),
  /** One line for every picture that was not stored, up to fifty. */
  leftOut: z.array(
    z.object({ id: Id, path: z.string(), state: z.enum(['known', 'skipped', 'aside', 'failed']), reason: Saying }),
  ),
  covers: z.array(z.string()),
});
export type Batch = z.infer<typeof Batch>;

export const Role = z.enum(['main', 'raw', 'clip', 'before', 'notes', 'said']);

/** A file of a batch and what became of it. */
export const BatchItem = z.object({
  id: Id,
  path: z.string(),
  bytes: z.number(),
  state: z.enum(['waiting', 'received', 'stored', 'known', 'skipped', 'aside', 'failed', 'opened']),
  role: Role,
  reason: Saying.nullable(),
  picture: Id.nullable(),
  sha: z.string().nullable(),
  /** It nearly shows the same as an earlier picture. */
  alike: z.boolean(),
});
export type BatchItem = z.infer<typeof BatchItem>;

/** What two places say differently about one picture. */
export const SaidConflict = z.object({
  id: Id,
  picture: Id,
  sha: z.string(),
  path: z.string(),
  what: z.enum(['title', 'caption', 'stars', 'mark', 'place']),
  kept: z.string(),
  other: z.string(),
});
export type SaidConflict = z.infer<typeof SaidConflict>;

/** How files are numbered: "Harvest 001", with the day before or after the name if wished. */
/** How files are named: parts in their order, the words for it, and where the running number begins. */
export const Naming = z.strictObject({
  parts: z.array(z.enum(NAME_PARTS)).min(1).max(NAME_PARTS.length),
  words: z.string().max(80),
  start: z.number().int().min(0).max(999_999),
  digits: z.number().int().min(1).max(6),
});
export const Numbering = z.strictObject({
  base: z.string().trim().min(1).max(100),
  start: z.number().int().min(0).max(999_999).default(1),
  digits: z.number().int().min(1).max(6).default(3),
  day: z.enum(['none', 'before', 'after']).default('none'),
});

/** Room on the library's disk, in bytes. */
export const Room = z.object({ left: z.number(), total: z.number(), full: z.boolean() });

/** A way in that comes back. */
export const SourceState = z.object({
  id: Id,
  kind: z.enum(['card', 'phone', 'folder']),
  name: z.string(),
  slug: z.string(),
  present: z.boolean(),
  lastSeen: z.string().nullable(),
  listing: z.object({ done: z.number().int(), total: z.number().int() }).nullable(),
});
export type SourceState = z.infer<typeof SourceState>;

/** One line of the household's ledger. */
export const LedgerEntry = z.object({
  device: Id.nullable(),
  name: z.string(),
  sources: z.array(SourceState),
  lastSeen: z.string().nullable(),
  cameIn: z.number().int(),
  stored: z.number().int(),
  /** Stored, read back and found whole. */
  proven: z.number().int(),
  /** Of which a second copy was read back from another place; null while there is no such place. */
  copied: z.number().int().nullable(),
  bytes: z.number(),
  /** When what is on the device itself was last looked at. */
  lookedAt: z.string().nullable(),
  /** Files on the device that are not here. */
  notHere: z.number().int(),
  clearUntil: Day.nullable(),
  missingSince: Day.nullable(),
  gaps: z.array(z.object({ from: z.string(), to: z.string(), missing: z.number().int(), day: Day })),
});
export type LedgerEntry = z.infer<typeof LedgerEntry>;

/** A card or phone that is there now and offers pictures. */
export const CardOffer = z.object({
  id: Id,
  name: z.string(),
  /** The device most of its pictures were taken with. */
  device: z.string().nullable(),
  files: z.number().int(),
  fresh: z.number().int(),
  putOff: z.boolean(),
  listing: z.object({ done: z.number().int(), total: z.number().int() }).nullable(),
});
export type CardOffer = z.infer<typeof CardOffer>;

export const CardFile = z.object({
  id: Id,
  path: z.string(),
  bytes: z.number(),
  taken: z.string().nullable(),
  kind: z.enum(['photo', 'video']),
  state: z.enum(['new', 'here', 'coming', 'binned']),
  /** Files that go with it: negatives, clips, sidecars. */
  beside: z.array(Id),
});
export type CardFile = z.infer<typeof CardFile>;

/** A phone's way in. The password is told this once. */
export const PhoneKey = z.object({ id: Id, slug: z.string(), password: z.string() });

export const Playable = z.union([
  z.object({ state: z.enum(['as it is', 'ready', 'failed']) }),
  z.object({ state: z.literal('making'), share: z.number() }),
]);

/** A file that is kept beside a picture. */
export const BesideFile = z.object({
  id: Id,
  role: Role,
  name: z.string(),
  bytes: z.number(),
  seconds: z.number().nullable(),
});
