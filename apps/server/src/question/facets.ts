import type { Facets } from '@gemmel/contract';
import type { Observed, Question, Shape } from '@gemmel/core';
import type { App } from '../context';
import { conditionOf } from '../picture/pictures';
import { SHAPE } from './toSql';

/** Most of each kind that are told. */
const MOST = 60;

/** How the pictures of a question are made up. One pass over them for what stands in their rows, one each for what hangs on them. */
export async function facetsOf(app: App, library: number, question: Question): Promise<Facets> {
  const { sql, values } = await conditionOf(app, library, question);
  const everything = 'all' in question && question.all.length === 0;
  const where = `FROM pictures p WHERE p.library_id = ? AND (${sql})`;
  const asked = [library, ...values];
  const rows = async <T>(text: string, given: readonly (string | number)[] = asked): Promise<T[]> =>
    ((await app.db.raw(text, [...given])) as [T[]])[0];
  /** Rows of a table that hang on the pictures of the question; all of them where everything is asked for. */
  const hanging = <T>(table: string, column: string, more = ''): Promise<{ of: T; n: number }[]> =>
    everything
      ? rows(
          `SELECT h.${column} AS of, COUNT(DISTINCT h.picture_id) AS n FROM ${table} h WHERE h.library_id = ? AND h.${column} IS NOT NULL ${more} GROUP BY h.${column} ORDER BY n DESC LIMIT ${MOST}`,
          [library],
        )
      : rows(
          `SELECT h.${column} AS of, COUNT(DISTINCT h.picture_id) AS n FROM (SELECT p.id ${where}) q JOIN ${table} h ON h.picture_id = q.id WHERE h.${column} IS NOT NULL ${more} GROUP BY h.${column} ORDER BY n DESC LIMIT ${MOST}`,
        );
  const columns = (name: string) =>
    rows<{ of: string; n: number }>(
      `SELECT p.${name} AS of, COUNT(*) AS n ${where} AND p.${name} IS NOT NULL GROUP BY p.${name} ORDER BY n DESC LIMIT ${MOST}`,
    );
  const shape = Object.entries(SHAPE)
    .map(([name, text]) => `SUM(${text}) AS ${name}`)
    .join(', ');
  const [[sums], ratings, marks, cameras, lenses, formats, tags, people, observed] = await Promise.all([
    rows<Record<string, number | string | null>>(
      `SELECT COUNT(*) AS pictures, SUM(p.favourite) AS favourites, SUM(p.kind = 'photo') AS photo, SUM(p.kind = 'video') AS video, ${shape} ${where}`,
    ),
    rows<{ of: number; n: number }>(`SELECT p.rating AS of, COUNT(*) AS n ${where} GROUP BY p.rating`),
    rows<{ of: number; n: number }>(
      `SELECT p.mark_id AS of, COUNT(*) AS n ${where} AND p.mark_id IS NOT NULL GROUP BY p.mark_id ORDER BY n DESC`,
    ),
    columns('camera'),
    columns('lens'),
    columns('format'),
    hanging<number>('picture_tags', 'tag_id'),
    hanging<number>('faces', 'person_id'),
    hanging<Observed>('picture_observations', 'kind'),
  ]);
  const number = (name: string) => Number(sums![name] ?? 0);
  const counted = <T>(list: readonly { of: T; n: number | string }[]) =>
    list.map(({ of, n }) => ({ of, pictures: Number(n) }));
  const some = <T extends string>(names: readonly T[]) =>
    names.map((of) => ({ of, pictures: number(of) })).filter(({ pictures }) => pictures > 0);
  return {
    pictures: number('pictures'),
    favourites: number('favourites'),
    ratings: [0, 1, 2, 3, 4, 5].map((n) => Number(ratings.find((row) => row.of === n)?.n ?? 0)),
    kinds: some(['photo', 'video'] as const),
    shapes: some(Object.keys(SHAPE) as Shape[]),
    marks: counted(marks),
    cameras: counted(cameras),
    lenses: counted(lenses),
    formats: counted(formats),
    tags: counted(tags),
    people: counted(people),
    observed: counted(observed),
  };
}
