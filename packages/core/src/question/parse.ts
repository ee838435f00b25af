import { fold } from '../text/fold';
import type { Words } from '../words/words';
import { normalise } from './normalise';
import type { Question, Where } from './question';
import { saidAt } from './typed';

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

function token(rest: string, names: Vocabulary, words: Words): { question: Question; length: number } | null {
  const quoted = rest.match(/^["“”„]([^"“”„]+)["“”„]/u);
  if (quoted?.[1]?.trim()) return { question: { text: quoted[1].trim() }, length: quoted[0].length };
  if (rest.startsWith('@')) {
    const found = longest(rest.slice(1), names.people);
    if (found) return { question: { who: { people: [found.entry.id], mode: 'all' } }, length: found.length + 1 };
  }
  if (rest.startsWith('#')) {
    const found = longest(rest.slice(1), names.tags);
    if (found) return { question: { tag: found.entry.id }, length: found.length + 1 };
  }
  const stars = rest.match(/^([1-5])\+(?= |$)/);
  if (stars) return { question: { rating: { min: Number(stars[1]) } }, length: 2 };
  const said = saidAt(rest, words);
  if (said) return said;
  const place = longest(rest, names.places);
  return place && { question: { where: whereOf(place.entry) }, length: place.length };
}

function complete(word: string, names: Vocabulary): Completion[] {
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
    for (const { id, name } of names.people)
      if (hit(name))
        found.push({
          kind: 'person',
          label: name,
          insert: `${minus}@${name}`,
          question: wrap({ who: { people: [id], mode: 'all' } }),
        });
  if (sign !== '@')
    for (const { id, name } of names.tags)
      if (hit(name)) found.push({ kind: 'tag', label: name, insert: `${minus}#${name}`, question: wrap({ tag: id }) });
  if (!sign)
    for (const { name, ...place } of names.places)
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
 * `apr-sep 2026`, `4+` stars, a place by its name, quoted text; and times, stars and kinds as they are shown in words, in the
 * language given and in English. Any other word is looked for in titles, captions and file names. Never fails: what cannot be
 * understood is a word.
 */
export function parse(typed: string, names: Vocabulary, words: Words): Parsed {
  let rest = fold(typed);
  const parts: Question[] = [];
  let lastWord = '';
  while (rest) {
    const minus = rest.startsWith('-') && rest.length > 1 && rest[1] !== ' ';
    const body = minus ? rest.slice(1) : rest;
    const found = token(body, names, words);
    const word = body.split(' ')[0] ?? body;
    const part = found?.question ?? { text: word.replace(/^[@#"“”„]+/u, '') || word };
    parts.push(minus ? { not: part } : part);
    lastWord = found ? '' : (minus ? '-' : '') + word;
    rest = body.slice(found?.length ?? word.length).trimStart();
  }
  const completions = lastWord && !/\s$/.test(typed) ? complete(lastWord, names) : [];
  return { question: normalise({ all: parts }), completions };
}
