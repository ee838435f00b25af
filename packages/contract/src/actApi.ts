import { Day } from '@gemmel/core';
import { z } from 'zod';
import { endpoint, type Part } from './endpoint';
import { Id, IdParam } from './ids';

const id = z.object({ id: IdParam });

/** Every kind of act, and the least part that may do it and take it back. */
export const ACTS = {
  say: 'helper',
  tag: 'helper',
  untag: 'helper',
  date: 'helper',
  place: 'helper',
  number: 'helper',
  'rename folder': 'helper',
  comment: 'relative',
  'change comment': 'relative',
  'remove comment': 'relative',
  'make mark': 'keeper',
  'change mark': 'keeper',
  'remove mark': 'keeper',
  'make tag': 'helper',
  'change tag': 'helper',
  'join tags': 'helper',
  'clear tag': 'helper',
  'remove tag': 'helper',
  'keep tags apart': 'helper',
  'make pin': 'relative',
  'change pin': 'relative',
  'remove pin': 'relative',
  observing: 'keeper',
  'not so': 'helper',
  'not again': 'helper',
  settle: 'helper',
  'name event': 'helper',
  'split event': 'helper',
  'join events': 'helper',
  'move to event': 'helper',
  'make event': 'helper',
  'remove event': 'helper',
  'change event': 'helper',
  'answer faces': 'helper',
  'draw face': 'helper',
  'change person': 'helper',
  'join people': 'helper',
  'forget person': 'helper',
  'make circle': 'helper',
  'change circle': 'helper',
  'remove circle': 'helper',
  'make album': 'helper',
  'make albums': 'helper',
  'change album': 'helper',
  'fill album': 'helper',
  'take out of album': 'helper',
  'order album': 'helper',
  'move pictures': 'helper',
  'join albums': 'helper',
  'remove album': 'helper',
  'make chapter': 'helper',
  'change chapter': 'helper',
  'remove chapter': 'helper',
  'put in by hand': 'helper',
  'keep out': 'helper',
  'let decide': 'helper',
  'make shelf': 'helper',
  'change shelf': 'helper',
  'order shelf': 'helper',
  'put on shelf': 'helper',
  'remove shelf': 'helper',
  'make shelves': 'helper',
  'make show': 'helper',
  'make piece': 'helper',
  'change piece': 'helper',
  'remove piece': 'helper',
  'change show': 'helper',
  'remove show': 'helper',
  'bring music': 'helper',
  'change music': 'helper',
  'remove music': 'helper',
  'decline album': 'helper',
  'mend clock': 'helper',
  'keep clock': 'helper',
  'make place': 'helper',
  'change place': 'helper',
  'remove place': 'helper',
  'settle gaps': 'helper',
  'name device': 'helper',
  'change source': 'helper',
  'say audience': 'helper',
  address: 'keeper',
  'open share': 'keeper',
  'change share': 'keeper',
  'close share': 'keeper',
  'guest yes': 'helper',
  'guest no': 'helper',
  'hide comment': 'keeper',
  'show comment': 'keeper',
  'reopen share': 'keeper',
  sureness: 'keeper',
  layout: 'keeper',
  language: 'keeper',
  zone: 'keeper',
  'library name': 'keeper',
  'to another library': 'keeper',
  recognition: 'keeper',
  'recognise person': 'keeper',
  file: 'keeper',
  'touch up': 'helper',
  'looks kept': 'keeper',
  'second look': 'helper',
  'take apart': 'helper',
  'keep whole': 'helper',
  pair: 'helper',
  unpair: 'helper',
  choose: 'helper',
  'merge doubles': 'helper',
  'keep doubles': 'helper',
  bin: 'helper',
  restore: 'helper',
  'empty bin': 'keeper',
  'bin days': 'keeper',
  undo: 'helper',
} as const satisfies Record<string, Part>;
export type ActKind = keyof typeof ACTS;
export const ActKind = z.enum(Object.keys(ACTS) as [ActKind, ...ActKind[]]);

/** What the sentence of an act speaks of; which of them are there depends on its kind. */
export const ActWords = z.object({
  /** What it was done to: a name of an album, an event, a person. */
  name: z.string().optional(),
  /** What came of it, or the other one of two. */
  to: z.string().nullable().optional(),
  /** The days events begin that have no name: in place of `name` and of `to`. */
  day: Day.optional(),
  toDay: Day.optional(),
  /** How many, where it is not pictures. */
  n: z.number().int().optional(),
  rating: z.number().int().optional(),
  favourite: z.boolean().optional(),
  /** How many the machine gave up again. */
  less: z.number().int().optional(),
  /** Space that was freed. */
  bytes: z.number().optional(),
  /** Which of several things were changed. */
  what: z.array(z.string()).optional(),
});
export type ActWords = z.infer<typeof ActWords>;

/** An act as “What was done” lists it. */
export const Act = z.object({
  id: Id,
  kind: ActKind,
  words: ActWords,
  /** Whose it was; null for the machine's own. */
  by: z.object({ id: Id, name: z.string() }).nullable(),
  /** When, in UTC. */
  at: z.string(),
  /** How many pictures it touched, and a few of them by what their smaller sizes are called. */
  pictures: z.number().int(),
  shown: z.array(z.object({ id: Id, sha: z.string() })),
  /** Whether it can be taken back now: it is not yet, it is young enough, and there is something to take back. */
  undoable: z.boolean(),
  /** Set when it was taken back: by which act, who did, and when. */
  undone: z.object({ act: Id, by: z.string().nullable(), at: z.string() }).nullable(),
});
export type Act = z.infer<typeof Act>;

/** The number of the act that something was, to take it back by; null when it changed nothing. */
export const ActId = Id.nullable();

/** What every act answers with. */
export const Did = z.object({ act: ActId });
export type Did = z.infer<typeof Did>;

/** What came of taking an act back, or of doing it again. */
export const Undone = z.object({
  /** The act that took it back; undoing that does it again. Null when nothing was left to put back. */
  act: ActId,
  /** How many things were put back as they were. */
  back: z.number().int(),
  /** How many stay as they are, since somebody has changed them, or something they need has gone. */
  left: z.number().int(),
  /** What is no longer there now, so that nobody stays on its page. */
  gone: z.array(z.object({ what: z.enum(['album', 'event', 'person', 'share']), id: Id })),
});
export type Undone = z.infer<typeof Undone>;

/** How long an act can be taken back, in days. */
export const UNDO_DAYS = 30;

/** Routes about what was done. */
export const actApi = {
  acts: endpoint({
    method: 'GET',
    path: '/api/acts',
    part: 'helper',
    summary: 'What was done, newest first, a page at a time; of one member or one picture if wished',
    query: z.object({
      before: IdParam.optional(),
      member: IdParam.optional(),
      picture: IdParam.optional(),
      until: Day.optional(),
    }),
    answer: z.object({
      acts: z.array(Act),
      /** Give it as `before` for the next page; null at the end. */
      before: Id.nullable(),
      members: z.array(z.object({ id: Id, name: z.string() })),
    }),
  }),
  undo: endpoint({
    method: 'POST',
    path: '/api/acts/:id/undo',
    part: 'relative',
    summary: 'Take an act back as far as nobody has changed the same since; undoing an undoing does it again',
    params: id,
    answer: Undone,
  }),
} as const;
