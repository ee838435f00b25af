import { z } from 'zod';
import { Did } from './actApi';
import { endpoint } from './endpoint';
import { Id, IdParam } from './ids';
import { Saying } from './sayings';

const id = z.object({ id: IdParam });
const Count = z.number().int().min(0);
const Done = z.object({ done: z.literal(true) });
const Name = z.string().trim().min(1).max(80);

export const SAFE_KINDS = ['folder', 'bucket', 'machine'] as const;
export const SAFE_OFTEN = ['daily', 'weekly', 'shows', 'hand'] as const;

/** What was done at a place: brought up to date, read in part, or restored on trial. */
export const SafeRun = z.object({
  id: Id,
  kind: z.enum(['backup', 'part', 'rehearsal']),
  state: z.enum(['running', 'done', 'stopped', 'failed']),
  began: z.string(),
  ended: z.string().nullable(),
  /** The moment whose state it holds. */
  still: z.string().nullable(),
  files: Count,
  bytes: z.number(),
  /** Bytes that were new. */
  added: z.number(),
  /** Files that were read back and right; and those that were not. */
  proven: Count,
  wrong: Count,
  why: Saying.nullable(),
});
export type SafeRun = z.infer<typeof SafeRun>;

/** Work in hand, or waiting for its turn. */
const Now = z.object({
  kind: z.enum(['backup', 'rehearse', 'safePart', 'readBack']),
  step: z.enum(['still', 'copying', 'proving', 'thinning', 'words', 'originals']).nullable(),
  begun: z.boolean(),
  done: Count,
  of: Count,
  /** When it was first told how far it is, in ms since 1970, and how far that was. */
  since: z.number().nullable(),
  from: Count,
});

/** A place that holds a second copy of everything. */
export const SafePlace = z.object({
  id: Id,
  kind: z.enum(SAFE_KINDS),
  name: z.string(),
  location: z.string(),
  often: z.enum(SAFE_OFTEN),
  hour: z.number().int(),
  /** Most kilobytes a second. */
  kilobytes: z.number().int().nullable(),
  paused: z.boolean(),
  /** Whether it answered when it was last looked for, and when it last did. */
  there: z.boolean(),
  seen: z.string().nullable(),
  /** Pictures of this library of which a copy there was read back, and those still to come. */
  pictures: Count,
  waiting: Count,
  /** The last time it was brought up to date, and the last time that was tried. */
  last: SafeRun.nullable(),
  latest: SafeRun.nullable(),
  trial: SafeRun.nullable(),
  latestTrial: SafeRun.nullable(),
  checked: SafeRun.nullable(),
  now: Now.nullable(),
  /** The line another machine must let in, until it has. */
  key: z.string().nullable(),
  /** What another machine shows of itself. */
  fingerprint: z.string().nullable(),
});
export type SafePlace = z.infer<typeof SafePlace>;

/** How safe a library's pictures are. */
export const Safekeeping = z.object({
  pictures: Count,
  two: Count,
  one: Count,
  none: Count,
  /** Since when the oldest of those not in two places is here. */
  since: z.string().nullable(),
  /** What was said and done since the last moment a place holds. */
  words: z.object({ n: Count, since: z.string().nullable() }),
  originals: z.object({
    pictures: Count,
    whole: Count,
    damaged: Count,
    first: z.string().nullable(),
    last: z.string().nullable(),
    mended: z.array(z.object({ at: z.string(), place: z.string().nullable(), name: z.string() })),
    now: Now.nullable(),
  }),
  /** The library whose keepers look after it, where that is another. */
  house: z.string().nullable(),
  places: z.array(SafePlace),
});
export type Safekeeping = z.infer<typeof Safekeeping>;

const Settings = z.strictObject({
  name: Name,
  often: z.enum(SAFE_OFTEN),
  hour: z.number().int().min(0).max(23),
});

/** A place that is to be added. */
export const NewSafePlace = Settings.extend({
  kind: z.enum(SAFE_KINDS),
  /** A folder’s path; `https://host/bucket/folder`; `name@host:port/path`. */
  location: z.string().trim().min(2).max(1000),
  /** A pass phrase; one is made when it is left out. */
  phrase: z.string().min(12).max(200).optional(),
  access: z.string().max(300).optional(),
  secret: z.string().max(300).optional(),
  region: z.string().max(60).optional(),
});
export type NewSafePlace = z.infer<typeof NewSafePlace>;

const Change = Settings.extend({
  kilobytes: z.number().int().min(10).max(10_000_000).nullable(),
  paused: z.boolean(),
}).partial();
export type SafePlaceChange = z.infer<typeof Change>;

/** A state of everything that a place holds. */
export const EarlierState = z.object({ place: Id, name: z.string(), state: z.string(), at: z.string() });
export type EarlierState = z.infer<typeof EarlierState>;

/** What was said of a picture. A tag by its path: “outdoors › lake”. */
export const EarlierWords = z.object({
  title: z.string().nullable(),
  caption: z.string().nullable(),
  rating: z.number(),
  favourite: z.boolean(),
  tags: z.array(z.string()),
});
export type EarlierWords = z.infer<typeof EarlierWords>;

const Which = z.strictObject({ place: Id, state: z.string().regex(/^[0-9a-f]{8,64}$/) });

/** Routes of safekeeping. */
export const safeApi = {
  safekeeping: endpoint({
    method: 'GET',
    path: '/api/safekeeping',
    part: 'keeper',
    summary: 'How many pictures are in two places, and the places that hold copies',
    answer: Safekeeping,
  }),
  addSafePlace: endpoint({
    method: 'POST',
    path: '/api/safekeeping/places',
    part: 'keeper',
    summary: 'Add a place that is to hold a second copy of everything',
    body: NewSafePlace,
    answer: z.object({ id: Id }),
  }),
  changeSafePlace: endpoint({
    method: 'PATCH',
    path: '/api/safekeeping/places/:id',
    part: 'keeper',
    summary: 'Change how a place is looked after, or have it hold still',
    params: id,
    body: Change,
    answer: Done,
  }),
  removeSafePlace: endpoint({
    method: 'DELETE',
    path: '/api/safekeeping/places/:id',
    part: 'keeper',
    summary: 'Look after a place no longer; what it holds stays there',
    params: id,
    answer: Done,
  }),
  bringUpToDate: endpoint({
    method: 'POST',
    path: '/api/safekeeping/places/:id/backup',
    part: 'keeper',
    summary: 'Bring a place up to date now',
    params: id,
    answer: Done,
  }),
  stopSafe: endpoint({
    method: 'POST',
    path: '/api/safekeeping/places/:id/stop',
    part: 'keeper',
    summary: 'Stop what is being done at a place; it goes on where it was another time',
    params: id,
    answer: Done,
  }),
  rehearse: endpoint({
    method: 'POST',
    path: '/api/safekeeping/places/:id/rehearse',
    part: 'keeper',
    summary: 'Restore a place’s latest state on trial',
    params: id,
    answer: Done,
  }),
  checkSafePlace: endpoint({
    method: 'POST',
    path: '/api/safekeeping/places/:id/check',
    part: 'keeper',
    summary: 'Read everything a place holds, and copy again what has rotted there',
    params: id,
    answer: Done,
  }),
  safeRuns: endpoint({
    method: 'GET',
    path: '/api/safekeeping/places/:id/runs',
    part: 'keeper',
    summary: 'What was done at a place, the latest first',
    params: id,
    answer: z.object({ runs: z.array(SafeRun) }),
  }),
  safePhrase: endpoint({
    method: 'POST',
    path: '/api/safekeeping/places/:id/phrase',
    part: 'keeper',
    reads: true,
    summary: 'The pass phrase of a place, for the keeper’s own password',
    params: id,
    body: z.strictObject({ password: z.string().max(200) }),
    answer: z.object({ phrase: z.string() }),
  }),
  earlierStates: endpoint({
    method: 'GET',
    path: '/api/safekeeping/states',
    part: 'keeper',
    summary: 'The states of everything that places hold, newest first',
    answer: z.object({ states: z.array(EarlierState) }),
  }),
  earlierWords: endpoint({
    method: 'POST',
    path: '/api/pictures/:id/earlier',
    part: 'keeper',
    reads: true,
    summary: 'What was said of a picture in a state, and what is said of it now',
    params: id,
    body: Which,
    answer: z.object({ then: EarlierWords.nullable(), now: EarlierWords }),
  }),
  bringWordsBack: endpoint({
    method: 'POST',
    path: '/api/pictures/:id/earlier/back',
    part: 'keeper',
    summary: 'Say of a picture what was said of it in a state',
    params: id,
    body: Which,
    answer: Did,
  }),
  readOriginals: endpoint({
    method: 'POST',
    path: '/api/safekeeping/originals',
    part: 'keeper',
    summary: 'Read every original back now, and mend what is damaged',
    answer: Done,
  }),
  stopReading: endpoint({
    method: 'POST',
    path: '/api/safekeeping/originals/stop',
    part: 'keeper',
    summary: 'Stop reading originals back',
    answer: Done,
  }),
};

/** Routes of safekeeping that carry files. */
export const safeFileRoutes = [
  {
    method: 'POST',
    path: '/api/safekeeping/sheet',
    part: 'keeper',
    summary: 'The recovery sheet as PDF, for the keeper’s own password',
  },
] as const;
