import { searchable } from '@gemmel/core';
import type { App } from '../context';
import { placeColumns } from '../place/places';
import { notFound } from '../problem';
import { markDirty } from '../vault/sidecar';

interface Row {
  id: number;
  picture_id: number;
  what: 'title' | 'caption' | 'stars' | 'mark' | 'place';
  kept: string;
  other: string;
}

/** Keeps what stands, or takes what was said elsewhere: then the two change places, so that doing it again undoes it. */
export async function settleConflict(
  app: App,
  library: number,
  id: number,
  take: 'kept' | 'other',
  settled: boolean,
): Promise<void> {
  const { db } = app;
  const row = (await db('said_conflicts').where({ id, library_id: library }).first()) as Row | undefined;
  if (!row) throw notFound('This difference');
  if (take === 'kept') {
    await db('said_conflicts').where('id', id).update({ settled });
  } else {
    const [lat, lon] = row.other.split(',').map(Number) as [number, number];
    const values = {
      title: { title: row.other },
      caption: { caption: row.other },
      stars: { rating: Number(row.other) },
      mark: { label: row.other },
      place: row.what === 'place' ? await placeColumns(app, library, { lat, lon }) : {},
    }[row.what];
    await db.transaction(async (trx) => {
      await trx('pictures').where({ id: row.picture_id, library_id: library }).update(values);
      const now = await trx('pictures').where('id', row.picture_id).first('title', 'caption', 'name');
      await trx('pictures')
        .where('id', row.picture_id)
        .update({ words: searchable(now.title, now.caption, now.name) });
      await trx('said_conflicts').where('id', id).update({ settled, kept: row.other, other: row.kept });
      await markDirty(trx, library, [row.picture_id]);
    });
  }
  app.changed(library, 'batches', 'pictures');
}
