import { fold } from './fold';

/** Letters that decompose into nothing: how they are typed where they are missing from a keyboard. */
const PLAIN: Readonly<Record<string, string>> = { ß: 'ss', æ: 'ae', œ: 'oe', ø: 'o', đ: 'd', ł: 'l', þ: 'th', ð: 'd' };

/** The words of a text as search reads them: runs of letters and figures, folded. “IMG_2041.jpg” is img, 2041 and jpg. */
export const searchWords = (text: string): string[] =>
  fold(text)
    .replace(/[ßæœøđłþð]/g, (letter) => PLAIN[letter]!)
    // An apostrophe inside a word belongs to it: “gran’s” is one word, and “grans” finds it.
    .replace(/(?<=\p{L})['’](?=\p{L})/gu, '')
    .match(/[\p{L}\p{N}]+/gu) ?? [];

/** Longest word that is kept; what is longer is cut, here as in the question. */
export const LONGEST_WORD = 40;

const cut = (word: string) => (word.length > LONGEST_WORD ? [...word].slice(0, LONGEST_WORD).join('') : word);

/**
 * What search reads of a picture: each of its texts (title, caption, file name, comments, words seen in it) as words with a space
 * around each, one text a line, so that a phrase is found as it stands and never across two texts.
 */
export const searchable = (texts: readonly (string | null | undefined)[]): string =>
  texts
    .map((text) => searchWords(text ?? '').map(cut))
    .filter((words) => words.length > 0)
    .map((words) => ` ${words.join(' ')} `)
    .join('\n');

/** The different words of something {@link searchable}, in order. */
export const wordsOf = (text: string): string[] => [...new Set(text.split(/\s+/).filter(Boolean))].sort();

/** What is asked for: words, cut as they are kept. */
export const askedWords = (text: string): string[] => searchWords(text).map(cut);

/** Whether words stand in a text one after another, the last of them perhaps only begun. */
export const saysPhrase = (text: string, asked: readonly string[]): boolean =>
  asked.length > 0 && text.includes(` ${asked.join(' ')}${isWhole(asked) ? ' ' : ''}`);

/** Whether the last word asked for stands for itself: one letter or figure is no beginning of a word yet. */
export const isWhole = (asked: readonly string[]): boolean => /^[a-z0-9]$/.test(asked[asked.length - 1] ?? '');

/** From how many letters on one of them may be wrong. */
export const FORGIVES_FROM = 5;

/**
 * Whether two words differ by one letter at most: one more, one less, another one, or two that changed places (Damerau 1964,
 * optimal string alignment, cut off at one).
 */
export function oneOff(a: string, b: string): boolean {
  if (a === b) return true;
  if (Math.abs(a.length - b.length) > 1) return false;
  let i = 0;
  while (i < a.length && i < b.length && a[i] === b[i]) i++;
  const restA = a.slice(i);
  const restB = b.slice(i);
  if (restA.length === restB.length)
    return (
      restA.slice(1) === restB.slice(1) ||
      (restA[0] === restB[1] && restA[1] === restB[0] && restA.slice(2) === restB.slice(2))
    );
  return restA.length > restB.length ? restA.slice(1) === restB : restB.slice(1) === restA;
}

/** Whether a word is one in which a wrong letter is forgiven: long enough, and no number. */
export const forgives = (word: string): boolean => word.length >= FORGIVES_FROM && !/\p{N}/u.test(word);
