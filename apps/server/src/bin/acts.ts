import { isPassword } from '../account/accounts';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import { chunks } from '../lists';
import { notFound, refused } from '../problem';
import { binPictures, restorePictures } from './bin';

/** Moves pictures to the bin. Refused when one of them is not in the library. */
export const intoBin = (app: App, by: By, ids: readonly number[]): Promise<{ pictures: number; act: number | null }> =>
  perform(app, by, 'bin', async (act) => {
    const went = await binPictures(act, ids);
    if (went.length < new Set(ids).size) throw notFound('pictures');
    return { pictures: went.length };
  });

/** Brings pictures back from the bin, some or all; answers how many are back, and how many cannot be. */
export const restore = (
  app: App,
  by: By,
  what: { ids: readonly number[] } | { all: true },
): Promise<{ pictures: number; left: number; act: number | null }> =>
  perform(app, by, 'restore', async (act) => {
    const { trx, library } = act;
    const ids =
      'ids' in what
        ? what.ids
        : (await trx('binned').where({ library_id: library, state: 'in' }).select('id')).map((row) => row.id);
    const back = await restorePictures(act, ids);
    return { pictures: back.length, left: new Set(ids).size - back.length };
  });

/** Whether somebody has said the name of the library or their own password. */
async function isTheWord({ db }: App, by: By, word: string): Promise<boolean> {
  const fold = (text: string) => text.normalize('NFC').trim().toLowerCase();
  const { name } = (await db('libraries').where('id', by.library).first('name'))!;
  if (fold(word) === fold(name)) return true;
  const row = by.member === null ? null : await db('members').where('id', by.member).first('account_id');
  return row?.account_id ? isPassword(db, row.account_id, word) : false;
}

/**
 * Removes pictures in the bin for good, some or all; `word` must be the library's name or the member's password. From here on they
 * cannot be brought back; their files go behind people's backs. Answers with what is freed.
 */
export async function emptyBin(
  app: App,
  by: By,
  what: { word: string } & ({ ids: readonly number[] } | { all: true }),
): Promise<{ pictures: number; bytes: number; act: number | null }> {
  if (!(await isTheWord(app, by, what.word))) throw refused('wrong-word');
  return perform(app, by, 'empty bin', async ({ trx, library, words, then, final }) => {
    let pictures = 0;
    let bytes = 0;
    for (const some of 'ids' in what ? chunks(what.ids, 1000) : [null]) {
      const these = () =>
        trx('binned')
          .where({ library_id: library, state: 'in' })
          .where((q) => void (some && q.whereIn('id', [...some])));
      const rows = await these().forUpdate().select('id', 'bytes');
      pictures += rows.length;
      bytes += rows.reduce((sum, row) => sum + Number(row.bytes), 0);
      await these().update({ state: 'going' });
    }
    if (pictures) final();
    words({ n: pictures, bytes });
    then('empty');
    return { pictures, bytes };
  });
}

/** Sets after how many days pictures leave the bin by themselves; null: never. */
export const setBinDays = (app: App, by: By, days: number | null): Promise<{ act: number | null }> =>
  perform(app, by, 'bin days', async ({ trx, library, hold, words }) => {
    await hold('libraries', [library]);
    await trx('libraries').where('id', library).update({ bin_days: days });
    words(days === null ? {} : { n: days });
  });
