import { fold } from '../text/fold';
import { monthOf, readWhen, type When } from '../time/when';
import { NOTICED, THING_NAMES, THINGS } from '../observe/kinds';
import { EN } from '../words/en';
import { fill, type Pair, type Words } from '../words/words';
import { Shape, type Condition, type Question, type Span } from './question';

/** What stands at the beginning of typed text, and how much of it that takes. */
export interface Found {
  question: Question;
  length: number;
}

/** How the rest of typed text begins, in the words of some languages. */
export interface Typing {
  at: (rest: string) => Found | null;
}

const two = (n: number) => String(n).padStart(2, '0');

/** The days from the first of one month to the last of another. */
export function monthSpan(fromYear: number, fromMonth: number, toYear: number, toMonth: number): Span {
  const last = new Date(Date.UTC(toYear, toMonth, 0)).getUTCDate();
  return { from: `${fromYear}-${two(fromMonth)}-01`, to: `${toYear}-${two(toMonth)}-${two(last)}` };
}

const YEAR = '(1[89]\\d\\d|20\\d\\d)';
/** A date in words has at most so many of them. */
const MOST = 4;

const taken = (span: Span, length: number): Found => ({ question: { taken: span }, length });
const wordsOf = (rest: string): string[] => rest.split(' ');
const lengthOf = (words: readonly string[]): number => words.join(' ').length;

/** Whole months and years as shorthand: `2024`, `2019-2021`, `may`, `apr-sep 2026`, `may 2024`. */
function shorthand(rest: string, languages: readonly Words[]): Found | null {
  const month = (word: string) => languages.map((words) => monthOf(word, words)).find((n) => n > 0) ?? 0;
  const years = rest.match(new RegExp(`^${YEAR}-${YEAR}(?= |$)`));
  if (years && years[1]! <= years[2]!) return taken(monthSpan(+years[1]!, 1, +years[2]!, 12), years[0].length);
  const months = rest.match(new RegExp(`^(\\p{L}+)-(\\p{L}+) ${YEAR}(?= |$)`, 'u'));
  if (months) {
    const [from, to, year] = [month(months[1]!), month(months[2]!), +months[3]!];
    // "nov-feb 2026" began the year before.
    if (from && to) return taken(monthSpan(from > to ? year - 1 : year, from, year, to), months[0].length);
  }
  const one = rest.match(new RegExp(`^(\\p{L}+) ${YEAR}(?= |$)`, 'u'));
  if (one && month(one[1]!)) return taken(monthSpan(+one[2]!, month(one[1]!), +one[2]!, month(one[1]!)), one[0].length);
  const year = rest.match(new RegExp(`^${YEAR}(?= |$)`));
  return year && taken(monthSpan(+year[1]!, 1, +year[1]!, 12), year[0].length);
}

/** A date with a year of four digits among the first words, as many of them as it takes. */
function dateAt(parts: readonly string[], languages: readonly Words[]): { when: When; parts: number } | null {
  for (let n = Math.min(MOST, parts.length); n > 0; n--) {
    const text = parts.slice(0, n).join(' ');
    const when = /\d{4}/.test(text) ? readWhen(text, 2000, languages) : null;
    if (when) return { when, parts: n };
  }
  return null;
}

/** From one date to another, where the first leaves out what the second says: "4 to 9 may 2026", "april to september 2026". */
function spanAt(parts: readonly string[], words: Words): Found | null {
  const between = new RegExp(`^(?:${words.typed.to})$`);
  for (let i = 1; i < Math.min(MOST + 1, parts.length); i++) {
    if (!between.test(parts[i]!)) continue;
    const last = dateAt(parts.slice(i + 1), [words]);
    if (!last) return null;
    const first = parts.slice(0, i).join(' ');
    const [year, month] = last.when.to.split('-') as [string, string];
    const endOfDay = new RegExp(`(?:${words.typed.dayEnd})$`);
    const day = Number(first.replace(endOfDay, ''));
    const from = /\d{4}/.test(first)
      ? readWhen(first, 2000, [words])
      : Number.isInteger(day) && day > 0
        ? readWhen(`${year}-${month}-${day}`, 2000, [words])
        : readWhen(`${first} ${year}`, 2000, [words]);
    if (!from || from.from > last.when.to) return null;
    return taken({ from: from.from, to: last.when.to }, lengthOf(parts.slice(0, i + 1 + last.parts)));
  }
  return null;
}

/** A month of any year, perhaps with a day: "any may", "16 may", "may". */
function anyYear(rest: string, words: Words): Found | null {
  const { typed } = words;
  const m = rest.match(new RegExp(`^(?:(?:${typed.anyYear}) |(\\d{1,2})(?:${typed.dayEnd})? )?(\\p{L}+)(?= |$)`, 'u'));
  const month = m ? monthOf(m[2]!, words) : 0;
  if (!m || !month) return null;
  const day = m[1] === undefined ? null : Number(m[1]);
  if (day !== null && (day < 1 || day > new Date(Date.UTC(2024, month, 0)).getUTCDate())) return null;
  return taken(day === null ? { month } : { month, day }, m[0].length);
}

/** What is said in fixed words, folded, with what it asks. */
function fixed(words: Words): [string, Condition][] {
  const said = ([lead, value]: Pair, condition: Condition): [string, Condition] => [
    fold(`${lead} ${value}`),
    condition,
  ];
  const { rated } = words;
  const rate = (text: string, condition: Condition) => said([rated.lead, text], condition);
  const stars = [1, 2, 3, 4, 5];
  return [
    said(words.heart.with, { favourite: true }),
    said(words.heart.without, { favourite: false }),
    said(words.kind.photo, { kind: 'photo' }),
    said(words.kind.video, { kind: 'video' }),
    said(words.inNoAlbum, { inNoAlbum: true }),
    said(words.added.today, { added: { lastDays: 1 } }),
    said(words.changed.today, { changed: { lastDays: 1 } }),
    ...NOTICED.map((observed) => said(words.noticed[observed], { observed })),
    ...THING_NAMES.map((thing) => said([words.seen, THINGS[thing][words.language]], { observed: thing })),
    ...Shape.options.map((shape) => said(words.shape[shape], { shape })),
    ...Object.entries(words.has).map(([thing, pair]) => said(pair, { has: thing } as Condition)),
    ...Object.entries(words.lacks).map(([thing, pair]) => said(pair, { lacks: thing } as Condition)),
    rate(rated.none, { rating: { max: 0 } }),
    ...stars.flatMap((n): [string, Condition][] => [
      rate(fill(rated.exactly, { n }), { rating: { min: n, max: n } }),
      rate(fill(rated.from, { n }), { rating: { min: n } }),
      rate(fill(rated.upTo, { n }), { rating: { max: n } }),
      ...stars.map((max) => rate(fill(rated.between, { min: n, max }), { rating: { min: n, max } })),
    ]),
    rate('5', { rating: { min: 5 } }),
  ];
}

const ends = (rest: string, length: number) => !/^[\p{L}\p{N}]/u.test(rest.slice(length));

/** What leads to a date in a language, the longest first, with what becomes of the date. */
function leads(words: Words): [string, (when: When) => Span | null][] {
  const { taken: said } = words;
  const span = ({ from, to }: When): Span => ({ from, to });
  const all: [string, (when: When) => Span | null][] = [
    [said.since, ({ from }) => ({ from })],
    [said.until, ({ to }) => ({ to })],
    [
      said.only,
      ({ from, exact }) =>
        exact === 'year' ? { only: from.slice(0, 4) } : exact === 'month' ? { only: from.slice(0, 7) } : null,
    ],
    ...[
      said.day,
      said.month,
      said.year,
      said.days,
      said.months,
      said.years,
      said.last.lead,
      said.anyMonth[0],
      said.anyDay[0],
    ].map((lead): [string, (when: When) => Span] => [lead, span]),
  ];
  return all.map(([lead, made]): [string, (when: When) => Span | null] => [`${fold(lead)} `, made]);
}

const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/** Sizes in millions of pixels as they are shown, and without the words that lead to them. */
function sizesOf({ size }: Words): [RegExp, (n: number[]) => Question | null][] {
  const pattern = (text: string) =>
    new RegExp(
      `^(?:${escaped(fold(size.lead))} )?${escaped(fold(text)).replace(/\\\{\w+\\\}/g, '(\\d+(?:[.,]\\d+)?)')}(?= |$)`,
      'u',
    );
  return [
    [pattern(size.from), ([min]) => ({ size: { min: min! } })],
    [pattern(size.upTo), ([max]) => ({ size: { max: max! } })],
    [pattern(size.between), ([min, max]) => (min! <= max! ? { size: { min: min!, max: max! } } : null)],
  ];
}

function typingOf(words: Words): Typing {
  const said = fixed(words).sort((a, b) => b[0].length - a[0].length);
  const before = leads(words).sort((a, b) => b[0].length - a[0].length);
  const last = new RegExp(`^${words.typed.lastDays}(?= |$)`);
  const lastDays = (rest: string): { days: number; length: number } | null => {
    const m = rest.match(last);
    const days = Number(m?.[1] ?? 1);
    return m && days >= 1 && days <= 36_600 ? { days, length: m[0].length } : null;
  };
  const someTime = (rest: string): Found | null => {
    const found = spanAt(wordsOf(rest), words);
    if (found) return found;
    const date = dateAt(wordsOf(rest), [words]);
    if (date) return taken({ from: date.when.from, to: date.when.to }, lengthOf(wordsOf(rest).slice(0, date.parts)));
    const days = lastDays(rest);
    return days ? taken({ lastDays: days.days }, days.length) : anyYear(rest, words);
  };
  const lately = [
    { lead: `${fold(words.added.last.lead)} `, made: (lastDays: number): Question => ({ added: { lastDays } }) },
    { lead: `${fold(words.changed.last.lead)} `, made: (lastDays: number): Question => ({ changed: { lastDays } }) },
  ];
  const sizes = sizesOf(words);
  const format = new RegExp(`^${escaped(fold(words.format))} ([a-z0-9]{1,16})(?= |$)`);
  return {
    at: (rest) => {
      for (const [text, question] of said)
        if (rest.startsWith(text) && ends(rest, text.length)) return { question, length: text.length };
      for (const { lead, made } of lately) {
        const days = rest.startsWith(lead) ? lastDays(rest.slice(lead.length)) : null;
        if (days) return { question: made(days.days), length: lead.length + days.length };
      }
      const kept = rest.match(format);
      if (kept) return { question: { format: kept[1]! }, length: kept[0].length };
      for (const [pattern, made] of sizes) {
        const m = rest.match(pattern);
        const question = m && made(m.slice(1).map((n) => Number(n.replace(',', '.'))));
        if (question) return { question, length: m[0].length };
      }
      for (const [lead, made] of before) {
        if (!rest.startsWith(lead)) continue;
        const behind = rest.slice(lead.length);
        const open = made({ from: '', to: '', exact: 'day', about: false });
        const date = dateAt(wordsOf(behind), [words]);
        // "since" and "up to" make something else of a date than its days.
        if (date && !(open && 'from' in open && 'to' in open)) {
          const span = made(date.when);
          if (span) return taken(span, lead.length + lengthOf(wordsOf(behind).slice(0, date.parts)));
        }
        const found = someTime(behind);
        if (found) return { question: found.question, length: lead.length + found.length };
      }
      return someTime(rest);
    },
  };
}

const known = new Map<Words, Typing>();
function typing(words: Words): Typing {
  const there = known.get(words) ?? typingOf(words);
  known.set(words, there);
  return there;
}

/** What typed text begins with that needs no names: times, stars, kinds. In a language, and in English always. */
export function saidAt(rest: string, words: Words): Found | null {
  const languages = words === EN ? [EN] : [words, EN];
  for (const language of languages) {
    const found = typing(language).at(rest);
    if (found) return found;
  }
  return shorthand(rest, languages);
}
