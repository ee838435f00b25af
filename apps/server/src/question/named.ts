import { countryName, LANGUAGES, WORDS, type Named, type Observed, type Vocabulary } from '@gemmel/core';
import { LRUCache } from 'lru-cache';
import type { Db } from '../db/open';

/** Everything in a library that has a name: for text that is looked for, and for what is typed. */
export interface Names {
  named: Named;
  vocabulary: Vocabulary;
}

const known = new LRUCache<number, { at: string; names: Promise<Names> }>({ max: 20 });

/**
 * The names of a library, as they are now. They are kept while nothing changes: every change is a piece of news in the feed,
 * written in the transaction that makes it.
 */
export async function namesOf(db: Db, library: number): Promise<Names> {
  const [{ id }] = (await db('changes').where('library_id', library).max('id as id')) as [{ id: number | null }];
  const at = `${id}`;
  const there = known.get(library);
  if (there?.at === at && id !== null) return there.names;
  const names = readNames(db, library);
  known.set(library, { at, names });
  names.catch(() => known.delete(library));
  return names;
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

async function readNames(db: Db, library: number): Promise<Names> {
  const of = (table: 'events' | 'albums' | 'folders' | 'own_places' | 'devices' | 'marks' | 'members' | 'batches') =>
    db(table).where('library_id', library);
  const tags = (await db('tags').where('library_id', library).select('id', 'name', 'parent_id')) as Tag[];
  const spellings = await db('tag_names').where('library_id', library).select('tag_id', 'name');
  const people = await db('people').where('library_id', library).select('id', 'name', 'nickname', 'hidden');
  const events = (await of('events').whereNotNull('title').select('id', 'title as name')) as {
    id: number;
    name: string;
  }[];
  const albums = await of('albums').whereNull('removed_at').select('id', 'name', 'kind');
  const folders = await of('folders').select('id', 'name');
  const own = await of('own_places').select('id', 'name');
  const devices = await of('devices').select('id', 'name');
  const batches = (await of('batches').where('named', '<>', 'loose').select('id', 'name')) as {
    id: number;
    name: string;
  }[];
  const marks = (await of('marks').select('id', 'meaning as name')) as { id: number; name: string }[];
  const members = await of('members').select('id', 'name');
  const places = (await db('pictures')
    .where('library_id', library)
    .whereNotNull('country')
    .distinct('country', 'region', 'place')) as { country: string; region: string | null; place: string | null }[];
  const distinct = async (column: 'camera' | 'lens') =>
    (await db('pictures').where('library_id', library).whereNotNull(column).distinct(column)).map(
      (row) => (row as Record<string, string>)[column]!,
    );
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
      albums: albums.filter((a) => a.kind === 'plain').map(one),
      folders: folders.map(one),
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
      albums: albums.filter((a) => a.kind === 'plain').map(({ id, name }) => ({ id, name })),
      folders,
      devices,
      batches,
      marks,
      members,
      observed: (await db('picture_observations').where('library_id', library).distinct('kind')).map(
        (row) => row.kind as Observed,
      ),
      cameras: await distinct('camera'),
      lenses: await distinct('lens'),
    },
  };
}
