import { reasonTitle, type Saying } from '@gemmel/contract';
import { firstLanguage, regionOf, type Language } from '@gemmel/core';
import { i18n, setupI18n, type I18n, type Messages } from '@lingui/core';
import { messages as de } from '../../../web/src/words/de/messages.po';
import { messages as en } from '../../../web/src/words/en/messages.po';
import { messages as sv } from '../../../web/src/words/sv/messages.po';

/** The catalogues the pages speak from: what the server writes for people is said in the same words. */
const CATALOGUES: Record<Language, Messages> = { en, de, sv };
const speeches = new Map<Language, I18n>();

// Whoever is not told otherwise writes English: a sentence must never be what fails.
if (!i18n.locale) i18n.loadAndActivate({ locale: 'en', locales: regionOf('en', []), messages: en });

/** A voice in a language. */
export function speechIn(language: Language): I18n {
  const speech =
    speeches.get(language) ??
    setupI18n({ locale: language, locales: regionOf(language, []), messages: { [language]: CATALOGUES[language] } });
  speeches.set(language, speech);
  return speech;
}

/** The languages a shell is set to: `de_AT.UTF-8` becomes `de-AT`. */
export const shellLanguages = (env: NodeJS.ProcessEnv = process.env): string[] =>
  [env['LC_ALL'], env['LC_MESSAGES'], env['LANG']].flatMap((name) => {
    const tag = name?.split('.')[0]?.replace('_', '-');
    return tag && tag !== 'C' && tag !== 'POSIX' ? [tag] : [];
  });

/** From here on this process writes in the language its shell is set to. */
export function speakAsShell(env: NodeJS.ProcessEnv = process.env): void {
  const tags = shellLanguages(env);
  const language = firstLanguage(tags) ?? 'en';
  i18n.loadAndActivate({ locale: language, locales: regionOf(language, tags), messages: CATALOGUES[language] });
}

/** The languages a request wishes for, the most wished for first: `de-AT, de;q=0.9, en;q=0.5`. */
export function wishesOf(header: string | undefined): string[] {
  return (header ?? '')
    .split(',')
    .map((part) => {
      const [tag = '', ...more] = part.trim().split(';');
      const weight = more.map((one) => one.trim().match(/^q=([\d.]+)$/)?.[1]).find(Boolean);
      return { tag, weight: Number(weight ?? 1) };
    })
    .filter(({ tag, weight }) => tag && weight > 0)
    .sort((a, b) => b.weight - a.weight)
    .map(({ tag }) => tag);
}

/** Why a file was left out or work failed, in words. */
export const sayReason = (speech: I18n, { code, params }: Saying): string => {
  const id = `reason.${code}`;
  const day = params['day'];
  const spoken =
    typeof day === 'string'
      ? {
          ...params,
          day: speech.date(new Date(`${day}T12:00:00Z`), { day: 'numeric', month: 'long', year: 'numeric' }),
        }
      : params;
  return speech.messages[id] ? speech._(id, spoken) : reasonTitle({ code, params });
};

/** What a kind of work does, in words. */
export const sayWork = (speech: I18n, kind: string): string => speech._(`work.${kind}`);
