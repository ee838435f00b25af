import { reason, type Saying } from '@gemmel/contract';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import type { Db } from '../db/open';
import { ask } from '../jobs/jobs';
import { notFound } from '../problem';
import { restorePictures } from './bin';

/** Something that was binned and whose bytes came again. */
export interface Met {
  picture: number;
  /** The day it went into the bin. */
  day: string;
  /** Whether it is still there, or has gone for good. */
  gone: boolean;
}

/** What was binned with some bytes, as a picture or as a file beside one; null when nothing was. */
export async function metInBin(db: Db, library: number, sha256: Buffer): Promise<Met | null> {
  const row =
    (await db('binned').where({ library_id: library, sha256 }).orderBy('at', 'desc').first('id', 'at', 'state')) ??
    (await db('binned_files as f')
      .join('binned as b', 'b.id', 'f.picture_id')
      .where({ 'f.library_id': library, 'f.sha256': sha256 })
      .first('b.id', 'b.at', 'b.state'));
  return row ? { picture: row.id, day: row.at.slice(0, 10), gone: row.state !== 'in' } : null;
}

/** Why something binned is left out. */
export const whyBinned = ({ day, gone }: Met): Saying =>
  gone ? reason('binned-gone', { day }) : reason('binned', { day });

/** Items of a batch that were left out since they had been binned. */
export const leftBinned = (db: Db, library: number, batch: number) =>
  db('batch_items')
    .where({ batch_id: batch, library_id: library, state: 'skipped' })
    .where('reason', 'like', '{"code":"binned%');

/**
 * Takes in what a batch left out since it had been binned: what is still in the bin is brought back, what is gone for good is taken
 * in anew from where it lies, or may be sent once more.
 */
export async function takeBinned(
  app: App,
  by: By,
  batch: number,
): Promise<{ back: number; coming: number; again: number; act: number | null }> {
  const { db } = app;
  if (!(await db('batches').where({ id: batch, library_id: by.library }).first('id'))) throw notFound('batch');
  const done = await perform(app, by, 'restore', async (act) => {
    const { trx, library } = act;
    const items = await leftBinned(trx, library, batch).forUpdate().select('id', 'sha256', 'source');
    const met = new Map<number, Met>();
    for (const { id, sha256 } of items) {
      const one = sha256 && (await metInBin(trx, library, sha256));
      if (one) met.set(id, one);
    }
    const back = new Set(
      await restorePictures(
        act,
        [...met.values()].filter((one) => !one.gone).map((one) => one.picture),
      ),
    );
    for (const [item, { picture }] of met)
      if (back.has(picture))
        await trx('batch_items')
          .where('id', item)
          .update({ state: 'known', picture_id: picture, reason: JSON.stringify(reason('already-here')) });
    // What is remembered of those that have gone for good is forgotten, so that they may come in.
    await trx('binned')
      .where({ library_id: library, state: 'gone' })
      .whereIn(
        'id',
        [...met.values()].filter((one) => one.gone).map((one) => one.picture),
      )
      .delete();
    const open = items.filter(({ id }) => !back.has(met.get(id)?.picture ?? 0));
    const coming = open.filter((item) => item.source).map((item) => item.id);
    if (coming.length) {
      await trx('batch_items').whereIn('id', coming).update({ state: 'received', reason: null, finished_at: null });
      await trx('batches').where('id', batch).update({ state: 'coming', finished_at: null });
      await ask(trx, library, 'intake', coming);
    }
    return { back: back.size, coming: coming.length, again: open.length - coming.length };
  });
  app.changed(by.library, 'batches', 'library');
  return done;
}
