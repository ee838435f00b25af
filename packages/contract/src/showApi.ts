import { Question, ShowSettings } from '@gemmel/core';
import { z } from 'zod';
import { Did } from './actApi';
import { Chapter } from './albumApi';
import { endpoint } from './endpoint';
import { Id, IdParam, Ids, Title } from './ids';
import { WhenSpan } from './shapes';

const id = z.object({ id: IdParam });

/** What a show is of; an album, an event, a person or a question is looked up anew each time it is played. */
export const ShowSource = z.union([
  z.strictObject({ album: Id }),
  z.strictObject({ event: Id }),
  z.strictObject({ person: Id }),
  z.strictObject({ question: Question }),
  z.strictObject({ ids: Ids.min(1) }),
]);
export type ShowSource = z.infer<typeof ShowSource>;

/** A picture as a show fills the screen with it. */
export const ShowSlide = z.object({
  id: Id,
  sha: z.string(),
  thumb: z.string(),
  kind: z.enum(['photo', 'video']),
  seconds: z.number().nullable(),
  taken: z.string().nullable(),
  takenSpan: WhenSpan.nullable(),
  title: z.string().nullable(),
  caption: z.string().nullable(),
  place: z.object({ name: z.string(), country: z.string().nullable() }).nullable(),
  names: z.array(z.string()),
  /** Where faces are in what is shown: left, top, width and height in fractions. */
  faces: z.array(z.tuple([z.number(), z.number(), z.number(), z.number()])),
});
export type ShowSlide = z.infer<typeof ShowSlide>;

/** A piece of the household's own music. */
export const Music = z.object({
  id: Id,
  title: z.string(),
  artist: z.string().nullable(),
  seconds: z.number(),
  bytes: z.number(),
});
export type Music = z.infer<typeof Music>;

/** A show that is kept, with its settings. */
export const SavedShow = z.object({
  id: Id,
  name: z.string(),
  source: ShowSource,
  settings: ShowSettings,
  cover: z.string().nullable(),
});
export type SavedShow = z.infer<typeof SavedShow>;

/** Routes about shows and the music they are played with. */
export const showApi = {
  showOf: endpoint({
    method: 'POST',
    reads: true,
    path: '/api/show',
    part: 'relative',
    summary: 'What a show is made of: its pictures in order, and its chapters',
    body: z.strictObject({ source: ShowSource }),
    answer: z.object({
      /** What it is called; null for pictures that have no name together. */
      title: z.string().nullable(),
      from: z.string().nullable(),
      to: z.string().nullable(),
      pictures: z.array(
        z.object({ id: Id, ratio: z.number(), seconds: z.number().nullable(), taken: z.string().nullable() }),
      ),
      chapters: z.array(Chapter),
    }),
  }),
  slides: endpoint({
    method: 'POST',
    reads: true,
    path: '/api/show/slides',
    part: 'relative',
    summary: 'What a show needs to fill the screen with some pictures',
    body: z.strictObject({ ids: z.array(Id).max(200) }),
    answer: z.object({ slides: z.array(ShowSlide) }),
  }),
  shows: endpoint({
    method: 'GET',
    path: '/api/shows',
    part: 'relative',
    summary: 'Shows that are kept, by name',
    answer: z.object({ shows: z.array(SavedShow) }),
  }),
  makeShow: endpoint({
    method: 'POST',
    path: '/api/shows',
    part: 'helper',
    summary: 'Keep a show with its settings, to be played by one tap',
    body: z.strictObject({ name: Title, source: ShowSource, settings: ShowSettings }),
    answer: Did.extend({ id: Id }),
  }),
  changeShow: endpoint({
    method: 'PATCH',
    path: '/api/shows/:id',
    part: 'helper',
    summary: 'Rename a show, or change how it is played',
    params: id,
    body: z.strictObject({ name: Title.optional(), settings: ShowSettings.optional() }),
    answer: Did,
  }),
  removeShow: endpoint({
    method: 'DELETE',
    path: '/api/shows/:id',
    part: 'helper',
    summary: 'Remove a show; its pictures and its music stay',
    params: id,
    answer: Did,
  }),
  music: endpoint({
    method: 'GET',
    path: '/api/music',
    part: 'relative',
    summary: 'The household’s own pieces of music, by name',
    answer: z.object({ music: z.array(Music) }),
  }),
  changeMusic: endpoint({
    method: 'PATCH',
    path: '/api/music/:id',
    part: 'helper',
    summary: 'Give a piece of music another name',
    params: id,
    body: z.strictObject({ title: Title }),
    answer: Did,
  }),
  removeMusic: endpoint({
    method: 'DELETE',
    path: '/api/music/:id',
    part: 'helper',
    summary: 'Remove a piece of music; shows go on without it',
    params: id,
    answer: Did,
  }),
} as const;

const token = z.object({ token: z.string().min(20).max(100) });

/** A screen on a wall that plays a show. */
export const Wall = z.object({
  id: Id,
  name: z.string(),
  /** What it plays: a show that is kept, or an album. */
  plays: z.string().nullable(),
  /** When it last asked for its pictures, in UTC. */
  seen: z.string().nullable(),
});
export type Wall = z.infer<typeof Wall>;

/** Routes about screens on a wall. What they show is reached by their secret alone. */
export const wallApi = {
  openWall: endpoint({
    method: 'POST',
    path: '/api/walls',
    part: 'nobody',
    summary: 'A screen asks for a code that somebody of the household confirms within ten minutes',
    answer: z.object({ token: z.string() }),
  }),
  walls: endpoint({
    method: 'GET',
    path: '/api/walls',
    part: 'keeper',
    summary: 'Screens that play shows of this library',
    answer: z.object({ walls: z.array(Wall) }),
  }),
  confirmWall: endpoint({
    method: 'POST',
    path: '/api/walls/confirm',
    part: 'keeper',
    summary: 'Let the screen that shows a code play a show or an album from now on',
    body: z.strictObject({
      code: z.string().regex(/^\d{6}$/),
      name: Title,
      plays: z.union([z.strictObject({ show: Id }), z.strictObject({ album: Id })]),
    }),
    answer: z.object({ id: Id }),
  }),
  endWall: endpoint({
    method: 'DELETE',
    path: '/api/walls/:id',
    part: 'keeper',
    summary: 'End what a screen plays; it shows nothing from then on',
    params: id,
    answer: z.object({ done: z.literal(true) }),
  }),
  wall: endpoint({
    method: 'GET',
    path: '/api/wall/:token',
    part: 'nobody',
    summary: 'What a screen shows: its code while it waits, then its show, looked up anew each time',
    params: token,
    answer: z.union([
      z.object({ state: z.literal('waiting'), code: z.string() }),
      z.object({
        state: z.literal('on'),
        title: z.string().nullable(),
        settings: ShowSettings,
        show: showApi.showOf.answer,
        music: z.array(Music),
      }),
    ]),
  }),
  wallSlides: endpoint({
    method: 'POST',
    path: '/api/wall/:token/slides',
    part: 'nobody',
    summary: 'What a screen needs to show some pictures of its show',
    params: token,
    body: z.strictObject({ ids: z.array(Id).max(200) }),
    answer: z.object({ slides: z.array(ShowSlide) }),
  }),
} as const;

/** Routes of shows that carry files. */
export const showFileRoutes = [
  {
    method: 'POST',
    path: '/api/music',
    part: 'helper',
    summary: 'Bring in a piece of music (MP3, M4A, OGG, FLAC): the file as it is, its name in the query',
  },
  { method: 'GET', path: '/api/music/:id/file', part: 'relative', summary: 'A piece of music, in ranges if wished' },
  {
    method: 'GET',
    path: '/api/wall/:token/pictures/:id/:size',
    part: 'nobody',
    summary: 'A picture or a clip of the show on a wall (large, play)',
  },
  {
    method: 'GET',
    path: '/api/wall/:token/music/:id',
    part: 'nobody',
    summary: 'A piece of music of the show on a wall',
  },
] as const;
