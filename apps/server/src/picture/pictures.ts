import type { Picture, Tile } from '@gemmel/contract';
import { boxIn, nodes, toEdtf, type Observed, type Question } from '@gemmel/core';
import type { App } from '../context';
import { commentsOf } from '../comment/comments';
import { NO_REASON, offersOf } from '../faces/offers';
import { notFound, refused } from '../problem';
import { toSql, type Sql } from '../question/toSql';
import { worldOf } from '../question/world';
import { heartsOf } from '../parlour/parlour';
import { otherSide } from '../scan/backs';
import { recipeIn, wholeSize } from '../touchup/key';
import { looksBeside } from '../touchup/looks';
import { spanOf, type SpanRow } from '../time/span';

/** The SQL condition of a question for this library, now. */
export async function conditionOf(app: App, library: number, question: Question): Promise<Sql> {
  return toSql(question, library, await worldOf(app.db, library, question));
}

/** The rows a question asks for, as a FROM and WHERE on `pictures p`. `hint` says how MariaDB is to go about it. */
export const where = (library: number, { sql, values }: Sql, hint = '') => ({
  text: `FROM pictures p ${hint} WHERE p.library_id = ? AND (${sql})`,
  values: [library, ...values],
});

/** Words are in no index: walking the timeline and reading every row on the way is slower than sorting the few hits. */
const hintFor = (question: Question): string =>
  [...nodes(question)].some((q) => 'text' in q || ('has' in q && q.has === 'caption'))
    ? 'IGNORE INDEX FOR ORDER BY (timeline)'
    : '';

/** Newest first; pictures without a time come last. */
export const ORDER = 'ORDER BY p.taken_local DESC, p.id DESC';

/** Newest first, or the other way round; pictures without a time come last. */
const orderOf = (oldestFirst: boolean): string =>
  oldestFirst ? 'ORDER BY p.taken_local IS NULL, p.taken_local, p.id' : ORDER;

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

interface TileRow extends SpanRow {
  id: number;
  shown: Buffer;
  thumb: Buffer;
  kind: 'photo' | 'video';
  seconds: number | null;
  rating: number;
  favourite: number;
  title: string | null;
  name: string;
  day: string | null;
  run_id: number | null;
  pair_id: number | null;
  of_sha: Buffer | null;
  view: Buffer | null;
}
const TILE = [
  'id',
  'shown',
  'thumb',
  'kind',
  'seconds',
  'rating',
  'favourite',
  'title',
  'name',
  'day',
  'taken_exact',
  'taken_from',
  'taken_to',
  'taken_about',
  'run_id',
  'pair_id',
  'view',
  'of_sha',
].map((c) => `p.${c}`);

function toTile(row: TileRow, tags: string[]): Tile {
  const span = spanOf(row);
  return {
    id: row.id,
    sha: row.shown.toString('hex'),
    thumb: row.thumb.toString('base64'),
    kind: row.kind,
    seconds: row.seconds,
    rating: row.rating,
    favourite: Boolean(row.favourite),
    name: row.title ?? row.name,
    title: row.title,
    file: row.name,
    tags,
    day: row.day,
    about: span && toEdtf(span),
    // Between the sides of a print there is nothing to choose.
    run: row.pair_id ? null : row.run_id,
    // A look as it was taken shows its original's own sizes.
    touched: row.view !== null && !(row.of_sha && row.view.equals(row.of_sha)),
  };
}

/** What the grid shows of some pictures. Ids that are not in the library are left out. */
export async function tilesOf(app: App, library: number, ids: readonly number[]): Promise<Tile[]> {
  const [rows, tagged] = (await Promise.all([
    app.db('pictures as p').where('p.library_id', library).whereIn('p.id', ids).select(TILE),
    app
      .db('picture_tags as pt')
      .joinRaw('JOIN tags AS t /* along */ ON t.id = pt.tag_id')
      .whereIn('pt.picture_id', ids)
      .where('pt.library_id', library)
      .orderBy('t.folded')
      .select('pt.picture_id as picture', 't.name'),
  ])) as [TileRow[], { picture: number; name: string }[]];
  const tags = new Map<number, string[]>();
  for (const { picture, name } of tagged) tags.set(picture, [...(tags.get(picture) ?? []), name]);
  const byId = new Map(rows.map((row) => [row.id, toTile(row, tags.get(row.id) ?? [])]));
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
    if (!id || !/^\d+$/.test(id)) throw refused('bad-marker');
    from = time
      ? ' AND (p.taken_local < ? OR (p.taken_local = ? AND p.id < ?) OR p.taken_local IS NULL)'
      : ' AND p.taken_local IS NULL AND p.id < ?';
    key.push(...(time ? [time, time, Number(id)] : [Number(id)]));
  }
  // Sorting numbers only is much lighter than sorting whole rows with their blurred views.
  const [rows] = (await app.db.raw(`SELECT p.id, p.taken_local ${text}${from} ${ORDER} LIMIT ?`, [
    ...values,
    ...key,
    limit,
  ])) as [{ id: number; taken_local: string | null }[]];
  const last = rows[rows.length - 1];
  return {
    tiles: await tilesOf(
      app,
      library,
      rows.map((row) => row.id),
    ),
    after: last && rows.length === limit ? `${last.taken_local ?? ''}|${last.id}` : null,
  };
}

/** Everything about one picture. */
export async function pictureOfId(app: App, library: number, id: number, member: number): Promise<Picture> {
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
      'b.named as batch_named',
      'b.created_at as batch_created',
      'o.name as folder',
      'w.name as own_place',
    );
  if (!p) throw notFound('picture');
  const tags = (await db('picture_tags as pt')
    .joinRaw('JOIN tags AS t /* along */ ON t.id = pt.tag_id')
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
  const why = new Map(
    (
      await offersOf(
        db,
        library,
        faces.map((f) => f.id as number),
      )
    ).map((o) => [`${o.face}|${o.person}`, o.why]),
  );
  const beside = (await db('picture_files')
    .where({ picture_id: id, library_id: library })
    .orderBy('id')
    .select('id', 'role', 'name', 'bytes', 'seconds')) as Picture['beside'];
  // Faces are kept where they are in the picture as it was taken, and told where they are in what is shown.
  const recipe = recipeIn(p.recipe);
  const placed = (box: [number, number, number, number]) =>
    (recipe ? [...boxIn(recipe, ...wholeSize(p), box)] : box) as [number, number, number, number];
  return {
    id,
    sha: p.shown.toString('hex'),
    thumb: p.thumb.toString('base64'),
    kind: p.kind,
    name: p.name,
    format: p.format,
    keptAt: p.vault_path,
    bytes: Number(p.bytes),
    width: p.width,
    height: p.height,
    seconds: p.seconds,
    touched: p.recipe !== null,
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
    ownPlace: p.own_place ? { id: p.own_place_id, name: p.own_place } : null,
    placeSource: p.place_source,
    where: p.country
      ? {
          country: p.country,
          region: p.region,
          place: p.place,
          km: p.place_km,
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
      box: placed([f.x, f.y, f.w, f.h]),
      state: f.state,
      person: f.person_id ? { id: f.person_id, name: f.name } : null,
      namedBy: f.named_by,
      likely:
        f.likely_name && f.state === 'waiting'
          ? {
              id: f.likely_person_id,
              name: f.likely_name,
              why: why.get(`${f.id}|${f.likely_person_id}`) ?? NO_REASON,
            }
          : null,
    })),
    batch: p.batch_id
      ? { id: p.batch_id, name: p.batch, named: p.batch_named, createdAt: `${p.batch_created.replace(' ', 'T')}Z` }
      : null,
    originalName: p.original_name === p.name ? null : p.original_name,
    label: p.label,
    mark: p.mark_id,
    comments: await commentsOf(db, library, id),
    loved: await heartsOf(db, id, member),
    observed: (await db('picture_observations').where('picture_id', id).orderBy('kind').select('kind')).map(
      (row) => row.kind as Observed,
    ),
    seenWords: p.seen_words,
    lens: p.lens,
    beside: beside.map((file) => ({ ...file, bytes: Number(file.bytes) })),
    alike: p.alike_id,
    looks: await looksBeside(app, library, p),
    isLook: p.of_sha !== null,
    pair: await otherSide(app, library, p),
  };
}
