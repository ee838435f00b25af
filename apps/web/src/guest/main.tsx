import { firstLanguage } from '@gemmel/core';
import { i18n, type Messages } from '@lingui/core';
import { createRoot } from 'react-dom/client';
import { App } from './App';

declare global {
  interface Window {
    /** The catalogue of the page's language, which the server put beside this script. */
    gemmelWords?: { locale: string; messages: Messages };
  }
}

const { locale, messages } = window.gemmelWords ?? { locale: firstLanguage(navigator.languages) ?? 'en', messages: {} };
const region = navigator.languages.find((wish) => wish.toLowerCase().startsWith(locale)) ?? locale;
i18n.loadAndActivate({ locale, locales: [region, locale], messages });
createRoot(document.getElementById('page')!).render(<App />);
