import type { Under } from '@gemmel/contract';
import type { Question } from '@gemmel/core';
import type { Db } from '../db/open';
import { chunks } from '../lists';

/** Pictures that stand together: what they are, as a question, and which. */
export interface Group<T> {
  /** Null for those that belong to none. */
  of: Question | null;
  rows: T[];
}

/** A group by what it is and by its name, which is empty for what has none. */
interface Kind {
  of: Question;
  name: string;
}

/** More pictures than this are not asked for by their numbers: then the whole library is read. */
const FEW = 4000;

/** How names are sorted in the language of a library. */
async function sorter(db: Db, library: number): Promise<(a: string, b: string) => number> {
  const { language } = (await db('libraries').where('id', library).first('language'))!;
  return new Intl.Collator(language, { numeric: true }).compare;
}

/** Rows of a table that hang on some pictures, or on all. */
export async function hanging<R>(
  ids: readonly number[],
  read: (some: readonly number[] | null) => PromiseLike<R[]>,
): Promise<R[]> {
  if (ids.length > FEW) return read(null);
  const all: R[] = [];
  for (const some of chunks(ids, 1000)) all.push(...(await read(some)));
  return all;
}

/** Who is in each picture: a kind for each set of people, by their names. People who are hidden stand in none. */
async function byPeople(db: Db, library: number, ids: readonly number[]): Promise<Map<number, Kind>> {
  const rows = await hanging(
    ids,
    (some) =>
      db('faces as f')
        .join('people as n', 'n.id', 'f.person_id')
        .where({ 'f.library_id': library, 'f.state': 'named', 'n.hidden': false })
        .where((q) => void (some && q.whereIn('f.picture_id', some)))
        .distinct('f.picture_id as picture', 'n.id', 'n.name') as unknown as PromiseLike<
        { picture: number; id: number; name: string }[]
      >,
  );
  const compare = await sorter(db, library);
  const people = new Map<number, { id: number; name: string }[]>();
  for (const { picture, ...person } of rows) people.set(picture, [...(people.get(picture) ?? []), person]);
  const kinds = new Map<number, Kind>();
  for (const [picture, some] of people) {
    some.sort((a, b) => compare(a.name, b.name) || a.id - b.id);
    kinds.set(picture, {
      of: { who: { people: some.map(({ id }) => id), mode: 'all' } },
      name: some.map(({ name }) => name).join('\n'),
    });
  }
  return kinds;
}

/** Where each picture was taken: the household's own place, else the town. */
async function byPlace(db: Db, library: number, ids: readonly number[]): Promise<Map<number, Kind>> {
  const rows = await hanging(
    ids,
    (some) =>
      db('pictures as p')
        .leftJoin('own_places as w', 'w.id', 'p.own_place_id')
        .where('p.library_id', library)
        .where((q) => void (some && q.whereIn('p.id', some)))
        .where((q) => void q.whereNotNull('p.own_place_id').orWhereNotNull('p.place'))
        .select(
          'p.id as picture',
          'p.own_place_id as own',
          'w.name as name',
          'p.country',
          'p.place',
        ) as unknown as PromiseLike<
        { picture: number; own: number | null; name: string | null; country: string | null; place: string | null }[]
      >,
  );
  const kinds = new Map<number, Kind>();
  for (const { picture, own, name, country, place } of rows)
    if (own !== null) kinds.set(picture, { of: { where: { own } }, name: name ?? '' });
    else if (country !== null && place !== null)
      kinds.set(picture, { of: { where: { country, place } }, name: `${place}\n${country}` });
  return kinds;
}

/** The folder each picture came in, by its whole path. */
async function byFolder(db: Db, library: number, ids: readonly number[]): Promise<Map<number, Kind>> {
  const folders = new Map(
    (await db('folders').where('library_id', library).select('id', 'parent_id', 'name')).map((row) => [row.id, row]),
  );
  const pathOf = (id: number | null): string => {
    const row = id === null ? undefined : folders.get(id);
    return row ? `${pathOf(row.parent_id)}\n${row.name}` : '';
  };
  const rows = await hanging(
    ids,
    (some) =>
      db('pictures')
        .where('library_id', library)
        .where((q) => void (some && q.whereIn('id', some)))
        .whereNotNull('folder_id')
        .select('id as picture', 'folder_id as folder') as unknown as PromiseLike<
        { picture: number; folder: number }[]
      >,
  );
  const paths = new Map([...folders.keys()].map((id) => [id, pathOf(id)]));
  return new Map(
    rows.map(({ picture, folder }) => [
      picture,
      { of: { folder: { id: folder, only: true } }, name: paths.get(folder) ?? '' },
    ]),
  );
}

const WAYS: Record<Under, typeof byPeople> = { person: byPeople, place: byPlace, folder: byFolder };

/** Pictures group by group, by the names of the groups; those that belong to none stand last. The order within stays as it was. */
export async function groupsOf<T extends { id: number }>(
  db: Db,
  library: number,
  under: Under,
  rows: readonly T[],
): Promise<Group<T>[]> {
  const kinds = await WAYS[under](
    db,
    library,
    rows.map((row) => row.id),
  );
  const compare = await sorter(db, library);
  const groups = new Map<string, Group<T> & { name: string | null }>();
  for (const row of rows) {
    const kind = kinds.get(row.id);
    const key = JSON.stringify(kind?.of ?? null);
    const group = groups.get(key);
    if (group) group.rows.push(row);
    else groups.set(key, { of: kind?.of ?? null, name: kind?.name ?? null, rows: [row] });
  }
  return [...groups.values()]
    .sort((a, b) =>
      a.name === null || b.name === null ? Number(a.name === null) - Number(b.name === null) : compare(a.name, b.name),
    )
    .map(({ of: what, rows: some }) => ({ of: what, rows: some }));
}
