import { reason } from '@gemmel/contract';
import { execFile, spawn } from 'node:child_process';
import { mkdir, rename, stat, unlink } from 'node:fs/promises';
import path from 'node:path';
import { promisify } from 'node:util';
import { Damaged } from './damaged';

const run = promisify(execFile);

/** Local files only: a clip must not be able to name an address to be fetched. */
export const SAFE = ['-v', 'error', '-protocol_whitelist', 'file,pipe'];

/** What a clip is made of. */
export interface Probe {
  seconds: number;
  /** `video/audio`, such as `h264/aac`; `video/` without sound. */
  codec: string;
}

/** Looks at a clip's streams. Throws {@link Damaged} when nothing in it moves. */
export async function probe(file: string): Promise<Probe> {
  const { stdout } = await run(
    'ffprobe',
    [...SAFE, '-show_entries', 'format=duration:stream=codec_type,codec_name,duration', '-of', 'json', file],
    { timeout: 30_000, maxBuffer: 8e6 },
  );
  const read = JSON.parse(stdout) as {
    format?: { duration?: string };
    streams?: { codec_type: string; codec_name?: string; duration?: string }[];
  };
  const moving = read.streams?.find((stream) => stream.codec_type === 'video');
  if (!moving) throw new Damaged(reason('no-moving-picture'));
  const sound = read.streams?.find((stream) => stream.codec_type === 'audio');
  const seconds = Number(read.format?.duration ?? moving.duration);
  return {
    seconds: Number.isFinite(seconds) && seconds > 0 ? seconds : 0,
    codec: `${moving.codec_name ?? '?'}/${sound?.codec_name ?? ''}`.slice(0, 60),
  };
}

const BOXES = new Set(['mp4', 'm4v', 'mov', 'webm']);
const PICTURES = new Set(['h264', 'vp8', 'vp9', 'av1']);
const SOUNDS = new Set(['', 'aac', 'mp3', 'opus', 'vorbis', 'flac']);

/** Whether common browsers play a clip as it is. */
export function playsAsIs(format: string, codec: string | null): boolean {
  const [picture = '', sound = ''] = (codec ?? 'h264/aac').split('/');
  return BOXES.has(format) && PICTURES.has(picture) && SOUNDS.has(sound);
}

/** Runs ffmpeg to make `target`, whole or not at all; tells the seconds done so far. */
async function make(
  args: readonly string[],
  target: string,
  told: (seconds: number) => void = () => undefined,
  signal?: AbortSignal,
): Promise<void> {
  await mkdir(path.dirname(target), { recursive: true });
  const part = `${target}.${process.pid}.part`;
  await new Promise<void>((resolve, reject) => {
    const child = spawn(
      'nice',
      ['-n', '8', 'ffmpeg', '-y', ...SAFE, '-progress', 'pipe:1', ...args, '-f', 'mp4', part],
      {
        stdio: ['ignore', 'pipe', 'pipe'],
        ...(signal ? { signal } : {}),
      },
    );
    let said = '';
    child.stdout.on('data', (data: Buffer) => {
      const at = [...data.toString().matchAll(/out_time_us=(\d+)/g)].pop();
      if (at) told(Number(at[1]) / 1e6);
    });
    child.stderr.on('data', (data: Buffer) => (said = (said + data.toString()).slice(-400)));
    child.once('error', reject);
    child.once('close', (code) => {
      if (code === 0) resolve();
      else if (/No space left/i.test(said)) reject(Object.assign(new Error(said), { code: 'ENOSPC' }));
      else reject(new Error(`the clip could not be converted: ${said.trim() || `ended with ${code}`}`));
    });
  }).catch(async (error: unknown) => {
    await unlink(part).catch(() => undefined);
    throw error;
  });
  await rename(part, target);
}

const H264 = [
  ...['-c:v', 'libx264', '-preset', 'veryfast', '-pix_fmt', 'yuv420p', '-movflags', '+faststart'],
  // No track of time codes, which some cameras keep.
  ...['-write_tmcd', '0'],
];
const even = (long: number) =>
  `scale='if(gte(iw,ih),min(${long},iw),-2)':'if(gte(iw,ih),-2,min(${long},ih))',scale=trunc(iw/2)*2:trunc(ih/2)*2`;

/** A few silent seconds, small, to be played under the pointer. */
export const makeMoving = (file: string, seconds: number, target: string): Promise<void> =>
  make(
    [
      '-ss',
      (seconds > 8 ? seconds * 0.15 : 0).toFixed(2),
      '-i',
      file,
      '-t',
      '4',
      '-an',
      '-vf',
      `${even(480)},fps=15`,
      ...H264,
      '-crf',
      '30',
    ],
    target,
  );

/** The whole clip in a form that every browser plays, at most 1920 long. */
export const makePlayable = (
  file: string,
  target: string,
  told: (seconds: number) => void,
  signal?: AbortSignal,
): Promise<void> =>
  make(
    [
      '-i',
      file,
      '-map',
      '0:v:0',
      '-map',
      '0:a:0?',
      '-vf',
      even(1920),
      ...H264,
      '-crf',
      '23',
      '-c:a',
      'aac',
      '-b:a',
      '160k',
      '-ac',
      '2',
    ],
    target,
    told,
    signal,
  );

/** Whether a file is there and holds something. */
export const isThere = async (file: string): Promise<boolean> => ((await stat(file).catch(() => null))?.size ?? 0) > 0;
