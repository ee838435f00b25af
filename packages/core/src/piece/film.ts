import { z } from 'zod';
import { ShowSettings } from '../show/plan';
import { LANGUAGES } from '../words/languages';

/** How a film is made of a show. Kept with the piece. */
export const FilmSettings = z.strictObject({
  language: z.enum(LANGUAGES),
  show: ShowSettings,
  /** How many lines it has on its short side. */
  lines: z.union([z.literal(720), z.literal(1080)]),
  shape: z.enum(['wide', 'upright']),
  /** Whether clips are heard. */
  sound: z.boolean(),
});
export type FilmSettings = z.infer<typeof FilmSettings>;

/** Pictures a second. */
export const FRAMES = 25;
/** How long one picture fades into the next, in seconds; shorter where a picture does not stay so long. */
const FADE = 0.8;

/** How large a film is, in pixels. */
export const filmSize = ({
  lines,
  shape,
}: Pick<FilmSettings, 'lines' | 'shape'>): { width: number; height: number } => {
  const long = (lines * 16) / 9;
  return shape === 'wide' ? { width: long, height: lines } : { width: lines, height: long };
};

/** About how many bytes a film of some seconds has. */
export const filmBytes = (seconds: number, { lines }: Pick<FilmSettings, 'lines'>): number =>
  seconds * (lines === 720 ? 260_000 : 520_000);

/** What of a film one slide fills: its first frame, how many it has, and over how many of these the one before fades into it. */
export interface Stretch {
  from: number;
  frames: number;
  fade: number;
}

/** A film's slides on its frames: together exactly as long as they are, none without a frame. */
export function stretches(slides: readonly { seconds: number }[]): Stretch[] {
  let at = 0;
  let from = 0;
  return slides.map(({ seconds }, i) => {
    at += seconds;
    const to = Math.max(from + 1, Math.round(at * FRAMES));
    const frames = to - from;
    const before = i === 0 ? Infinity : slides[i - 1]!.seconds;
    const fade = Math.max(
      1,
      Math.min(Math.round(FADE * FRAMES), Math.floor(frames / 3), Math.floor((before * FRAMES) / 3)),
    );
    const stretch = { from, frames, fade: frames > 3 ? fade : 0 };
    from = to;
    return stretch;
  });
}
