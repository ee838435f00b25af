import { z } from 'zod';
import { Did } from './actApi';
import { endpoint } from './endpoint';
import { Id, Ids } from './ids';
import { Saying } from './sayings';
import * as s from './shapes';

const Count = z.number().int().min(0);
const Bytes = z.number().min(0);

/** A library as whoever belongs to it finds it among theirs. */
export const LibraryLine = z.object({
  id: Id,
  slug: z.string(),
  name: z.string(),
  part: s.InPart,
  pictures: Count,
  bytes: Bytes,
  /** Pieces of work that wait or run, and that failed. */
  working: Count,
  troubles: Count,
  /** Whether its keepers look after the whole house. */
  house: z.boolean(),
  /** Who may open it; told to its keepers. */
  people: z.array(z.object({ name: z.string(), part: s.InPart })),
  /** When it was removed, and until when it can be brought back. */
  removed: z.object({ at: z.string(), until: z.string() }).nullable(),
});
export type LibraryLine = z.infer<typeof LibraryLine>;

/** What came of comparing a library's folder with its database. */
export const RepairResult = z.object({
  files: Count,
  mended: Count,
  /** Files that are gone and that no second copy holds; some of them by name. */
  gone: Count,
  named: z.array(z.string()),
  /** Files that nobody knew, and how many of them are taken in. */
  unknown: Count,
  taken: Count,
  /** Pictures beside which what was said is written anew. */
  rewritten: Count,
  at: z.string(),
});
export type RepairResult = z.infer<typeof RepairResult>;

const Freed = z.object({ files: Count, bytes: Bytes });

/** What tidying removed, by kind, and what it freed. */
export const TidyResult = z.object({
  derived: Freed,
  left: Freed,
  folders: Count,
  database: Bytes,
  at: z.string(),
});
export type TidyResult = z.infer<typeof TidyResult>;

export const ExportResult = z.object({ to: z.string(), files: Count, bytes: Bytes, damaged: Count, at: z.string() });
export type ExportResult = z.infer<typeof ExportResult>;

export const MoveResult = z.object({ to: z.string().nullable(), files: Count, bytes: Bytes, at: z.string() });
export type MoveResult = z.infer<typeof MoveResult>;

export const OpenResult = z.object({
  slug: z.string(),
  name: z.string(),
  pictures: Count,
  missing: Count,
  at: z.string(),
});
export type OpenResult = z.infer<typeof OpenResult>;

/** How a piece of work stands whose answer is kept: how far, what came of it, why it failed. */
const work = <T extends z.ZodType>(result: T) =>
  z
    .object({
      state: z.enum(['ready', 'running', 'failed', 'done']),
      done: Count,
      of: Count,
      /** When it was begun, in ms since 1970. */
      since: z.number().nullable(),
      result: result.nullable(),
      why: Saying.nullable(),
    })
    .nullable();

/** Pictures that go, or went, to another library. */
export const SplitState = z.object({
  id: Id,
  to: z.string(),
  state: z.enum(['giving', 'binning', 'done', 'stopped']),
  pictures: Count,
  arrived: Count,
  leftHere: Count,
  at: z.string(),
});
export type SplitState = z.infer<typeof SplitState>;

const Line = z.object({ id: Id.nullable(), name: z.string(), pictures: Count, bytes: Bytes });

/** What a library takes up. */
export const StoragePage = z.object({
  pictures: Count,
  /** Originals and what is kept beside them. */
  originals: Bytes,
  /** Of the whole house: what can always be made again. */
  derived: Bytes,
  /** By year; pictures without a date have no name. */
  years: z.array(Line),
  /** By kind: `photo`, `video`, and `beside`. */
  kinds: z.array(Line),
  devices: z.array(Line),
  people: z.array(Line),
  events: z.array(Line),
  largest: z.array(
    z.object({
      id: Id,
      name: z.string(),
      bytes: Bytes,
      kind: z.enum(['photo', 'video']),
      sha: z.string(),
      thumb: z.string(),
    }),
  ),
  could: z.object({
    binned: z.object({ pictures: Count, bytes: Bytes }),
    doubles: z.object({ pictures: Count, bytes: Bytes }),
  }),
  disk: z.object({ left: Bytes, total: Bytes }),
  /** What comes in a month, and the day on which the disk is full at that pace; null for what cannot be told yet. */
  growth: z.object({ perMonth: Bytes.nullable(), full: z.string().nullable() }),
  limits: z.object({ member: Bytes.nullable(), share: Bytes.nullable() }),
});
export type StoragePage = z.infer<typeof StoragePage>;

const slug = z.object({ slug: z.string().regex(/^[a-z0-9-]{1,60}$/) });
const Folder = z.strictObject({ folder: z.string().trim().min(1).max(500) });
const Limit = z.number().int().min(1e6).max(1e15).nullable();

/** Libraries, and keeping house in them. */
export const libraryApi = {
  libraries: endpoint({
    method: 'GET',
    path: '/api/libraries',
    part: 'account',
    summary: 'The libraries you belong to, with what each holds; removed ones that can be brought back',
    answer: z.object({ libraries: z.array(LibraryLine), houseKeeper: z.boolean() }),
  }),
  nameLibrary: endpoint({
    method: 'PUT',
    path: '/api/library/name',
    part: 'keeper',
    summary: 'Call this library by another name',
    body: z.strictObject({ name: s.Title }),
    answer: Did,
  }),
  removeLibrary: endpoint({
    method: 'DELETE',
    path: '/api/library',
    part: 'keeper',
    summary: 'Remove this library: nobody reaches it, and for 30 days it can be brought back; its name is asked for',
    body: z.strictObject({ name: z.string().max(200) }),
    answer: s.Me,
  }),
  bringLibraryBack: endpoint({
    method: 'POST',
    path: '/api/libraries/:slug/back',
    part: 'account',
    summary: 'Bring a removed library back as it was',
    params: slug,
    answer: s.Me,
  }),
  eraseLibrary: endpoint({
    method: 'POST',
    path: '/api/libraries/:slug/erase',
    part: 'account',
    summary: 'Have a removed library go for good before its time',
    params: slug,
    body: z.strictObject({ name: z.string().max(200) }),
    answer: s.Done,
  }),
  keeping: endpoint({
    method: 'GET',
    path: '/api/library/keeping',
    part: 'keeper',
    summary: 'How checking, tidying, exporting and opening stand, and pictures that go to another library',
    answer: z.object({
      repair: work(RepairResult),
      tidy: work(TidyResult),
      export: work(ExportResult),
      open: work(OpenResult),
      move: work(MoveResult),
      /** Where its originals lie, on a disk of their own; null for with everything else. */
      home: z.string().nullable(),
      splits: z.array(SplitState),
    }),
  }),
  repairLibrary: endpoint({
    method: 'POST',
    path: '/api/library/repair',
    part: 'keeper',
    summary: 'Compare this library’s files with its database both ways, and put right what can be',
    answer: s.Done,
  }),
  tidyHouse: endpoint({
    method: 'POST',
    path: '/api/library/tidy',
    part: 'keeper',
    summary: 'Remove what is nobody’s: leftovers, what was made of pictures that are gone; never an original',
    answer: s.Done,
  }),
  exportLibrary: endpoint({
    method: 'POST',
    path: '/api/library/export',
    part: 'keeper',
    summary: 'Copy this library into a folder of its own on this machine',
    body: Folder,
    answer: s.Done,
  }),
  openLibrary: endpoint({
    method: 'POST',
    path: '/api/library/open',
    part: 'keeper',
    summary: 'Open a library that was exported, as a further one of this house',
    body: Folder,
    answer: s.Done,
  }),
  moveLibrary: endpoint({
    method: 'POST',
    path: '/api/library/move',
    part: 'keeper',
    summary: 'Move this library’s originals to a folder on another disk, or back; everybody works on meanwhile',
    body: z.strictObject({ folder: Folder.shape.folder.nullable() }),
    answer: s.Done,
  }),
  openState: endpoint({
    method: 'POST',
    path: '/api/library/open-state',
    part: 'keeper',
    summary: 'Open this library as it was in an earlier state, as a further one beside it',
    body: z.strictObject({ place: Id, state: z.string().regex(/^[0-9a-f]{8,64}$/) }),
    answer: s.Done,
  }),
  stopKeeping: endpoint({
    method: 'POST',
    path: '/api/library/keeping/stop',
    part: 'keeper',
    summary: 'Stop checking, tidying, exporting or opening',
    body: z.strictObject({ what: z.enum(['repair', 'tidy', 'exportLibrary', 'openLibrary', 'moveLibrary']) }),
    answer: s.Done,
  }),
  splitOff: endpoint({
    method: 'POST',
    path: '/api/library/split',
    part: 'keeper',
    summary: 'Have pictures go to another library of yours with all that was said of them',
    body: z.strictObject({ ids: Ids.min(1), to: slug.shape.slug }),
    answer: z.object({ id: Id }),
  }),
  storage: endpoint({
    method: 'GET',
    path: '/api/library/storage',
    part: 'keeper',
    summary: 'What this library takes up, and when the disk is full',
    answer: StoragePage,
  }),
  setLimits: endpoint({
    method: 'PUT',
    path: '/api/library/limits',
    part: 'keeper',
    summary: 'How many bytes one member, and the guests of one share, may bring',
    body: z.strictObject({ member: Limit, share: Limit }),
    answer: s.Done,
  }),
};
