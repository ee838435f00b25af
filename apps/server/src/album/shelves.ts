import type { FolderPlan, ShelfOrder } from '@gemmel/contract';
import { countPlanned, keyAfter, keysBetween, planShelves, spacedKeys, type Planned } from '@gemmel/core';
import { perform, type Act, type By } from '../act/perform';
import { chunks, type App } from '../context';
import { setMany } from '../db/setMany';
import { listFolders } from '../folder/folders';
import { refuseForeign } from '../library/own';
import { notFound, refused } from '../problem';
import { isAbove } from '../tag/tags';
import { insertAlbum, lastOnShelf, type Did } from './albums';

interface ShelfRow {
  id: number;
  parent_id: number | null;
  name: string;
  position: string;
}

/** All shelves of the library, held: whoever else builds shelves comes before or after, so that none ends up on itself. */
async function heldShelves({ trx, library, hold }: Act): Promise<Map<number, ShelfRow>> {
  // The library's own row stands for the building, since a shelf that is not there yet cannot be held.
  await hold('libraries', [library]);
  const rows = await trx('shelves').where('library_id', library).select('id');
  const held = await hold(
    'shelves',
    rows.map(({ id }) => id),
  );
  return new Map(held.map((row) => [Number(row['id']), row as unknown as ShelfRow]));
}

/** A shelf that is there. @throws a refusal when there is none of that number. */
function there(shelves: ReadonlyMap<number, ShelfRow>, id: number): ShelfRow {
  const row = shelves.get(id);
  if (!row) throw notFound('shelf');
  return row;
}

async function insertShelf(
  { trx, library, made }: Act,
  name: string,
  on: number | null,
  position: string,
): Promise<number> {
  const [id] = (await trx('shelves').insert({ library_id: library, parent_id: on, name, position })) as [number];
  made('shelves', id);
  return id;
}

/** Makes a shelf, on another or on none, at its end; perhaps with albums on it at once. */
export const makeShelf = (
  app: App,
  by: By,
  { name, on, albums }: { name: string; on: number | null; albums: readonly number[] },
): Did<{ id: number }> =>
  perform(app, by, 'make shelf', async (act) => {
    const { trx, library, hold, words } = act;
    const shelves = await heldShelves(act);
    if (on !== null) there(shelves, on);
    const id = await insertShelf(act, name, on, await lastOnShelf(trx, library, on));
    if (albums.length) {
      await hold('albums', albums);
      await refuseForeign(trx, library, 'albums', albums, 'album');
      const keys = spacedKeys(albums.length);
      await setMany(
        trx,
        library,
        'albums',
        albums.map((album, i) => ({ id: album, set: { shelf_id: id, position: keys[i]! } })),
      );
    }
    words({ name, n: albums.length });
    return { id };
  });

/** Renames a shelf, or chooses how what stands on it is ordered. */
export const changeShelf = (
  app: App,
  by: By,
  id: number,
  { name, sorted }: { name?: string | undefined; sorted?: ShelfOrder | undefined },
): Did =>
  perform(app, by, 'change shelf', async (act) => {
    const row = there(await heldShelves(act), id);
    if (name !== undefined || sorted !== undefined)
      await act
        .trx('shelves')
        .where({ id, library_id: act.library })
        .update({ ...(name !== undefined && { name }), ...(sorted && { sorted }) });
    act.words({ name: row.name, ...(name !== undefined && { to: name }) });
    return {};
  });

/** Chooses how what stands on no shelf is ordered. */
export const sortAlbums = (app: App, by: By, sorted: ShelfOrder): Did =>
  perform(app, by, 'order shelf', async ({ trx, library, hold }) => {
    await hold('libraries', [library]);
    await trx('libraries').where('id', library).update({ albums_sorted: sorted });
    return {};
  });

/** What stands on a shelf besides what is about to move, in the order by hand. */
async function standing(
  { trx, library }: Act,
  on: number | null,
  albums: readonly number[],
  shelves: readonly number[],
): Promise<{ kind: 'album' | 'shelf'; id: number; position: string }[]> {
  const a = await trx('albums')
    .where({ library_id: library, shelf_id: on })
    .whereNull('removed_at')
    .whereNotIn('id', [...albums])
    .select('id', 'position');
  const s = await trx('shelves')
    .where({ library_id: library, parent_id: on })
    .whereNotIn('id', [...shelves])
    .select('id', 'position');
  return [
    ...s.map((row) => ({ kind: 'shelf' as const, ...row })),
    ...a.map((row) => ({ kind: 'album' as const, ...row })),
  ].sort((x, y) => (x.position === y.position ? x.id - y.id : x.position < y.position ? -1 : 1));
}

/**
 * Puts albums and shelves on a shelf, or on none (null), before something that stands there or at the end. A shelf does not go on one that stands on
 * itself.
 */
export const shelve = (
  app: App,
  by: By,
  what: {
    albums: readonly number[];
    shelves: readonly number[];
    on: number | null;
    before: { album: number } | { shelf: number } | null;
  },
): Did =>
  perform(app, by, 'put on shelf', async (act) => {
    const { trx, library, hold, words } = act;
    const { on, before } = what;
    const known = await heldShelves(act);
    const target = on === null ? null : there(known, on);
    const shelves = [...new Set(what.shelves)];
    for (const id of shelves) {
      there(known, id);
      if (on !== null && (id === on || (await isAbove(trx, library, id, on, 'shelves'))))
        throw refused('shelf-in-itself');
    }
    const albums = [...new Set(what.albums)];
    await hold('albums', albums);
    const rows = await trx('albums')
      .where('library_id', library)
      .whereNull('removed_at')
      .whereIn('id', albums)
      .select('id', 'name');
    if (rows.length < albums.length) throw notFound('album');
    const staying = await standing(act, on, albums, shelves);
    const at = before
      ? staying.findIndex((one) =>
          'album' in before
            ? one.kind === 'album' && one.id === before.album
            : one.kind === 'shelf' && one.id === before.shelf,
        )
      : -1;
    const place = at < 0 ? staying.length : at;
    const moving = [
      ...shelves.map((id) => ({ kind: 'shelf' as const, id })),
      ...albums.map((id) => ({ kind: 'album' as const, id })),
    ];
    let keys = keysBetween(staying[place - 1]?.position ?? null, staying[place]?.position ?? null, moving.length);
    const write = async (list: readonly { kind: 'album' | 'shelf'; id: number; position: string }[]) => {
      const of = (kind: 'album' | 'shelf') => list.filter((one) => one.kind === kind);
      await setMany(
        trx,
        library,
        'shelves',
        of('shelf').map(({ id, position }) => ({ id, set: { parent_id: on, position } })),
      );
      await setMany(
        trx,
        library,
        'albums',
        of('album').map(({ id, position }) => ({ id, set: { shelf_id: on, position } })),
      );
    };
    if (keys) await write(moving.map((one, i) => ({ ...one, position: keys![i]! })));
    else {
      // No room between the two: everything on this shelf gets new places.
      await hold(
        'albums',
        staying.filter((one) => one.kind === 'album').map(({ id }) => id),
      );
      const all = [...staying.slice(0, place), ...moving, ...staying.slice(place)];
      keys = spacedKeys(all.length);
      await write(all.map((one, i) => ({ kind: one.kind, id: one.id, position: keys![i]! })));
    }
    const name = albums.length ? rows.find((row) => row.id === albums[0])!.name : known.get(shelves[0] ?? 0)?.name;
    words({ name: name ?? '', to: target?.name ?? null, n: moving.length });
    return {};
  });

/** A shelf and all shelves below it. */
function withBelow(shelves: ReadonlyMap<number, ShelfRow>, top: number): number[] {
  const found = new Set([top]);
  for (const id of found) for (const [other, row] of shelves) if (row.parent_id === id) found.add(other);
  return [...found];
}

/**
 * Removes a shelf. What stands on it moves up to where the shelf stood, in its order, or goes with it: shelves below it and albums are removed then.
 * Pictures are never touched.
 */
export const removeShelf = (
  app: App,
  by: By,
  id: number,
  rest: 'up' | 'go',
): Did<{ albums: number; shelves: number }> =>
  perform(app, by, 'remove shelf', async (act) => {
    const { trx, library, hold, words } = act;
    const known = await heldShelves(act);
    const row = there(known, id);
    const below = rest === 'go' ? withBelow(known, id) : [id];
    const albums = await trx('albums')
      .where('library_id', library)
      .whereIn('shelf_id', below)
      .whereNull('removed_at')
      .orderBy('position')
      .select('id', 'position');
    await hold(
      'albums',
      albums.map((one) => one.id),
    );
    let count = { albums: albums.length, shelves: below.length - 1 };
    if (rest === 'go')
      for (const some of chunks(albums, 1000))
        await trx('albums')
          .where('library_id', library)
          .whereIn(
            'id',
            some.map((one) => one.id),
          )
          .update({ removed_at: trx.raw('UTC_TIMESTAMP(3)') });
    else {
      const children = [...known.values()].filter((one) => one.parent_id === id);
      const beside = await standing(act, row.parent_id, [], [id]);
      const before = beside.filter((one) => one.position <= row.position).at(-1)?.position ?? null;
      const after = beside.find((one) => one.position > row.position)?.position ?? null;
      const moving = [
        ...children.map(({ id: child, position }) => ({ table: 'shelves' as const, id: child, position })),
        ...albums.map(({ id: album, position }) => ({ table: 'albums' as const, id: album, position })),
      ].sort((a, b) => (a.position < b.position ? -1 : 1));
      // Without room between the neighbours they stand at the end.
      const keys =
        keysBetween(before, after, moving.length) ??
        keysBetween(await lastOnShelf(trx, library, row.parent_id), null, moving.length) ??
        moving.map(() => keyAfter(null));
      const placed = moving.map((one, i) => ({ ...one, position: keys[i]! }));
      const of = (table: 'shelves' | 'albums', column: string) =>
        placed
          .filter((one) => one.table === table)
          .map((one) => ({ id: one.id, set: { [column]: row.parent_id, position: one.position } }));
      await setMany(trx, library, 'shelves', of('shelves', 'parent_id'));
      await setMany(trx, library, 'albums', of('albums', 'shelf_id'));
      count = { albums: albums.length, shelves: children.length };
    }
    await trx('shelves').where('library_id', library).whereIn('id', below).delete();
    words({ name: row.name, n: count.albums, what: [rest] });
    return count;
  });

/** What shelves and albums a folder with all below it would become. */
export async function planOfFolder(
  app: App,
  library: number,
  folder: number,
): Promise<{ plan: FolderPlan | null; shelves: number; albums: number; pictures: number }> {
  const folders = await listFolders(app, library);
  if (!folders.some((one) => one.id === folder)) throw notFound('file');
  const plan = planShelves(folders, folder);
  return { plan, ...(plan ? countPlanned(plan) : { shelves: 0, albums: 0 }), pictures: plan?.pictures ?? 0 };
}

/** Makes shelves and albums of a folder with all below it, in one act: see core's `planShelves`. */
export async function shelveFolder(
  app: App,
  by: By,
  folder: number,
  on: number | null,
): Did<{ shelves: number; albums: number; shelf: number | null; album: number | null }> {
  const { plan, shelves, albums } = await planOfFolder(app, by.library, folder);
  return perform(app, by, 'make shelves', async (act) => {
    const { trx, library, words } = act;
    const known = await heldShelves(act);
    if (on !== null) there(known, on);
    const make = async (one: Planned, parent: number | null, position: string): Promise<number> => {
      const name = [...one.name].slice(0, 160).join('');
      if (one.kind === 'album') {
        const pictures = await trx('pictures')
          .where({ library_id: library, folder_id: one.folder })
          .orderByRaw('taken_local IS NULL, taken_local, id')
          .select('id');
        return insertAlbum(
          act,
          name,
          pictures.map((row) => row.id),
          { shelf: parent, position },
        );
      }
      const id = await insertShelf(act, name, parent, position);
      const keys = spacedKeys(one.on.length);
      for (const [i, part] of one.on.entries()) await make(part, id, keys[i]!);
      return id;
    };
    const made = plan && (await make(plan, on, await lastOnShelf(trx, library, on)));
    words({ name: plan?.name ?? '', n: albums });
    return {
      shelves,
      albums,
      shelf: plan?.kind === 'shelf' ? made : null,
      album: plan?.kind === 'album' ? made : null,
    };
  });
}
