import { fold } from '../text/fold';
import { ALL_WORDS } from '../words/all';
import { EN } from '../words/en';
import { fill, type Words } from '../words/words';

/** A time as people remember it: from one day to another, and how exact that is. */
export interface When {
  /** First and last day it may have been, `YYYY-MM-DD`. */
  from: string;
  to: string;
  exact: 'day' | 'month' | 'season' | 'year' | 'decade';
  /** Said with "about". */
  about: boolean;
}

/** The first month of spring, summer, autumn and winter in the north; winter is that which begins in the year. */
const SEASONS = [3, 6, 9, 12] as const;

const two = (n: number) => String(n).padStart(2, '0');
const iso = (y: number, m: number, d: number) => new Date(Date.UTC(y, m - 1, d)).toISOString().slice(0, 10);
const lastOf = (y: number, m: number) => new Date(Date.UTC(y, m, 0)).getUTCDate();
const isDay = (y: number, m: number, d: number) => m >= 1 && m <= 12 && d >= 1 && d <= lastOf(y, m);

/** What typing is matched against in one language. */
interface Typing {
  months: readonly (readonly string[])[];
  seasons: readonly (readonly string[])[];
  about: RegExp;
  before: RegExp;
  dayEnd: RegExp;
  decade: RegExp;
}

function typingOf(words: Words): Typing {
  const { typed } = words;
  return {
    months: words.months.map((name, i) => [fold(name), ...(words.monthsTyped[i] ?? [])]),
    seasons: words.seasons.map((name, i) => [fold(name), ...(words.seasonsTyped[i] ?? [])]),
    about: new RegExp(`^(?:${typed.about})(?:\\s+|(?=\\d)|(?<=~))`),
    before: new RegExp(`^(?:${typed.before})\\s+`),
    dayEnd: new RegExp(`(?:${typed.dayEnd})$`),
    decade: new RegExp(`^${typed.decade}$`),
  };
}
const known = new Map<Words, Typing>();
const typing = (words: Words): Typing => {
  const there = known.get(words) ?? typingOf(words);
  known.set(words, there);
  return there;
};

/** The month a typed word means in a language, 1 to 12; at least three letters of its name are needed. 0 when it is none. */
export function monthOf(word: string, words: Words): number {
  const typed = fold(word).replace(/\.$/, '');
  if (typed.length < 3) return 0;
  return typing(words).months.findIndex((names) => names.some((name) => name.startsWith(typed))) + 1;
}

/** The season a typed word means in a language: 0 to 3 from spring on, -1 when it is none. */
const seasonTyped = (word: string, words: Words): number =>
  typing(words).seasons.findIndex((names) => names.includes(word));

/** A year of four digits, or of two: those up to `pivot` (two digits) belong to this century. */
function yearOf(word: string, pivot: number): number | null {
  const m = word.match(/^[’']?(\d{4}|\d{2})$/);
  if (!m) return null;
  const n = Number(m[1]);
  if (m[1]!.length === 4) return n >= 1800 && n <= 2200 ? n : null;
  return n <= pivot ? 2000 + n : 1900 + n;
}

/** The days of a season that begins in a year. */
function seasonSpan(year: number, season: number): Pick<When, 'from' | 'to'> {
  const first = SEASONS[season]!;
  const last = first + 2;
  const [y, m] = last > 12 ? [year + 1, last - 12] : [year, last];
  return { from: iso(year, first, 1), to: `${y}-${two(m)}-${two(lastOf(y, m))}` };
}

/**
 * Reads a time as people write it: `1974`, `about 1960`, `summer 1988`, `may 24`, `May 2024`, `16 May 2026`, `16.5.2026`,
 * `2026-05-16`, `1960s`; in every language Gemmel speaks. Null when it is none.
 * @param thisYear the year it is, for years of two digits. @param languages those to try, in their order.
 */
export function readWhen(text: string, thisYear: number, languages: readonly Words[] = ALL_WORDS): When | null {
  for (const words of languages) {
    const when = readIn(words, text, thisYear);
    if (when) return when;
  }
  return null;
}

function readIn(words: Words, text: string, thisYear: number): When | null {
  const { about: aboutly, before, dayEnd, decade } = typing(words);
  let rest = fold(text).replace(/[,.]$/, '');
  const about = aboutly.test(rest);
  rest = rest.replace(aboutly, '').replace(before, '');
  const pivot = (thisYear % 100) + 1;
  const said = (from: string, to: string, exact: When['exact']): When => ({ from, to, exact, about });

  let m = rest.match(/^(\d{4})-(\d{1,2})-(\d{1,2})$/);
  if (m && isDay(Number(m[1]), Number(m[2]), Number(m[3]))) {
    const day = iso(Number(m[1]), Number(m[2]), Number(m[3]));
    return said(day, day, 'day');
  }
  m = rest.match(/^(\d{1,2})\.\s?(\d{1,2})\.\s?(\d{4}|\d{2})$/);
  const short = m && yearOf(m[3]!, pivot);
  if (m && short && isDay(short, Number(m[2]), Number(m[1]))) {
    const day = iso(short, Number(m[2]), Number(m[1]));
    return said(day, day, 'day');
  }
  m = rest.match(/^(\d{4})-(\d{1,2})$/);
  if (m && Number(m[2]) >= 1 && Number(m[2]) <= 12) return monthSpan(Number(m[1]), Number(m[2]), about);
  m = rest.match(decade);
  if (m) return said(`${m[1]}0-01-01`, `${m[1]}9-12-31`, 'decade');

  const parts = rest.split(/[\s,]+/).filter(Boolean);
  if (parts.length === 1) {
    const year = parts[0]!.length === 4 ? yearOf(parts[0]!, pivot) : null;
    return year === null ? null : said(`${year}-01-01`, `${year}-12-31`, 'year');
  }
  if (parts.length === 2) {
    const year = yearOf(parts[1]!, pivot);
    const season = seasonTyped(parts[0]!, words);
    if (year !== null && season >= 0) {
      const { from, to } = seasonSpan(year, season);
      return said(from, to, 'season');
    }
    const month = monthOf(parts[0]!, words);
    if (year !== null && month) return monthSpan(year, month, about);
    const turned = monthOf(parts[1]!, words);
    const first = yearOf(parts[0]!, pivot);
    if (first !== null && parts[0]!.length === 4 && turned) return monthSpan(first, turned, about);
  }
  if (parts.length === 3) {
    const [a, b, c] = parts as [string, string, string];
    const year = yearOf(c, pivot);
    const dayFirst = monthOf(b, words) ? [Number(a.replace(dayEnd, '')), monthOf(b, words)] : null;
    const monthFirst = monthOf(a, words) ? [Number(b.replace(dayEnd, '')), monthOf(a, words)] : null;
    const [d, mo] = dayFirst ?? monthFirst ?? [0, 0];
    if (year !== null && d && mo && isDay(year, mo, d)) return said(iso(year, mo, d), iso(year, mo, d), 'day');
  }
  return null;
}

function monthSpan(year: number, month: number, about: boolean): When {
  return {
    from: `${year}-${two(month)}-01`,
    to: `${year}-${two(month)}-${two(lastOf(year, month))}`,
    exact: 'month',
    about,
  };
}

/** The season a span is, in a word; empty when it is none. */
export const seasonOf = ({ from }: Pick<When, 'from'>, words: Words = EN): string =>
  words.seasons[SEASONS.indexOf(Number(from.slice(5, 7)) as (typeof SEASONS)[number])] ?? '';

/** A time in words, as {@link readWhen} reads it: "about 1960", "summer 1988", "16 May 2026". */
export function sayWhenSpan({ from, to, exact, about }: When, words: Words): string {
  const [y, m, d] = from.split('-').map(Number) as [number, number, number];
  const { date } = words;
  const month = words.months[m - 1]!;
  const said = {
    day: fill(date.day, { d, month, y }),
    month: fill(date.month, { month, y }),
    season: fill(date.season, { season: seasonOf({ from }, words), y }),
    year: `${y}`,
    decade: fill(date.decade, { y: Math.floor(y / 10) * 10 }),
  }[exact];
  return to >= from && about ? fill(date.about, { date: said }) : said;
}

/**
 * A remembered time as EDTF (ISO 8601-2:2019): `2026-05-16`, `1988-05`, `1988-22` for a summer, `1960~` for about 1960, `197X`
 * for a decade. It depends on no language.
 */
export function toEdtf({ from, exact, about }: When): string {
  const year = from.slice(0, 4);
  const value = {
    day: from,
    month: from.slice(0, 7),
    season: `${year}-${21 + Math.max(0, SEASONS.indexOf(Number(from.slice(5, 7)) as (typeof SEASONS)[number]))}`,
    year,
    decade: `${year.slice(0, 3)}X`,
  }[exact];
  return about ? `${value}~` : value;
}

/** Reads what {@link toEdtf} writes; null when it is nothing of the kind. */
export function fromEdtf(text: string): When | null {
  const m = text.trim().match(/^(\d{3})(?:(\d)(?:-(\d\d)(?:-(\d\d))?)?|X)(~?)$/);
  if (!m) return null;
  const about = m[5] === '~';
  const said = (from: string, to: string, exact: When['exact']): When => ({ from, to, exact, about });
  if (m[2] === undefined) return said(`${m[1]}0-01-01`, `${m[1]}9-12-31`, 'decade');
  const year = Number(`${m[1]}${m[2]}`);
  if (m[3] === undefined) return said(`${m[1]}${m[2]}-01-01`, `${m[1]}${m[2]}-12-31`, 'year');
  const month = Number(m[3]);
  if (m[4] !== undefined) {
    if (!isDay(year, month, Number(m[4]))) return null;
    const day = iso(year, month, Number(m[4]));
    return said(day, day, 'day');
  }
  if (month >= 21 && month <= 24) {
    const { from, to } = seasonSpan(year, month - 21);
    return said(from, to, 'season');
  }
  return month >= 1 && month <= 12 ? monthSpan(year, month, about) : null;
}

/** Where a remembered time sorts among exact ones: the middle of its days, at noon. */
export function middleOf({ from, to }: Pick<When, 'from' | 'to'>): string {
  const [a, b] = [Date.parse(`${from}T00:00:00Z`), Date.parse(`${to}T00:00:00Z`)];
  return `${new Date(Math.floor((a + b) / 2 / 86_400_000) * 86_400_000).toISOString().slice(0, 10)}T12:00:00.000`;
}
