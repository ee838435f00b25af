import type { Facets } from '@gemmel/contract';
import {
  EVERYTHING,
  isEverything,
  isOfSize,
  normalise,
  shapeOf,
  SIZES,
  type Observed,
  type Question,
} from '@gemmel/core';
import { LRUCache } from 'lru-cache';
import type { App } from '../context';
import { conditionOf } from '../picture/pictures';
import { seenBy } from '../sight/through';
import { KEPT_FOR, newsOf } from './news';
import { bitsOf, sizeOf } from './sets';

/** Most of each kind that are told. */
const MOST = 60;

/** Pictures that are alike in all that is told of them. */
interface Group {
  rating: number;
  favourite: number;
  kind: 'photo' | 'video';
  format: string;
  mark: number | null;
  width: number;
  height: number;
  camera: string | null;
  lens: string | null;
  n: number | string;
}

/** How the pictures of a question are made up. One pass over them for what stands in their rows, one each for what hangs on them. */
async function read(app: App, library: number, question: Question): Promise<Facets> {
  const { sql, values } = await conditionOf(app, library, question);
  const all = isEverything(question);
  const where = `FROM pictures p WHERE p.library_id = ? AND (${sql})`;
  const asked = [library, ...values];
  const rows = async <T>(text: string, given: readonly (string | number)[] = asked): Promise<T[]> =>
    ((await app.db.raw(text, [...given])) as [T[]])[0];
  /** Rows of a table that hang on the pictures of the question; all of them where everything is asked for. */
  const hanging = <T>(table: string, column: string, more = ''): Promise<{ of: T; n: number }[]> =>
    all
      ? rows(
          `SELECT h.${column} AS of, COUNT(*) AS n FROM ${table} h WHERE h.library_id = ? AND h.${column} IS NOT NULL ${more} GROUP BY h.${column}`,
          [library],
        )
      : rows(
          `SELECT h.${column} AS of, COUNT(*) AS n FROM (SELECT p.id ${where}) q JOIN ${table} h ON h.picture_id = q.id WHERE h.${column} IS NOT NULL ${more} GROUP BY h.${column}`,
        );
  const [made, tags, people, observed] = await Promise.all([
    // One pass for all that stands in the rows themselves: as many groups as there are different pictures, put together here. It
    // follows an index that holds just these columns in this order, so that nothing is sorted; shapes and sizes are told by the sides.
    rows<Group>(
      `SELECT p.rating, p.favourite, p.kind, p.format, p.mark_id AS mark, p.width, p.height, p.camera, p.lens, COUNT(*) AS n
       ${where} GROUP BY p.rating, p.favourite, p.kind, p.format, p.mark_id, p.width, p.height, p.camera, p.lens`,
    ),
    hanging<number>('picture_tags', 'tag_id'),
    hanging<number>('faces', 'person_id'),
    hanging<Observed>('picture_observations', 'kind'),
  ]);
  /** How many there are of each value that groups have, the most first. */
  const of = <T>(values: (group: Group) => readonly T[]): { of: T; pictures: number }[] => {
    const sums = new Map<T, number>();
    for (const group of made)
      for (const value of values(group)) sums.set(value, (sums.get(value) ?? 0) + Number(group.n));
    return [...sums].map(([value, pictures]) => ({ of: value, pictures })).sort((a, b) => b.pictures - a.pictures);
  };
  const by = <K extends keyof Group>(column: K) =>
    of((group) => (group[column] === null ? [] : [group[column] as NonNullable<Group[K]>]));
  const counted = <T>(list: readonly { of: T; n: number | string }[]) =>
    list.map(({ of: value, n }) => ({ of: value, pictures: Number(n) }));
  const ratings = new Map(by('rating').map(({ of: stars, pictures }) => [stars, pictures]));
  return {
    pictures: made.reduce((sum, { n }) => sum + Number(n), 0),
    favourites: by('favourite').find(({ of: has }) => has === 1)?.pictures ?? 0,
    ratings: [0, 1, 2, 3, 4, 5].map((n) => ratings.get(n) ?? 0),
    kinds: by('kind'),
    shapes: of((group) => [shapeOf(group)]),
    // A picture on the border of two sizes is of both.
    sizes: of((group) => SIZES.flatMap((size, i) => (isOfSize(group, size) ? [i] : []))),
    marks: by('mark'),
    cameras: by('camera'),
    lenses: by('lens'),
    formats: by('format'),
    tags: counted(tags),
    people: counted(people),
    observed: counted(observed),
  };
}

type Counted = readonly { of: string | number; pictures: number }[];

/** The most of each kind, the most frequent first. */
const most = <T extends Counted>(list: T): T =>
  [...list].sort((a, b) => b.pictures - a.pictures).slice(0, MOST) as unknown as T;

/** What is left of all when some are taken away; what none is left of goes. */
function less<T extends Counted>(all: T, some: T): T {
  const gone = new Map(some.map(({ of, pictures }) => [of, pictures]));
  return all
    .map(({ of, pictures }) => ({ of, pictures: pictures - (gone.get(of) ?? 0) }))
    .filter(({ pictures }) => pictures > 0) as unknown as T;
}

const LISTS = [
  'kinds',
  'shapes',
  'sizes',
  'marks',
  'cameras',
  'lenses',
  'formats',
  'tags',
  'people',
  'observed',
] as const;
const everything = new LRUCache<string, { at: string; facets: Promise<Facets> }>({ max: 20, ttl: KEPT_FOR });

/** Whether less is to be read of what a question leaves out than of what it asks for. What begins with "not" says so itself. */
async function leavesOutLess(
  app: App,
  library: number,
  question: Question,
  news: ReadonlyMap<string, string>,
): Promise<boolean> {
  if ('not' in question) return true;
  const [asked, of] = await Promise.all(
    [question, EVERYTHING].map((one) => bitsOf(app, library, one, news).then(sizeOf)),
  );
  return asked! * 2 > of!;
}

/**
 * How the pictures of a question are made up: tags, people, stars, marks, kinds, cameras, shapes, what was noticed, each with how many.
 * What asks for most of a library is reckoned by what it leaves out, from the facets of everything, which are kept while nothing
 * changes.
 */
export async function facetsOf(app: App, library: number, question: Question): Promise<Facets> {
  const news = await newsOf(app.db, library);
  const all = (): Promise<Facets> => {
    const at = JSON.stringify([...news]);
    const of = `${library} ${seenBy(app.db)}`;
    const there = everything.get(of);
    if (there?.at === at) return there.facets;
    const facets = read(app, library, EVERYTHING);
    everything.set(of, { at, facets });
    facets.catch(() => everything.delete(of));
    return facets;
  };
  const facets = isEverything(question)
    ? await all()
    : (await leavesOutLess(app, library, question, news))
      ? await Promise.all([all(), read(app, library, normalise({ not: question }))]).then(([a, b]): Facets => ({
          pictures: a.pictures - b.pictures,
          favourites: a.favourites - b.favourites,
          ratings: a.ratings.map((n, i) => n - b.ratings[i]!),
          ...(Object.fromEntries(LISTS.map((name) => [name, less(a[name], b[name])])) as unknown as Pick<
            Facets,
            (typeof LISTS)[number]
          >),
        }))
      : await read(app, library, question);
  return {
    ...facets,
    ...(Object.fromEntries(LISTS.map((name) => [name, most(facets[name])])) as unknown as Pick<
      Facets,
      (typeof LISTS)[number]
    >),
  };
}
