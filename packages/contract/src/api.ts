import { Question } from '@gemmel/core';
import { z } from 'zod';
import { endpoint } from './endpoint';
import { accountApi, Password } from './accountApi';
import { albumApi } from './albumApi';
import { binApi } from './binApi';
import { actApi, Did } from './actApi';
import { frameApi, frameFileRoutes } from './frameApi';
import { gatherApi, gatherFileRoutes } from './gatherApi';
import { findApi, Sort, Under } from './findApi';
import { libraryApi } from './libraryApi';
import { mailApi } from './mailApi';
import { noticeApi } from './noticeApi';
import { parlourApi } from './parlourApi';
import { pieceApi, pieceFileRoutes } from './pieceApi';
import { peopleApi } from './peopleApi';
import { placeApi } from './placeApi';
import { runsApi } from './runsApi';
import { scansApi } from './scansApi';
import { safeApi, safeFileRoutes } from './safeApi';
import { sayApi } from './sayApi';
import { guestApi, guestFileRoutes, shareApi } from './shareApi';
import { showApi, showFileRoutes, wallApi } from './showApi';
import { sightApi } from './sightApi';
import { touchupApi } from './touchupApi';
import { timeApi } from './timeApi';
import * as s from './shapes';

const id = z.object({ id: s.IdParam });
/** Of so many pictures small files go along with what is told of them at most: hardly a window shows more. */
export const TILES_AT_ONCE = 120;

const Counted = z.object({ count: z.number().int() });

/** Every JSON route. Server, OpenAPI description and typed client are all made from this one table. */
export const api = {
  me: endpoint({
    method: 'GET',
    path: '/api/me',
    part: 'nobody',
    summary: 'Who is signed in, and whether the library has a keeper yet',
    answer: s.Me,
  }),
  firstRun: endpoint({
    method: 'POST',
    path: '/api/first-run',
    part: 'nobody',
    summary: 'Make the keeper’s account, once',
    body: z.strictObject({
      library: s.Title,
      name: s.Title,
      email: z.email().max(200),
      password: Password,
      /** The set-up code, where one is asked for. */
      code: z.string().max(40).optional(),
      language: s.Language.optional(),
    }),
    answer: s.Me,
  }),
  signIn: endpoint({
    method: 'POST',
    path: '/api/sign-in',
    part: 'nobody',
    summary: 'Sign in with e-mail address and password',
    body: z.strictObject({
      email: z.string().max(200),
      password: z.string().max(200),
      /** A one-time code, where the account asks for one. */
      code: z.string().max(20).optional(),
    }),
    answer: s.Me,
  }),
  signOut: endpoint({
    method: 'POST',
    path: '/api/sign-out',
    part: 'account',
    summary: 'End this session',
    answer: s.Done,
  }),
  chooseLanguage: endpoint({
    method: 'PUT',
    path: '/api/me/language',
    part: 'account',
    summary: 'Choose the language you read',
    body: z.strictObject({ language: s.Language }),
    answer: s.Done,
  }),
  setLibraryLanguage: endpoint({
    method: 'PUT',
    path: '/api/library/language',
    part: 'keeper',
    summary: 'Set the language that the machine names folders and events in',
    body: z.strictObject({ language: s.Language }),
    answer: Did,
  }),
  setLibraryZone: endpoint({
    method: 'PUT',
    path: '/api/library/zone',
    part: 'keeper',
    summary: 'Set the time zone the household lives in; null for that of the machine',
    body: z.strictObject({ zone: s.Zone.nullable() }),
    answer: Did,
  }),
  library: endpoint({
    method: 'GET',
    path: '/api/library',
    part: 'relative',
    summary: 'The library’s figures and what waits in it',
    answer: s.LibraryState,
  }),

  ...accountApi,
  ...gatherApi,
  ...timeApi,
  ...sightApi,
  ...noticeApi,
  ...parlourApi,
  ...peopleApi,
  ...placeApi,
  ...actApi,
  ...binApi,
  ...runsApi,
  ...touchupApi,
  ...scansApi,
  ...sayApi,
  ...findApi,

  skeleton: endpoint({
    method: 'POST',
    reads: true,
    path: '/api/skeleton',
    part: 'relative',
    summary: 'The columns of a question’s answer',
    body: z.strictObject({
      question: Question,
      /** The other way round: oldest, first or smallest first. */
      oldestFirst: z.boolean().default(false),
      sort: Sort.default('date'),
      under: Under.optional(),
    }),
    answer: s.Skeleton,
  }),
  count: endpoint({
    method: 'POST',
    reads: true,
    path: '/api/count',
    part: 'relative',
    summary: 'How many pictures answer a question',
    body: z.strictObject({ question: Question }),
    answer: Counted,
  }),
  pictures: endpoint({
    method: 'POST',
    reads: true,
    path: '/api/pictures/page',
    part: 'relative',
    summary: 'Pictures that answer a question, newest first, a page at a time',
    body: z.strictObject({
      question: Question,
      after: z.string().max(80).optional(),
      limit: z.number().int().min(1).max(500).default(100),
    }),
    answer: z.object({ tiles: z.array(s.Tile), after: z.string().nullable() }),
  }),
  tiles: endpoint({
    method: 'POST',
    reads: true,
    path: '/api/tiles',
    part: 'relative',
    summary: 'What the grid shows of some pictures',
    body: z.strictObject({ ids: z.array(s.Id).max(500) }),
    answer: z.object({ tiles: z.array(s.Tile) }),
  }),
  tilesAtOnce: endpoint({
    method: 'POST',
    reads: true,
    packed: true,
    path: '/api/tiles/at-once',
    part: 'relative',
    summary: 'What the grid shows of the pictures of a window, and their small files with it, in one answer',
    body: z.strictObject({ ids: z.array(s.Id).max(TILES_AT_ONCE) }),
    answer: z.object({
      tiles: z.array(s.Tile),
      /** The small file of each of them as base64; null where it has to be asked for by itself. */
      smalls: z.array(z.string().nullable()),
    }),
  }),
  opening: endpoint({
    method: 'GET',
    path: '/api/opening',
    part: 'relative',
    summary: 'All pictures in columns, and the tiles that come first: what a page shows when it opens, in one answer',
    query: z.object({
      oldestFirst: z
        .enum(['true', 'false'])
        .default('false')
        .transform((said) => said === 'true'),
      tiles: z.coerce.number().int().min(0).max(200).default(60),
    }),
    answer: z.object({ skeleton: s.Skeleton, tiles: z.array(s.Tile) }),
  }),
  wholePictures: endpoint({
    method: 'POST',
    reads: true,
    path: '/api/pictures/whole',
    part: 'relative',
    summary:
      'Everything about some pictures, for a device that keeps them; those that are no longer there are left out',
    body: z.strictObject({ ids: z.array(s.Id).max(100) }),
    answer: z.object({ pictures: z.array(s.Picture), tiles: z.array(s.Tile) }),
  }),
  picture: endpoint({
    method: 'GET',
    path: '/api/pictures/:id',
    part: 'relative',
    summary: 'Everything about one picture',
    params: id,
    answer: s.Picture,
  }),
  change: endpoint({
    method: 'POST',
    path: '/api/pictures/change',
    part: 'helper',
    summary: 'Say something about pictures',
    body: z.strictObject({
      ids: s.Ids.min(1),
      change: s.PictureChange,
      /** How they were when this was said: a picture of which something else has been said since is left as it is. */
      was: s.PictureSeen.optional(),
    }),
    answer: Did.extend({
      /** Those that were left. */
      left: z.array(s.Id).optional(),
    }),
  }),

  makeZip: endpoint({
    method: 'POST',
    path: '/api/zip',
    part: 'relative',
    summary: 'Ready the originals of some pictures, an album or an event to be saved as one ZIP, for ten minutes',
    body: z.union([
      z.strictObject({ ids: s.Ids.min(1) }),
      z.strictObject({ album: s.Id }),
      z.strictObject({ event: s.Id }),
    ]),
    answer: z.object({ path: z.string(), pictures: z.number().int(), bytes: z.number() }),
  }),
  events: endpoint({
    method: 'GET',
    path: '/api/events',
    part: 'relative',
    summary: 'Events, newest first',
    answer: z.object({ events: z.array(s.Event) }),
  }),
  nameEvent: endpoint({
    method: 'PATCH',
    path: '/api/events/:id',
    part: 'helper',
    summary: 'Name an event, or take its name away with null',
    params: id,
    body: z.strictObject({ title: s.Title.nullable() }),
    answer: Did,
  }),

  places: endpoint({
    method: 'GET',
    path: '/api/places',
    part: 'relative',
    summary: 'Places with their counts',
    answer: z.object({ places: z.array(s.Place) }),
  }),

  pile: endpoint({
    method: 'GET',
    path: '/api/pile',
    part: 'relative',
    summary: 'The pictures in hand',
    answer: z.object({ ids: s.Ids }),
  }),
  setPile: endpoint({
    method: 'PUT',
    path: '/api/pile',
    part: 'relative',
    summary: 'Put pictures on the pile, put some down, or say what is in hand',
    body: z.union([z.strictObject({ put: s.Ids }), z.strictObject({ drop: s.Ids }), z.strictObject({ ids: s.Ids })]),
    answer: z.object({ ids: s.Ids }),
  }),

  ...albumApi,
  ...showApi,
  ...pieceApi,
  ...frameApi,
  ...wallApi,

  ...shareApi,
  ...mailApi,
  ...libraryApi,
  ...safeApi,
  ...guestApi,

  troubles: endpoint({
    method: 'GET',
    path: '/api/troubles',
    part: 'helper',
    summary: 'Work that failed, with its reason',
    answer: z.object({ troubles: z.array(s.Trouble) }),
  }),
  retryTrouble: endpoint({
    method: 'POST',
    path: '/api/troubles/:id/retry',
    part: 'helper',
    summary: 'Try failed work again',
    params: id,
    answer: s.Done,
  }),
} as const;

export type Api = typeof api;

/** Routes that carry files or streams instead of JSON. */
export const fileRoutes = [
  ...gatherFileRoutes,
  ...safeFileRoutes,
  ...showFileRoutes,
  ...pieceFileRoutes,
  ...frameFileRoutes,
  {
    method: 'GET',
    path: '/api/derived/:sha/:size',
    part: 'relative',
    summary: 'A picture at a smaller size (small, large), for ever the same',
  },
  {
    method: 'GET',
    path: '/api/pictures/:id/original',
    part: 'relative',
    summary: 'The original, byte for byte, in ranges if wished',
  },
  {
    method: 'GET',
    path: '/api/pictures/:id/shown',
    part: 'relative',
    summary: 'A picture at full size as it is shown, a new file with what people said of it',
  },
  {
    method: 'GET',
    path: '/api/faces/:id/portrait',
    part: 'relative',
    summary: 'A face cut out as an upright portrait',
  },
  { method: 'GET', path: '/api/zip/:token', part: 'relative', summary: 'Originals that were readied, as one ZIP' },
  { method: 'GET', path: '/api/progress', part: 'relative', summary: 'Server-sent events: what has changed' },
  ...guestFileRoutes,
] as const;
