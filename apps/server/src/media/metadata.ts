import { readOffset, readStamp, takenFromFileName, takenFromFolders, type Taken } from '@gemmel/core';
import { ExifTool } from 'exiftool-vendored';
import exiftoolPath from 'exiftool-vendored.pl';

/** What a file says about itself and what somebody wrote into it. */
export interface Metadata {
  taken: Taken | null;
  lat: number | null;
  lon: number | null;
  make: string | null;
  model: string | null;
  exposure: string | null;
  title: string | null;
  caption: string | null;
  rating: number;
  tags: string[];
}

let tool: ExifTool | null = null;

/** The one helper process that reads and clears metadata. */
export const exiftool = () => (tool ??= new ExifTool({ exiftoolPath, maxProcs: 2, taskTimeoutMillis: 20_000 }));

/** How long the helper may take for one file before it is given up and started afresh. */
const PATIENCE = 40_000;

/** The helper is stuck or gone, which says nothing about the file: the work is to be tried again. */
export class ToolTrouble extends Error {}

/** Has the helper do something, and replaces it when it does not answer. */
export async function withExiftool<T>(work: (tool: ExifTool) => Promise<T>, patience = PATIENCE): Promise<T> {
  const mine = exiftool();
  let timer: ReturnType<typeof setTimeout> | undefined;
  const stuck = new Promise<never>((_, reject) => {
    timer = setTimeout(() => {
      if (tool === mine) tool = null;
      void mine.end(false).catch(() => undefined);
      reject(new ToolTrouble('The reader of metadata did not answer; it is started afresh.'));
    }, patience);
  });
  try {
    return await Promise.race([work(mine), stuck]);
  } finally {
    clearTimeout(timer);
  }
}

/** Ends the helper process. */
export async function endMetadata(): Promise<void> {
  await tool?.end();
  tool = null;
}

type Raw = Record<string, unknown>;

const text = (raw: Raw, ...names: string[]): string | null => {
  for (const name of names) {
    const value = raw[name];
    if ((typeof value === 'string' || typeof value === 'number') && String(value).trim())
      return String(value)
        .replace(/\p{Cc}+/gu, ' ')
        .trim();
  }
  return null;
};
const number = (raw: Raw, name: string): number | null => {
  const value = Number(raw[name]);
  return raw[name] !== undefined && raw[name] !== '' && Number.isFinite(value) ? value : null;
};

/** GPS instants are UTC; everything else a camera writes is wall-clock time, with an offset at best. */
function takenFrom(raw: Raw, video: boolean): Taken | null {
  const stamp = (name: string, subsec: string, offset: string): Taken | null => {
    const value = text(raw, name);
    const sub = text(raw, subsec);
    const read = readStamp(
      value && sub && !value.includes('.') ? value.replace(/^(\d{4}:\d\d:\d\d \d\d:\d\d:\d\d)/, `$1.${sub}`) : value,
    );
    if (!read) return null;
    return {
      local: read.local,
      offset: read.offset ?? readOffset(text(raw, offset)),
      source: 'camera',
      certainty: 0.9,
    };
  };
  const still =
    stamp('DateTimeOriginal', 'SubSecTimeOriginal', 'OffsetTimeOriginal') ??
    stamp('CreateDate', 'SubSecTimeDigitized', 'OffsetTimeDigitized');
  if (!video) return still;
  const zoned = readStamp(text(raw, 'CreationDate'));
  if (zoned) return { ...zoned, source: 'camera', certainty: 0.9 };
  // QuickTime's own clock runs in UTC: without a stated zone the wall clock here is only a guess.
  const utc = readStamp(text(raw, 'CreateDate', 'MediaCreateDate'));
  if (!utc) return still;
  const date = new Date(`${utc.local}Z`);
  const offset = -date.getTimezoneOffset();
  return {
    local: new Date(date.getTime() + offset * 60_000).toISOString().slice(0, -1),
    offset,
    source: 'camera',
    certainty: 0.6,
  };
}

function exposureOf(raw: Raw): string | null {
  const parts: string[] = [];
  const f = number(raw, 'FNumber');
  const t = number(raw, 'ExposureTime');
  const iso = number(raw, 'ISO');
  const focal = number(raw, 'FocalLength');
  if (f) parts.push(`f/${Math.round(f * 10) / 10}`);
  if (t) parts.push(t >= 0.4 ? `${Math.round(t * 10) / 10} s` : `1/${Math.round(1 / t)} s`);
  if (iso) parts.push(`ISO ${iso}`);
  if (focal) parts.push(`${Math.round(focal)} mm`);
  return parts.length ? parts.join(' · ') : null;
}

const listOf = (value: unknown): string[] =>
  (Array.isArray(value) ? value : value === undefined ? [] : [value])
    .map((v) => String(v).trim())
    .filter((v) => v && v.length <= 80);

/**
 * Reads a file's metadata, and that of a sidecar beside it, which has the last word.
 * @param original the path the file came from, for dates in its name and in those of its folders.
 * Unreadable metadata is no metadata: the picture itself decides whether a file is damaged. A reader that does not
 * answer is an error, so that a date is never lost for lack of patience.
 */
export async function readMetadata(
  file: string,
  original: string,
  video: boolean,
  sidecar: string | null = null,
): Promise<Metadata> {
  const read = async (path: string): Promise<Raw> => {
    try {
      return (await withExiftool((helper) => helper.readRaw(path, { readArgs: ['-fast', '-n'] }))) as Raw;
    } catch (error) {
      if (error instanceof ToolTrouble || /timeout|ended|shut/i.test(String(error))) throw error;
      return {};
    }
  };
  const raw: Raw = { ...(await read(file)), ...(sidecar ? stripFile(await read(sidecar)) : {}) };
  const lat = number(raw, 'GPSLatitude');
  const lon = number(raw, 'GPSLongitude');
  const placed =
    lat !== null && lon !== null && Math.abs(lat) <= 90 && Math.abs(lon) <= 180 && !(lat === 0 && lon === 0);
  return {
    taken: takenFrom(raw, video) ?? takenFromFileName(original.split('/').pop() ?? '') ?? takenFromFolders(original),
    lat: placed ? lat : null,
    lon: placed ? lon : null,
    make: text(raw, 'Make'),
    model: text(raw, 'Model'),
    exposure: exposureOf(raw),
    title: text(raw, 'Title', 'ObjectName')?.slice(0, 200) ?? null,
    caption: text(raw, 'Description', 'ImageDescription', 'Caption-Abstract')?.slice(0, 4000) ?? null,
    rating: Math.max(0, Math.min(5, Math.round(number(raw, 'Rating') ?? 0))),
    tags: [...new Set([...listOf(raw['Subject']), ...listOf(raw['Keywords'])])].slice(0, 50),
  };
}

/** A sidecar's own name, size and dates say nothing about the picture. */
function stripFile(raw: Raw): Raw {
  return Object.fromEntries(
    Object.entries(raw).filter(([key]) => !/^(File|Source|Directory|ExifTool|Error|Warning|MIME)/.test(key)),
  );
}
