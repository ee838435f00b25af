/** A time as people remember it: from one day to another, and how exact that is. */
export interface When {
  /** First and last day it may have been, `YYYY-MM-DD`. */
  from: string;
  to: string;
  exact: 'day' | 'month' | 'season' | 'year' | 'decade';
  /** Said with "about". */
  about: boolean;
}

const MONTHS = 'january february march april may june july august september october november december'.split(' ');
/** Seasons of the northern half as months; winter is that which begins in the year. */
const SEASONS: Record<string, [number, number]> = {
  spring: [3, 5],
  summer: [6, 8],
  autumn: [9, 11],
  fall: [9, 11],
  winter: [12, 14],
};

const two = (n: number) => String(n).padStart(2, '0');
const iso = (y: number, m: number, d: number) => new Date(Date.UTC(y, m - 1, d)).toISOString().slice(0, 10);
const lastOf = (y: number, m: number) => new Date(Date.UTC(y, m, 0)).getUTCDate();
const isDay = (y: number, m: number, d: number) => m >= 1 && m <= 12 && d >= 1 && d <= lastOf(y, m);

function monthOf(word: string): number {
  const at = MONTHS.findIndex((name) => word.length >= 3 && name.startsWith(word));
  return at + 1;
}

/** A year of four digits, or of two: those up to `pivot` (two digits) belong to this century. */
function yearOf(word: string, pivot: number): number | null {
  const m = word.match(/^[’']?(\d{4}|\d{2})$/);
  if (!m) return null;
  const n = Number(m[1]);
  if (m[1]!.length === 4) return n >= 1800 && n <= 2200 ? n : null;
  return n <= pivot ? 2000 + n : 1900 + n;
}

/**
 * Reads a time as people write it: `1974`, `about 1960`, `summer 1988`, `may 24`, `May 2024`, `16 May 2026`, `16.5.2026`,
 * `2026-05-16`, `1960s`. Null when it is none.
 * @param thisYear the year it is, for years of two digits.
 */
export function readWhen(text: string, thisYear: number): When | null {
  let rest = text.trim().toLowerCase().replace(/[,.]$/, '');
  const about = /^(about|around|circa|ca\.?|c\.|~)\s*/.test(rest);
  rest = rest.replace(/^(about|around|circa|ca\.?|c\.|~)\s*/, '').replace(/^the /, '');
  const pivot = (thisYear % 100) + 1;
  const said = (from: string, to: string, exact: When['exact']): When => ({ from, to, exact, about });

  let m = rest.match(/^(\d{4})-(\d{1,2})-(\d{1,2})$/);
  if (m && isDay(Number(m[1]), Number(m[2]), Number(m[3]))) {
    const day = iso(Number(m[1]), Number(m[2]), Number(m[3]));
    return said(day, day, 'day');
  }
  m = rest.match(/^(\d{1,2})\.\s?(\d{1,2})\.\s?(\d{4})$/);
  if (m && isDay(Number(m[3]), Number(m[2]), Number(m[1]))) {
    const day = iso(Number(m[3]), Number(m[2]), Number(m[1]));
    return said(day, day, 'day');
  }
  m = rest.match(/^(\d{4})-(\d{1,2})$/);
  if (m && Number(m[2]) >= 1 && Number(m[2]) <= 12) return monthSpan(Number(m[1]), Number(m[2]), about);
  m = rest.match(/^(\d{3})0[’']?s$/);
  if (m) return said(`${m[1]}0-01-01`, `${m[1]}9-12-31`, 'decade');

  const words = rest.split(/[\s,]+/).filter(Boolean);
  if (words.length === 1) {
    const year = words[0]!.length === 4 ? yearOf(words[0]!, pivot) : null;
    return year === null ? null : said(`${year}-01-01`, `${year}-12-31`, 'year');
  }
  if (words.length === 2) {
    const year = yearOf(words[1]!, pivot);
    const season = SEASONS[words[0]!];
    if (year !== null && season) {
      const [a, b] = season;
      const end = b > 12 ? { y: year + 1, m: b - 12 } : { y: year, m: b };
      return said(iso(year, a, 1), `${end.y}-${two(end.m)}-${two(lastOf(end.y, end.m))}`, 'season');
    }
    const month = monthOf(words[0]!);
    if (year !== null && month) return monthSpan(year, month, about);
    const turned = monthOf(words[1]!);
    const first = yearOf(words[0]!, pivot);
    if (first !== null && words[0]!.length === 4 && turned) return monthSpan(first, turned, about);
  }
  if (words.length === 3) {
    const [a, b, c] = words as [string, string, string];
    const year = yearOf(c, pivot);
    const dayFirst = monthOf(b) ? [Number(a.replace(/(st|nd|rd|th)$/, '')), monthOf(b)] : null;
    const monthFirst = monthOf(a) ? [Number(b.replace(/(st|nd|rd|th)$/, '')), monthOf(a)] : null;
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
export const seasonOf = ({ from }: Pick<When, 'from'>): string =>
  Object.entries(SEASONS).find(([, [month]]) => month === Number(from.slice(5, 7)))?.[0] ?? '';

/** A time in words, as {@link readWhen} reads it: "about 1960", "summer 1988", "16 May 2026". */
export function sayWhenSpan({ from, to, exact, about }: When): string {
  const [y, m, d] = from.split('-').map(Number) as [number, number, number];
  const name = MONTHS[m - 1]!;
  const month = `${name[0]!.toUpperCase()}${name.slice(1)}`;
  const words = {
    day: `${d} ${month} ${y}`,
    month: `${month} ${y}`,
    season: `${seasonOf({ from })} ${y}`,
    year: `${y}`,
    decade: `${Math.floor(y / 10) * 10}s`,
  }[exact];
  return to >= from && about ? `about ${words}` : words;
}

/** Where a remembered time sorts among exact ones: the middle of its days, at noon. */
export function middleOf({ from, to }: Pick<When, 'from' | 'to'>): string {
  const [a, b] = [Date.parse(`${from}T00:00:00Z`), Date.parse(`${to}T00:00:00Z`)];
  return `${new Date(Math.floor((a + b) / 2 / 86_400_000) * 86_400_000).toISOString().slice(0, 10)}T12:00:00.000`;
}
