import type { DatePreview, RedatingAsked } from '@gemmel/contract';
import { offsetAt, redate, type Datable, type Dated, type TakenSource } from '@gemmel/core';
import { perform, type By } from '../act/perform';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { setMany } from '../db/setMany';
import { notFound, refused } from '../problem';
import { dayIn, homeOf } from './home';
import { SPAN, spanColumns, spanOf, type SpanRow } from './span';

interface Row extends SpanRow {
  id: number;
  name: string;
  original_name: string | null;
  taken_local: string | null;
  offset_minutes: number | null;
  taken_source: TakenSource | null;
  taken_certainty: number | null;
  path: string | null;
  batch: string | null;
  modified: number | null;
}

/** The pictures in the order asked for, with what their files said when they came. */
async function datable(
  db: Db,
  library: number,
  ids: readonly number[],
): Promise<(Datable & { id: number; called: string })[]> {
  const rows = new Map<number, Row>();
  for (const some of chunks(ids, 1000))
    for (const row of (await db('pictures as p')
      .leftJoin('batch_items as i', (on) =>
        on.on('i.picture_id', 'p.id').andOn('i.batch_id', 'p.batch_id').andOnVal('i.state', 'stored'),
      )
      .leftJoin('batches as b', 'b.id', 'p.batch_id')
      .where('p.library_id', library)
      .whereIn('p.id', some)
      .select(
        'p.id',
        'p.name',
        'p.original_name',
        'p.taken_local',
        'p.offset_minutes',
        'p.taken_source',
        'p.taken_certainty',
        ...SPAN.map((column) => `p.${column}`),
        'i.path',
        'b.name as batch',
        'i.modified',
      )) as Row[])
      rows.set(row.id, row);
  return ids.map((id) => {
    const row = rows.get(id);
    if (!row) throw notFound('pictures');
    return {
      id,
      local: row.taken_local?.replace(' ', 'T') ?? null,
      offset: row.offset_minutes,
      span: spanOf(row),
      source: row.taken_source,
      certainty: row.taken_certainty,
      name: row.original_name ?? row.name,
      called: row.name,
      path: `${row.batch ?? ''}/${row.path ?? row.name}`,
      modified: row.modified === null ? null : Number(row.modified),
    };
  });
}

function mended(pictures: readonly Datable[], how: RedatingAsked, home: string): (Dated | null)[] {
  const after = redate(pictures, how, Number(dayIn(home).slice(0, 4)), (at) => offsetAt(home, at) ?? 0);
  const unread = 'set' in how || 'order' in how;
  if (unread && after.every((one) => one === null)) throw refused('not-a-date');
  const year = (one: Dated | null) => Number(one?.local?.slice(0, 4) ?? 2000);
  if (after.some((one) => year(one) < 1800 || year(one) > 2200)) throw refused('years-outside');
  return after;
}

/** How many pictures a preview shows one by one. */
const SHOWN = 200;

/** What mending dates would do: the first pictures one by one, all of them counted. */
export async function previewDates(
  app: App,
  library: number,
  ids: readonly number[],
  how: RedatingAsked,
): Promise<DatePreview> {
  const pictures = await datable(app.db, library, ids);
  const after = mended(pictures, how, await homeOf(app.db, library));
  const time = ({ local, offset, span }: Dated) => ({ local, offset, span });
  return {
    pictures: pictures.slice(0, SHOWN).map((p, i) => ({
      id: p.id,
      name: p.called,
      before: time(p),
      after: after[i] ? time(after[i]) : null,
    })),
    changed: after.filter(Boolean).length,
    left: after.filter((one) => one === null).length,
  };
}

/** Mends dates; pictures of which the way says nothing stay as they are. */
export function mendDates(
  app: App,
  by: By,
  ids: readonly number[],
  how: RedatingAsked,
): Promise<{ act: number | null }> {
  return perform(app, by, 'date', async ({ trx, library, hold, words }) => {
    await hold('pictures', ids);
    const pictures = await datable(trx, library, ids);
    const after = mended(pictures, how, await homeOf(trx, library));
    const changed = pictures.flatMap((p, i) => (after[i] ? [{ id: p.id, to: after[i] }] : []));
    if (changed.length === 0) throw refused('says-nothing');
    words({ what: Object.keys(how), ...('set' in how ? { to: how.set } : {}) });
    await setMany(
      trx,
      library,
      'pictures',
      changed.map(({ id, to }) => ({
        id,
        set: {
          taken_local: to.local?.replace('T', ' ') ?? null,
          day: to.local?.slice(0, 10) ?? null,
          offset_minutes: to.offset,
          taken_source: to.source,
          taken_certainty: to.certainty,
          ...spanColumns(to.span),
        },
      })),
    );
    // A place in an event that people gave stays; one that was found is found anew.
    const unsure = changed.filter(({ to }) => to.span || to.local === null).map(({ id }) => id);
    for (const some of chunks(unsure, 1000))
      await trx('pictures')
        .where({ library_id: library, event_by_hand: false })
        .whereIn('id', some)
        .update({ event_id: null });
  });
}
