import path from 'node:path';
import { execFile } from 'node:child_process';
import { copyFile } from 'node:fs/promises';
import { promisify } from 'node:util';
import sharp, { type Sharp } from 'sharp';
import { SAFE } from './clips';
import { withExiftool } from './metadata';
import { decode } from './decode';
import { sharpOf } from './pixels';
import { pictureInside } from './raw';
import { isRare, sniffFile } from './sniff';

const run = promisify(execFile);

/** What stays in a cleaned picture: how it is turned, and what its colours mean. */
const RETAIN = ['Orientation', 'ICC_Profile'];

/** Groups of tags that say how a file is built; in every other somebody or something may be spoken of (ExifTool's family 0). */
const BUILT = /^(SourceFile|ExifTool|File|Composite|JFIF|PNG|RIFF|GIF|ICC_Profile|QuickTime|Meta|Adobe)$/;
/** Tags that say nothing of anybody: turning, colours, resolution, how bytes are arranged. */
const SILENT =
  /^(Orientation|ColorSpace|[XY]Resolution|ResolutionUnit|YCbCr\w+|ExifVersion|FlashpixVersion|ComponentsConfiguration|(Exif)?Image(Width|Height|Size)|XMPToolkit|ExifByteOrder|DCTEncodeVersion|APP14Flags\d|ColorTransform)$/;

/** What a file still says on the side, as `group:tag`. */
async function spokenIn(file: string): Promise<string[]> {
  const tags = (await withExiftool((tool) => tool.readRaw(file, { readArgs: ['-G0', '-a', '-ee'] }))) as object;
  return Object.keys(tags).filter((key) => {
    const [group = '', tag] = key.split(':');
    if (tag === undefined) return false; // the reader's own remarks
    return (
      (!BUILT.test(group) && !SILENT.test(tag)) || /^(Comment|Author|Artist|Title|Description|Software)$/.test(tag)
    );
  });
}

/** Formats that can be written anew when something in them cannot be taken out singly. */
const PLAIN = new Set(['jpg', 'png', 'webp']);

/** Writes a picture anew from its pixels, upright, with what its colours mean and nothing else. */
const anew = (image: Sharp): Sharp => image.rotate().keepIccProfile();

async function tiff(source: string, target: string): Promise<void> {
  const { depth } = await sharp(source).metadata();
  const image = anew(sharp(source, { limitInputPixels: false }));
  await (depth === 'ushort' ? image.toColourspace('rgb16') : image).tiff({ compression: 'deflate' }).toFile(target);
}

const TURNS: Record<number, (image: Sharp) => Sharp> = {
  2: (i) => i.flop(),
  3: (i) => i.rotate(180),
  4: (i) => i.flip(),
  5: (i) => i.rotate(90).flop(),
  6: (i) => i.rotate(90),
  7: (i) => i.rotate(270).flop(),
  8: (i) => i.rotate(270),
};

/** The picture a camera put inside a negative, upright: the negative itself cannot be given without what it says. */
async function insideOf(source: string, target: string): Promise<void> {
  const inside = await pictureInside(source, `${target}.inside`);
  if (!inside) return rare(source, target, path.extname(source).slice(1));
  const own = (await sharp(inside.file).metadata()).orientation ?? 1;
  const image = sharp(inside.file);
  const turned = own !== 1 ? image.rotate() : (TURNS[inside.orientation] ?? ((i: Sharp) => i))(image);
  await turned.keepIccProfile().jpeg({ quality: 95 }).toFile(target);
}

/** The format a cleaned picture has: its own, or one that everybody can open, for negatives and rare kinds. */
export const cleanFormat = (format: string, raw: boolean): string => (raw || isRare(format) ? 'jpg' : format);

/** A picture of a kind that few can open, from its pixels. */
async function rare(source: string, target: string, format: string): Promise<void> {
  const kind = await sniffFile(source, `x.${format}`);
  if (!kind) throw new Error('it is no longer what it was');
  await sharpOf((await decode(source, kind)).pixels)
    .jpeg({ quality: 95 })
    .toFile(target);
}

/**
 * Writes a copy of a picture without anything it says on the side: places, names, cameras, words. Its bytes stay as they are;
 * TIFF, whose words cannot be taken out singly, is written anew without loss, and of a negative the picture inside it is
 * given. Throws when it cannot be done.
 */
export async function cleanPhoto(source: string, target: string, format: string, raw: boolean): Promise<void> {
  if (raw) return insideOf(source, target);
  if (isRare(format)) return rare(source, target, format);
  if (format === 'tif') return tiff(source, target);
  await copyFile(source, target);
  await withExiftool((tool) => tool.deleteAllTags(target, { retain: RETAIN }));
  const spoken = await spokenIn(target);
  if (spoken.length === 0) return;
  if (!PLAIN.has(format)) throw new Error(`it still says ${spoken.slice(0, 5).join(', ')}`);
  const image = anew(sharp(source));
  await (
    format === 'jpg' ? image.jpeg({ quality: 95 }) : format === 'png' ? image.png() : image.webp({ lossless: true })
  ).toFile(target);
}

/** What container each format of clip is written as. */
const CONTAINERS: Record<string, string> = {
  mp4: 'mp4',
  m4v: 'mp4',
  mov: 'mov',
  '3gp': '3gp',
  webm: 'webm',
  mkv: 'matroska',
  avi: 'avi',
  mts: 'mpegts',
  mpg: 'mpeg',
  vob: 'vob',
  wmv: 'asf',
  flv: 'flv',
  ogv: 'ogg',
};

/** Cameras write date and place between the pictures of a clip, too: units of these kinds are left out (H.264 and H.265: SEI; MPEG-2: user data). */
const WITHIN: Record<string, string> = { h264: '6', hevc: '39-40', mpeg2video: '178' };

/**
 * Writes a copy of a clip with its first picture and all sounds as they are, without words, places, subtitles or tracks of
 * data. Throws when its kind of box cannot be written.
 */
export async function cleanClip(source: string, target: string, format: string, codec: string | null): Promise<void> {
  const container = CONTAINERS[format];
  if (!container) throw new Error(`a clip of the kind ${format} cannot be written`);
  const units = WITHIN[(codec ?? '').split('/')[0]!];
  await run(
    'nice',
    [
      ...['-n', '8', 'ffmpeg', '-y', '-nostdin', ...SAFE, '-i', source, '-map', '0:v:0', '-map', '0:a?', '-c', 'copy'],
      ...['-map_metadata', '-1', '-map_metadata:s:v', '-1', '-map_metadata:s:a', '-1', '-map_chapters', '-1'],
      ...(units ? ['-bsf:v', `filter_units=remove_types=${units}`] : []),
      ...(container === 'mp4' || container === 'mov' ? ['-movflags', '+faststart'] : []),
      ...['-fflags', '+bitexact', '-f', container, target],
    ],
    { timeout: 30 * 60_000, maxBuffer: 8e6 },
  );
}
