import { Day, LANGUAGES, Observed, Question } from '@gemmel/core';
import { z } from 'zod';
import { Comment } from './sayApi';
import { BatchName, BesideFile } from './gatherShapes';
import { Id } from './ids';
import { OtherSide } from './scansApi';
import { Saying, WORK, type WorkKind } from './sayings';

export { Audience, Id, IdParam, Ids, Title } from './ids';

/** An error, as RFC 9457 says: `title` is English, for logs and scripts; code and parameters say the same in no language. */
export const Problem = Saying.extend({ type: z.string(), title: z.string(), status: z.number().int() });
export type Problem = z.infer<typeof Problem>;

/** A language Gemmel speaks. */
export const Language = z.enum(LANGUAGES);

/** A kind of work that is done behind people's backs. */
export const Work = z.enum(Object.keys(WORK) as [WorkKind, ...WorkKind[]]);

export const Done = z.object({ done: z.literal(true) });

const ZONES = new Set(['UTC', ...Intl.supportedValuesOf('timeZone')]);
/** IANA name of a time zone. */
export const Zone = z
  .string()
  .max(64)
  .refine((zone) => ZONES.has(zone), 'that is no time zone');

/** What a member may be in a library. */
export const InPart = z.enum(['keeper', 'helper', 'relative']);

export const Me = z.object({
  signedIn: z.boolean(),
  /** True while the library has no keeper yet. */
  firstRun: z.boolean(),
  /** Whether the first page must be told the code that was printed when Gemmel was started. */
  setUpCode: z.boolean(),
  /** What the demo fills in on the sign-in page. */
  demo: z.object({ email: z.string(), password: z.string() }).nullable(),
  /** Whether e-mail can go out: a forgotten password can be set anew by it. */
  mail: z.boolean(),
  /** Who is signed in, whatever library they are in. */
  account: z
    .object({
      name: z.string(),
      email: z.string(),
      language: Language.nullable(),
      /** Whether a one-time code is asked for at the door. */
      second: z.boolean(),
    })
    .nullable(),
  /** Who they are in the library that was named; null for somebody who does not belong to it. */
  member: z
    .object({
      id: Id,
      name: z.string(),
      part: InPart,
      /** The language they chose; null while they have not. */
      language: Language.nullable(),
    })
    .nullable(),
  library: z.object({ id: Id, slug: z.string(), name: z.string() }).nullable(),
  /** The address guests of the library are given; null for that of the page. */
  address: z.string().nullable(),
  /** Whether a keeper looks as this member does; nothing can be changed then. */
  looking: z.boolean(),
  /** All libraries they belong to. */
  libraries: z.array(z.object({ id: Id, slug: z.string(), name: z.string(), part: InPart })),
  /** The language of the library, which the machine names folders and events in. */
  language: Language,
  /** IANA name of the time zone of the library. */
  zone: z.string(),
  /** To be sent back as `x-gemmel-token` with everything that changes something. */
  token: z.string().nullable(),
});
export type Me = z.infer<typeof Me>;

/** Work that still runs behind people's backs: its kind, how far it is, and whether it finds answers. */
export const Running = z.object({
  kind: Work,
  done: z.number().int(),
  of: z.number().int(),
  answers: z.boolean(),
});
export type Running = z.infer<typeof Running>;

export const LibraryState = z.object({
  name: z.string(),
  pictures: z.number().int(),
  bytes: z.number(),
  arriving: z.number().int(),
  /** Runs and groups of doubles nobody has chosen in. */
  runs: z.number().int(),
  doubles: z.number().int(),
  /** Scans on which prints were noticed. */
  scans: z.number().int(),
  batchesWaiting: z.number().int(),
  unnamedEvents: z.number().int(),
  introductions: z.number().int(),
  openShares: z.number().int(),
  troubles: z.number().int(),
  /** Clocks that disagree. */
  clocks: z.number().int(),
  /** Cards and phones that are there with pictures nobody has taken yet. */
  cards: z.number().int(),
  /** The disk is full: taking in waits for room. */
  /** Whether each picture is in two places, its second copy read back. */
  safe: z.boolean(),
  full: z.boolean(),
  running: z.array(Running),
  /** Nothing runs that can still change who is in pictures, when they were taken, or what belongs together. */
  final: z.boolean(),
});
export type LibraryState = z.infer<typeof LibraryState>;

/** A question's answer in columns, newest first: what the grid needs to lay out every row at once. */
export const Skeleton = z.object({
  /** Differences between one id and the next, the first from 0. */
  ids: z.array(z.number().int()),
  /** Width / height times 100. */
  shapes: z.array(z.number().int()),
  /**
   * Runs of pictures of one day: the day (or null), how many, and when no more than a month, season or year is known, that as
   * EDTF: `1988-22`.
   */
  days: z.array(z.tuple([Day.nullable(), z.number().int(), z.string().optional()])),
  /** Runs of pictures of one event: its id (0 for none) and how many. */
  events: z.array(z.tuple([z.number().int(), z.number().int()])),
  /** Runs of pictures of the same people, place or folder, where they were asked for so: as a question, null for those that belong to none, and how many. */
  groups: z.array(z.tuple([Question.nullable(), z.number().int()])).optional(),
  /** Shots of runs of which more than one is in the answer: place in it, run, and the higher the rather it is shown for the run. */
  runs: z.array(z.tuple([z.number().int(), Id, z.number().int()])).optional(),
  count: z.number().int(),
});
export type Skeleton = z.infer<typeof Skeleton>;

export const Tile = z.object({
  id: Id,
  sha: z.string(),
  thumb: z.string(),
  kind: z.enum(['photo', 'video']),
  seconds: z.number().nullable(),
  rating: z.number().int(),
  favourite: z.boolean(),
  /** Its title, or the name of its file. */
  name: z.string(),
  title: z.string().nullable(),
  file: z.string(),
  tags: z.array(z.string()),
  /** Its day, and when no more than a month, season or year is known, that as EDTF. */
  day: Day.nullable(),
  about: z.string().nullable(),
  /** The run of shots it belongs to. */
  run: Id.nullable(),
  /** Whether it is shown otherwise than it was taken. */
  touched: z.boolean(),
});
export type Tile = z.infer<typeof Tile>;

export const Named = z.object({ id: Id, name: z.string() });

/** Why a face may be somebody; put into words by whoever reads. Days as `2026-05-16`. */
export const Why = z.object({
  support: z.number().int(),
  from: Day.nullable(),
  to: Day.nullable(),
  beside: z.string().nullable(),
  minutes: z.number().nullable(),
  sameClothes: z.boolean(),
  there: z.boolean(),
  otherAge: z.boolean(),
  rival: z.string().nullable(),
});
export type Why = z.infer<typeof Why>;

export const FaceMark = z.object({
  id: Id,
  /** Fractions of the upright picture: left, top, width, height. */
  box: z.tuple([z.number(), z.number(), z.number(), z.number()]),
  state: z.enum(['waiting', 'named', 'passer-by', 'not a face']),
  person: z.object({ id: Id, name: z.string() }).nullable(),
  namedBy: z.enum(['hand', 'machine']).nullable(),
  likely: z.object({ id: Id, name: z.string(), why: Why }).nullable(),
});
export type FaceMark = z.infer<typeof FaceMark>;

/** Days a time may be, when no more is known. */
export const WhenSpan = z.object({
  from: Day,
  to: Day,
  exact: z.enum(['day', 'month', 'season', 'year', 'decade']),
  about: z.boolean(),
});

export const Picture = z.object({
  id: Id,
  sha: z.string(),
  thumb: z.string(),
  kind: z.enum(['photo', 'video']),
  name: z.string(),
  format: z.string(),
  keptAt: z.string(),
  bytes: z.number(),
  width: z.number().int(),
  height: z.number().int(),
  seconds: z.number().nullable(),
  /** Whether it is shown otherwise than it was taken. */
  touched: z.boolean(),
  rating: z.number().int(),
  favourite: z.boolean(),
  title: z.string().nullable(),
  caption: z.string().nullable(),
  /** Wall-clock time without zone. */
  taken: z.string().nullable(),
  offset: z.number().nullable(),
  takenSource: z.string().nullable(),
  takenCertainty: z.number().nullable(),
  takenSpan: WhenSpan.nullable(),
  event: z.object({ id: Id, title: z.string().nullable() }).nullable(),
  /** The household's own place it lies in. */
  ownPlace: Named.nullable(),
  /** Who gave the place, when it was not the camera: hand, track, copied. */
  placeSource: z.string().nullable(),
  where: z
    .object({
      /** Two letters. */
      country: z.string(),
      region: z.string().nullable(),
      place: z.string().nullable(),
      /** How far the middle of the town is, in kilometres. */
      km: z.number().nullable(),
    })
    .nullable(),
  /** The folder it came in. */
  folder: z.object({ id: Id, name: z.string() }).nullable(),
  position: z.object({ lat: z.number(), lon: z.number() }).nullable(),
  device: z.string().nullable(),
  camera: z.string().nullable(),
  exposure: z.string().nullable(),
  sharpness: z.number().nullable(),
  tags: z.array(Named),
  faces: z.array(FaceMark),
  albums: z.array(Named),
  batch: BatchName.nullable(),
  /** What the device called it, when it is called something else now. */
  originalName: z.string().nullable(),
  /** A coloured mark in words. */
  label: z.string().nullable(),
  /** One of the library's own marks. */
  mark: Id.nullable(),
  comments: z.array(Comment),
  /** Hearts of members’ own: whether whoever asks gave one, and who else did. */
  loved: z.object({ mine: z.boolean(), by: z.array(z.string()) }),
  /** What the machine noticed. */
  observed: z.array(Observed),
  /** What was read in it, a line each. */
  seenWords: z.string().nullable(),
  lens: z.string().nullable(),
  /** Files that are kept beside it. */
  beside: z.array(BesideFile),
  /** An earlier picture that nearly shows the same. */
  alike: Id.nullable(),
  /** Other looks at the same original: prints of one scan, second looks; `original` is the one it came as. */
  looks: z.array(
    z.object({
      id: Id,
      sha: z.string(),
      name: z.string(),
      shape: z.number(),
      original: z.boolean(),
      print: z.boolean(),
    }),
  ),
  /** Whether it is a look at another picture's original. */
  isLook: z.boolean(),
  /** The other side of the print it is of, and what was read on the back. */
  pair: OtherSide.extend({
    written: z.string().nullable(),
    /** A date that stands there, and as it can be typed. */
    dated: WhenSpan.nullable(),
    datedAs: z.string().nullable(),
  }).nullable(),
});
export type Picture = z.infer<typeof Picture>;

/** What people may say about pictures. Their dates are mended by a way of their own. */
export const PictureChange = z.strictObject({
  rating: z.number().int().min(0).max(5).optional(),
  favourite: z.boolean().optional(),
  title: z.string().trim().max(200).nullable().optional(),
  caption: z.string().trim().max(4000).nullable().optional(),
  addTags: z.array(z.string().trim().min(1).max(250)).max(50).optional(),
  removeTags: z.array(Id).max(50).optional(),
  /** Tags that are there, by number: of one word in two branches the very one. */
  giveTags: z.array(Id).max(50).optional(),
  mark: Id.nullable().optional(),
});
export type PictureChange = z.infer<typeof PictureChange>;

/** How a picture was when somebody said something else of it. */
export const PictureSeen = PictureChange.pick({ rating: true, title: true, caption: true, mark: true });
export type PictureSeen = z.infer<typeof PictureSeen>;

/** A town by its name and the two letters of its country. */
export const Town = z.object({ name: z.string(), country: z.string() });
export type Town = z.infer<typeof Town>;

export const Event = z.object({
  id: Id,
  title: z.string().nullable(),
  start: Day,
  end: Day,
  /** What people call where it was, or the household's own place most of it was in. */
  place: z.string().nullable(),
  /** Else the town most of it was in. */
  town: Town.nullable(),
  /** Set when somebody said its days. */
  spanByHand: z.boolean(),
  cover: Id.nullable(),
  pictures: z.number().int(),
  people: z.array(z.string()),
});
export type Event = z.infer<typeof Event>;

export const Place = z.object({
  /** Two letters; empty at sea or far from any town. */
  country: z.string(),
  place: z.string().nullable(),
  region: z.string().nullable(),
  /** The household's own place they lie in. */
  own: Id.nullable(),
  pictures: z.number().int(),
});
export type Place = z.infer<typeof Place>;

const ById = z.record(z.string(), z.string()).optional();
/** The names of what a question speaks of, by kind and number. What has none, or is no longer there, is left out. */
export const AskedNames = z.object({
  person: ById,
  tag: ById,
  event: ById,
  album: ById,
  batch: z.record(z.string(), BatchName).optional(),
  device: ById,
  folder: ById,
  ownPlace: ById,
  mark: ById,
  member: ById,
});
export type AskedNames = z.infer<typeof AskedNames>;

/** How the pictures of an album stand: by hand, by date from the oldest, by name, the most stars or the largest first. */
export const AlbumOrder = z.enum(['hand', 'date', 'name', 'stars', 'size']);
export type AlbumOrder = z.infer<typeof AlbumOrder>;

/** How what stands on a shelf is ordered: by hand, by name, the latest pictures first. */
export const ShelfOrder = z.enum(['hand', 'name', 'latest']);
export type ShelfOrder = z.infer<typeof ShelfOrder>;

/** How many of the best a smart album holds, and how widely they are spread: from 0, nothing but the best, to 1, something of everything. */
export const BestLimit = z.strictObject({ n: z.number().int().min(1).max(500), spread: z.number().min(0).max(1) });
export type BestLimit = z.infer<typeof BestLimit>;

export const Album = z.object({
  id: Id,
  kind: z.enum(['plain', 'smart']),
  name: z.string(),
  description: z.string().nullable(),
  question: Question.nullable(),
  /** The names of what its question speaks of. */
  names: AskedNames.nullable(),
  /** Of a smart album: that it holds no more than the best so many. */
  best: BestLimit.nullable(),
  pictures: z.number().int(),
  /** Whether it is still being counted: what it says of its pictures may be of a moment ago. */
  counting: z.boolean(),
  cover: z.string().nullable(),
  /** The picture somebody chose as its cover; null when the best one stands for it. */
  chosenCover: Id.nullable(),
  /** From when to when: days of its own, or those of its pictures. */
  from: Day.nullable(),
  to: Day.nullable(),
  ownDays: z.boolean(),
  sorted: AlbumOrder,
  backwards: z.boolean(),
  /** The shelf it stands on, and where, as a key of the order by hand. */
  shelf: Id.nullable(),
  position: z.string(),
});
export type Album = z.infer<typeof Album>;

/** A shelf: it holds albums and shelves. */
export const Shelf = z.object({
  id: Id,
  name: z.string(),
  /** The shelf it stands on itself, and where. */
  shelf: Id.nullable(),
  position: z.string(),
  sorted: ShelfOrder,
});
export type Shelf = z.infer<typeof Shelf>;

export const Trouble = z.object({
  id: Id,
  /** What kind of work, and the id of what it is about. */
  kind: Work,
  about: z.number().int(),
  /** The file it is about, where it is about one. */
  path: z.string().nullable(),
  reason: Saying,
  tries: z.number().int(),
  at: z.string(),
});
export type Trouble = z.infer<typeof Trouble>;
