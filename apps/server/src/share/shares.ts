import { todayIn } from '../time/home';
import { isHidden } from '@gemmel/core';
import type { Knex } from 'knex';
import { ownPlaces } from '../place/own';
import type { GuestShare, Share } from '@gemmel/contract';
import { hashOf } from '../account/links';
import { ownPictures } from '../album/albums';
import { albumIds, holdingOf } from '../album/holding';
import { albumColumns, type AlbumRow } from '../album/row';
import { perform, type By } from '../act/perform';
import { chunks, type App } from '../context';
import { notFound, refused } from '../problem';
import { newLink, unseal } from './links';

interface Row {
  id: number;
  library_id: number;
  title: string;
  album_id: number | null;
  until_day: string | null;
  tell_places: number;
  opened: number;
  last_opened: string | null;
  closed_at: string | null;
  sealed: Buffer | null;
}

const stateOf = (row: Row, today: string): Share['state'] =>
  row.closed_at ? 'closed' : row.until_day && row.until_day < today ? 'over' : 'open';

/** The album of a share as it is now; null when it is of picked pictures, or when the album has been removed. */
async function albumOfShare(app: App, row: Row): Promise<AlbumRow | null> {
  if (row.album_id === null) return null;
  const album = await app
    .db('albums')
    .where({ id: row.album_id, library_id: row.library_id })
    .whereNull('removed_at')
    .first(albumColumns(app.db));
  return (album as unknown as AlbumRow | undefined) ?? null;
}

/**
 * The pictures a share shows now, as a part of a query over `pictures AS p`: an album's as they are, or those that were picked.
 * `order` is how they are shown; `sql` says `FALSE` when there are none.
 */
async function shown(app: App, row: Row): Promise<{ join: string; sql: string; values: unknown[]; order: string }> {
  if (row.album_id === null)
    return {
      join: 'JOIN share_pictures sp ON sp.picture_id = p.id',
      sql: 'sp.share_id = ?',
      values: [row.id],
      order: 'sp.position',
    };
  const album = await albumOfShare(app, row);
  if (!album) return { join: '', sql: 'FALSE', values: [], order: 'p.id' };
  const { join, sql, values, order } = await holdingOf(app, row.library_id, album);
  return { join, sql: `(${sql})`, values: [...values], order };
}

async function toShare(app: App, row: Row): Promise<Share> {
  const state = stateOf(row, await todayIn(app.db, row.library_id));
  const token = unseal(app, row.sealed);
  const { join, sql, values, order } = await shown(app, row);
  const from = `FROM pictures p ${join} WHERE p.library_id = ? AND ${sql}`;
  const bound = [row.library_id, ...values] as Knex.RawBinding[];
  const [[{ n }]] = (await app.db.raw(`SELECT COUNT(*) AS n ${from}`, bound)) as [[{ n: number }]];
  const [[cover]] = (await app.db.raw(`SELECT p.shown ${from} ORDER BY ${order} LIMIT 1`, bound)) as [
    [{ shown: Buffer } | undefined],
  ];
  const album =
    row.album_id === null ? undefined : await app.db('albums').where('id', row.album_id).first('kind', 'name');
  return {
    id: row.id,
    title: row.title,
    about: album ? { kind: album.kind === 'smart' ? 'smart album' : 'album', name: album.name } : { kind: 'pictures' },
    pictures: Number(n),
    cover: cover?.shown.toString('hex') ?? null,
    until: row.until_day,
    state,
    closedAt: row.closed_at ? `${row.closed_at.replace(' ', 'T')}Z` : null,
    opened: row.opened,
    lastOpened: row.last_opened ? `${row.last_opened.replace(' ', 'T')}Z` : null,
    path: state === 'open' && token ? `/s/${token}` : null,
  };
}

/** All shares, newest first. */
export async function listShares(app: App, library: number): Promise<Share[]> {
  const rows = (await app.db('shares').where('library_id', library).orderBy('id', 'desc')) as Row[];
  return Promise.all(rows.map((row) => toShare(app, row)));
}

async function shareRow(app: App, library: number, id: number): Promise<Row> {
  const row = (await app.db('shares').where({ id, library_id: library }).first()) as Row | undefined;
  if (!row) throw notFound('share');
  return row;
}

/** Opens a share of an album or of some pictures, look only. */
export async function openShare(
  app: App,
  by: By & { member: number },
  what: {
    title: string;
    album?: number | undefined;
    ids?: number[] | undefined;
    until: string | null;
    tellPlaces?: boolean;
  },
): Promise<{ share: Share; act: number | null }> {
  const { library } = by;
  if (what.until && what.until < (await todayIn(app.db, library))) throw refused('day-over');
  if ((what.album === undefined) === (what.ids === undefined)) throw refused('share-of-what');
  if (what.album !== undefined) await albumIds(app, library, what.album);
  const { id, act } = await perform(app, by, 'open share', async ({ trx, made, hold, words }) => {
    const ids = what.ids ? await ownPictures(trx, library, what.ids) : [];
    if (what.ids && ids.length === 0) throw refused('nothing-to-share');
    const [share] = (await trx('shares').insert({
      library_id: library,
      title: what.title,
      album_id: what.album ?? null,
      until_day: what.until,
      tell_places: what.tellPlaces ?? false,
      created_by: by.member,
      ...newLink(app),
    })) as [number];
    made('shares', share);
    await hold('share_pictures', [share]);
    for (const [c, some] of chunks(ids, 1000).entries())
      await trx('share_pictures').insert(
        some.map((picture_id, i) => ({ library_id: library, share_id: share, picture_id, position: c * 1000 + i })),
      );
    words({ name: what.title });
    return { id: share };
  });
  return { share: await toShare(app, await shareRow(app, library, id)), act };
}

/** Closes a share, or opens it again. */
export async function setClosed(
  app: App,
  by: By,
  id: number,
  closed: boolean,
): Promise<{ share: Share; act: number | null }> {
  const { act } = await perform(app, by, closed ? 'close share' : 'reopen share', async ({ trx, hold, words }) => {
    if ((await hold('shares', [id])).length === 0) throw notFound('share');
    const { title } = (await trx('shares').where('id', id).first('title'))!;
    words({ name: title });
    // Saying the same twice changes nothing, not even when it was said.
    const closing = trx.raw('COALESCE(closed_at, UTC_TIMESTAMP(3))');
    await trx('shares')
      .where({ id, library_id: by.library })
      .update({ closed_at: closed ? closing : null });
  });
  return { share: await toShare(app, await shareRow(app, by.library, id)), act };
}

/** Gives a share a new link; the old one leads nowhere from now on. */
export async function renewLink(app: App, library: number, id: number): Promise<Share> {
  const done = await app.db('shares').where({ id, library_id: library }).update(newLink(app));
  if (!done) throw notFound('share');
  app.changed(library, 'shares');
  return toShare(app, await shareRow(app, library, id));
}

/** The share a link opens. Unknown links and ended ones are refused in kind words. */
export async function shareOfToken(app: App, token: string): Promise<Row> {
  const row = (await app.db('shares').where('token_hash', hashOf(token)).first()) as Row | undefined;
  if (!row) throw refused('link-unknown');
  const state = stateOf(row, await todayIn(app.db, row.library_id));
  if (state === 'closed') throw refused('share-closed');
  if (state === 'over') throw refused('share-over');
  return row;
}

/** A shared picture as the routes for guests need it. */
export interface GuestRow {
  id: number;
  library_id: number;
  sha256: Buffer;
  of_sha: Buffer | null;
  shown: Buffer;
  view: Buffer | null;
  recipe: string | null;
  width: number;
  height: number;
  thumb: Buffer;
  kind: 'photo' | 'video';
  seconds: number | null;
  bytes: number;
  name: string;
  format: string;
  codec: string | null;
  vault_path: string;
  slug: string;
  lat: number | null;
  lon: number | null;
  place: string | null;
  country: string | null;
}

const GUEST = [
  'id',
  'library_id',
  'sha256',
  'of_sha',
  'shown',
  'view',
  'recipe',
  'width',
  'height',
  'thumb',
  'kind',
  'seconds',
  'bytes',
  'name',
  'format',
  'codec',
  'vault_path',
  'lat',
  'lon',
  'place',
  'country',
].map((column) => `p.${column}`);

/** Rows of shared pictures; only what this share shows can ever be reached through it. With an id, that one alone. */
async function guestRows(app: App, row: Row, id?: number): Promise<GuestRow[]> {
  const { join, sql, values, order } = await shown(app, row);
  const one = id === undefined ? '' : 'p.id = ? AND ';
  const [rows] = (await app.db.raw(
    `SELECT ${GUEST.join(', ')}, l.slug FROM pictures p ${join} JOIN libraries l ON l.id = p.library_id
     WHERE ${one}p.library_id = ? AND ${sql} ${id === undefined ? `ORDER BY ${order}` : 'LIMIT 1'}`,
    [...(id === undefined ? [] : [id]), row.library_id, ...values] as Knex.RawBinding[],
  )) as [GuestRow[]];
  return rows;
}

/** The shared pictures in order. */
export const guestPictures = (app: App, row: Row): Promise<GuestRow[]> => guestRows(app, row);

/** One picture of a share, looked up by itself: a page of a hundred thumbnails must not read the share a hundred times. */
export const guestPicture = async (app: App, row: Row, id: number): Promise<GuestRow | null> =>
  (await guestRows(app, row, id))[0] ?? null;

/**
 * What a guest sees: shapes and placeholders, no names and no words; a town only when the share tells places, and never of
 * a picture taken in one of the household's hidden places. Counts the visit.
 */
export async function guestView(app: App, token: string): Promise<GuestShare> {
  const row = await shareOfToken(app, token);
  const pictures = await guestPictures(app, row);
  const from = (await app
    .db('shares as s')
    .join('members as m', 'm.id', 's.created_by')
    .where('s.id', row.id)
    .first('m.name')) as { name: string };
  await app
    .db('shares')
    .where('id', row.id)
    .update({ opened: app.db.raw('opened + 1'), last_opened: app.db.raw('UTC_TIMESTAMP(3)') });
  app.changed(row.library_id, 'shares');
  const own = row.tell_places ? await ownPlaces(app.db, row.library_id) : [];
  const townOf = (p: GuestRow) =>
    row.tell_places && p.place && p.country && p.lat !== null && p.lon !== null && !isHidden(own, p.lat, p.lon)
      ? { name: p.place, country: p.country }
      : null;
  return {
    title: row.title,
    from: from.name,
    until: row.until_day,
    bytes: pictures.reduce((sum, p) => sum + Number(p.bytes), 0),
    pictures: pictures.map((p) => ({
      id: p.id,
      shape: p.width / p.height,
      thumb: p.thumb.toString('base64'),
      kind: p.kind,
      seconds: p.seconds,
      bytes: Number(p.bytes),
      town: townOf(p),
    })),
  };
}
