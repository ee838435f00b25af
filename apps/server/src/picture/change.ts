import type { Before, PictureChange } from '@gemmel/contract';
import { searchable } from '@gemmel/core';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { ask } from '../jobs/jobs';
import { tagIds, tagTree } from '../tag/tags';
import { SPAN, spanColumns, spanOf, type SpanRow } from '../time/span';
import { markDirty } from '../vault/sidecar';
import { allPictureRows } from './rows';

interface SaidRow extends SpanRow {
  id: number;
  rating: number;
  favourite: number;
  title: string | null;
  caption: string | null;
  name: string;
  taken_local: string | null;
  taken_source: string | null;
  taken_certainty: number | null;
  offset_minutes: number | null;
  event_id: number | null;
  event_by_hand: number;
}

const SAID = [
  'id',
  'rating',
  'favourite',
  'title',
  'caption',
  'name',
  'taken_local',
  'taken_source',
  'taken_certainty',
  'offset_minutes',
  'event_id',
  'event_by_hand',
  ...SPAN,
];

const saidRows = (db: Db, library: number, ids: readonly number[]) => allPictureRows<SaidRow>(db, library, ids, SAID);

/** What stands there of some pictures before it is changed. Refused when one of them is not in the library. */
export async function beforeOf(app: App, library: number, ids: readonly number[]): Promise<Before> {
  const rows = await saidRows(app.db, library, ids);
  const tags = new Map<number, number[]>();
  for (const some of chunks(ids, 1000))
    for (const { picture_id, tag_id } of (await app.db('picture_tags').whereIn('picture_id', some)) as {
      picture_id: number;
      tag_id: number;
    }[])
      tags.set(picture_id, [...(tags.get(picture_id) ?? []), tag_id]);
  return {
    pictures: rows.map((row) => ({
      id: row.id,
      offset: row.offset_minutes,
      takenSpan: spanOf(row),
      event: row.event_id,
      eventByHand: Boolean(row.event_by_hand),
      rating: row.rating,
      favourite: Boolean(row.favourite),
      title: row.title,
      caption: row.caption,
      taken: row.taken_local,
      takenSource: row.taken_source,
      takenCertainty: row.taken_certainty,
      tags: tags.get(row.id) ?? [],
    })),
  };
}

/** Applies what somebody says about pictures; answers with what stood there before. All or nothing. */
export async function changePictures(
  app: App,
  library: number,
  ids: readonly number[],
  change: PictureChange,
): Promise<Before> {
  const { db } = app;
  const before = await beforeOf(app, library, ids);
  await db.transaction(async (trx) => {
    const plain: Record<string, unknown> = {};
    if (change.rating !== undefined) plain['rating'] = change.rating;
    if (change.favourite !== undefined) plain['favourite'] = change.favourite;
    if (Object.keys(plain).length)
      for (const some of chunks(ids, 1000)) await trx('pictures').whereIn('id', some).update(plain);
    if (change.title !== undefined || change.caption !== undefined)
      for (const row of await saidRows(trx, library, ids)) {
        const title = change.title === undefined ? row.title : change.title || null;
        const caption = change.caption === undefined ? row.caption : change.caption || null;
        await trx('pictures')
          .where('id', row.id)
          .update({ title, caption, words: searchable(title, caption, row.name) });
      }
    if (change.addTags?.length) {
      const tags = await tagIds(trx, library, change.addTags);
      const pairs = ids.flatMap((picture_id) => tags.map((tag_id) => ({ library_id: library, picture_id, tag_id })));
      for (const some of chunks(pairs, 1000)) await trx('picture_tags').insert(some).onConflict().ignore();
    }
    if (change.removeTags?.length)
      for (const some of chunks(ids, 1000))
        await trx('picture_tags').whereIn('picture_id', some).whereIn('tag_id', change.removeTags).delete();
    await markDirty(trx, library, ids);
  });
  app.changed(library, 'pictures', ...(change.addTags || change.removeTags ? (['tags'] as const) : []));
  return before;
}

/** Undoes a change: every picture says again what it said before. */
export async function restorePictures(app: App, library: number, before: Before): Promise<void> {
  const { db } = app;
  const ids = before.pictures.map((p) => p.id);
  const names = new Map((await saidRows(db, library, ids)).map((row) => [row.id, row]));
  const known = new Set((await tagTree(db, library)).keys());
  const events = new Set(
    ((await db('events').where('library_id', library).select('id')) as { id: number }[]).map((e) => e.id),
  );
  await db.transaction(async (trx) => {
    for (const p of before.pictures) {
      const row = names.get(p.id)!;
      await trx('pictures')
        .where('id', p.id)
        .update({
          rating: p.rating,
          favourite: p.favourite,
          title: p.title,
          caption: p.caption,
          words: searchable(p.title, p.caption, row.name),
          taken_local: p.taken,
          day: p.taken?.slice(0, 10) ?? null,
          taken_source: p.takenSource,
          taken_certainty: p.takenCertainty,
          offset_minutes: p.offset,
          ...spanColumns(p.takenSpan),
          ...(p.event === null || events.has(p.event) ? { event_id: p.event, event_by_hand: p.eventByHand } : {}),
        });
      await trx('picture_tags').where('picture_id', p.id).delete();
      const tags = p.tags.filter((tag) => known.has(tag));
      if (tags.length)
        await trx('picture_tags').insert(tags.map((tag_id) => ({ library_id: library, picture_id: p.id, tag_id })));
    }
    await markDirty(trx, library, ids);
  });
  await ask(db, library, 'events', 0, 500);
  app.changed(library, 'pictures', 'tags', 'events');
}
