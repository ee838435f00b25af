import { Day, Question } from '@gemmel/core';
import { z } from 'zod';
import { Did } from './actApi';
import { endpoint } from './endpoint';
import { Id, IdParam, Ids, Title } from './ids';
import { Album, AlbumOrder, BestLimit, Named, Shelf, ShelfOrder } from './shapes';

const id = z.object({ id: IdParam });
const Count = z.number().int();

/** Pictures that are put somewhere in one act: those chosen, or all of something. */
export const From = z.union([
  z.strictObject({ ids: Ids.min(1) }),
  z.strictObject({ event: Id }),
  z.strictObject({ folders: z.array(Id).min(1).max(500) }),
  z.strictObject({ batch: Id }),
  z.strictObject({ person: Id }),
  z.strictObject({ album: Id }),
  z.strictObject({ question: Question }),
]);
export type From = z.infer<typeof From>;

/** A heading or a note among the pictures of an album. */
export const Chapter = z.object({
  id: Id,
  /** How many pictures stand before it. */
  at: Count,
  heading: z.string().nullable(),
  note: z.string().nullable(),
});
export type Chapter = z.infer<typeof Chapter>;

const Heading = z.string().trim().min(1).max(160).nullable();
const Note = z.string().trim().min(1).max(4000).nullable();
/** What something is to stand before, in an album's order by hand; null for the end. */
const Before = z.union([z.strictObject({ picture: Id }), z.strictObject({ chapter: Id })]).nullable();

/** What a relative of a picture's proposal says for it; see core's `bestOf`. */
export const BestReason = z.union([
  z.object({ why: z.literal('stars'), n: Count }),
  z.object({ why: z.literal('album'), n: Count }),
  z.object({ why: z.literal('person'), who: z.number().int() }),
  z.object({ why: z.enum(['heart', 'run', 'sharp', 'faces', 'day', 'month', 'place']) }),
]);

/** What becomes of a tree of folders: shelves where folders hold folders, albums where they hold pictures. */
export interface FolderPlan {
  kind: 'shelf' | 'album';
  name: string;
  folder: number;
  pictures: number;
  on: FolderPlan[];
}
export const FolderPlan: z.ZodType<FolderPlan> = z.lazy(() =>
  z.object({
    kind: z.enum(['shelf', 'album']),
    name: z.string(),
    folder: Id,
    pictures: Count,
    on: z.array(FolderPlan),
  }),
);

/** What is in no album, under one event or folder. */
const Loose = z.object({
  id: Id.nullable(),
  name: z.string().nullable(),
  pictures: Count,
  cover: z.string().nullable(),
});

/** Routes about albums, shelves and smart albums. */
export const albumApi = {
  albums: endpoint({
    method: 'GET',
    path: '/api/albums',
    part: 'relative',
    summary: 'Albums and smart albums, and the shelves they stand on',
    answer: z.object({ albums: z.array(Album), shelves: z.array(Shelf), sorted: ShelfOrder }),
  }),
  looseAlbums: endpoint({
    method: 'GET',
    path: '/api/albums/loose',
    part: 'relative',
    summary: 'What is in no album yet, by event and by folder',
    answer: z.object({
      pictures: Count,
      events: z.array(Loose.extend({ from: Day.nullable(), to: Day.nullable() })),
      folders: z.array(Loose),
    }),
  }),
  album: endpoint({
    method: 'GET',
    path: '/api/albums/:id',
    part: 'relative',
    summary: 'An album and its pictures in order',
    params: id,
    answer: z.object({
      album: Album,
      ids: Ids,
      /** Width / height times 100, a picture each. */
      shapes: z.array(z.number().int()),
      chapters: z.array(Chapter),
      /** Who is in most of its pictures, and where they were taken, most first. */
      people: z.array(Id),
      places: z.array(z.string()),
      /** Other albums in which some of its pictures stand, too. */
      elsewhere: z.array(Named),
      /** Who put how many in; nobody knows of what was put in long ago. */
      givers: z.array(z.object({ name: z.string().nullable(), pictures: Count })),
      /** Of a smart album: what somebody put in by hand, and what is kept out. */
      putIn: Ids,
      keptOut: Ids,
    }),
  }),
  makeAlbum: endpoint({
    method: 'POST',
    path: '/api/albums',
    part: 'helper',
    summary: 'Make an album from pictures or all of something, or a smart album from a question',
    body: z.strictObject({
      name: Title,
      ids: Ids.optional(),
      event: Id.optional(),
      folder: Id.optional(),
      from: From.optional(),
      question: Question.optional(),
      best: BestLimit.nullable().optional(),
      description: z.string().trim().max(2000).nullable().optional(),
      shelf: Id.nullable().optional(),
    }),
    answer: Did.extend({ id: Id }),
  }),
  changeAlbum: endpoint({
    method: 'PATCH',
    path: '/api/albums/:id',
    part: 'helper',
    summary: 'Change an album’s name, words, days, cover or order, or what a smart album asks',
    params: id,
    body: z.strictObject({
      name: Title.optional(),
      description: z.string().trim().max(2000).nullable().optional(),
      question: Question.optional(),
      best: BestLimit.nullable().optional(),
      /** Days of its own; null for those of its pictures. */
      days: z.strictObject({ from: Day, to: Day }).nullable().optional(),
      /** The picture that stands for it; null for the best. */
      cover: Id.nullable().optional(),
      sorted: AlbumOrder.optional(),
      backwards: z.boolean().optional(),
    }),
    answer: Did,
  }),
  putIntoAlbum: endpoint({
    method: 'POST',
    path: '/api/albums/:id/pictures',
    part: 'helper',
    summary: 'Put pictures into an album; those already there stay where they are',
    params: id,
    body: From,
    answer: Did.extend({ added: Ids }),
  }),
  takeOutOfAlbum: endpoint({
    method: 'POST',
    path: '/api/albums/:id/take-out',
    part: 'helper',
    summary: 'Take pictures out of an album; the pictures stay in the library',
    params: id,
    body: z.strictObject({ ids: Ids.min(1) }),
    answer: Did,
  }),
  moveToAlbum: endpoint({
    method: 'POST',
    path: '/api/albums/:id/move-to',
    part: 'helper',
    summary: 'Move pictures from an album into another',
    params: id,
    body: z.strictObject({ ids: Ids.min(1), to: Id }),
    answer: Did,
  }),
  moveInAlbum: endpoint({
    method: 'POST',
    path: '/api/albums/:id/move',
    part: 'helper',
    summary: 'Move pictures and chapters within an album’s order by hand, in the order given',
    params: id,
    body: z.strictObject({ ids: Ids.optional(), chapter: Id.optional(), before: Before }),
    answer: Did,
  }),
  orderAlbum: endpoint({
    method: 'PUT',
    path: '/api/albums/:id/order',
    part: 'helper',
    summary: 'Set the order of an album, and with it what is in it',
    params: id,
    body: z.strictObject({ ids: Ids }),
    answer: Did,
  }),
  copyAlbum: endpoint({
    method: 'POST',
    path: '/api/albums/:id/copy',
    part: 'helper',
    summary: 'Make an album like this one; of a smart album also a plain one, with what it holds now',
    params: id,
    body: z.strictObject({ name: Title, frozen: z.boolean().default(false) }),
    answer: Did.extend({ id: Id }),
  }),
  joinAlbums: endpoint({
    method: 'POST',
    path: '/api/albums/:id/join',
    part: 'helper',
    summary: 'Put all of an album into another, which then stands for both',
    params: id,
    body: z.strictObject({ into: Id }),
    answer: Did,
  }),
  removeAlbum: endpoint({
    method: 'DELETE',
    path: '/api/albums/:id',
    part: 'helper',
    summary: 'Remove an album; no picture is lost',
    params: id,
    answer: Did,
  }),
  makeChapter: endpoint({
    method: 'POST',
    path: '/api/albums/:id/chapters',
    part: 'helper',
    summary: 'Put a heading or a note among the pictures of an album',
    params: id,
    body: z.strictObject({ heading: Heading, note: Note, before: Before }),
    answer: Did.extend({ id: Id }),
  }),
  changeChapter: endpoint({
    method: 'PATCH',
    path: '/api/chapters/:id',
    part: 'helper',
    summary: 'Change a heading or a note of an album',
    params: id,
    body: z.strictObject({ heading: Heading, note: Note }),
    answer: Did,
  }),
  removeChapter: endpoint({
    method: 'DELETE',
    path: '/api/chapters/:id',
    part: 'helper',
    summary: 'Remove a heading or a note of an album; its pictures stay',
    params: id,
    answer: Did,
  }),
  handAlbum: endpoint({
    method: 'POST',
    path: '/api/albums/:id/hand',
    part: 'helper',
    summary: 'Put pictures into a smart album by hand, keep them out of it, or let its question decide again',
    params: id,
    body: z.strictObject({ ids: Ids.min(1), way: z.enum(['in', 'out']).nullable() }),
    answer: Did,
  }),
  whyInAlbum: endpoint({
    method: 'GET',
    path: '/api/albums/:id/why/:picture',
    part: 'relative',
    summary: 'Why a picture is in a smart album, or why not',
    params: z.object({ id: IdParam, picture: IdParam }),
    answer: z.object({
      in: z.boolean(),
      /** Whether each part of its question is true of the picture: the question first, then its parts one after another, each before its own. */
      holds: z.array(z.boolean()),
      hand: z.enum(['in', 'out']).nullable(),
      /** It fits, but there are better ones, and the album holds only so many. */
      notAmongBest: z.boolean(),
    }),
  }),
  albumsWith: endpoint({
    method: 'GET',
    path: '/api/pictures/:id/albums',
    part: 'relative',
    summary: 'Every album a picture is seen in, those that fill themselves, too',
    params: id,
    answer: z.object({
      albums: z.array(
        Named.extend({
          kind: z.enum(['plain', 'smart']),
          /** Who put it in, and on which day, where that is known. */
          by: z.string().nullable(),
          day: Day.nullable(),
        }),
      ),
    }),
  }),
  bestOf: endpoint({
    method: 'POST',
    reads: true,
    path: '/api/best',
    part: 'relative',
    summary: 'Propose the best of some pictures, spread over days, people and places, each with what speaks for it',
    body: z.strictObject({
      from: From,
      n: Count.min(1).max(500),
      spread: z.number().min(0).max(1),
      people: z.number().min(0).max(1),
    }),
    answer: z.object({
      /** How many there were to choose from. */
      of: Count,
      /** The best first. */
      pictures: z.array(z.object({ id: Id, reasons: z.array(BestReason) })),
      /** The names of people of whom reasons speak. */
      names: z.record(z.string(), z.string()),
    }),
  }),

  makeShelf: endpoint({
    method: 'POST',
    path: '/api/shelves',
    part: 'helper',
    summary: 'Make a shelf for albums and other shelves, perhaps with some on it at once',
    body: z.strictObject({ name: Title, on: Id.nullable().default(null), albums: Ids.default([]) }),
    answer: Did.extend({ id: Id }),
  }),
  changeShelf: endpoint({
    method: 'PATCH',
    path: '/api/shelves/:id',
    part: 'helper',
    summary: 'Rename a shelf, or choose how what stands on it is ordered',
    params: id,
    body: z.strictObject({ name: Title.optional(), sorted: ShelfOrder.optional() }),
    answer: Did,
  }),
  sortAlbums: endpoint({
    method: 'PUT',
    path: '/api/shelves/order',
    part: 'helper',
    summary: 'Choose how what stands on no shelf is ordered',
    body: z.strictObject({ sorted: ShelfOrder }),
    answer: Did,
  }),
  shelve: endpoint({
    method: 'POST',
    path: '/api/shelves/put',
    part: 'helper',
    summary: 'Put albums and shelves on a shelf, or on none, at a place or at the end',
    body: z.strictObject({
      albums: Ids.default([]),
      shelves: Ids.default([]),
      on: Id.nullable(),
      before: z
        .union([z.strictObject({ album: Id }), z.strictObject({ shelf: Id })])
        .nullable()
        .default(null),
    }),
    answer: Did,
  }),
  removeShelf: endpoint({
    method: 'POST',
    path: '/api/shelves/:id/remove',
    part: 'helper',
    summary: 'Remove a shelf; what stands on it moves up, or goes with it. No picture is lost',
    params: id,
    body: z.strictObject({ rest: z.enum(['up', 'go']) }),
    answer: Did.extend({ albums: Count, shelves: Count }),
  }),
  folderShelves: endpoint({
    method: 'GET',
    path: '/api/folders/:id/shelves',
    part: 'helper',
    summary: 'What shelves and albums a folder with all below it would become',
    params: id,
    answer: z.object({ plan: FolderPlan.nullable(), shelves: Count, albums: Count, pictures: Count }),
  }),
  shelveFolder: endpoint({
    method: 'POST',
    path: '/api/folders/:id/shelves',
    part: 'helper',
    summary: 'Make shelves and albums of a folder with all below it',
    params: id,
    body: z.strictObject({ on: Id.nullable().default(null) }),
    answer: Did.extend({ shelves: Count, albums: Count, shelf: Id.nullable(), album: Id.nullable() }),
  }),
} as const;
