import type { ShareOf } from '@gemmel/contract';
import type { Question } from '@gemmel/core';
import { holdingOf } from '../album/holding';
import { albumColumns, type AlbumRow } from '../album/row';
import type { App } from '../context';
import { conditionOf } from '../picture/pictures';
import type { Sql } from '../question/toSql';
import { atLeast } from '../sight/audience';
import { saidIn } from '../sight/said';
import { lately } from './lately';
import { ofIn, type ShareRow } from './row';

/** The pictures of a share as a part of a query over `pictures p`: what is joined, what is asked, and in which order they stand. */
export interface Shown extends Sql {
  join: string;
  order: string;
}

const BY_TIME = 'p.taken_local IS NULL, p.taken_local, p.id';
const NONE: Shown = { join: '', sql: 'FALSE', values: [], order: BY_TIME };

async function albumRow({ db }: App, library: number, id: number): Promise<AlbumRow | null> {
  const row = await db('albums').where({ id, library_id: library }).whereNull('removed_at').first(albumColumns(db));
  return (row as unknown as AlbumRow | undefined) ?? null;
}

/** The question that something shared means; null for an album, a show or pictures. */
export function questionOf(of: ShareOf): Question | null {
  if ('event' in of) return { event: of.event };
  if ('person' in of) return { who: { people: [of.person], mode: 'all' } };
  return 'question' in of ? of.question : null;
}

/** What is shared, as it is now, without a thought for whom its pictures are. */
export async function meantBy(app: App, library: number, of: ShareOf): Promise<Shown> {
  if ('album' in of) {
    const album = await albumRow(app, library, of.album);
    if (!album) return NONE;
    const { join, sql, values, order } = await holdingOf(app, library, album);
    return { join, sql: `(${sql})`, values, order };
  }
  if ('show' in of) {
    const show = await app
      .db('shows')
      .where({ id: of.show, library_id: library })
      .whereNull('removed_at')
      .first('source');
    if (!show) return NONE;
    const source = JSON.parse(show.source) as Exclude<ShareOf, { show: number }>;
    return meantBy(app, library, source);
  }
  if ('ids' in of)
    return of.ids.length
      ? {
          join: '',
          sql: `p.id IN (${of.ids.map(() => '?').join(',')})`,
          values: [...of.ids],
          order: `FIELD(p.id, ${of.ids.join(',')})`,
        }
      : NONE;
  const { sql, values } = await conditionOf(app, library, questionOf(of)!);
  return { join: '', sql: `(${sql})`, values, order: BY_TIME };
}

/** True for pictures that a share with this reach may show. What a guest has added and nobody has said yes to is not among them. */
export async function reachSql(
  app: App,
  library: number,
  reach: 'house' | 'family' | 'link',
  brief = false,
): Promise<Sql> {
  const { reach: kept } = lately(app);
  const key = `${library} ${reach}`;
  const there = brief ? kept.get(key) : undefined;
  if (there) return there;
  const { said, usual } = await saidIn(app.db, library);
  const meant = atLeast(reach, { library, member: null, said, usual });
  const sql: Sql = {
    sql: `(${meant.sql}) AND NOT COALESCE(p.batch_id IN (SELECT b.id FROM batches b WHERE b.library_id = ? AND b.held), FALSE)`,
    values: [...meant.values, library],
  };
  kept.set(key, sql);
  return sql;
}

/**
 * The pictures a share shows now: what is shared, live or as it was when it was frozen, with what guests have added to it; of those the ones
 * that are for as many as it reaches. What guests add to a share of an album is put into the album itself.
 */
export async function shown(app: App, row: ShareRow, brief = false): Promise<Shown> {
  const of = ofIn(row);
  const reach = await reachSql(app, row.library_id, row.reach, brief);
  const narrow = ({ join, sql, values, order }: Shown): Shown => ({
    join,
    sql: `${sql} AND ${reach.sql}`,
    values: [...values, ...reach.values],
    order,
  });
  if (!of || row.frozen)
    return narrow({
      join: 'JOIN share_pictures sp ON sp.picture_id = p.id',
      sql: 'sp.share_id = ?',
      values: [row.id],
      order: 'sp.position, sp.picture_id',
    });
  const meant = await meantBy(app, row.library_id, of);
  if (meant.join) return narrow(meant);
  return narrow({
    ...meant,
    sql: `(${meant.sql} OR p.id IN (SELECT sp.picture_id FROM share_pictures sp WHERE sp.share_id = ?))`,
    values: [...meant.values, row.id],
  });
}

/** The album filled by hand that a share is of, by itself or as a show. */
export async function albumShared(app: App, row: ShareRow): Promise<number | null> {
  let of = ofIn(row);
  if (row.frozen || !of) return null;
  if ('show' in of) {
    const show = await app.db('shows').where({ id: of.show, library_id: row.library_id }).first('source');
    of = show ? (JSON.parse(show.source) as ShareOf) : null;
  }
  if (!of || !('album' in of)) return null;
  const album = await albumRow(app, row.library_id, of.album);
  return album?.kind === 'plain' ? album.id : null;
}
