import { fold } from '../text/fold';
import { normalise } from './normalise';
import type { Question, Span, Where } from './question';

/** The names typing can end in. Nicknames are further entries with the same id. */
export interface Vocabulary {
  people: readonly { id: number; name: string }[];
  tags: readonly { id: number; name: string }[];
  /** Towns and countries by their names, and the household's own places. */
  places: readonly PlaceWord[];
}

/** A place typing can end in. */
export type PlaceWord = { name: string } & ({ own: number } | { country: string; place?: string | undefined });

const whereOf = (word: { own: number } | { country: string; place?: string | undefined }): Where => {
  if ('own' in word) return { own: word.own };
  return word.place === undefined ? { country: word.country } : { country: word.country, place: word.place };
};

/** Something typing may be completed to: the words that would stand in place of the last, unfinished word. */
export interface Completion {
  kind: 'person' | 'tag' | 'place';
  label: string;
  insert: string;
  question: Question;
}

/** What typed text asks for. */
export interface Parsed {
  question: Question;
  completions: Completion[];
}

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];
const two = (n: number) => String(n).padStart(2, '0');
const monthOf = (word: string) => (word.length < 3 ? 0 : MONTHS.indexOf(word.slice(0, 3)) + 1);

/** The days from the first of one month to the last of another. */
export function monthSpan(fromYear: number, fromMonth: number, toYear: number, toMonth: number): Span {
  const last = new Date(Date.UTC(toYear, toMonth, 0)).getUTCDate();
  return { from: `${fromYear}-${two(fromMonth)}-01`, to: `${toYear}-${two(toMonth)}-${two(last)}` };
}

const LONG = '(?:january|february|march|april|may|june|july|august|september|october|november|december)';
const MONTH = `(?:${LONG}|${MONTHS.join('|')})`;
const YEAR = '(1[89]\\d\\d|20\\d\\d)';
const SPANS: [RegExp, (m: RegExpMatchArray) => Span | null][] = [
  [new RegExp(`^${YEAR}-${YEAR}(?= |$)`), (m) => (m[1]! <= m[2]! ? monthSpan(+m[1]!, 1, +m[2]!, 12) : null)],
  [
    new RegExp(`^(${MONTH})-(${MONTH}) ${YEAR}(?= |$)`),
    (m) => {
      const [from, to] = [monthOf(m[1]!), monthOf(m[2]!)];
      return monthSpan(from > to ? +m[3]! - 1 : +m[3]!, from, +m[3]!, to); // "nov-feb 2026" began the year before
    },
  ],
  [new RegExp(`^(${MONTH}) ${YEAR}(?= |$)`), (m) => monthSpan(+m[2]!, monthOf(m[1]!), +m[2]!, monthOf(m[1]!))],
  [new RegExp(`^${YEAR}(?= |$)`), (m) => monthSpan(+m[1]!, 1, +m[1]!, 12)],
  [new RegExp(`^(${MONTH})(?= |$)`), (m) => ({ month: monthOf(m[1]!) })],
];

const startsWithName = (rest: string, name: string) =>
  rest.startsWith(name) && !/^[\p{L}\p{N}]/u.test(rest.slice(name.length));

function longest<T extends { name: string }>(rest: string, entries: readonly T[]): { entry: T; length: number } | null {
  let best: { entry: T; length: number } | null = null;
  for (const entry of entries) {
    const name = fold(entry.name);
    if (name && startsWithName(rest, name) && name.length > (best?.length ?? 0)) best = { entry, length: name.length };
  }
  return best;
}

function token(rest: string, words: Vocabulary): { question: Question; length: number } | null {
  const quoted = rest.match(/^["“]([^"”]+)["”]/u);
  if (quoted?.[1]?.trim()) return { question: { text: quoted[1].trim() }, length: quoted[0].length };
  if (rest.startsWith('@')) {
    const found = longest(rest.slice(1), words.people);
    if (found) return { question: { who: { people: [found.entry.id], mode: 'all' } }, length: found.length + 1 };
  }
  if (rest.startsWith('#')) {
    const found = longest(rest.slice(1), words.tags);
    if (found) return { question: { tag: found.entry.id }, length: found.length + 1 };
  }
  const stars = rest.match(/^([1-5])\+(?= |$)/);
  if (stars) return { question: { rating: { min: Number(stars[1]) } }, length: 2 };
  for (const [pattern, make] of SPANS) {
    const match = rest.match(pattern);
    const span = match && make(match);
    if (match && span) return { question: { taken: span }, length: match[0].length };
  }
  const place = longest(rest, words.places);
  if (place) {
    return { question: { where: whereOf(place.entry) }, length: place.length };
  }
  return null;
}

function complete(word: string, words: Vocabulary): Completion[] {
  const minus = word.startsWith('-') ? '-' : '';
  const bare = word.slice(minus.length);
  const sign = bare.startsWith('@') || bare.startsWith('#') ? bare[0] : '';
  const start = bare.slice(sign ? 1 : 0);
  if (!start && !sign) return [];
  const hit = (name: string) =>
    fold(name)
      .split(' ')
      .some((_, i, all) => all.slice(i).join(' ').startsWith(start));
  const wrap = (question: Question): Question => (minus ? { not: question } : question);
  const found: Completion[] = [];
  if (sign !== '#')
    for (const { id, name } of words.people)
      if (hit(name))
        found.push({
          kind: 'person',
          label: name,
          insert: `${minus}@${name}`,
          question: wrap({ who: { people: [id], mode: 'all' } }),
        });
  if (sign !== '@')
    for (const { id, name } of words.tags)
      if (hit(name)) found.push({ kind: 'tag', label: name, insert: `${minus}#${name}`, question: wrap({ tag: id }) });
  if (!sign)
    for (const { name, ...place } of words.places)
      if (hit(name))
        found.push({
          kind: 'place',
          label: name,
          insert: `${minus}${name}`,
          question: wrap({ where: whereOf(place) }),
        });
  return found.slice(0, 8);
}

/**
 * Reads the typed shorthand: `@name`, `#tag`, `-` before anything to leave it out, `2024`, `2019-2021`, `may`,
 * `apr-sep 2026`, `4+` stars, a place by its name, quoted text; any other word is looked for in titles, captions and
 * file names. Never fails: what cannot be understood is a word.
 */
export function parse(typed: string, words: Vocabulary): Parsed {
  let rest = fold(typed);
  const parts: Question[] = [];
  let lastWord = '';
  while (rest) {
    const minus = rest.startsWith('-') && rest.length > 1 && rest[1] !== ' ';
    const body = minus ? rest.slice(1) : rest;
    const found = token(body, words);
    const word = body.split(' ')[0] ?? body;
    const part = found?.question ?? { text: word.replace(/^[@#"“]+/u, '') || word };
    parts.push(minus ? { not: part } : part);
    lastWord = found ? '' : (minus ? '-' : '') + word;
    rest = body.slice(found?.length ?? word.length).trimStart();
  }
  const completions = lastWord && !/\s$/.test(typed) ? complete(lastWord, words) : [];
  return { question: normalise({ all: parts }), completions };
}
