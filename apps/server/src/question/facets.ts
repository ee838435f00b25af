import type { Facets } from '@gemmel/contract';
import { EVERYTHING, SIZES, type Observed, type Question, type Shape } from '@gemmel/core';
import { LRUCache } from 'lru-cache';
import type { App } from '../context';
import { conditionOf } from '../picture/pictures';
import { KEPT_FOR, newsOf } from './news';
import { bitsOf, sizeOf } from './sets';
import { SHAPE } from './toSql';

/** Most of each kind that are told. */
const MOST = 60;

/** Pictures that are alike in all that is told of them. */
interface Group {
  rating: number;
  favourite: number;
  kind: 'photo' | 'video';
  format: string;
  mark: number | null;
  shape: Shape;
  /** A bit for each size it is of: one that lies on the border is of two. */
  sizes: number;
  camera: string | null;
  lens: string | null;
  n: number | string;
}

const SHAPE_CODE = `CASE ${Object.entries(SHAPE)
  .map(([name, text]) => `WHEN ${text} THEN '${name}'`)
  .join(' ')} END`;

const SIZES_CODE = SIZES.map((size, i) => {
  const ends = [
    ...('min' in size ? [`p.width * p.height >= ${size.min * 1e6}`] : []),
    ...('max' in size ? [`p.width * p.height <= ${size.max * 1e6}`] : []),
  ];
  return `(${ends.join(' AND ')}) * ${2 ** i}`;
}).join(' + ');

/** How the pictures of a question are made up. One pass over them for what stands in their rows, one each for what hangs on them. */
async function read(app: App, library: number, question: Question): Promise<Facets> {
  const { sql, values } = await conditionOf(app, library, question);
  const all = 'all' in question && question.all.length === 0;
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
    // One pass for all that stands in the rows themselves: as many groups as there are different pictures, put together here.
    rows<Group>(
      `SELECT p.rating, p.favourite, p.kind, p.format, p.mark_id AS mark, ${SHAPE_CODE} AS shape, ${SIZES_CODE} AS sizes, p.camera, p.lens, COUNT(*) AS n
       ${where} GROUP BY p.rating, p.favourite, p.kind, p.format, p.mark_id, shape, sizes, p.camera, p.lens`,
    ),
    hanging<number>('picture_tags', 'tag_id'),
    hanging<number>('faces', 'person_id'),
    hanging<Observed>('picture_observations', 'kind'),
  ]);
  /** How many there are of each value of one column, the most first. */
  const by = <K extends keyof Group>(column: K): { of: NonNullable<Group[K]>; pictures: number }[] => {
    const sums = new Map<NonNullable<Group[K]>, number>();
    for (const group of made) {
      const of = group[column];
      if (of !== null)
        sums.set(of as NonNullable<Group[K]>, (sums.get(of as NonNullable<Group[K]>) ?? 0) + Number(group.n));
    }
    return [...sums].map(([of, pictures]) => ({ of, pictures })).sort((a, b) => b.pictures - a.pictures);
  };
  const counted = <T>(list: readonly { of: T; n: number | string }[]) =>
    list.map(({ of, n }) => ({ of, pictures: Number(n) }));
  const ratings = new Map(by('rating').map(({ of, pictures }) => [of, pictures]));
  return {
    pictures: made.reduce((sum, { n }) => sum + Number(n), 0),
    favourites: by('favourite').find(({ of }) => of === 1)?.pictures ?? 0,
    ratings: [0, 1, 2, 3, 4, 5].map((n) => ratings.get(n) ?? 0),
    kinds: by('kind'),
    shapes: by('shape'),
    sizes: SIZES.map((_, i) => ({
      of: i,
      pictures: made.reduce((sum, { sizes, n }) => sum + (sizes & (2 ** i) ? Number(n) : 0), 0),
    })).filter(({ pictures }) => pictures > 0),
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
const everything = new LRUCache<number, { at: string; facets: Promise<Facets> }>({ max: 20, ttl: KEPT_FOR });

/**
 * How the pictures of a question are made up: tags, people, stars, marks, kinds, cameras, shapes, what was noticed, each with how many.
 * What asks for most of a library is reckoned by what it leaves out, from the facets of everything, which are kept while nothing
 * changes.
 */
export async function facetsOf(app: App, library: number, question: Question): Promise<Facets> {
  const news = await newsOf(app.db, library);
  const all = (): Promise<Facets> => {
    const at = JSON.stringify([...news]);
    const there = everything.get(library);
    if (there?.at === at) return there.facets;
    const facets = read(app, library, EVERYTHING);
    everything.set(library, { at, facets });
    facets.catch(() => everything.delete(library));
    return facets;
  };
  const whole = 'all' in question && question.all.length === 0;
  const [asked, of] = await Promise.all([
    bitsOf(app, library, question, news).then(sizeOf),
    bitsOf(app, library, EVERYTHING, news).then(sizeOf),
  ]);
  const facets = whole
    ? await all()
    : asked * 2 > of
      ? await Promise.all([all(), read(app, library, { not: question })]).then(([a, b]): Facets => ({
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
