import { firstLanguage, isLanguage } from '@gemmel/core';
import type { I18n } from '@lingui/core';
import type { App } from '../context';
import { languageOf } from '../library/language';
import { speechIn, wishesOf } from './speech';

/** Who reads: a member, or a guest of a library, with what their browser wishes for. */
interface Reader {
  library: number;
  member?: number;
  /** The header `accept-language`. */
  wishes: string | undefined;
}

/** The voice for a reader: in the language they chose, else one their browser wishes for, else the library's. */
export async function speechFor(app: App, { library, member, wishes }: Reader): Promise<I18n> {
  const row =
    member === undefined
      ? null
      : await app
          .db('members as m')
          .join('accounts as a', 'a.id', 'm.account_id')
          .where('m.id', member)
          .first('a.language');
  if (isLanguage(row?.language)) return speechIn(row.language);
  return speechIn(firstLanguage(wishesOf(wishes)) ?? (await languageOf(app.db, library)));
}
