import type { Answer, Api, SavedShow, ShowSlide, ShowSource } from '@gemmel/contract';
import { boxIn, ShowSettings } from '@gemmel/core';
import { perform, type By } from '../act/perform';
import { albumOf } from '../album/page';
import { picturesOf } from '../album/from';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { notFound } from '../problem';
import { spanOf } from '../time/span';
import { recipeIn, wholeSize } from '../touchup/key';

/** What a show is made of: its pictures in order, and the chapters of an album. */
export async function showOf(app: App, library: number, source: ShowSource): Promise<Answer<Api['showOf']>> {
  const { db } = app;
  const album = 'album' in source ? await albumOf(app, library, source.album) : null;
  const ids = album ? album.ids : await picturesOf(app, library, source);
  const rows = new Map<number, { ratio: number; seconds: number | null; taken: string | null; day: string | null }>();
  for (const some of chunks(ids, 5000))
    for (const row of await db('pictures')
      .where('library_id', library)
      .whereIn('id', some)
      .select('id', 'kind', 'width', 'height', 'seconds', 'taken_local', 'day'))
      rows.set(row.id, {
        ratio: row.width / Math.max(1, row.height),
        // A clip without a length that can be told plays until it has ended.
        seconds: row.kind === 'video' ? (row.seconds ?? 0) || 10 : null,
        taken: row.taken_local?.replace(' ', 'T') ?? null,
        day: row.day,
      });
  const there = ids.filter((id) => rows.has(id));
  const days = there.flatMap((id) => rows.get(id)!.day ?? []).sort();
  return {
    title: album ? album.album.name : await titleOf(db, library, source),
    from: album?.album.from ?? days[0] ?? null,
    to: album?.album.to ?? days.at(-1) ?? null,
    pictures: there.map((id) => {
      const { ratio, seconds, taken } = rows.get(id)!;
      return { id, ratio, seconds, taken };
    }),
    chapters: album?.chapters ?? [],
  };
}

export async function titleOf(db: Db, library: number, source: ShowSource): Promise<string | null> {
  if ('event' in source)
    return (await db('events').where({ id: source.event, library_id: library }).first('title'))?.title ?? null;
  if ('person' in source)
    return (await db('people').where({ id: source.person, library_id: library }).first('name'))?.name ?? null;
  return null;
}

/** What a show needs to fill the screen with some pictures; ids that are not in the library are left out. */
export async function slidesOf(app: App, library: number, ids: readonly number[]): Promise<ShowSlide[]> {
  const { db } = app;
  const rows = await db('pictures as p')
    .leftJoin('own_places as w', 'w.id', 'p.own_place_id')
    .where('p.library_id', library)
    .whereIn('p.id', [...ids])
    .select('p.*', 'w.name as own_place');
  const faces = await db('faces as f')
    .leftJoin('people as n', 'n.id', 'f.person_id')
    .whereIn('f.picture_id', [...ids])
    .whereIn('f.state', ['waiting', 'named'])
    .orderBy('f.x')
    .select('f.picture_id', 'f.x', 'f.y', 'f.w', 'f.h', 'n.name', 'n.hidden');
  const by = new Map<number, ShowSlide>();
  for (const p of rows) {
    const recipe = recipeIn(p.recipe);
    const mine = faces.filter((face) => face.picture_id === p.id);
    by.set(p.id, {
      id: p.id,
      sha: p.shown.toString('hex'),
      thumb: p.thumb.toString('base64'),
      kind: p.kind,
      seconds: p.seconds,
      taken: p.taken_local?.replace(' ', 'T') ?? null,
      takenSpan: spanOf(p),
      title: p.title,
      caption: p.caption,
      place: p.own_place
        ? { name: p.own_place as string, country: null }
        : p.place
          ? { name: p.place, country: p.country }
          : null,
      names: [...new Set(mine.flatMap((face) => (face.name && !face.hidden ? [face.name as string] : [])))],
      faces: mine.flatMap((face): [number, number, number, number][] => {
        const box: [number, number, number, number] = [face.x, face.y, face.w, face.h];
        const [x, y, w, h] = recipe ? [...boxIn(recipe, ...wholeSize(p), box)] : box;
        // What a touch-up has cut away is not to be kept in view.
        return x! > -0.5 * w! && y! > -0.5 * h! && x! + 0.5 * w! < 1 && y! + 0.5 * h! < 1 ? [[x!, y!, w!, h!]] : [];
      }),
    });
  }
  return ids.flatMap((id) => by.get(id) ?? []);
}

/** Shows that are kept, by name, each with a picture that stands for it. */
export async function listShows(app: App, library: number): Promise<SavedShow[]> {
  const { db } = app;
  const rows = await db('shows')
    .where('library_id', library)
    .whereNull('removed_at')
    .orderBy(['name', 'id'])
    .select('id', 'name', 'source', 'settings');
  return Promise.all(
    rows.map(async (row) => {
      const source = JSON.parse(row.source) as ShowSource;
      return {
        id: row.id,
        name: row.name,
        source,
        settings: ShowSettings.parse(JSON.parse(row.settings)),
        cover: await coverOf(app, library, source).catch(() => null),
      };
    }),
  );
}

export async function coverOf(app: App, library: number, source: ShowSource): Promise<string | null> {
  const { db } = app;
  let id: number | null = null;
  if ('ids' in source) id = source.ids[0] ?? null;
  else if ('album' in source)
    id =
      (await db('album_facts').where({ album_id: source.album, library_id: library }).first('cover_id'))?.cover_id ??
      null;
  else if ('event' in source)
    id =
      (await db('pictures').where({ event_id: source.event, library_id: library }).orderBy('taken_local').first('id'))
        ?.id ?? null;
  if (id === null) return null;
  const picture = await db('pictures').where({ id, library_id: library }).first('shown');
  return picture?.shown.toString('hex') ?? null;
}

/** Keeps a show with its settings. What it is of is checked to be of this library. */
export async function makeShow(
  app: App,
  by: By,
  { name, source, settings }: { name: string; source: ShowSource; settings: ShowSettings },
): Promise<{ id: number; act: number | null }> {
  await showOf(app, by.library, source);
  return perform(app, by, 'make show', async ({ trx, library, member, made, words }) => {
    const [id] = (await trx('shows').insert({
      library_id: library,
      name,
      source: JSON.stringify(source),
      settings: JSON.stringify(settings),
      made_by: member,
    })) as [number];
    made('shows', id);
    words({ name });
    return { id };
  });
}

/** Renames a show, or changes how it is played. */
export const changeShow = (
  app: App,
  by: By,
  id: number,
  { name, settings }: { name?: string | undefined; settings?: ShowSettings | undefined },
): Promise<{ act: number | null }> =>
  perform(app, by, 'change show', async ({ trx, library, hold, words }) => {
    const [row] = await hold('shows', [id]);
    if (!row || row['removed_at'] !== null) throw notFound('show');
    if (name !== undefined || settings !== undefined)
      await trx('shows')
        .where({ id, library_id: library })
        .update({ ...(name !== undefined && { name }), ...(settings && { settings: JSON.stringify(settings) }) });
    words({ name: String(row['name']), ...(name !== undefined && { to: name }) });
  });

/** Removes a show; its pictures and its music stay. */
export const removeShow = (app: App, by: By, id: number): Promise<{ act: number | null }> =>
  perform(app, by, 'remove show', async ({ trx, library, hold, words }) => {
    const [row] = await hold('shows', [id]);
    if (!row || row['removed_at'] !== null) throw notFound('show');
    await trx('shows')
      .where({ id, library_id: library })
      .update({ removed_at: trx.raw('UTC_TIMESTAMP(3)') });
    words({ name: String(row['name']) });
  });
