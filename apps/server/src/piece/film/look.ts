import { FRAMES, lineHeight, linesOf, POINT, TYPE, type Measure, type Pan, type TextRole } from '@gemmel/core';
import path from 'node:path';
import { createRequire } from 'node:module';

/** Behind pictures: the evening's paper. */
export const GROUND = '0x131A19';
const INK = '0xF0EADD';
const SOFT = '0xA7B3AD';

/** How large a frame is, in pixels. */
export interface Frame {
  width: number;
  height: number;
}

/** Lines of text in the middle of a frame, or at its foot. */
export interface Said {
  /** Each line lies in a file of its own: what people write is never part of a command. */
  lines: { file: string; role: TextRole; soft: boolean }[];
  foot: boolean;
}

/** What a slide shows while it stays. */
export type Look =
  /** A still as large as its box, moved gently if there is a way to. */
  | { kind: 'still'; file: string; box: Box; pan: Pan | null; said: Said | null }
  | { kind: 'clip'; file: string; seconds: number; said: Said | null }
  | { kind: 'card'; said: Said };

interface Box {
  x: number;
  y: number;
  w: number;
  h: number;
}

/** Even numbers: half as many colours as lights are kept. */
export const even = (n: number): number => Math.max(2, Math.round(n / 2) * 2);

/** The largest box of a shape in another, in the middle of it. */
export function within(ratio: number, { x, y, w, h }: Box): Box {
  const wide = Math.min(w, h * ratio);
  const size = { w: even(wide), h: even(wide / ratio) };
  return { x: Math.round(x + (w - size.w) / 2), y: Math.round(y + (h - size.h) / 2), ...size };
}

/** Stills are this much larger than they are shown, so that what comes nearer stays sharp. */
export const LARGER = 1.25;

/** A path of ours as ffmpeg's own language has it. */
const quoted = (file: string): string =>
  `'${file.replace(/\\/g, '\\\\').replace(/'/g, "'\\\\\\''").replace(/:/g, '\\:')}'`;

const FILES = {
  head: '@expo-google-fonts/fraunces/600SemiBold/Fraunces_600SemiBold.ttf',
  text: '@expo-google-fonts/figtree/400Regular/Figtree_400Regular.ttf',
};

/** How much larger than in print text stands in a frame, in pixels to a millimetre. */
const pixelsPerMm = ({ width, height }: Frame): number => Math.min(width, height) / 170;

/** Breaks what is said into lines that fit a frame. */
export function saidIn(
  frame: Frame,
  said: readonly { text: string | null; role: TextRole; soft?: boolean }[],
  foot: boolean,
  measure: Measure,
  keep: (text: string) => string,
): Said | null {
  const wide = (frame.width * (foot ? 0.9 : 0.8)) / pixelsPerMm(frame);
  const lines = said.flatMap(({ text, role, soft = false }) =>
    text ? linesOf(text, role, wide, measure, foot ? 2 : 5).map((line) => ({ file: keep(line), role, soft })) : [],
  );
  return lines.length ? { lines, foot } : null;
}

/** The filters that write lines into a frame. */
function writing({ lines, foot }: Said, frame: Frame, models: string): string {
  const find = createRequire(path.join(models, 'x'));
  const scale = pixelsPerMm(frame);
  const heights = lines.map(({ role }) => lineHeight(role) * scale);
  const all = heights.reduce((a, b) => a + b, 0);
  let y = foot ? frame.height * 0.95 - all : (frame.height - all) / 2;
  return lines
    .map(({ file, role, soft }, i) => {
      const head = TYPE[role].font === 'head';
      const at = y;
      y += heights[i]!;
      return `drawtext=fontfile=${quoted(find.resolve(head ? FILES.head : FILES.text))}:textfile=${quoted(file)}:expansion=none:fontsize=${(TYPE[role].size * POINT * scale).toFixed(1)}:fontcolor=${soft ? SOFT : INK}:x=(w-text_w)/2:y=${at.toFixed(0)}${foot ? ':shadowcolor=black@0.8:shadowx=1:shadowy=1:box=1:boxcolor=0x131A19@0.55:boxborderw=7' : ''}`;
    })
    .join(',');
}

/** How a picture moves from one part of itself to another, over so many frames from one on. */
function panning({ from, to }: Pan, first: number, frames: number): string {
  const at = (a: number, b: number, side: 'W' | 'H') =>
    `${side}*(${a.toFixed(6)}+${(b - a).toFixed(6)}*min(1,(on+${first})/${Math.max(1, frames)}))`;
  const edges = {
    left: at(from.x, to.x, 'W'),
    right: at(from.x + from.w, to.x + to.w, 'W'),
    top: at(from.y, to.y, 'H'),
    bottom: at(from.y + from.h, to.y + to.h, 'H'),
  };
  const { left, right, top, bottom } = edges;
  return `perspective=x0='${left}':y0='${top}':x1='${right}':y1='${top}':x2='${left}':y2='${bottom}':x3='${right}':y3='${bottom}':sense=source:interpolation=linear:eval=frame`;
}

const COLOURS = 'out_color_matrix=bt709:out_range=tv';

/** What ffmpeg is given for a slide: its inputs, and the filters that make frames of it. */
export interface Part {
  inputs: string[];
  filters: (input: number) => string;
}

/**
 * The frames of a slide, from its `first` on, `frames` of them, of `whole` it has with what fades out after it.
 */
export function partOf(
  look: Look,
  frame: Frame,
  { first, frames, whole }: { first: number; frames: number; whole: number },
  models: string,
): Part {
  const { width, height } = frame;
  const said = look.said ? `,${writing(look.said, frame, models)}` : '';
  const steady = `setsar=1,format=yuv420p,settb=1/${FRAMES},setpts=N`;
  const end = `${said},${steady}`;
  if (look.kind === 'card')
    return {
      inputs: ['-f', 'lavfi', '-i', `color=c=${GROUND}:s=${width}x${height}:r=${FRAMES}:d=${(frames + 1) / FRAMES}`],
      filters: (i) => `[${i}:v]trim=end_frame=${frames}${end}`,
    };
  if (look.kind === 'clip') {
    const fit = `scale=${width}:${height}:force_original_aspect_ratio=decrease:force_divisible_by=2:${COLOURS},pad=${width}:${height}:(ow-iw)/2:(oh-ih)/2:color=${GROUND}`;
    // Beyond its end the last of it stays.
    const from = Math.max(0, Math.min(first / FRAMES, look.seconds - 0.12));
    return {
      inputs: ['-ss', from.toFixed(3), '-i', look.file],
      filters: (i) =>
        `[${i}:v:0]fps=${FRAMES},${fit},tpad=stop_mode=clone:stop=${frames},trim=end_frame=${frames}${end}`,
    };
  }
  const { box, pan } = look;
  const large = pan ? LARGER : 1;
  const source = `scale=${even(box.w * large)}:${even(box.h * large)}:${COLOURS},format=yuv420p`;
  const moved = pan ? `,${panning(pan, first, whole)},scale=${box.w}:${box.h}` : '';
  return {
    inputs: ['-i', look.file],
    filters: (i) =>
      `[${i}:v]${source},loop=loop=-1:size=1:start=0,trim=end_frame=${frames},setpts=N/${FRAMES}/TB${moved},pad=${width}:${height}:${box.x}:${box.y}:color=${GROUND}${end}`,
  };
}

/** What is written as a stretch of film, each the same way so that they follow each other without being written anew. */
export const ENCODED = [
  ...['-an', '-r', String(FRAMES), '-c:v', 'libx264', '-preset', 'veryfast', '-crf', '21', '-pix_fmt', 'yuv420p'],
  ...['-g', String(2 * FRAMES), '-bf', '2', '-threads', '1', '-video_track_timescale', String(FRAMES * 512)],
  ...['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv'],
] as const;
