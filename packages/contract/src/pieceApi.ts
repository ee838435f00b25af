import {
  BookEdits,
  BookSettings,
  BundleSettings,
  CalendarSettings,
  CardSettings,
  CollageSettings,
  FilmSettings,
  OutSettings,
  PrintSettings,
  TYPE,
  type TextRole,
} from '@gemmel/core';
import { z } from 'zod';
import { Did } from './actApi';
import { endpoint } from './endpoint';
import { Id, IdParam, Title } from './ids';
import { Saying } from './sayings';
import { ShowSource } from './showApi';

const id = z.object({ id: IdParam });

/** What can be made of pictures, each with how it is made. */
export const PieceSettings = z.discriminatedUnion('kind', [
  BookSettings.extend({ kind: z.literal('book') }),
  FilmSettings.extend({ kind: z.literal('film') }),
  PrintSettings.extend({ kind: z.literal('prints') }),
  CollageSettings.extend({ kind: z.literal('collage') }),
  CardSettings.extend({ kind: z.literal('card') }),
  CalendarSettings.extend({ kind: z.literal('calendar') }),
  BundleSettings.extend({ kind: z.literal('bundle') }),
  OutSettings.extend({ kind: z.literal('out') }),
]);
export type PieceSettings = z.infer<typeof PieceSettings>;
export type PieceKind = PieceSettings['kind'];

/** How the making of a piece stands; null when nothing is being made. */
export const Making = z
  .object({
    state: z.enum(['ready', 'running', 'failed']),
    done: z.number(),
    of: z.number(),
    /** When it began, in ms since 1970. */
    since: z.number().nullable(),
    why: Saying.nullable(),
  })
  .nullable();
export type Making = z.infer<typeof Making>;

/** A file that was made. */
export const MadeFile = z.object({
  name: z.string(),
  bytes: z.number(),
  pages: z.number().nullable(),
  seconds: z.number().nullable(),
});
export type MadeFile = z.infer<typeof MadeFile>;

/** What a shop answered an order with. */
export const Receipt = z.object({ number: z.string(), at: z.string(), prints: z.number(), shop: z.string() });
export type Receipt = z.infer<typeof Receipt>;

/** Something made of pictures that is kept with its settings, to be opened, changed and made again. */
export const Piece = z.object({
  id: Id,
  name: z.string(),
  source: ShowSource,
  /** What it is of, by name; null for pictures that have none together. */
  of: z.string().nullable(),
  settings: PieceSettings,
  cover: z.string().nullable(),
  /** When it was last made, in UTC, and what came of it; whether it or its pictures have changed since; null in lists. */
  made: z
    .object({
      at: z.string(),
      files: z.array(MadeFile),
      /** Names of pictures that could not be read. */
      missing: z.array(z.string()),
      changed: z.boolean().nullable(),
    })
    .nullable(),
  making: Making,
  /** What its files will be, about: how many pictures go in, bytes and seconds; null in lists. */
  /** The receipt of the last order of it. */
  receipt: Receipt.nullable(),
  expects: z.object({ pictures: z.number(), bytes: z.number(), seconds: z.number().nullable() }).nullable(),
});
export type Piece = z.infer<typeof Piece>;

const TEXT_ROLES = Object.keys(TYPE) as [TextRole, ...TextRole[]];
const Box = z.object({ x: z.number(), y: z.number(), w: z.number(), h: z.number() });
const PlacedPicture = z.object({ id: Id, box: Box, part: Box.nullable(), ppi: z.number(), cameo: z.boolean() });
const PlacedText = z.object({
  role: z.enum(TEXT_ROLES),
  x: z.number(),
  y: z.number(),
  w: z.number(),
  align: z.enum(['left', 'right', 'center']),
  lines: z.array(z.string()),
});
const BookPage = z.object({
  number: z.number().int(),
  kind: z.enum(['title', 'pictures', 'full', 'people', 'index', 'blank']),
  chapter: z.string().nullable(),
  opens: z.boolean(),
  pictures: z.array(PlacedPicture),
  texts: z.array(PlacedText),
  map: Box.nullable(),
  kept: z.boolean(),
  way: z.number().int(),
  ways: z.number().int(),
});

/** Shapes on a map, as SVG paths in a box of 1000 by 1000 / ratio. */
export const BookMap = z.object({
  height: z.number(),
  land: z.string(),
  water: z.string(),
  way: z.string(),
  stops: z.array(z.object({ x: z.number(), y: z.number(), name: z.string().nullable() })),
});
export type BookMap = z.infer<typeof BookMap>;

/** A book as it is laid out just now. */
export const BookLayout = z.object({
  pages: z.array(BookPage),
  cover: z.object({
    width: z.number(),
    height: z.number(),
    spine: z.number(),
    picture: PlacedPicture.nullable(),
    texts: z.array(PlacedText),
    along: z.string().nullable(),
  }),
  chapters: z.array(
    z.object({ key: z.string(), title: z.string().nullable(), words: z.string().nullable(), map: BookMap.nullable() }),
  ),
  /** How pictures look that are on its pages. */
  looks: z.array(z.object({ id: Id, sha: z.string(), ratio: z.number() })),
  /** What stands below pictures. */
  captions: z.array(z.object({ id: Id, caption: z.string() })),
  /** Pictures that show nearly the same as another and are left out, and those that somebody left out. */
  doubles: z.array(z.object({ id: Id, sha: z.string() })),
  out: z.array(z.object({ id: Id, sha: z.string() })),
  edits: BookEdits,
  /** What tells these edits from others: whoever changes them says which they saw. */
  seen: z.string(),
  /** About how large the file will be, in bytes. */
  bytes: z.number(),
});
export type BookLayout = z.infer<typeof BookLayout>;

/** Sheets as they are printed: prints, a collage, a card, a calendar. */
export const SheetsLayout = z.object({
  sheets: z.array(
    z.object({
      width: z.number(),
      height: z.number(),
      background: z.string().nullable(),
      pictures: z.array(PlacedPicture),
      texts: z.array(PlacedText),
      lines: z.array(
        z.object({
          x1: z.number(),
          y1: z.number(),
          x2: z.number(),
          y2: z.number(),
          tone: z.enum(['cut', 'rule', 'guide']),
        }),
      ),
    }),
  ),
  looks: z.array(z.object({ id: Id, sha: z.string(), ratio: z.number() })),
  /** Names of pictures that can't be used: without a face, say, for a passport. */
  left: z.array(z.string()),
  bytes: z.number(),
});
export type SheetsLayout = z.infer<typeof SheetsLayout>;

/** Routes about what is made of pictures: books, prints, films and more. */
export const pieceApi = {
  pieces: endpoint({
    method: 'GET',
    path: '/api/pieces',
    part: 'helper',
    summary: 'What was made of pictures, the latest first',
    answer: z.object({ pieces: z.array(Piece) }),
  }),
  piece: endpoint({
    method: 'GET',
    path: '/api/pieces/:id',
    part: 'helper',
    summary: 'Something that is made of pictures, and how far its making is',
    params: id,
    answer: Piece,
  }),
  makePiece: endpoint({
    method: 'POST',
    path: '/api/pieces',
    part: 'helper',
    summary: 'Begin a book, prints, a film or another piece; as an earlier one, if wished',
    body: z.strictObject({ name: Title, source: ShowSource, settings: PieceSettings }),
    answer: Did.extend({ id: Id }),
  }),
  changePiece: endpoint({
    method: 'PATCH',
    path: '/api/pieces/:id',
    part: 'helper',
    summary: 'Rename a piece, or change how it is made',
    params: id,
    body: z.strictObject({
      name: Title.optional(),
      settings: PieceSettings.optional(),
      edits: BookEdits.optional(),
      /** Which edits these come after; others meanwhile are not lost. */
      seen: z.string().max(100).optional(),
    }),
    answer: Did,
  }),
  removePiece: endpoint({
    method: 'DELETE',
    path: '/api/pieces/:id',
    part: 'helper',
    summary: 'Remove a piece and the files made of it; its pictures stay',
    params: id,
    answer: Did,
  }),
  bookLayout: endpoint({
    method: 'GET',
    path: '/api/pieces/:id/layout',
    part: 'helper',
    summary: 'The pages of a book as they are laid out just now',
    params: id,
    answer: BookLayout,
  }),
  sheetsLayout: endpoint({
    method: 'GET',
    path: '/api/pieces/:id/sheets',
    part: 'helper',
    summary: 'The sheets of prints, a collage, a card or a calendar as they are laid out just now',
    params: id,
    answer: SheetsLayout,
  }),
  orderPrints: endpoint({
    method: 'POST',
    path: '/api/pieces/:id/order',
    part: 'keeper',
    summary: 'Send the prints that were made to the shop, and have its receipt',
    params: id,
    answer: Receipt,
  }),
  produce: endpoint({
    method: 'POST',
    path: '/api/pieces/:id/making',
    part: 'helper',
    summary: 'Make the files of a piece',
    params: id,
    answer: z.object({}),
  }),
  stopProducing: endpoint({
    method: 'DELETE',
    path: '/api/pieces/:id/making',
    part: 'helper',
    summary: 'Stop making the files of a piece',
    params: id,
    answer: z.object({}),
  }),
} as const;

/** The files of a piece. */
export const pieceFileRoutes = [
  { method: 'GET', path: '/api/pieces/:id/files/:name', part: 'helper', summary: 'A file that was made' },
] as const;
