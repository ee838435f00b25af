import { z } from 'zod';
import { endpoint } from './endpoint';
import { Id, IdParam, Title } from './ids';
import { ShowSource } from './showApi';

const id = z.object({ id: IdParam });
const Hour = z.number().int().min(0).max(23);

/** How a frame shows its pictures. */
export const FrameSettings = z.strictObject({
  /** Its size in pixels. */
  width: z.number().int().min(160).max(8000),
  height: z.number().int().min(160).max(8000),
  /** Whether pictures fill it, faces whole, or are shown whole with a dark edge. */
  fit: z.enum(['fill', 'whole']),
  order: z.enum(['given', 'time', 'shuffled']),
  /** How long each stays, in seconds: what the feed tells; a frame that asks for the next has it at once. */
  seconds: z.number().int().min(5).max(86_400),
  /** Hours in which it stays dark, in the household's time; null for none. */
  quiet: z.strictObject({ from: Hour, to: Hour }).nullable(),
});
export type FrameSettings = z.infer<typeof FrameSettings>;

/** A digital frame that is fed: what of, how, and by which secret address. */
export const Frame = z.object({
  id: Id,
  name: z.string(),
  source: ShowSource,
  settings: FrameSettings,
  /** Where its feed is; null when the key it was sealed with is lost. */
  path: z.string().nullable(),
  /** When it last asked for a picture, in UTC. */
  seen: z.string().nullable(),
});
export type Frame = z.infer<typeof Frame>;

/** What a frame is told. */
export const FrameFeed = z.object({
  name: z.string(),
  seconds: z.number(),
  /** Whether it is to stay dark just now. */
  quiet: z.boolean(),
  /** Where each next picture is to be had. */
  next: z.string(),
  pictures: z.array(
    z.object({ id: Id, url: z.string(), kind: z.enum(['photo', 'video']), words: z.string().nullable() }),
  ),
});
export type FrameFeed = z.infer<typeof FrameFeed>;

const Body = { name: Title, source: ShowSource, settings: FrameSettings };

/** Routes about digital frames. What they show is reached by their secret alone. */
export const frameApi = {
  frames: endpoint({
    method: 'GET',
    path: '/api/frames',
    part: 'keeper',
    summary: 'Digital frames that are fed, by name',
    answer: z.object({ frames: z.array(Frame) }),
  }),
  makeFrame: endpoint({
    method: 'POST',
    path: '/api/frames',
    part: 'keeper',
    summary: 'Feed a digital frame, by a secret address',
    body: z.strictObject(Body),
    answer: Frame,
  }),
  changeFrame: endpoint({
    method: 'PATCH',
    path: '/api/frames/:id',
    part: 'keeper',
    summary: 'Change what a frame shows, or how',
    params: id,
    body: z.strictObject({
      name: Body.name.optional(),
      source: Body.source.optional(),
      settings: Body.settings.optional(),
    }),
    answer: Frame,
  }),
  endFrame: endpoint({
    method: 'DELETE',
    path: '/api/frames/:id',
    part: 'keeper',
    summary: 'Feed a frame no longer; its address leads nowhere from then on',
    params: id,
    answer: z.object({}),
  }),
} as const;

/** What a frame itself asks for. */
export const frameFileRoutes = [
  { method: 'GET', path: '/frame/:token', part: 'nobody', summary: 'A frame’s feed, as JSON' },
  {
    method: 'GET',
    path: '/frame/:token/next.jpg',
    part: 'nobody',
    summary: 'The next picture of a frame, sized for it',
  },
  { method: 'GET', path: '/frame/:token/pictures/:id', part: 'nobody', summary: 'A picture of a frame, sized for it' },
] as const;
