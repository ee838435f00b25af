import type { PieceSettings } from '@gemmel/contract';
import { FRAMES, filmSize, lengthOf, panOver, planShow, saySpan, stretches, WORDS, type Slide } from '@gemmel/core';
import { msg } from '@lingui/core/macro';
import { createHash } from 'node:crypto';
import { writeFileSync } from 'node:fs';
import { rename, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import type { App } from '../../context';
import { probe } from '../../media/clips';
import { musicFile } from '../../show/music';
import { originalOf } from '../../touchup/original';
import { speechIn } from '../../words/speech';
import { writeImage } from '../image';
import { fileName, type Made, type Making } from '../maker';
import type { PieceOf, PiecePicture } from '../pictures';
import { toldOf } from '../told';
import { measureFor } from '../book/fonts';
import { ENCODED, even, LARGER, partOf, saidIn, within, type Frame, type Look } from './look';
import { ffmpeg, written } from './ffmpeg';

type FilmMaking = Making<Extract<PieceSettings, { kind: 'film' }>>;

/** Room around pictures, and between two that stand together, as a share of the frame's short side. */
const BETWEEN = 0.014;
/** How loud music is while a clip is heard. */
const QUIETER = 0.18;
/** How long music takes to come and to go, in seconds. */
const COMES = 1;
const GOES = 4;

/** The pieces of music that are there, in order, and how long all of them last. */
async function musicIn(
  app: App,
  library: number,
  ids: readonly number[],
): Promise<{ files: string[]; seconds: number }> {
  const rows = new Map(
    (
      await app
        .db('music')
        .where('library_id', library)
        .whereNull('removed_at')
        .whereIn('id', [...ids])
        .select('id', 'seconds')
    ).map((row) => [row.id, row.seconds]),
  );
  const files: string[] = [];
  let seconds = 0;
  for (const id of ids) {
    if (!rows.has(id)) continue;
    files.push((await musicFile(app, library, id)).file);
    seconds += rows.get(id)!;
  }
  return { files, seconds };
}

/** A film's slides, as its show would be played on a screen of its shape. */
export async function slidesOf(
  app: App,
  library: number,
  of: PieceOf,
  settings: FilmMaking['settings'],
): Promise<{ slides: Slide[]; music: string[] }> {
  const { files, seconds } = await musicIn(app, library, settings.show.music);
  const { width, height } = filmSize(settings);
  const slides = planShow(
    {
      pictures: of.pictures.map((picture) => ({
        id: picture.id,
        ratio: picture.width / Math.max(1, picture.height),
        seconds: picture.kind === 'video' ? picture.seconds || 10 : null,
        taken: picture.taken,
      })),
      chapters: of.chapters,
      screen: width / height,
      music: seconds,
      seed: of.pictures.length,
    },
    settings.show,
  );
  return { slides, music: files };
}

/** How long a film will be, in seconds. */
export const filmLength = async (
  app: App,
  library: number,
  of: PieceOf,
  settings: FilmMaking['settings'],
): Promise<number> => lengthOf((await slidesOf(app, library, of, settings)).slides);

/** How the slides look, each with what it needs on the disk. Pictures that can't be read are named, and their slides stay dark. */
async function looksOf(making: FilmMaking, slides: readonly Slide[]): Promise<{ looks: Look[]; missing: string[] }> {
  const { app, library, name, of, settings, parts, signal, report } = making;
  const frame: Frame = filmSize(settings);
  const measure = await measureFor(app.config.models);
  const speech = speechIn(settings.language);
  const by = new Map(of.pictures.map((picture) => [picture.id, picture]));
  const missing: string[] = [];
  const days = of.pictures.flatMap(({ day }) => day ?? []).sort();
  const room = { x: 0, y: 0, w: frame.width, h: frame.height };
  const foot = (pictures: readonly PiecePicture[]) =>
    saidIn(
      frame,
      [
        {
          text:
            pictures
              .map((one) => toldOf(one, settings.show.tells, settings.language))
              .filter(Boolean)
              .join(' – ') || null,
          role: 'under',
        },
      ],
      true,
      measure,
      keep,
    );
  const still = async (picture: PiecePicture, box: { w: number; h: number }, larger: number): Promise<string> => {
    const size = { width: even(box.w * larger), height: even(box.h * larger) };
    const key = createHash('sha256')
      .update(JSON.stringify([picture.id, picture.sha, size]))
      .digest('hex')
      .slice(0, 32);
    const file = path.join(parts, `${key}.jpg`);
    await writeImage(app, library, picture.id, { part: null, ...size, quality: 93 }, file);
    return file;
  };
  const keep = (text: string): string => {
    const file = path.join(parts, `${createHash('sha256').update(text).digest('hex').slice(0, 32)}.txt`);
    writeFileSync(file, text);
    return file;
  };
  const dark: Look = { kind: 'card', said: { lines: [], foot: false } };
  const lookOf = async (slide: Slide): Promise<Look> => {
    if (slide.kind === 'card') {
      const chapter = slide.card === 'chapter' ? of.chapters.find(({ id }) => id === slide.chapter) : undefined;
      const said = saidIn(
        frame,
        slide.card === 'begin'
          ? [
              { text: name, role: 'book' },
              {
                text: days.length ? saySpan(days[0]!, days.at(-1)!, WORDS[settings.language]) : null,
                role: 'under',
                soft: true,
              },
            ]
          : slide.card === 'end'
            ? [{ text: speech._(msg`The end`), role: 'chapter' }]
            : [
                { text: chapter?.heading ?? null, role: 'chapter' },
                { text: chapter?.note ?? null, role: 'under', soft: true },
              ],
        false,
        measure,
        keep,
      );
      return said ? { kind: 'card', said } : dark;
    }
    const pictures = slide.ids.map((id) => by.get(id)!);
    const [one, two] = pictures as [PiecePicture, PiecePicture | undefined];
    try {
      if (one.kind === 'video') {
        const original = await originalOf(app, library, one.id);
        if (!original) throw new Error('gone');
        const { seconds } = await probe(original.file);
        return { kind: 'clip', file: original.file, seconds: seconds || slide.seconds, said: foot([one]) };
      }
      if (!two) {
        const box = within(one.width / one.height, room);
        const pan = settings.show.movement === 'gentle' ? panOver(one.faces, one.id) : null;
        return { kind: 'still', file: await still(one, box, pan ? LARGER : 1), box, pan, said: foot([one]) };
      }
      // Two stand together: beside each other on a wide frame, above each other on an upright one.
      const gap = even(Math.min(frame.width, frame.height) * BETWEEN);
      const wide = frame.width > frame.height;
      const half = wide
        ? { w: (frame.width - gap) / 2, h: frame.height }
        : { w: frame.width, h: (frame.height - gap) / 2 };
      const boxes = [one, two].map((picture, i) =>
        within(picture.width / picture.height, {
          x: wide ? i * (half.w + gap) : 0,
          y: wide ? 0 : i * (half.h + gap),
          ...half,
        }),
      );
      const files = await Promise.all([one, two].map((picture, i) => still(picture, boxes[i]!, 1)));
      const file = path.join(
        parts,
        `${createHash('sha256')
          .update(JSON.stringify([files, boxes, frame]))
          .digest('hex')
          .slice(0, 32)}.jpg`,
      );
      if (!(await stat(file).catch(() => null))) {
        await sharp({ create: { ...frame, channels: 3, background: '#131A19' } })
          .composite(
            await Promise.all(
              files.map(async (input, i) => ({
                input: await sharp(input).resize(boxes[i]!.w, boxes[i]!.h, { fit: 'fill' }).toBuffer(),
                left: boxes[i]!.x,
                top: boxes[i]!.y,
              })),
            ),
          )
          .jpeg({ quality: 93 })
          .toFile(`${file}.part`);
        await rename(`${file}.part`, file);
      }
      return { kind: 'still', file, box: { ...room }, pan: null, said: foot([one, two]) };
    } catch (error) {
      signal.throwIfAborted();
      if ((error as NodeJS.ErrnoException).code === 'ENOSPC') throw error;
      missing.push(...pictures.map((picture) => picture.name));
      return dark;
    }
  };
  const looks: Look[] = [];
  const waiting = [...slides.entries()][Symbol.iterator]();
  let done = 0;
  const work = async () => {
    for (const [i, slide] of waiting) {
      signal.throwIfAborted();
      looks[i] = await lookOf(slide);
      report(++done, slides.length * PACE);
    }
  };
  await Promise.all(Array.from({ length: app.config.threads }, work));
  return { looks, missing };
}

/** Making a slide's frames takes about so many times as long as making its still. */
const PACE = 5;

/**
 * Makes a film: each slide with what fades into it as a stretch of its own, several at once, so that what was cut goes on where it was; then
 * all of them one after another with music and the sound of clips.
 */
export async function makeFilm(making: FilmMaking): Promise<Made> {
  const { app, library, name, of, settings, to, parts, signal, report } = making;
  const { slides, music } = await slidesOf(app, library, of, settings);
  if (slides.length === 0) return { files: [], missing: [] };
  const { looks, missing } = await looksOf(making, slides);
  const frame = filmSize(settings);
  const all = stretches(slides);
  const fileOf = (i: number): string => {
    const key = JSON.stringify([
      frame,
      looks[i],
      looks[i - 1] ?? null,
      all[i]!.frames,
      all[i]!.fade,
      all[i - 1]?.frames ?? 0,
    ]);
    return path.join(parts, `${createHash('sha256').update(key).digest('hex').slice(0, 32)}.mp4`);
  };
  let done = slides.length;
  const waiting = all.entries();
  const work = async () => {
    for (const [i, { frames, fade }] of waiting) {
      const after = all[i + 1]?.fade ?? 0;
      const now = partOf(looks[i]!, frame, { first: 0, frames, whole: frames + after }, app.config.models);
      const before = all[i - 1];
      const graph =
        before && fade
          ? (() => {
              const was = partOf(
                looks[i - 1]!,
                frame,
                { first: before.frames, frames: fade, whole: before.frames + fade },
                app.config.models,
              );
              const mixed = `${was.filters(0)}[was];${now.filters(1)}[now];[was][now]xfade=transition=fade:duration=${fade / FRAMES}:offset=0`;
              return { inputs: [...was.inputs, ...now.inputs], filter: mixed };
            })()
          : { inputs: now.inputs, filter: `${now.filters(0)}${i === 0 && fade ? `,fade=t=in:s=0:n=${fade}` : ''}` };
      // The last of it goes dark.
      const end = i === all.length - 1 && frames > 20 ? `,fade=t=out:s=${frames - 15}:n=15` : '';
      await written(
        fileOf(i),
        [
          ...graph.inputs,
          '-filter_complex',
          `${graph.filter}${end}[film]`,
          '-map',
          '[film]',
          '-frames:v',
          String(frames),
          ...ENCODED,
        ],
        signal,
      );
      done += PACE - 1;
      report(done, slides.length * PACE);
    }
  };
  await Promise.all(Array.from({ length: app.config.threads }, work));
  const list = path.join(parts, 'list.txt');
  await writeFile(list, all.map((_, i) => `file '${fileOf(i)}'\n`).join(''));
  const seconds = all.reduce((sum, { frames }) => sum + frames, 0) / FRAMES;
  const file = `${fileName(name)}.mp4`;
  const half = path.join(to, 'film.half.mp4');
  const heard = looks.flatMap((look, i) =>
    settings.sound && look.kind === 'clip'
      ? [{ file: look.file, from: all[i]!.from / FRAMES, seconds: all[i]!.frames / FRAMES }]
      : [],
  );
  const sounding = [];
  for (const clip of heard) if (!(await probe(clip.file)).codec.endsWith('/')) sounding.push(clip);
  await ffmpeg([...soundOf(list, seconds, music, sounding), half], signal);
  await rename(half, path.join(to, file));
  const { size } = await stat(path.join(to, file));
  report(1, 1);
  return { files: [{ name: file, bytes: size, pages: null, seconds: Math.round(seconds * 100) / 100 }], missing };
}

/** What ffmpeg is told to put the stretches together with their sound. Without any there is a silent track, which every player takes. */
function soundOf(
  list: string,
  seconds: number,
  music: readonly string[],
  clips: readonly { file: string; from: number; seconds: number }[],
): string[] {
  const inputs = [
    '-f',
    'concat',
    '-safe',
    '0',
    '-i',
    list,
    '-f',
    'lavfi',
    '-t',
    seconds.toFixed(3),
    '-i',
    'anullsrc=r=48000:cl=stereo',
  ];
  const same = 'aresample=48000,aformat=sample_fmts=fltp:channel_layouts=stereo';
  const filters: string[] = [];
  const tracks = ['[1:a]'];
  let next = 2;
  if (music.length) {
    for (const file of music) inputs.push('-i', file);
    const pieces = music.map((_, i) => {
      filters.push(`[${next + i}:a:0]${same}[m${i}]`);
      return `[m${i}]`;
    });
    next += music.length;
    const low = clips
      .map(({ from, seconds: long }) => `between(t,${from.toFixed(2)},${(from + long).toFixed(2)})`)
      .join('+');
    filters.push(
      `${pieces.join('')}concat=n=${pieces.length}:v=0:a=1,aloop=loop=-1:size=2147483647,atrim=duration=${seconds.toFixed(3)},asetpts=N/SR/TB` +
        `${low ? `,volume='if(${low},${QUIETER},1)':eval=frame` : ''}` +
        `,afade=t=in:d=${COMES},afade=t=out:st=${Math.max(0, seconds - GOES).toFixed(3)}:d=${GOES}[music]`,
    );
    tracks.push('[music]');
  }
  for (const [i, clip] of clips.entries()) {
    inputs.push('-t', clip.seconds.toFixed(3), '-i', clip.file);
    const ms = Math.round(clip.from * 1000);
    filters.push(
      `[${next}:a:0]${same},afade=t=in:d=0.2,afade=t=out:st=${Math.max(0, clip.seconds - 0.4).toFixed(3)}:d=0.4,adelay=${ms}|${ms}[c${i}]`,
    );
    tracks.push(`[c${i}]`);
    next++;
  }
  filters.push(`${tracks.join('')}amix=inputs=${tracks.length}:duration=first:normalize=0,alimiter=limit=0.95[sound]`);
  return [
    ...inputs,
    ...[
      '-filter_complex',
      filters.join(';'),
      '-map',
      '0:v',
      '-map',
      '[sound]',
      '-c:v',
      'copy',
      '-c:a',
      'aac',
      '-b:a',
      '160k',
    ],
    ...['-t', seconds.toFixed(3), '-movflags', '+faststart'],
  ];
}
