import { seenBy } from '../sight/through';
import { countryName, LANGUAGES, WORDS, type Named, type Observed, type Vocabulary } from '@gemmel/core';
import type { Topic } from '@gemmel/contract';
import { LRUCache } from 'lru-cache';
import type { Db } from '../db/open';
import { KEPT_FOR, newsOf } from './news';

/** Everything in a library that has a name: for text that is looked for, and for what is typed. */
export interface Names {
  named: Named;
  vocabulary: Vocabulary;
}

/** What is read apart, with the news after which it is read again. */
const PARTS = {
  tags: ['tags'],
  people: ['people'],
  events: ['events', 'pictures'],
  albums: ['albums', 'batches'],
  places: ['pictures'],
  rest: ['pictures', 'sources', 'batches', 'marks', 'library', 'events', 'said'],
} as const satisfies Record<string, readonly Topic[]>;
type PartName = keyof typeof PARTS;

const known = new LRUCache<string, { at: string; read: Promise<unknown> }>({ max: 200, ttl: KEPT_FOR });
const whole = new LRUCache<string, { at: string; names: Promise<Names> }>({ max: 20, ttl: KEPT_FOR });

/**
 * The names of a library, as they are now. They are kept while nothing changes: every change is a piece of news in the feed,
 * written in the transaction that makes it.
 */
export async function namesOf(db: Db, library: number): Promise<Names> {
  const news = await newsOf(db, library);
  const of = `${library} ${seenBy(db)}`;
  const at = (topics: readonly Topic[]) => topics.map((topic) => news.get(topic) ?? '').join('|');
  const part = <T>(name: PartName, read: () => Promise<T>): Promise<T> => {
    const key = `${of} ${name}`;
    const there = known.get(key);
    if (there?.at === at(PARTS[name])) return there.read as Promise<T>;
    const fresh = read();
    known.set(key, { at: at(PARTS[name]), read: fresh });
    fresh.catch(() => known.delete(key));
    return fresh;
  };
  // Everything together is the same object while no part has changed: indexes over it are made once.
  const all = at([...new Set(Object.values(PARTS).flat())]);
  const there = whole.get(of);
  if (there?.at === all) return there.names;
  const names = readNames(db, library, part);
  whole.set(of, { at: all, names });
  names.catch(() => whole.delete(of));
  return names;
}

type Table =
  | 'tags'
  | 'tag_names'
  | 'people'
  | 'events'
  | 'albums'
  | 'folders'
  | 'own_places'
  | 'devices'
  | 'marks'
  | 'members'
  | 'batches';

interface Person {
  id: number;
  name: string;
  nickname: string | null;
  hidden: number;
}

interface Where {
  country: string;
  region: string | null;
  place: string | null;
}

/** Where pictures were taken: each place once, by hopping through its index, with the region one of its pictures says. */
async function readPlaces(db: Db, library: number): Promise<Where[]> {
  const [rows] = (await db.raw(
    `SELECT d.country, d.place,
       (SELECT p.region FROM pictures p WHERE p.library_id = ? AND p.country = d.country AND p.place <=> d.place LIMIT 1) AS region
     FROM (SELECT DISTINCT country, place FROM pictures WHERE library_id = ? AND country IS NOT NULL) d`,
    [library, library],
  )) as [Where[]];
  return rows;
}

interface Tag {
  id: number;
  name: string;
  parent_id: number | null;
}

/** The words of a tag from the widest on. */
export function pathOf(tag: Tag, byId: ReadonlyMap<number, Tag>): string[] {
  const path: string[] = [];
  const seen = new Set<number>();
  for (let at: Tag | undefined = tag; at && !seen.has(at.id); at = at.parent_id ? byId.get(at.parent_id) : undefined) {
    seen.add(at.id);
    path.unshift(at.name);
  }
  return path;
}

async function readNames(
  db: Db,
  library: number,
  part: <T>(name: PartName, read: () => Promise<T>) => Promise<T>,
): Promise<Names> {
  const rows = (table: Table) => db(table).where('library_id', library);
  const named = async (table: Table, column = 'name') =>
    (await rows(table).whereNotNull(column).select('id', `${column} as name`)) as { id: number; name: string }[];
  const distinct = async (column: 'camera' | 'lens') =>
    (await db('pictures').where('library_id', library).whereNotNull(column).distinct(column)).map(
      (row) => (row as Record<string, string>)[column]!,
    );
  const { tags, spellings } = await part('tags', async () => ({
    tags: (await rows('tags').select('id', 'name', 'parent_id')) as Tag[],
    spellings: (await rows('tag_names').select('tag_id', 'name')) as { tag_id: number; name: string }[],
  }));
  const people = await part(
    'people',
    async () => (await rows('people').select('id', 'name', 'nickname', 'hidden')) as Person[],
  );
  const { events, own } = await part('events', async () => ({
    events: await named('events', 'title'),
    own: await named('own_places'),
  }));
  const albums = await part(
    'albums',
    async () =>
      (await rows('albums').whereNull('removed_at').where('kind', 'plain').select('id', 'name')) as {
        id: number;
        name: string;
      }[],
  );
  const { places, cameras, lenses } = await part('places', async () => ({
    places: await readPlaces(db, library),
    cameras: await distinct('camera'),
    lenses: await distinct('lens'),
  }));
  const { folders, devices, batches, marks, members, observed } = await part('rest', async () => ({
    folders: (await rows('folders').select('id', 'name', 'came_as')) as {
      id: number;
      name: string;
      came_as: string | null;
    }[],
    devices: await named('devices'),
    batches: (await rows('batches').where('named', '<>', 'loose').select('id', 'name')) as {
      id: number;
      name: string;
    }[],
    marks: await named('marks', 'meaning'),
    members: await named('members'),
    observed: (await db('picture_observations').where('library_id', library).distinct('kind')).map(
      (row) => row.kind as Observed,
    ),
  }));
  const byId = new Map(tags.map((tag) => [tag.id, tag]));
  const spelled = new Map<number, string[]>();
  for (const { tag_id, name } of spellings) spelled.set(tag_id, [...(spelled.get(tag_id) ?? []), name]);
  const countries = [...new Set(places.map((p) => p.country))];
  const key = (...parts: string[]) => parts.join('\t');
  const regions = new Map(
    places.flatMap((p) => (p.region ? [[key(p.country, p.region), { country: p.country, region: p.region }]] : [])),
  );
  const towns = new Map(
    places.flatMap((p) => (p.place ? [[key(p.country, p.place), { country: p.country, place: p.place }]] : [])),
  );
  const sayCountry = (country: string) => [
    ...new Set(LANGUAGES.map((language) => countryName(country, WORDS[language].tag))),
  ];
  const one = ({ id, name }: { id: number; name: string }) => ({ id, names: [name] });
  return {
    named: {
      tags: tags.map((tag) => ({ id: tag.id, names: [tag.name, ...(spelled.get(tag.id) ?? [])] })),
      people: people.map((p) => ({ id: p.id, names: p.nickname ? [p.name, p.nickname] : [p.name] })),
      events: events.map(one),
      // What a smart album holds is asked by its question.
      albums: albums.map(one),
      // The name it came with is found, too.
      folders: folders.map(({ id, name, came_as }) => ({ id, names: came_as ? [name, came_as] : [name] })),
      ownPlaces: own.map(one),
      places: [
        ...countries.map((country) => ({ at: { country }, names: sayCountry(country) })),
        ...[...regions.values()].map((at) => ({ at, names: [at.region] })),
        ...[...towns.values()].map((at) => ({ at, names: [at.place] })),
      ],
    },
    vocabulary: {
      people: people
        .filter((p) => !p.hidden)
        .flatMap((p) => [
          { id: p.id, name: p.name },
          ...(p.nickname && p.nickname !== p.name ? [{ id: p.id, name: p.nickname }] : []),
        ]),
      tags: tags.flatMap((tag) => {
        const path = pathOf(tag, byId);
        return [
          { id: tag.id, name: tag.name },
          ...(path.length > 1 ? [{ id: tag.id, name: path.join(' › ') }] : []),
          ...(spelled.get(tag.id) ?? []).map((name) => ({ id: tag.id, name })),
        ];
      }),
      own,
      places: [
        ...[...towns.values()].map((at) => ({ ...at, name: at.place })),
        ...[...regions.values()].map((at) => ({ ...at, name: at.region })),
        ...countries.flatMap((country) => sayCountry(country).map((name) => ({ country, name }))),
      ],
      events,
      albums,
      folders: folders.flatMap(({ id, name, came_as }) => [{ id, name }, ...(came_as ? [{ id, name: came_as }] : [])]),
      devices,
      batches,
      marks,
      members,
      observed,
      cameras,
      lenses,
    },
  };
}
