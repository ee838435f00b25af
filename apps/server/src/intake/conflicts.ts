import { perform, type By } from '../act/perform';
import type { App } from '../context';
import { placeColumns } from '../place/places';
import { markColumns } from '../mark/marks';
import { notFound } from '../problem';
import { readAgain } from '../question/words';

interface Row {
  id: number;
  picture_id: number;
  what: 'title' | 'caption' | 'stars' | 'mark' | 'place';
  kept: string;
  other: string;
}

/** Keeps what stands, or takes what was said elsewhere: then the two change places. */
export async function settleConflict(
  app: App,
  by: By,
  id: number,
  take: 'kept' | 'other',
): Promise<{ act: number | null }> {
  const find = async (db: App['db']) => {
    const row = (await db('said_conflicts').where({ id, library_id: by.library }).first()) as Row | undefined;
    if (!row) throw notFound('difference');
    return row;
  };
  const asked = await find(app.db);
  const [lat, lon] = asked.other.split(',').map(Number) as [number, number];
  const place = asked.what === 'place' ? await placeColumns(app, by.library, { lat, lon }) : {};
  return perform(app, by, 'settle', async ({ trx, library, hold, words }) => {
    await hold('said_conflicts', [id]);
    const row = await find(trx);
    await hold('pictures', [row.picture_id]);
    words({ what: [row.what], to: take });
    if (take === 'kept') {
      await trx('said_conflicts').where('id', id).update({ settled: true });
      return;
    }
    const mark = row.what === 'mark' ? await markColumns(trx, library, row.other) : {};
    const values = {
      title: { title: row.other },
      caption: { caption: row.other },
      stars: { rating: Number(row.other) },
      mark,
      place: place,
    }[row.what];
    await trx('pictures').where({ id: row.picture_id, library_id: library }).update(values);
    await readAgain(trx, library, [row.picture_id]);
    await trx('said_conflicts').where('id', id).update({ settled: true, kept: row.other, other: row.kept });
  });
}
