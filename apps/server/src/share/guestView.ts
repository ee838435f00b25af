import type { GuestShare } from '@gemmel/contract';
import { isHidden, toEdtf } from '@gemmel/core';
import type { Knex } from 'knex';
import { chunks, type App } from '../context';
import { ownPlaces } from '../place/own';
import { spanOf, type SpanRow } from '../time/span';
import { albumShared, shown } from './holding';
import { lately } from './lately';
import { mayIn, tellsIn, type ShareRow } from './row';
import { comeToLook, type AtShare } from './visits';

/** A shared picture as the routes for guests need it. */
export interface GuestPictureRow extends SpanRow {
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
  day: string | null;
  taken_local: string | null;
  title: string | null;
  caption: string | null;
}

const GUEST = [
  ...['id', 'library_id', 'sha256', 'of_sha', 'shown', 'view', 'recipe', 'width', 'height', 'thumb', 'kind', 'seconds'],
  ...[
    'bytes',
    'name',
    'format',
    'codec',
    'vault_path',
    'lat',
    'lon',
    'place',
    'country',
    'day',
    'taken_local',
    'title',
    'caption',
  ],
  ...['taken_exact', 'taken_from', 'taken_to', 'taken_about'],
].map((column) => `p.${column}`);

/** Rows of shared pictures; only what this share shows can ever be reached through it. With an id, that one alone. */
async function guestRows(
  app: App,
  row: ShareRow,
  { id, most, brief = false }: { id?: number; most?: number | undefined; brief?: boolean } = {},
): Promise<GuestPictureRow[]> {
  const { join, sql, values, order } = await shown(app, row, brief);
  const one = id === undefined ? '' : 'p.id = ? AND ';
  const [rows] = (await app.db.raw(
    `SELECT ${GUEST.join(', ')}, l.slug FROM pictures p ${join} JOIN libraries l ON l.id = p.library_id
     WHERE ${one}${sql} AND p.library_id = ? ${id === undefined ? `ORDER BY ${order}` : 'LIMIT 1'} ${most === undefined ? '' : `LIMIT ${most}`}`,
    [...(id === undefined ? [] : [id]), ...values, row.library_id] as Knex.RawBinding[],
  )) as [GuestPictureRow[]];
  return rows;
}

/** The shared pictures in order, or the first of them. */
export const guestPictures = (app: App, row: ShareRow, most?: number): Promise<GuestPictureRow[]> =>
  guestRows(app, row, { most });

/** One picture of a share, looked up by itself: a page of a hundred thumbnails must not read the share a hundred times. */
export async function guestPicture(
  app: App,
  row: ShareRow,
  id: number,
  brief = false,
): Promise<GuestPictureRow | null> {
  const { pictures } = lately(app);
  const key = `${row.id} ${id}`;
  const there = brief ? pictures.get(key) : undefined;
  if (there) return there.row;
  const found = (await guestRows(app, row, { id, brief }))[0] ?? null;
  pictures.set(key, { row: found });
  return found;
}

/** Pictures of a library as they are given to guests, in the order asked for; those that are not there are left out. */
export async function picturesBy(app: App, library: number, ids: readonly number[]): Promise<GuestPictureRow[]> {
  const rows = (await app
    .db('pictures as p')
    .join('libraries as l', 'l.id', 'p.library_id')
    .where('p.library_id', library)
    .whereIn('p.id', [...ids])
    .select(...GUEST, 'l.slug')) as GuestPictureRow[];
  const by = new Map(rows.map((row) => [row.id, row]));
  return ids.flatMap((id) => by.get(id) ?? []);
}

/** How many of each picture's rows there are in a table, for a share. */
async function counts(app: App, share: ShareRow, table: 'guest_hearts' | 'comments', ids: readonly number[]) {
  const found = new Map<number, number>();
  for (const some of chunks(ids, 5000))
    for (const { picture_id, n } of (await app
      .db(table as 'comments')
      .where({ share_id: share.id, ...(table === 'comments' ? { hidden: false } : {}) })
      .whereIn('picture_id', some)
      .groupBy('picture_id')
      .select('picture_id', app.db.raw('COUNT(*) AS n'))) as unknown as { picture_id: number; n: number }[])
      found.set(picture_id, Number(n));
  return found;
}

/** The names of people in some pictures, those who are hidden left out. */
async function namesIn({ db }: App, ids: readonly number[]): Promise<Map<number, string[]>> {
  const found = new Map<number, string[]>();
  for (const some of chunks(ids, 5000))
    for (const { picture_id, name } of (await db('faces as f')
      .join('people as n', 'n.id', 'f.person_id')
      .whereIn('f.picture_id', some)
      .where('n.hidden', false)
      .groupBy('f.picture_id', 'n.id')
      .orderByRaw('MIN(f.x)')
      .select('f.picture_id', 'n.name')) as { picture_id: number; name: string }[])
      found.set(picture_id, [...(found.get(picture_id) ?? []), name]);
  return found;
}

/** Headings and notes of the album a share is of, with how many of the pictures that are shown stand before each. */
async function chaptersOf(app: App, row: ShareRow, ids: readonly number[]): Promise<GuestShare['chapters']> {
  const { db } = app;
  const album = await albumShared(app, row);
  if (album === null) return [];
  const { sorted, backwards } = (await db('albums').where('id', album).first('sorted', 'backwards'))!;
  if (sorted !== 'hand' || backwards) return [];
  const chapters = await db('album_chapters').where('album_id', album).orderBy(['position', 'id']);
  if (chapters.length === 0) return [];
  const positions = new Map(
    (await db('album_pictures').where('album_id', album).select('picture_id', 'position')).map((one) => [
      one.picture_id,
      one.position,
    ]),
  );
  let at = 0;
  return chapters.map(({ heading, note, position }) => {
    while (at < ids.length && (positions.get(ids[at]!) ?? '') < position) at++;
    return { at, heading, note };
  });
}

/**
 * What a guest sees: shapes and placeholders, and of places, names, words and days what the share tells; a town never of a picture taken in
 * one of the household's hidden places. Begins the visit, or goes on with it.
 */
export async function guestView(app: App, at: AtShare, agent: string | undefined): Promise<GuestShare> {
  const { share } = at;
  const { db } = app;
  const there = await comeToLook(app, at, agent);
  const pictures = await guestPictures(app, share);
  const ids = pictures.map(({ id }) => id);
  const [may, tells] = [mayIn(share), tellsIn(share)];
  const from = (await db('members').where('id', share.created_by).first('name'))!;
  const [names, hearts, own, comments, chapters, others, hidden] = await Promise.all([
    tells.names ? namesIn(app, ids) : new Map<number, string[]>(),
    may.say ? counts(app, share, 'guest_hearts', ids) : new Map<number, number>(),
    may.say && at.who
      ? db('guest_hearts').where({ share_id: share.id, who: at.who }).select('picture_id')
      : ([] as { picture_id: number }[]),
    may.say ? counts(app, share, 'comments', ids) : new Map<number, number>(),
    tells.captions ? chaptersOf(app, share, ids) : [],
    tells.others
      ? db('share_visits')
          .where('share_id', share.id)
          .whereNotNull('name')
          .whereNot('who', at.who ?? Buffer.alloc(32))
          .distinct('name')
          .limit(50)
      : ([] as { name: string | null }[]),
    tells.places ? ownPlaces(db, share.library_id) : [],
  ]);
  const mine = new Set(own.map(({ picture_id }) => picture_id));
  const dayOf = (p: GuestPictureRow) => {
    const span = spanOf(p);
    return tells.dates ? (span ? toEdtf(span) : p.day) : null;
  };
  return {
    title: share.title,
    from: from.name,
    until: share.until_day,
    bytes: may.save === 'full' ? pictures.reduce((sum, p) => sum + Number(p.bytes), 0) : 0,
    may,
    tells,
    name: at.guest?.name ?? there.name,
    others: others.map(({ name }) => name!),
    pictures: pictures.map((p) => ({
      id: p.id,
      shape: p.width / p.height,
      thumb: p.thumb.toString('base64'),
      kind: p.kind,
      seconds: p.seconds,
      bytes: Number(p.bytes),
      town:
        tells.places && p.place && p.country && p.lat !== null && p.lon !== null && !isHidden(hidden, p.lat, p.lon)
          ? { name: p.place, country: p.country }
          : null,
      day: dayOf(p),
      title: tells.captions ? p.title : null,
      caption: tells.captions ? p.caption : null,
      names: names.get(p.id) ?? [],
      hearts: hearts.get(p.id) ?? 0,
      heart: mine.has(p.id),
      comments: comments.get(p.id) ?? 0,
    })),
    chapters,
  };
}
