import type { Language } from '@gemmel/core';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import type { Db } from '../db/open';
import { forgetHome, MACHINE } from '../time/home';

/** The language of a library, which the machine names folders and events in. */
export async function languageOf(db: Db, library: number): Promise<Language> {
  const row = await db('libraries').where('id', library).first('language');
  return row?.language ?? 'en';
}

/** Sets the language of a library; folders that the machine named follow in the background. */
export const setLibraryLanguage = (app: App, by: By, language: Language): Promise<{ act: number | null }> =>
  perform(app, by, 'language', async ({ trx, library, hold, words }) => {
    await hold('libraries', [library]);
    await trx('libraries').where('id', library).update({ language });
    words({ to: language });
  });

/** Sets the time zone a library's household lives in; null for the machine's. Pictures keep the times they have. */
export async function setLibraryZone(app: App, by: By, zone: string | null): Promise<{ act: number | null }> {
  const done = await perform(app, by, 'zone', async ({ trx, library, hold, words }) => {
    await hold('libraries', [library]);
    await trx('libraries').where('id', library).update({ zone });
    words({ to: zone ?? MACHINE });
  });
  forgetHome(app.db, by.library);
  return done;
}
