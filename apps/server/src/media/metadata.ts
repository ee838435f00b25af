import {
  DAY,
  type Conflict,
  instantFromFileName,
  mergeSaid,
  middleOf,
  offsetFromGps,
  readOffset,
  readStamp,
  fromEdtf,
  readWhen,
  type Said,
  type Taken,
  takenFromFileName,
  takenFromFolders,
  TAKEN_SOURCES,
} from '@gemmel/core';
import { ToolTrouble, withExiftool } from './exiftool';
import { markedOf, number, saidOf, text, type Marked, type Raw } from './said';

export { answers, endMetadata, exiftool, ToolTrouble, withExiftool } from './exiftool';

/** An instant somebody noted without saying which wall clock: QuickTime's own time, satellites, a number in a name. */
export interface Instant {
  /** Milliseconds since 1970. */
  at: number;
  source: Taken['source'];
  certainty: number;
}

/** What a file says about itself and what somebody wrote into it or beside it. */
export interface Metadata {
  /** Every wall-clock time it speaks of, in the order of trust. */
  clues: Taken[];
  instants: Instant[];
  make: string | null;
  model: string | null;
  exposure: string | null;
  /** The lens, as the camera calls it. */
  lens: string | null;
  said: Said;
  conflicts: Conflict[];
  /** Marked faces with the size they were marked on, which tells whether they are turned. */
  marked: Marked[];
}

/** How sure a date is that somebody wrote beside a picture. */
const BESIDE = 0.95;

function stampOf(
  raw: Raw,
  name: string,
  subsec: string,
  offset: string,
  source: Taken['source'],
  certainty: number,
): Taken | null {
  const value = text(raw, name);
  const sub = text(raw, subsec);
  const read = readStamp(
    value && sub && !value.includes('.') ? value.replace(/^(\d{4}:\d\d:\d\d \d\d:\d\d:\d\d)/, `$1.${sub}`) : value,
  );
  if (read?.span) return { ...read, source, certainty: Math.min(DAY, certainty) };
  return read && { local: read.local, offset: read.offset ?? readOffset(text(raw, offset)), source, certainty };
}

const instantOf = (value: string | null): number | null => {
  const read = readStamp(value);
  return read && !read.span ? Date.parse(`${read.local}Z`) - (read.offset ?? 0) * 60_000 : null;
};

/** A date of which no more is known than a month, a season or a year: as EDTF, in words, or as a date cut short (ISO 8601). */
function rememberedIn(raw: Raw, certainty: number): Taken | null {
  const cut = [text(raw, 'DateTimeOriginal'), text(raw, 'DateCreated')]
    .find((date) => date && /^\d{4}([:-]\d\d)?$/.test(date))
    ?.replace(':', '-');
  const words = text(raw, 'Taken') ?? cut;
  // What Gemmel wrote before it wrote EDTF were words.
  const span = words ? (fromEdtf(words) ?? readWhen(words, new Date().getFullYear())) : null;
  if (!span || (span.exact === 'day' && !span.about)) return null;
  return { local: middleOf(span), offset: null, source: 'written', certainty, span };
}

/** The times a file's own metadata speaks of. */
function timesOf(raw: Raw, video: boolean): { clues: Taken[]; instants: Instant[] } {
  const clues: (Taken | null)[] = [];
  const instants: Instant[] = [];
  const gps = instantOf(text(raw, 'GPSDateTime'));
  if (video) {
    // QuickTime's own clock runs in UTC; only this one tag states the wall clock with its zone.
    clues.push(stampOf(raw, 'CreationDate', '', '', 'camera', 0.9));
    const original = stampOf(raw, 'DateTimeOriginal', 'SubSecTimeOriginal', 'OffsetTimeOriginal', 'camera', 0.85);
    clues.push(original);
    const utc = instantOf(text(raw, 'CreateDate', 'MediaCreateDate', 'TrackCreateDate'));
    // Zero is an empty field, whether counted from 1904 or from 1970.
    if (utc !== null && utc > 0) instants.push({ at: utc, source: 'camera', certainty: 0.75 });
  } else {
    clues.push(
      stampOf(raw, 'DateTimeOriginal', 'SubSecTimeOriginal', 'OffsetTimeOriginal', 'camera', 0.9) ??
        stampOf(raw, 'CreateDate', 'SubSecTimeDigitized', 'OffsetTimeDigitized', 'camera', 0.88),
    );
    const camera = clues[0];
    if (camera && camera.offset === null && gps !== null) camera.offset = offsetFromGps(camera.local, gps);
  }
  if (gps !== null) instants.push({ at: gps, source: 'gps', certainty: 0.7 });
  clues.push(
    stampOf(raw, 'DateTimeCreated', '', '', 'written', 0.6) ??
      stampOf(raw, 'DateCreated', '', '', 'written', 0.6) ??
      rememberedIn(raw, 0.6),
  );
  if (!video) clues.push(stampOf(raw, 'ModifyDate', 'SubSecTime', 'OffsetTime', 'camera', 0.4));
  return { clues: clues.filter((c) => c !== null), instants };
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

/** Cameras write their own name or nothing into these fields; nobody said that. */
const BY_MACHINE = /^(digital camera|default|untitled|dcim|sony dsc|olympus digital camera|screenshot|dav)$/i;

/** All tags of a file, also from where they do not belong: an edited clip or picture has them in odd places. */
async function readTags(file: string): Promise<Raw> {
  try {
    return (await withExiftool((helper) =>
      helper.readRaw(file, { readArgs: ['-n', '-struct'], useMWG: false }),
    )) as Raw;
  } catch (error) {
    if (error instanceof ToolTrouble) throw error;
    if (/timeout|ended|shut/i.test(String(error))) throw new ToolTrouble(String(error));
    return {};
  }
}

/** A sidecar's date. Gemmel's own says where it came from and how sure it is, so that it stays what it was wherever it goes. */
function takenBeside(raw: Raw): Taken | null {
  const taken =
    rememberedIn(raw, BESIDE) ?? stampOf(raw, 'DateTimeOriginal', '', 'OffsetTimeOriginal', 'written', BESIDE);
  if (!taken) return null;
  const source = TAKEN_SOURCES.find((one) => one === text(raw, 'Dated'));
  const sure = number(raw, 'Sure');
  if (!source) return { ...taken, certainty: BESIDE };
  return { ...taken, source, certainty: sure !== null && sure >= 0 && sure <= 1 ? sure : taken.certainty };
}

/** What one sidecar says, for a picture that is here already. */
export async function readSidecar(file: string): Promise<{ said: Said; marked: Marked; taken: Taken | null }> {
  const raw = stripFile(await readTags(file));
  return { said: saidOf(raw), marked: markedOf(raw), taken: takenBeside(raw) };
}

/**
 * Reads a file's metadata, and that of sidecars beside it, which have the last word; where they differ, both are told.
 * @param original the path the file came from, for dates in its name and in those of its folders.
 * Unreadable metadata is no metadata: the picture itself decides whether a file is damaged. A reader that does not
 * answer is an error, so that a date is never lost for lack of patience.
 */
export async function readMetadata(
  file: string,
  original: string,
  video: boolean,
  sidecars: readonly string[] = [],
): Promise<Metadata> {
  const raw = await readTags(file);
  const { clues, instants } = timesOf(raw, video);
  let said = saidOf(raw);
  if (said.caption && BY_MACHINE.test(said.caption)) said = { ...said, caption: null };
  let conflicts: Conflict[] = [];
  const marked = [markedOf(raw)];
  for (const sidecar of sidecars) {
    const beside = await readSidecar(sidecar);
    const merged = mergeSaid(beside.said, said);
    said = merged.said;
    conflicts = [...conflicts, ...merged.conflicts];
    marked.unshift(beside.marked);
    if (beside.taken) clues.unshift(beside.taken);
  }
  const name = original.split('/').pop() ?? '';
  const named = instantFromFileName(name);
  if (named !== null) instants.push({ at: named, source: 'file name', certainty: 0.5 });
  for (const clue of [takenFromFileName(name), takenFromFolders(original)]) if (clue) clues.push(clue);
  return {
    clues,
    instants,
    make: text(raw, 'Make'),
    model: text(raw, 'Model'),
    exposure: exposureOf(raw),
    lens: text(raw, 'LensModel', 'Lens', 'LensType'),
    said,
    conflicts,
    marked,
  };
}

/** A sidecar's own name, size and dates say nothing about the picture. */
function stripFile(raw: Raw): Raw {
  return Object.fromEntries(
    Object.entries(raw).filter(([key]) => !/^(File|Source|Directory|ExifTool|Error|Warning|MIME)/.test(key)),
  );
}
