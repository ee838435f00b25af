import { i18n } from '@lingui/core';
import { plural, t } from '@lingui/core/macro';

/**
 * Dates, numbers, sizes and spans of time in the language and the habits of whoever reads. All of them end up in sentences of the
 * catalogue; nothing here knows a language.
 */

const utc = (day: string) => new Date(`${day.slice(0, 10)}T00:00:00Z`);
const date = (value: Date, how: Intl.DateTimeFormatOptions): string => i18n.date(value, { timeZone: 'UTC', ...how });
const DAY = { day: 'numeric', month: 'long' } as const;

/** A sentence's first letter made large, for words that stand alone. */
export const capital = (text: string): string =>
  text.replace(/^\p{Ll}/u, (first) => first.toLocaleUpperCase(i18n.locales ?? i18n.locale));

/**
 * A day with its weekday. Where a language writes nothing but a comma and a space after a weekday that comes first, English does
 * without the comma, as the house writes it whatever the browser's own tables say.
 */
function weekdayDate(day: string, how: Intl.DateTimeFormatOptions): string {
  const said = date(utc(day), { weekday: 'long', ...how });
  return i18n.locale === 'en' ? said.replace(/^(\p{L}+), (?=\d)/u, '$1 ') : said;
}

/** Days as they were said, in one language: a page of pictures says few of them many times. */
let said = { of: '', days: new Map<string, string>() };
const MOST_SAID = 2000;

/** A way to say days that remembers what it said. */
function remembered(way: string, say: (day: string) => string): (day: string) => string {
  return (day) => {
    const of = `${i18n.locales ?? i18n.locale}`;
    if (said.of !== of || said.days.size > MOST_SAID) said = { of, days: new Map() };
    const key = `${way} ${day}`;
    let words = said.days.get(key);
    if (words === undefined) said.days.set(key, (words = say(day)));
    return words;
  };
}

/** "Saturday 16 May 2026" in the middle of a sentence. */
export const sayLongDay = remembered('long', (day) => weekdayDate(day, { ...DAY, year: 'numeric' }));
/** "16 May 2026". */
export const sayDay = remembered('day', (day) => date(utc(day), { ...DAY, year: 'numeric' }));
/** "Saturday 16 May". */
export const sayShortDay = remembered('short', (day) => weekdayDate(day, DAY));
/** "May 2026" from `2026-05`. */
export const sayMonth = remembered('month', (month) => date(utc(`${month}-01`), { month: 'long', year: 'numeric' }));
/** "May" from 5, or "May" cut short to what stands in a table. */
export const sayMonthName = (month: number, how: 'long' | 'short' | 'narrow' = 'long'): string =>
  date(new Date(Date.UTC(2026, month - 1, 1)), { month: how });
/** "14:07" from a wall clock's time. */
export const sayTimeOfDay = (local: string): string =>
  date(new Date(`${local.slice(0, 23).replace(' ', 'T').replace(/Z$/, '')}Z`), { hour: '2-digit', minute: '2-digit' });
/** "Saturday 16 May 2026, 14:07" from a wall clock's time. */
export const sayMoment = (local: string): string => t`${sayLongDay(local)}, ${sayTimeOfDay(local)}`;
/** "16 May 2026, 14:07" for a moment of the machine's own, in the browser's zone. */
export const sayWhen = (utcTime: string): string => i18n.date(utcTime, { ...DAY, hour: '2-digit', minute: '2-digit' });
/** "14:07" for a moment of the machine's own, in the browser's zone. */
export const sayHour = (utcTime: string): string => i18n.date(utcTime, { hour: '2-digit', minute: '2-digit' });

/** "today", "yesterday", "in 3 days": days from now, by the calendar. */
export const sayFromToday = (days: number): string =>
  new Intl.RelativeTimeFormat(i18n.locales ?? i18n.locale, { numeric: 'auto' }).format(days, 'day');

/** The seven days of a week in order, beginning with the one a week begins with there: `day` 1 is Monday, 7 Sunday. */
export function weekdays(how: 'long' | 'short' | 'narrow' = 'short'): { day: number; name: string }[] {
  const first = firstDayOfWeek();
  return Array.from({ length: 7 }, (_, i) => {
    const day = ((first - 1 + i) % 7) + 1;
    // 5 January 2026 is a Monday.
    return { day, name: date(new Date(Date.UTC(2026, 0, 4 + day)), { weekday: how }) };
  });
}

/** The day a week begins with where the reader lives: 1 is Monday, 7 Sunday. */
export function firstDayOfWeek(): number {
  const tag = [i18n.locales ?? i18n.locale].flat()[0]!;
  const locale = new Intl.Locale(tag) as Intl.Locale & {
    getWeekInfo?: () => { firstDay: number };
    weekInfo?: { firstDay: number };
  };
  return (locale.getWeekInfo?.() ?? locale.weekInfo)?.firstDay ?? 1;
}

/** "12,840". */
export const sayNumber = (n: number): string => i18n.number(n);
/** "42 %" from 0.42, never rounded up to what is not reached. */
export const sayShare = (share: number): string =>
  i18n.number(Math.floor(share * 100) / 100, { style: 'percent', maximumFractionDigits: 0 });
/** How lists are said, by language and joining word: making it takes a while, and every event of a library asks. */
const lists = new Map<string, Intl.ListFormat>();

/** "Ilse, Marten and Tove", or with "or". */
export function sayList(items: readonly string[], how: 'and' | 'or' = 'and'): string {
  const of = `${i18n.locales ?? i18n.locale} ${how}`;
  let list = lists.get(of);
  if (!list) {
    list = new Intl.ListFormat(i18n.locales ?? i18n.locale, { type: how === 'and' ? 'conjunction' : 'disjunction' });
    lists.set(of, list);
  }
  return list.format(items);
}

let order: { of: string; collator: Intl.Collator } | null = null;

/** Names in the order a reader looks for them; numbers in them count as numbers. */
export function byName(a: string, b: string): number {
  const of = `${i18n.locales ?? i18n.locale}`;
  if (order?.of !== of)
    order = { of, collator: new Intl.Collator(i18n.locales ?? i18n.locale, { numeric: true, sensitivity: 'base' }) };
  return order.collator.compare(a, b);
}

const SIZES = [
  ['gigabyte', 1e9],
  ['megabyte', 1e6],
  ['kilobyte', 1e3],
] as const;

/** A number and its unit stay on one line. */
const held = (said: string): string => said.replaceAll(' ', '\u00a0');

/** "3.1 MB". */
export function sayBytes(bytes: number): string {
  for (const [unit, size] of SIZES)
    if (bytes >= size)
      return held(
        i18n.number(bytes / size, {
          style: 'unit',
          unit,
          maximumFractionDigits: bytes / size < 10 ? 1 : 0,
          minimumFractionDigits: bytes / size < 10 ? 1 : 0,
        }),
      );
  return held(i18n.number(bytes, { style: 'unit', unit: 'byte', unitDisplay: 'long' }));
}

/** Units that are written out: cut short they are not words in every language. */
const WRITTEN_OUT = new Set(['day', 'month', 'year']);

const unit = (n: number, what: string, digits = 0): string =>
  held(
    i18n.number(n, {
      style: 'unit',
      unit: what,
      unitDisplay: WRITTEN_OUT.has(what) ? 'long' : 'short',
      maximumFractionDigits: digits,
    }),
  );

/** "1 hr 2 min", "25 years 152 days" in the short form of a language; parts of nothing are left out. */
export const sayAmount = (parts: readonly (readonly [n: number, what: string])[]): string =>
  parts
    .filter(([n], i) => n !== 0 || (i === parts.length - 1 && parts.every(([m]) => m === 0)))
    .map(([n, what]) => unit(n, what))
    .join(' ');

/** "5 s". */
export const saySeconds = (n: number): string => unit(n, 'second');

/** "350 m", "2.4 km", "18 km". */
export const sayMetres = (metres: number): string =>
  metres < 995 ? unit(metres, 'meter') : unit(metres / 1000, 'kilometer', metres < 9950 ? 1 : 0);

/** "about 3 minutes", "a few seconds". */
export function sayLeft(seconds: number): string {
  if (seconds < 10) return t`a few seconds`;
  if (seconds < 55) return t`about ${Math.round(seconds / 5) * 5} seconds`;
  const minutes = Math.round(seconds / 60);
  if (minutes < 60) return plural(minutes, { one: 'about a minute', other: 'about # minutes' });
  return plural(Math.round(minutes / 60), { one: 'about an hour', other: 'about # hours' });
}

/** "0:42". */
export const sayClock = (seconds: number): string =>
  `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;
