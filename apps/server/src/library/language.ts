import type { Language } from '@gemmel/core';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import type { Db } from '../db/open';

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
