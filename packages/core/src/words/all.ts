import { DE } from './de';
import { EN } from './en';
import { LANGUAGES, type Language } from './languages';
import { SV } from './sv';
import type { Words } from './words';

/** The words of every language. */
export const WORDS: Record<Language, Words> = { en: EN, de: DE, sv: SV };

/** All of them in one row, English first. */
export const ALL_WORDS: readonly Words[] = LANGUAGES.map((language) => WORDS[language]);
