import { firstLanguage, isLanguage, type Language, regionOf } from '@gemmel/core';
import { i18n, type Messages } from '@lingui/core';
import { create } from 'zustand';

/** One catalogue a language, each a file of its own that is fetched when it is spoken. */
const CATALOGUES: Record<Language, () => Promise<{ messages: Messages }>> = {
  en: () => import('./en/messages.po'),
  de: () => import('./de/messages.po'),
  sv: () => import('./sv/messages.po'),
};
const KEPT = 'gemmel-language';

/** What the browser asks for, the most wished for first. */
const wishes = (): readonly string[] => (typeof navigator === 'undefined' ? [] : navigator.languages);

/** The language chosen on this device, or null. */
function chosen(): Language | null {
  try {
    const kept = localStorage.getItem(KEPT);
    return isLanguage(kept) ? kept : null;
  } catch {
    return null;
  }
}

/** The language asked for last, whose catalogue may still be on its way. */
let wanted: Language = 'en';

interface Speech {
  /** The language on screen; null until its catalogue is there. */
  language: Language | null;
}

/** The language on screen. Whoever draws everything draws it anew when it changes. */
export const useSpeech = create<Speech>()(() => ({ language: null }));

/** The language spoken now. */
export const language = (): Language => (isLanguage(i18n.locale) ? i18n.locale : 'en');

/** The language to begin with: chosen on this device, else asked for by the browser, else English. */
const firstSpoken = (): Language => chosen() ?? firstLanguage(wishes()) ?? 'en';

/** Whether this device or its browser has a wish, so that the library's language need not be asked for. */
export const hasWish = (): boolean => (chosen() ?? firstLanguage(wishes())) !== null;

/** Speaks a language: fetches its catalogue, and says so on the page. Answers when it is spoken. */
export async function speak(next: Language): Promise<void> {
  wanted = next;
  const { messages } = await CATALOGUES[next]();
  // Somebody has chosen another one meanwhile.
  if (wanted !== next) return;
  const region = regionOf(next, wishes());
  i18n.loadAndActivate({ locale: next, locales: [region], messages });
  document.documentElement.lang = next;
  document.documentElement.dir = directionOf(next);
  useSpeech.setState({ language: next });
}

/** Begins to speak. */
export const begin = (): Promise<void> => speak(firstSpoken());

/** Speaks a language from now on, on this device. */
export async function choose(next: Language): Promise<void> {
  await speak(next);
  try {
    localStorage.setItem(KEPT, next);
  } catch {
    // This browser keeps nothing: then the choice ends with the page.
  }
}

/** Which way a language is written: `ltr` or `rtl`. */
function directionOf(tag: string): string {
  const locale = new Intl.Locale(tag) as Intl.Locale & {
    getTextInfo?: () => { direction: string };
    textInfo?: { direction: string };
  };
  return (locale.getTextInfo?.() ?? locale.textInfo)?.direction ?? 'ltr';
}
