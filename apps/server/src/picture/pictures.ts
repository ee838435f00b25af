import type { Before, Picture, PictureChange, Skeleton, Tile } from '@gemmel/contract';
import {
  nodes,
  readStamp,
  sayWhenSpan,
  searchable,
  shiftLocal,
  type Question,
  type When,
  type World,
} from '@gemmel/core';
import { chunks, today, type App } from '../context';
import type { Db } from '../db/open';
import { folderTree } from '../folder/folders';
import { spanColumns } from '../intake/store';
import { ask } from '../jobs/jobs';
import { notFound, Refused } from '../problem';
import { toSql, type Sql } from '../question/toSql';
import { tagIds, tagTree } from '../tag/tags';
import { markDirty } from '../vault/sidecar';
import { countryName, libraryPlaceName } from './placeName';

/** What questions need to know that lies outside the pictures. */
export async function worldOf(app: App, library: number): Promise<World> {
  const [tagParent, folderParent] = await Promise.all([tagTree(app.db, library), folderTree(app.db, library)]);
  return { today: today(), tagParent, folderParent };
}

/** The SQL condition of a question for this library, now. */
export async function conditionOf(app: App, library: number, question: Question): Promise<Sql> {
  return toSql(question, library, await worldOf(app, library));
}

/** The rows a question asks for, as a FROM and WHERE on `pictures p`. `hint` says how MariaDB is to go about it. */
const where = (library: number, { sql, values }: Sql, hint = '') => ({
  text: `FROM pictures p ${hint} WHERE p.library_id = ? AND (${sql})`,
  values: [library, ...values],
});

/** Words are in no index: walking the timeline and reading every row on the way is slower than sorting the few hits. */
const hintFor = (question: Question): string =>
  [...nodes(question)].some((q) => 'text' in q || ('has' in q && q.has === 'caption'))
    ? 'IGNORE INDEX FOR ORDER BY (timeline)'
    : '';

/** Newest first; pictures without a time come last. */
const ORDER = 'ORDER BY p.taken_local DESC, p.id DESC';

const orderOf = (oldestFirst: boolean) => (oldestFirst ? 'ORDER BY p.taken_local IS NULL, p.taken_local, p.id' : ORDER);

/** The columns that say which days a time may be, when no more is known. */
export interface SpanRow {
  taken_exact: When['exact'] | null;
  taken_from: string | null;
  taken_to: string | null;
  taken_about: number;
}

/** The days a picture's time may be, when no more is known. */
export const spanOf = (row: SpanRow): When | null =>
  row.taken_exact && row.taken_from && row.taken_to
    ? { exact: row.taken_exact, from: row.taken_from, to: row.taken_to, about: Boolean(row.taken_about) }
    : null;

/** The columns of a question's answer in grid order, newest or oldest first. */
export async function skeleton(app: App, library: number, question: Question, oldestFirst = false): Promise<Skeleton> {
  const { text, values } = where(library, await conditionOf(app, library, question));
  const [rows] = (await app.db.raw(
    `SELECT p.id, p.width, p.height, p.day, p.event_id AS event, p.taken_exact, p.taken_from, p.taken_to, p.taken_about ${text} ${orderOf(oldestFirst)}`,
    values,
  )) as [(SpanRow & { id: number; width: number; height: number; day: string | null; event: number | null })[]];
  const result: Skeleton = { ids: [], shapes: [], days: [], events: [], count: rows.length };
  let last = 0;
  for (const row of rows) {
    result.ids.push(row.id - last);
    last = row.id;
    result.shapes.push(Math.round((100 * row.width) / row.height));
    const day = result.days[result.days.length - 1];
    const span = spanOf(row);
    const said = span ? sayWhenSpan(span) : undefined;
    if (day && day[0] === row.day && day[2] === said) day[1]++;
    else result.days.push(said === undefined ? [row.day, 1] : [row.day, 1, said]);
    const event = result.events[result.events.length - 1];
    if (event && event[0] === (row.event ?? 0)) event[1]++;
    else result.events.push([row.event ?? 0, 1]);
  }
  return result;
}

/** How many pictures answer a question. */
export async function countOf(app: App, library: number, question: Question): Promise<number> {
  const { text, values } = where(library, await conditionOf(app, library, question));
  const [[row]] = (await app.db.raw(`SELECT COUNT(*) AS n ${text}`, values)) as [[{ n: number }]];
  return Number(row.n);
}

/** The ids that answer a question, in grid order or oldest first. */
export async function idsOf(app: App, library: number, question: Question, oldestFirst = false): Promise<number[]> {
  const { text, values } = where(library, await conditionOf(app, library, question));
  const [rows] = (await app.db.raw(`SELECT p.id ${text} ${orderOf(oldestFirst)}`, values)) as [{ id: number }[]];
  return rows.map((row) => row.id);
}

interface TileRow {
  id: number;
  sha256: Buffer;
  thumb: Buffer;
  kind: 'photo' | 'video';
  seconds: number | null;
  rating: number;
  favourite: number;
  title: string | null;
  name: string;
  taken_local: string | null;
}
const TILE = ['id', 'sha256', 'thumb', 'kind', 'seconds', 'rating', 'favourite', 'title', 'name', 'taken_local'].map(
  (c) => `p.${c}`,
);

const dayWords = new Intl.DateTimeFormat('en-GB', {
  weekday: 'long',
  day: 'numeric',
  month: 'long',
  year: 'numeric',
  timeZone: 'UTC',
});

function toTile(row: TileRow): Tile {
  const when = row.taken_local ? dayWords.format(new Date(`${row.taken_local.replace(' ', 'T')}Z`)) : 'no date';
  return {
    id: row.id,
    sha: row.sha256.toString('hex'),
    thumb: row.thumb.toString('base64'),
    kind: row.kind,
    seconds: row.seconds,
    rating: row.rating,
    favourite: Boolean(row.favourite),
    label: `${row.title ?? row.name}, ${when}`,
  };
}

/** What the grid shows of some pictures. Ids that are not in the library are left out. */
export async function tilesOf(app: App, library: number, ids: readonly number[]): Promise<Tile[]> {
  const rows = (await app
    .db('pictures as p')
    .where('p.library_id', library)
    .whereIn('p.id', ids)
    .select(TILE)) as TileRow[];
  const byId = new Map(rows.map((row) => [row.id, toTile(row)]));
  return ids.map((id) => byId.get(id)).filter((tile): tile is Tile => tile !== undefined);
}

/** A page of a question's answer by keyset: `after` is the cursor of the page before. */
export async function pageOf(
  app: App,
  library: number,
  question: Question,
  after: string | undefined,
  limit: number,
): Promise<{ tiles: Tile[]; after: string | null }> {
  const { text, values } = where(library, await conditionOf(app, library, question), hintFor(question));
  let from = '';
  const key: (string | number)[] = [];
  if (after !== undefined) {
    const [time, id] = after.split('|');
    if (!id || !/^\d+$/.test(id)) throw new Refused(400, 'This page marker cannot be read.');
    from = time
      ? ' AND (p.taken_local < ? OR (p.taken_local = ? AND p.id < ?) OR p.taken_local IS NULL)'
      : ' AND p.taken_local IS NULL AND p.id < ?';
    key.push(...(time ? [time, time, Number(id)] : [Number(id)]));
  }
  const [rows] = (await app.db.raw(`SELECT ${TILE.join(',')} ${text}${from} ${ORDER} LIMIT ?`, [
    ...values,
    ...key,
    limit,
  ])) as [TileRow[]];
  const last = rows[rows.length - 1];
  return {
    tiles: rows.map(toTile),
    after: last && rows.length === limit ? `${last.taken_local ?? ''}|${last.id}` : null,
  };
}

/** Everything about one picture. */
export async function pictureOfId(app: App, library: number, id: number): Promise<Picture> {
  const { db } = app;
  const p = await db('pictures as p')
    .leftJoin('events as e', 'e.id', 'p.event_id')
    .leftJoin('devices as d', 'd.id', 'p.device_id')
    .leftJoin('batches as b', 'b.id', 'p.batch_id')
    .leftJoin('folders as o', 'o.id', 'p.folder_id')
    .leftJoin('own_places as w', 'w.id', 'p.own_place_id')
    .where({ 'p.id': id, 'p.library_id': library })
    .first(
      'p.*',
      'e.title as event_title',
      'd.name as device',
      'b.name as batch',
      'o.name as folder',
      'w.name as own_place',
    );
  if (!p) throw notFound('This picture');
  const tags = (await db('picture_tags as pt')
    .join('tags as t', 't.id', 'pt.tag_id')
    .where('pt.picture_id', id)
    .orderBy('t.folded')
    .select('t.id', 't.name')) as { id: number; name: string }[];
  const albums = (await db('album_pictures as ap')
    .join('albums as a', 'a.id', 'ap.album_id')
    .where('ap.picture_id', id)
    .whereNull('a.removed_at')
    .orderBy('a.name')
    .select('a.id', 'a.name')) as { id: number; name: string }[];
  const faces = await db('faces as f')
    .leftJoin('people as n', 'n.id', 'f.person_id')
    .leftJoin('people as l', 'l.id', 'f.likely_person_id')
    .where('f.picture_id', id)
    .whereNot('f.state', 'not a face')
    .orderBy('f.x')
    .select('f.*', 'n.name as name', 'l.name as likely_name');
  const beside = (await db('picture_files')
    .where({ picture_id: id, library_id: library })
    .orderBy('id')
    .select('id', 'role', 'name', 'bytes', 'seconds')) as Picture['beside'];
  return {
    id,
    sha: p.sha256.toString('hex'),
    thumb: p.thumb.toString('base64'),
    kind: p.kind,
    name: p.name,
    format: p.format,
    keptAt: p.vault_path,
    bytes: Number(p.bytes),
    width: p.width,
    height: p.height,
    seconds: p.seconds,
    rating: p.rating,
    favourite: Boolean(p.favourite),
    title: p.title,
    caption: p.caption,
    taken: p.taken_local?.replace(' ', 'T') ?? null,
    offset: p.offset_minutes,
    takenSource: p.taken_source,
    takenCertainty: p.taken_certainty,
    takenSpan: spanOf(p),
    event: p.event_id ? { id: p.event_id, title: p.event_title } : null,
    place: p.own_place ?? (p.place ? libraryPlaceName(p.place, p.country) : null),
    placeSource: p.place_source,
    where: p.country
      ? {
          country: p.country,
          countryName: countryName(p.country),
          region: p.region,
          place: p.place,
          km: p.place_km,
          own: p.own_place_id,
        }
      : null,
    folder: p.folder_id ? { id: p.folder_id, name: p.folder } : null,
    position: p.lat === null ? null : { lat: p.lat, lon: p.lon },
    device: p.device,
    camera: p.camera,
    exposure: p.exposure,
    sharpness: p.sharpness,
    tags,
    albums,
    faces: faces.map((f) => ({
      id: f.id,
      box: [f.x, f.y, f.w, f.h],
      state: f.state,
      person: f.person_id ? { id: f.person_id, name: f.name } : null,
      namedBy: f.named_by,
      likely:
        f.likely_person_id && f.state === 'waiting'
          ? {
              id: f.likely_person_id,
              name: f.likely_name,
              why: `like ${f.likely_support} named ${f.likely_support === 1 ? 'picture' : 'pictures'}`,
            }
          : null,
    })),
    batch: p.batch_id ? { id: p.batch_id, name: p.batch } : null,
    originalName: p.original_name === p.name ? null : p.original_name,
    label: p.label,
    beside: beside.map((file) => ({ ...file, bytes: Number(file.bytes) })),
    alike: p.alike_id,
  };
}

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
}

async function saidRows(db: Db, library: number, ids: readonly number[]): Promise<SaidRow[]> {
  const rows: SaidRow[] = [];
  for (const some of chunks(ids, 1000))
    rows.push(
      ...((await db('pictures')
        .where('library_id', library)
        .whereIn('id', some)
        .select(
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
          'taken_exact',
          'taken_from',
          'taken_to',
          'taken_about',
        )) as SaidRow[]),
    );
  if (rows.length < new Set(ids).size) throw notFound('One of these pictures');
  return rows;
}

/** Applies what somebody says about pictures; answers with what stood there before. All or nothing. */
export async function changePictures(
  app: App,
  library: number,
  ids: readonly number[],
  change: PictureChange,
): Promise<Before> {
  const { db } = app;
  const rows = await saidRows(db, library, ids);
  const tagsBefore = new Map<number, number[]>();
  for (const some of chunks(ids, 1000))
    for (const { picture_id, tag_id } of (await db('picture_tags').whereIn('picture_id', some)) as {
      picture_id: number;
      tag_id: number;
    }[])
      tagsBefore.set(picture_id, [...(tagsBefore.get(picture_id) ?? []), tag_id]);
  const retimed = change.taken !== undefined || change.shiftSeconds !== undefined;
  const given = change.taken === undefined ? null : (readStamp(change.taken)?.local.replace('T', ' ') ?? null);
  if (change.taken !== undefined && given === null) throw new Refused(400, 'There is no such day or time.');
  await db.transaction(async (trx) => {
    const plain: Record<string, unknown> = {};
    if (change.rating !== undefined) plain['rating'] = change.rating;
    if (change.favourite !== undefined) plain['favourite'] = change.favourite;
    if (Object.keys(plain).length)
      for (const some of chunks(ids, 1000)) await trx('pictures').whereIn('id', some).update(plain);
    if (change.title !== undefined || change.caption !== undefined || retimed)
      for (const row of rows) {
        const title = change.title === undefined ? row.title : change.title || null;
        const caption = change.caption === undefined ? row.caption : change.caption || null;
        let local = given ?? row.taken_local;
        if (change.shiftSeconds !== undefined && local)
          local = shiftLocal(local.replace(' ', 'T'), change.shiftSeconds).replace('T', ' ');
        await trx('pictures')
          .where('id', row.id)
          .update({
            title,
            caption,
            words: searchable(title, caption, row.name),
            ...(retimed
              ? {
                  taken_local: local,
                  day: local?.slice(0, 10) ?? null,
                  taken_source: 'hand',
                  taken_certainty: 1,
                  ...spanColumns(null),
                }
              : {}),
          });
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
  if (retimed) await ask(db, library, 'events', 0, 500);
  app.changed(
    library,
    'pictures',
    ...(change.addTags || change.removeTags ? (['tags'] as const) : []),
    ...(retimed ? (['events'] as const) : []),
  );
  return {
    pictures: rows.map((row) => ({
      id: row.id,
      offset: row.offset_minutes,
      takenSpan: spanOf(row),
      rating: row.rating,
      favourite: Boolean(row.favourite),
      title: row.title,
      caption: row.caption,
      taken: row.taken_local,
      takenSource: row.taken_source,
      takenCertainty: row.taken_certainty,
      tags: tagsBefore.get(row.id) ?? [],
    })),
  };
}

/** Undoes a change: every picture says again what it said before. */
export async function restorePictures(app: App, library: number, before: Before): Promise<void> {
  const { db } = app;
  const ids = before.pictures.map((p) => p.id);
  const names = new Map((await saidRows(db, library, ids)).map((row) => [row.id, row]));
  const known = new Set((await tagTree(db, library)).keys());
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
