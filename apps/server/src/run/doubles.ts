import { sameSpot } from '@gemmel/core';
import type { Answer, Api, Double } from '@gemmel/contract';
import { perform, type Act, type By } from '../act/perform';
import { binPictures } from '../bin/bin';
import type { App } from '../context';
import type { Db } from '../db/open';
import type { PicturesRow } from '../db/tables';
import { refuseForeign } from '../library/own';
import { notFound } from '../problem';
import { readAgain } from '../question/words';
import { countRuns } from './runs';

/** What some pictures know that people said, by picture. */
async function knownOf(db: Db, ids: readonly number[]) {
  const list = async (table: string, columns: string, join: (q: ReturnType<Db>) => ReturnType<Db>) => {
    const lists = new Map<number, string[]>();
    for (const { id, name } of (await join(db(`${table} as t`))
      .whereIn('t.picture_id', ids)
      .select('t.picture_id as id', db.raw(`${columns} AS name`))) as { id: number; name: string }[])
      lists.set(id, [...(lists.get(id) ?? []), name]);
    return lists;
  };
  return {
    tags: await list('picture_tags', 'n.name', (q) => q.join('tags as n', 'n.id', 't.tag_id') as never),
    people: await list('faces', 'n.name', (q) => q.join('people as n', 'n.id', 't.person_id') as never),
    albums: await list(
      'album_pictures',
      'n.name',
      (q) => q.join('albums as n', 'n.id', 't.album_id').whereNull('n.removed_at') as never,
    ),
    comments: await list('comments', 't.text', (q) => q as never),
  };
}

/** Pictures that are here more than once, a page at a time by the number of the one that is proposed; that one first. */
export async function listDoubles(
  app: App,
  library: number,
  { after, limit }: { after?: number | undefined; limit: number },
): Promise<Answer<Api['doubles']>> {
  const { db } = app;
  const kept = (
    await db('pictures')
      .where('library_id', library)
      .whereNotNull('alike_id')
      .where((q) => void (after !== undefined && q.where('alike_id', '>', after)))
      .distinct('alike_id')
      .orderBy('alike_id')
      .limit(limit + 1)
  ).map((row) => row.alike_id!);
  const page = kept.slice(0, limit);
  const rows = (await db('pictures as p')
    .leftJoin('own_places as o', 'o.id', 'p.own_place_id')
    .where('p.library_id', library)
    .where((q) => void q.whereIn('p.id', page).orWhereIn('p.alike_id', page))
    .orderByRaw('p.alike_id IS NOT NULL, p.width * p.height DESC, p.id')
    .select('p.*', 'o.name as own')) as (PicturesRow & { own: string | null })[];
  const known = await knownOf(
    db,
    rows.map((row) => row.id),
  );
  const told = (row: (typeof rows)[number]): Double => ({
    id: row.id,
    sha: row.shown.toString('hex'),
    thumb: row.thumb.toString('base64'),
    name: row.name,
    format: row.format,
    width: row.width,
    height: row.height,
    bytes: Number(row.bytes),
    taken: row.taken_local && !row.taken_exact ? row.taken_local.replace(' ', 'T') : null,
    camera: row.camera,
    knows: {
      title: row.title,
      caption: row.caption,
      rating: row.rating,
      favourite: Boolean(row.favourite),
      tags: known.tags.get(row.id) ?? [],
      people: known.people.get(row.id) ?? [],
      albums: known.albums.get(row.id) ?? [],
      place: row.own ?? row.place,
      comments: known.comments.get(row.id)?.length ?? 0,
    },
  });
  return {
    groups: page
      .map((id) => rows.filter((row) => row.id === id || row.alike_id === id).map(told))
      .filter((group) => group.length > 1),
    after: kept.length > limit ? page[page.length - 1]! : null,
    total: (await countRuns(app, library)).doubles,
  };
}

type Carried = Answer<Api['mergeDoubles']>['carried'];

/** A time that says more than another: known to the second, and surer. */
const surer = (a: PicturesRow, b: PicturesRow): boolean =>
  a.taken_local !== null &&
  (b.taken_local === null ||
    (b.taken_exact !== null && a.taken_exact === null) ||
    ((a.taken_exact === null) === (b.taken_exact === null) && (a.taken_certainty ?? 0) > (b.taken_certainty ?? 0)));

const TIME = [
  'taken_local',
  'offset_minutes',
  'taken_source',
  'taken_certainty',
  'taken_exact',
  'taken_from',
  'taken_to',
  'taken_about',
  'day',
] as const;
const PLACE = ['lat', 'lon', 'place_source', 'country', 'region', 'place', 'place_km', 'own_place_id'] as const;

const only = <K extends keyof PicturesRow>(row: PicturesRow, columns: readonly K[]) =>
  Object.fromEntries(columns.map((column) => [column, row[column]])) as Pick<PicturesRow, K>;

/** What the row of the kept one takes over from the others: what it does not say itself, and the better where both say something. */
function columnsFrom(keep: PicturesRow, others: readonly PicturesRow[], carried: Set<Carried[number]>) {
  const set: Partial<PicturesRow> = {};
  const first = <T>(of: (row: PicturesRow) => T | null) => others.map(of).find((value) => value !== null) ?? null;
  const take = (what: Carried[number], more: Partial<PicturesRow>) => {
    Object.assign(set, more);
    carried.add(what);
  };
  const title = keep.title ?? first((row) => row.title);
  if (title !== keep.title) take('title', { title });
  // Two captions that say different things are both kept.
  const captions = [...new Set([keep.caption, ...others.map((row) => row.caption)].filter((text) => text !== null))];
  const caption = captions.length ? captions.join('\n') : null;
  if (caption !== keep.caption) take('caption', { caption });
  const rating = Math.max(keep.rating, ...others.map((row) => row.rating));
  if (rating !== keep.rating) take('stars', { rating });
  if (!keep.favourite && others.some((row) => row.favourite)) take('heart', { favourite: true });
  if (keep.mark_id === null && keep.label === null) {
    const marked = others.find((row) => row.mark_id !== null || row.label !== null);
    if (marked) take('mark', { mark_id: marked.mark_id, label: marked.label });
  }
  const placed = keep.lat === null ? others.find((row) => row.lat !== null) : undefined;
  if (placed) take('place', only(placed, PLACE));
  const dated = others.find((row) => row.taken_source !== 'copy' && surer(row, keep));
  if (dated) take('date', only(dated, TIME));
  return set;
}

/** Tags, places in albums, and names of faces that the kept one takes over; what hangs on the others, which are locked. */
async function hangingFrom(act: Act, keep: number, others: readonly number[], carried: Set<Carried[number]>) {
  const { trx, library, hold, made } = act;
  const tags = await trx('picture_tags').whereIn('picture_id', others).distinct('tag_id');
  const albums = await trx('album_pictures')
    .whereIn('picture_id', others)
    .select('album_id', 'position', 'added_by', 'added_at');
  const shares = await trx('share_pictures').whereIn('picture_id', others).select('share_id', 'position');
  const piles = await trx('pile_pictures').whereIn('picture_id', others).select('member_id', 'position');
  const faces = await trx('faces').whereIn('picture_id', others).whereNotNull('person_id').select();
  const comments = await trx('comments').whereIn('picture_id', others).orderBy('at').select();
  await binPictures(act, others);
  // The others have left their albums by now, so that what comes back with them is not noted twice.
  await hold('picture_tags', [keep]);
  const had = new Set((await trx('picture_tags').where('picture_id', keep).select('tag_id')).map((row) => row.tag_id));
  const fresh = tags.filter(({ tag_id }) => !had.has(tag_id));
  if (fresh.length) {
    await trx('picture_tags').insert(fresh.map(({ tag_id }) => ({ library_id: library, picture_id: keep, tag_id })));
    carried.add('tags');
  }
  const into = async (
    table: 'album_pictures' | 'share_pictures',
    key: 'album_id' | 'share_id',
    rows: readonly { position: number | string }[],
  ) => {
    const places = new Map(rows.map((row) => [(row as unknown as Record<string, number>)[key]!, row]));
    if (places.size === 0) return;
    await hold(table, places.keys());
    const there = (await trx(table as 'album_pictures')
      .where('picture_id', keep)
      .whereIn(key as 'album_id', [...places.keys()])
      .select(key as 'album_id')) as unknown as Record<string, number>[];
    for (const row of there) places.delete(row[key]!);
    if (places.size === 0) return;
    await trx(table as string).insert(
      [...places.values()].map((row) => ({ ...row, library_id: library, picture_id: keep })),
    );
    carried.add('albums');
  };
  await into('album_pictures', 'album_id', albums);
  await into('share_pictures', 'share_id', shares);
  if (piles.length)
    await trx('pile_pictures')
      .insert(piles.map((row) => ({ ...row, library_id: library, picture_id: keep })))
      .onConflict()
      .ignore();
  const mine = await trx('faces').where('picture_id', keep).select();
  const named = new Set(mine.map((face) => face.person_id));
  for (const face of faces) {
    if (named.has(face.person_id)) continue;
    const spot = mine.find((one) => one.person_id === null && one.state === 'waiting' && sameSpot(one, face));
    if (!spot) continue;
    await hold('faces', [spot.id]);
    await trx('faces')
      .where('id', spot.id)
      .update({ state: 'named', person_id: face.person_id, named_by: face.named_by });
    named.add(face.person_id);
    carried.add('people');
  }
  for (const { library_id, member_id, author, text, at, edited_at } of comments) {
    const [id] = await trx('comments').insert({ library_id, member_id, author, text, at, edited_at, picture_id: keep });
    made('comments', id!);
    carried.add('comments');
  }
}

/**
 * Keeps one of some doubles. What the others know (title, caption, stars, heart, mark, tags, albums, people, place, date, comments)
 * is carried over to it, and they go to the bin. One act: taken back, they are there again and the kept one is as it was.
 */
export function mergeDoubles(
  app: App,
  by: By,
  keep: number,
  others: readonly number[],
): Promise<{ binned: number; carried: Carried; act: number | null }> {
  return perform(app, by, 'merge doubles', async (act) => {
    const { trx, library, hold, words } = act;
    const going = [...new Set(others)].filter((id) => id !== keep);
    const rows = await trx('pictures')
      .where('library_id', library)
      .whereIn('id', [keep, ...going])
      .orderBy('id')
      .forUpdate()
      .select();
    const kept = rows.find((row) => row.id === keep);
    if (!kept || rows.length < going.length + 1 || going.length === 0) throw notFound('pictures');
    const carried = new Set<Carried[number]>();
    await hold('pictures', [keep]);
    const set = columnsFrom(
      kept,
      going.map((id) => rows.find((row) => row.id === id)!),
      carried,
    );
    await hangingFrom(act, keep, going, carried);
    if (Object.keys(set).length) await trx('pictures').where('id', keep).update(set);
    if (carried.has('title') || carried.has('caption') || carried.has('comments'))
      await readAgain(trx, library, [keep]);
    words({ n: going.length, what: [...carried] });
    return { binned: going.length, carried: [...carried] };
  });
}

/** Says that pictures that look like the same one are not, or that all of them stay: they are not proposed again. */
export const keepDoublesApart = (app: App, by: By, ids: readonly number[]): Promise<{ act: number | null }> =>
  perform(app, by, 'keep doubles', async ({ trx, library, hold, words }) => {
    const all = [...new Set(ids)].sort((a, b) => a - b);
    await refuseForeign(trx, library, 'pictures', all, 'pictures');
    await hold('doubles_apart', all);
    const pairs = all.flatMap((a, i) =>
      all.slice(i + 1).map((b) => ({ library_id: library, picture_id: a, other_id: b })),
    );
    // One picture alone, named twice, is kept apart from nothing.
    if (pairs.length) await trx('doubles_apart').insert(pairs).onConflict().ignore();
    await trx('pictures').where('library_id', library).whereIn('id', all).update({ grouped_at: null });
    words({ n: all.length });
  });
