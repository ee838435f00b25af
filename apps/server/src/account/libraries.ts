import type { Language } from '@gemmel/core';
import type { App } from '../context';
import { slugOf } from '../files/slug';

/** The longest slug, in characters; what tells two of one name apart comes after it. */
const LONGEST = 50;

/** Makes another library with an account as its keeper; answers with its slug. Two of one name are told apart. */
export async function makeLibrary(
  app: App,
  account: number,
  wish: { name: string; language?: Language | undefined },
): Promise<string> {
  const base = slugOf(wish.name, 'library', LONGEST);
  return app.db.transaction(async (trx) => {
    const { name } = (await trx('accounts').where('id', account).first('name'))!;
    for (let n = 1; ; n++) {
      const slug = n === 1 ? base : `${base}-${n}`;
      const row = { slug, name: wish.name, ...(wish.language ? { language: wish.language } : {}) };
      const [made] = (await trx.raw('INSERT IGNORE INTO libraries (??) VALUES (?)', [
        Object.keys(row),
        Object.values(row),
      ])) as [{ affectedRows: number; insertId: number }];
      if (!made.affectedRows) continue;
      await trx('members').insert({ library_id: made.insertId, account_id: account, name, part: 'keeper' });
      return slug;
    }
  });
}
