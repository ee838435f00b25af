/** The languages Gemmel speaks; the first one is written in the sources. */
export const LANGUAGES = ['en', 'de', 'sv'] as const;
export type Language = (typeof LANGUAGES)[number];

/** What each language calls itself, and the region whose dates and numbers it is written with where none is known. */
export const LANGUAGE: Record<Language, { name: string; region: string }> = {
  en: { name: 'English', region: 'en-GB' },
  de: { name: 'Deutsch', region: 'de-DE' },
  sv: { name: 'Svenska', region: 'sv-SE' },
};

export const isLanguage = (tag: unknown): tag is Language => LANGUAGES.includes(tag as Language);

/** The language of a BCP 47 tag, `de` of `de-AT`; null when Gemmel does not speak it. */
export const languageOf = (tag: string): Language | null => {
  const base = tag.toLowerCase().split('-')[0];
  return isLanguage(base) ? base : null;
};

/** The first language of some wishes, as browsers list them, that Gemmel speaks; null when it speaks none of them. */
export const firstLanguage = (tags: readonly string[]): Language | null => {
  for (const tag of tags) {
    const language = languageOf(tag);
    if (language) return language;
  }
  return null;
};

/** The region that dates and numbers follow: the first wish in that language, or the language's own. */
export const regionOf = (language: Language, tags: readonly string[]): string =>
  tags.find((tag) => languageOf(tag) === language && tag.includes('-')) ?? LANGUAGE[language].region;
