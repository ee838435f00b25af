import { fold } from '../text/fold';
import { ALL_WORDS } from '../words/all';
import { middleOf, readWhen, type When } from './when';

/**
 * Where a picture's time comes from, most trusted first. `mended` is a camera's clock put
 * right, `written` what a sidecar or another program wrote, `copy` the time of the picture it is a copy of.
 */
export const TAKEN_SOURCES = [
  'hand',
  'mended',
  'written',
  'camera',
  'copy',
  'gps',
  'file name',
  'folder name',
  'file',
] as const;
export type TakenSource = (typeof TAKEN_SOURCES)[number];

/**
 * A wall-clock time. `local` is `YYYY-MM-DDTHH:mm:ss.sss` as the clock on the wall showed it; `offset` minutes east of
 * Greenwich where known; `certainty` 0..1: 1 by hand, about .5 for a day without a time, less for a year alone.
 */
export interface Taken {
  local: string;
  offset: number | null;
  source: TakenSource;
  certainty: number;
  /** Set when no more is known than some days; `local` is their middle. */
  span?: When;
}

/** How sure a day without a time can be. */
export const DAY = 0.5;

const two = (n: number) => String(n).padStart(2, '0');

function moment(y: number, mo: number, d: number, h = 12, mi = 0, s = 0, ms = 0): string | null {
  const date = new Date(Date.UTC(y, mo - 1, d, h, mi, s, ms));
  const real = date.getUTCFullYear() === y && date.getUTCMonth() === mo - 1 && date.getUTCDate() === d;
  if (!real || h > 23 || mi > 59 || s > 59 || y < 1800 || y > 2200) return null;
  return `${y}-${two(mo)}-${two(d)}T${two(h)}:${two(mi)}:${two(s)}.${String(ms).padStart(3, '0')}`;
}

/** Minutes east of Greenwich from `+02:00`, `-0330` or `Z`; null for anything else. */
export function readOffset(text: string | null | undefined): number | null {
  if (!text) return null;
  if (/^z$/i.test(text.trim())) return 0;
  const m = text.trim().match(/^([+-])(\d\d):?(\d\d)$/);
  if (!m) return null;
  const minutes = Number(m[2]) * 60 + Number(m[3]);
  return minutes > 14 * 60 ? null : m[1] === '-' ? -minutes : minutes;
}

/** One day of which no hour is known. */
const wholeDay = (local: string): When => ({
  from: local.slice(0, 10),
  to: local.slice(0, 10),
  exact: 'day',
  about: false,
});

/**
 * Reads an EXIF or XMP date: `2026:05-16 14:07:09.123+02:00` with colons, dashes, `T` or a space. Dates of zeros, as
 * clocks that were never set write them, and impossible days are null. A day without a clock is a span of one day.
 */
export function readStamp(
  text: string | null | undefined,
): { local: string; offset: number | null; span?: When } | null {
  const m = text
    ?.trim()
    .match(/^(\d{4})[:-](\d\d)[:-](\d\d)(?:[T ](\d\d):(\d\d)(?::(\d\d)(?:\.(\d{1,9}))?)?)?\s*(Z|[+-]\d\d:?\d\d)?$/i);
  if (!m) return null;
  const ms = m[7] ? Math.floor(Number(`0.${m[7]}`) * 1000) : 0;
  const local = m[4]
    ? moment(Number(m[1]), Number(m[2]), Number(m[3]), Number(m[4]), Number(m[5]), Number(m[6] ?? 0), ms)
    : moment(Number(m[1]), Number(m[2]), Number(m[3]));
  if (!local) return null;
  return m[4] ? { local, offset: readOffset(m[8]) } : { local, offset: null, span: wholeDay(local) };
}

/** A clock after a day: with seconds, or with a mark between hours and minutes; four bare digits only after `_` or `T`. */
const CLOCK =
  '(?:(?: at |[-_. T]+)(?<h>\\d\\d)[-_.:h]?(?<mi>\\d\\d)[-_.:m]?(?<s>\\d\\d)(?:[-_.]?(?<ms>\\d{3}))?|(?: at |[-_. T]+)(?<h2>\\d\\d)[-_.:h](?<mi2>\\d\\d)|[_T](?<h3>\\d\\d)(?<mi3>\\d\\d))?';
const YEAR_FIRST = new RegExp(`(?<!\\d)(?<y>(?:18|19|20)\\d\\d)[-_. ]?(?<mo>\\d\\d)[-_. ]?(?<d>\\d\\d)${CLOCK}(?!\\d)`);
const DAY_FIRST = new RegExp(`(?<!\\d)(?<d>\\d\\d)\\.(?<mo>\\d\\d)\\.(?<y>(?:18|19|20)\\d\\d)${CLOCK}(?!\\d)`);

/**
 * A time in a file's name: `photo_2026-05-16_13-02-39.jpg`, `20240817_173727123.heic`, `2026-05-16 at 13.02.39.png`,
 * `kite 16.05.2026.jpg`. Year first, or day first between dots. A counter behind a day is no clock.
 */
export function takenFromFileName(name: string): Taken | null {
  for (const pattern of [YEAR_FIRST, DAY_FIRST]) {
    // Without its clock a day may still be one: 20240817_256199 is a day and a number.
    const found = name.match(pattern)?.groups ?? name.match(withoutClock(pattern))?.groups;
    if (!found) continue;
    const { y, mo, d, h, h2, h3, mi, mi2, mi3, s, ms } = found;
    const day = [Number(y), Number(mo), Number(d)] as const;
    const hour = h ?? h2 ?? h3;
    const full = hour ? moment(...day, Number(hour), Number(mi ?? mi2 ?? mi3), Number(s ?? 0), Number(ms ?? 0)) : null;
    if (full) return { local: full, offset: null, source: 'file name', certainty: 0.8 };
    const noon = moment(...day);
    if (noon) return { local: noon, offset: null, source: 'file name', certainty: DAY, span: wholeDay(noon) };
  }
  return null;
}

/** The same day with anything but a digit behind it. */
const withoutClock = (pattern: RegExp) => new RegExp(pattern.source.replace(CLOCK, ''));

/** An instant in a file's name, as milliseconds since 1970 in 13 digits: `1723916247123.jpg`. Null outside 2001 to 2065. */
export function instantFromFileName(name: string): number | null {
  const m = name.match(/(?<!\d)(\d{13})(?!\d)/);
  const at = m ? Number(m[1]) : NaN;
  return at >= 978_307_200_000 && at < 3_000_000_000_000 ? at : null;
}

/** Words in a folder's name that say a time is not exact. */
const ABOUT = /(?<![\p{L}\d])(?:about|around|circa|ca|etwa|ungefahr|cirka|omkring)(?![\p{L}\d])|~/u;
const DECADE = ALL_WORDS.map((words) => new RegExp(`(?<!\\d)${words.typed.decade}(?![\\p{L}\\d])`, 'u'));

/** How sure a folder's name is, by how much it says. */
const FOLDER_CERTAINTY = { day: 0.4, month: 0.3, season: 0.2, year: 0.1, decade: 0.08 } as const;

/** A month, season or year in a folder's name: `Summer 1992`, `1970 about`, `1988-07 lake`, `The 1960s`. */
function remembered(folder: string): Taken | null {
  const text = fold(folder);
  const about = ABOUT.test(text) ? 'about ' : '';
  const number = text.match(/(?<!\d)((?:18|19|20)\d\d)-(0[1-9]|1[0-2])(?!\d)/)?.[0];
  const tens = DECADE.map((pattern) => text.match(pattern)?.[1]).find(Boolean);
  const decade = tens && `${tens}0s`;
  const year = text.match(/(?<!\d)(?:18|19|20)\d\d(?!\d)/)?.[0];
  const narrows = (w: string) => w.length > 2 && (readWhen(`${w} ${year}`, 2000)?.exact ?? 'year') !== 'year';
  const word = year && text.split(/[^\p{L}]+/u).find(narrows);
  const words = number ?? decade ?? (year && `${word ? `${word} ` : ''}${year}`);
  const when = words ? readWhen(about + words, 2000) : null;
  if (!when) return null;
  return {
    local: middleOf(when),
    offset: null,
    source: 'folder name',
    certainty: FOLDER_CERTAINTY[when.exact],
    span: when,
  };
}

/** A time in the names of the folders a file lay in, the nearest first: `2026-05-16 Kite day`, `Summer 1992`, `1970 about`. */
export function takenFromFolders(path: string): Taken | null {
  for (const folder of path.split('/').slice(0, -1).reverse()) {
    const day = folder.match(/(?<!\d)((?:18|19|20)\d\d)-(\d\d)-(\d\d)(?!\d)/);
    const exact = day && moment(Number(day[1]), Number(day[2]), Number(day[3]));
    if (exact) return { local: exact, offset: null, source: 'folder name', certainty: 0.4, span: wholeDay(exact) };
    const said = remembered(folder);
    if (said) return said;
  }
  return null;
}

/** Moves a wall-clock time by seconds, which may be negative. */
export function shiftLocal(local: string, seconds: number): string {
  return new Date(Date.parse(`${local}Z`) + seconds * 1000).toISOString().slice(0, -1);
}
