import { z } from 'zod';
import { PageSize } from './paper';
import { LANGUAGES } from '../words/languages';

const Id = z.number().int().positive();

/** How a book is made. Kept with it. */
export const BookSettings = z.strictObject({
  paper: PageSize,
  /** Whether pages run over their edge and bear marks where they are trimmed, as a printing shop wants it. */
  bleed: z.boolean(),
  /** What a chapter is. */
  chapters: z.enum(['events', 'months', 'album', 'none']),
  /** How many pictures pages bear, by and large. */
  fill: z.enum(['airy', 'even', 'full']),
  /** What stands below a picture. */
  tells: z.strictObject({ caption: z.boolean(), date: z.boolean(), place: z.boolean(), names: z.boolean() }),
  /** Whether journeys have a map, whether people and their years come at the end, and where each is to be found. */
  maps: z.boolean(),
  people: z.boolean(),
  index: z.boolean(),
  /** What it says of itself is in this language. */
  language: z.enum(LANGUAGES),
});
export type BookSettings = z.infer<typeof BookSettings>;

/** How a book is made when nobody has said otherwise. */
export const PLAIN_BOOK: BookSettings = {
  paper: 'square 21',
  bleed: true,
  chapters: 'events',
  fill: 'even',
  tells: { caption: true, date: false, place: false, names: false },
  maps: true,
  people: true,
  index: true,
  language: 'en',
};

/** What a keeper has said of a book's pages. */
export const BookEdits = z.strictObject({
  /** Pages that stay as they are: which pictures they bear, and which of the ways to place them was chosen, the best being 0. */
  kept: z
    .array(z.strictObject({ ids: z.array(Id).min(1).max(9), way: z.number().int().min(0).max(40), full: z.boolean() }))
    .max(500),
  /** Pictures that are left out, and ones that are taken although another shows nearly the same. */
  out: z.array(Id).max(20_000),
  also: z.array(Id).max(20_000),
  /** Words instead of those that are known: of the book (`subtitle`, `title`), a chapter (`title:…`, `words:…`) or a picture (`picture:…`). */
  words: z.record(z.string().max(120), z.string().max(2000)),
  /** The picture on the cover. */
  cover: Id.nullable(),
});
export type BookEdits = z.infer<typeof BookEdits>;

export const NO_EDITS: BookEdits = { kept: [], out: [], also: [], words: {}, cover: null };
