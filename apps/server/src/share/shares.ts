import { isHidden } from '@gemmel/core';
import { ownPlaces } from '../place/own';
import { libraryPlaceName } from '../picture/placeName';
import type { GuestShare, Share } from '@gemmel/contract';
import { createHash, createHmac } from 'node:crypto';
import { albumIds, ownPictures } from '../album/albums';
import { perform, type By } from '../act/perform';
import { chunks, today, type App } from '../context';
import { notFound, Refused } from '../problem';

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
}

/**
 * The secret part of a share's link: 256 bits from the server's own key and the share's id, so that the database holds
 * only its hash and the keeper can still copy the link again.
 */
const tokenOf = (app: App, id: number): string =>
  createHmac('sha256', app.config.secrets.links).update(`share ${id}`).digest('base64url');
const hashOf = (token: string): Buffer => createHash('sha256').update(token).digest();

/**
 * Gives every share a new link when the key they were made with was lost: the old links lead nowhere then, and the new ones
 * can be copied. Answers whether that was so.
 */
export async function renewLinks(app: App): Promise<boolean> {
  const { db } = app;
  const rows = (await db('shares').whereNotNull('token_hash').select('id', 'token_hash')) as {
    id: number;
    token_hash: Buffer;
  }[];
  const old = rows.filter((row) => !row.token_hash.equals(hashOf(tokenOf(app, row.id))));
  for (const { id } of old)
    await db('shares')
      .where('id', id)
      .update({ token_hash: hashOf(tokenOf(app, id)) });
  return old.length > 0;
}

const stateOf = (row: Row): Share['state'] =>
  row.closed_at ? 'closed' : row.until_day && row.until_day < today() ? 'over' : 'open';

/** The pictures of a share, in order: an album's as they are now, or those that were picked. */
async function sharedIds(app: App, row: Row): Promise<number[]> {
  if (row.album_id !== null) {
    try {
      return await albumIds(app, row.library_id, row.album_id);
    } catch (error) {
      if (error instanceof Refused && error.status === 404) return [];
      throw error;
    }
  }
  return (
    (await app.db('share_pictures').where('share_id', row.id).orderBy('position').select('picture_id')) as {
      picture_id: number;
    }[]
  ).map((r) => r.picture_id);
}

async function toShare(app: App, row: Row): Promise<Share> {
  const ids = await sharedIds(app, row);
  const cover = ids.length
    ? ((await app.db('pictures').where('id', ids[0]!).first('sha256')) as { sha256: Buffer } | undefined)
    : undefined;
  const album =
    row.album_id === null
      ? undefined
      : ((await app.db('albums').where('id', row.album_id).first('kind', 'name')) as { kind: string; name: string });
  return {
    id: row.id,
    title: row.title,
    about: album
      ? album.kind === 'smart'
        ? `The smart album ${album.name}, which grows by itself`
        : `The album ${album.name}`
      : 'Pictures from the pile',
    pictures: ids.length,
    cover: cover?.sha256.toString('hex') ?? null,
    until: row.until_day,
    state: stateOf(row),
    closedAt: row.closed_at ? `${row.closed_at.replace(' ', 'T')}Z` : null,
    opened: row.opened,
    lastOpened: row.last_opened ? `${row.last_opened.replace(' ', 'T')}Z` : null,
    path: stateOf(row) === 'open' ? `/s/${tokenOf(app, row.id)}` : null,
  };
}

/** All shares, newest first. */
export async function listShares(app: App, library: number): Promise<Share[]> {
  const rows = (await app.db('shares').where('library_id', library).orderBy('id', 'desc')) as Row[];
  return Promise.all(rows.map((row) => toShare(app, row)));
}

async function shareRow(app: App, library: number, id: number): Promise<Row> {
  const row = (await app.db('shares').where({ id, library_id: library }).first()) as Row | undefined;
  if (!row) throw notFound('This share');
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
  if (what.until && what.until < today())
    throw new Refused(400, 'This day is over already. Choose one that is still to come.');
  if ((what.album === undefined) === (what.ids === undefined))
    throw new Refused(400, 'A share is of one album or of some pictures.');
  if (what.album !== undefined) await albumIds(app, library, what.album);
  const { id, act } = await perform(app, by, 'open share', async ({ trx, made, hold, words }) => {
    const ids = what.ids ? await ownPictures(trx, library, what.ids) : [];
    if (what.ids && ids.length === 0)
      throw new Refused(400, 'There is nothing to share yet. Put pictures on the pile first.');
    const [share] = (await trx('shares').insert({
      library_id: library,
      title: what.title,
      album_id: what.album ?? null,
      until_day: what.until,
      tell_places: what.tellPlaces ?? false,
      created_by: by.member,
    })) as [number];
    made('shares', share);
    await trx('shares')
      .where('id', share)
      .update({ token_hash: hashOf(tokenOf(app, share)) });
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
    if ((await hold('shares', [id])).length === 0) throw notFound('This share');
    const { title } = (await trx('shares').where('id', id).first('title')) as { title: string };
    words({ name: title });
    // Saying the same twice changes nothing, not even when it was said.
    const closing = trx.raw('COALESCE(closed_at, UTC_TIMESTAMP(3))');
    await trx('shares')
      .where({ id, library_id: by.library })
      .update({ closed_at: closed ? closing : null });
  });
  return { share: await toShare(app, await shareRow(app, by.library, id)), act };
}

/** The share a link opens. Unknown links and ended ones are refused in kind words. */
export async function shareOfToken(app: App, token: string): Promise<Row> {
  const row = (await app.db('shares').where('token_hash', hashOf(token)).first()) as Row | undefined;
  if (!row)
    throw new Refused(404, 'This link leads nowhere. Perhaps a piece of it was lost on the way; ask for it again.');
  if (stateOf(row) === 'closed')
    throw new Refused(410, 'This share has been closed. Whoever sent you the link can open it again.');
  if (stateOf(row) === 'over')
    throw new Refused(
      410,
      'This share was open for a while and its time is over. Whoever sent you the link can open it again.',
    );
  return row;
}

/** A shared picture as the routes for guests need it. */
export interface GuestRow {
  id: number;
  sha256: Buffer;
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

/** The shared pictures in order, as rows; only what this share shows can ever be reached through it. */
export async function guestPictures(app: App, row: Row): Promise<GuestRow[]> {
  const ids = await sharedIds(app, row);
  const found = new Map<number, GuestRow>();
  for (const some of chunks(ids, 1000))
    for (const p of (await app
      .db('pictures as p')
      .join('libraries as l', 'l.id', 'p.library_id')
      .where('p.library_id', row.library_id)
      .whereIn('p.id', some)
      .select(
        'p.id',
        'p.sha256',
        'p.width',
        'p.height',
        'p.thumb',
        'p.kind',
        'p.seconds',
        'p.bytes',
        'p.name',
        'p.format',
        'p.codec',
        'p.vault_path',
        'l.slug',
        'p.lat',
        'p.lon',
        'p.place',
        'p.country',
      )) as GuestRow[])
      found.set(p.id, p);
  return ids.map((id) => found.get(id)).filter((p): p is GuestRow => p !== undefined);
}

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
      ? libraryPlaceName(p.place, p.country)
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
      place: townOf(p),
    })),
  };
}
