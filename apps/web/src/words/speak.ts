import { firstLanguage, isLanguage, type Language, regionOf } from '@gemmel/core';
import { i18n, type Messages } from '@lingui/core';
import { create } from 'zustand';
import { whenStill } from '@/state/still';

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

/** Where the sentences lie that first pages do not speak: a bundled catalogue says so under this name. */
const REST = '.rest';
/**
 * How long after the page of pictures has begun to speak they are fetched, should nothing ask for them before, and at most while somebody
 * moves about in it, in ms; on other pages, at once.
 */
const PICTURES = '/browse';
const REST_LATER = 2500;
const REST_AT_MOST = 30_000;
/** Fetches them; whatever speaks them waits for it (see `scripts/chunks.mjs`). */
let fetchRest: () => Promise<void> = () => Promise.resolve();
(globalThis as { gemmelWords?: () => Promise<void> }).gemmelWords = () => fetchRest();

/** Sentences that are fetched once, and again when that failed. They are put beside the others without anything being drawn anew. */
function restAt(at: string, of: Language): () => Promise<void> {
  let coming: Promise<void> | null = null;
  return () =>
    (coming ??= fetch(at)
      .then((answer) => answer.json() as Promise<Messages>)
      .then(
        (rest) => {
          if (i18n.locale === of) Object.assign(i18n.messages, rest);
        },
        (error: unknown) => {
          coming = null;
          throw error;
        },
      ));
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
  const at = messages[REST];
  const rest = typeof at === 'string' ? restAt(at, next) : () => Promise.resolve();
  fetchRest = rest;
  // A page that stands has parts already that speak the rest; pictures that are drawn first speak hardly anything.
  if (useSpeech.getState().language !== null) await rest().catch(() => undefined);
  else {
    const fetchNow = () => void rest().catch(() => undefined);
    if (location.pathname === PICTURES) whenStill(fetchNow, REST_LATER, REST_AT_MOST);
    else setTimeout(fetchNow, 0);
  }
  if (wanted !== next) return;
  document.documentElement.lang = next;
  // What an installed Gemmel is called by the device speaks the same language.
  document.querySelector('link[rel=manifest]')?.setAttribute('href', `/manifest-${next}.webmanifest`);
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
