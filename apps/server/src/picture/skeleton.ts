import type { Skeleton, Sort, Under } from '@gemmel/contract';
import { nodes, toEdtf, type Question } from '@gemmel/core';
import type { App } from '../context';
import { lookingLike } from '../question/look';
import { scoresOf } from '../question/score';
import { spanOf, type SpanRow } from '../time/span';
import { conditionOf, ORDER, where } from './pictures';
import { groupsOf } from './under';

/** What each order but that of time goes by. Likeness and the best match are reckoned apart. */
const BY: Record<Exclude<Sort, 'date' | 'likeness' | 'match'>, string> = {
  name: 'p.name',
  size: 'p.bytes',
  stars: 'p.rating',
  shape: 'p.width / p.height',
  arrival: 'p.created_at',
  change: 'COALESCE(said.act, 0)',
};

/** Names from the first, all else from the largest or the last; equal ones by time. `backwards` turns it round. */
function orderOf(backwards: boolean, sort: Sort): string {
  if (sort === 'date' || sort === 'likeness' || sort === 'match')
    return backwards ? 'ORDER BY p.taken_local IS NULL, p.taken_local, p.id' : ORDER;
  const way = (sort === 'name') === backwards ? 'DESC' : 'ASC';
  return `ORDER BY ${BY[sort]} ${way}, p.taken_local DESC, p.id DESC`;
}

/** What an order reads besides the pictures: when each was last changed. */
const besideOf = (sort: Sort): string =>
  sort === 'change'
    ? 'LEFT JOIN (SELECT ap.picture_id, MAX(ap.act_id) AS act FROM act_pictures ap GROUP BY ap.picture_id) said ON said.picture_id = p.id'
    : '';

/** The picture that a question asks to be like, the first if there are several. */
export function likedIn(question: Question): number | null {
  for (const q of nodes(question)) if ('like' in q) return q.like;
  return null;
}

interface Row extends SpanRow {
  id: number;
  width: number;
  height: number;
  day: string | null;
  event: number | null;
  run: number | null;
  first: number;
  rating: number;
  favourite: number;
}

/** The best answers to the words of a question first; equally good ones by time. */
async function byMatch(
  app: App,
  library: number,
  question: Question,
  rows: readonly Row[],
  backwards: boolean,
): Promise<readonly Row[]> {
  const scores = await scoresOf(
    app,
    library,
    question,
    rows.map((row) => row.id),
  );
  if (!scores) return rows;
  const way = backwards ? -1 : 1;
  return [...rows].sort((a, b) => way * ((scores.get(b.id) ?? 0) - (scores.get(a.id) ?? 0)));
}

/** The likest first, as far as they are alike; the others behind them in their order. */
async function byLikeness(
  app: App,
  library: number,
  liked: number,
  rows: readonly Row[],
  backwards: boolean,
): Promise<Row[]> {
  const place = new Map([...(await lookingLike(app.db, library, liked))].map((id, i) => [id, i]));
  const sorted = rows
    .map((row, i) => ({ row, at: place.get(row.id) ?? place.size + i }))
    .sort((a, b) => a.at - b.at)
    .map(({ row }) => row);
  return backwards ? sorted.reverse() : sorted;
}

/** Shots of runs of which more than one is in an answer. What people said comes before what the machine thinks. */
function runsIn(rows: readonly Row[]): NonNullable<Skeleton['runs']> {
  const shots = new Map<number, number>();
  for (const { run } of rows) if (run !== null) shots.set(run, (shots.get(run) ?? 0) + 1);
  const found: NonNullable<Skeleton['runs']> = [];
  rows.forEach(({ run, first, rating, favourite }, at) => {
    if (run !== null && shots.get(run)! > 1) found.push([at, run, 4 * rating + 2 * Number(favourite) + Number(first)]);
  });
  return found;
}

/**
 * The columns of a question's answer in grid order, or in another; `backwards` turns it round. Under people, places or folders
 * pictures stand group by group, by the names of the groups, in their order within.
 */
export async function skeleton(
  app: App,
  library: number,
  question: Question,
  { backwards = false, sort = 'date', under }: { backwards?: boolean; sort?: Sort; under?: Under | undefined } = {},
): Promise<Skeleton> {
  const { text, values } = where(library, await conditionOf(app, library, question), besideOf(sort));
  const [found] = (await app.db.raw(
    `SELECT p.id, p.width, p.height, p.day, p.event_id AS event, p.taken_exact, p.taken_from, p.taken_to, p.taken_about, p.run_id AS run, p.run_first AS first, p.rating, p.favourite ${text} ${orderOf(backwards, sort)}`,
    values,
  )) as [Row[]];
  const liked = sort === 'likeness' ? likedIn(question) : null;
  let rows: readonly Row[] = found;
  if (liked !== null) rows = await byLikeness(app, library, liked, found, backwards);
  if (sort === 'match') rows = await byMatch(app, library, question, found, backwards);
  const result: Skeleton = { ids: [], shapes: [], days: [], events: [], count: rows.length };
  if (under) {
    const groups = await groupsOf(app.db, library, under, rows);
    rows = groups.flatMap(({ rows: some }) => some);
    result.groups = groups.map(({ of, rows: some }) => [of, some.length]);
  }
  const runs = runsIn(rows);
  if (runs.length) result.runs = runs;
  let last = 0;
  for (const row of rows) {
    result.ids.push(row.id - last);
    last = row.id;
    result.shapes.push(Math.round((100 * row.width) / row.height));
    const day = result.days[result.days.length - 1];
    const span = spanOf(row);
    const said = span ? toEdtf(span) : undefined;
    if (day && day[0] === row.day && day[2] === said) day[1]++;
    else result.days.push(said === undefined ? [row.day, 1] : [row.day, 1, said]);
    const event = result.events[result.events.length - 1];
    if (event && event[0] === (row.event ?? 0)) event[1]++;
    else result.events.push([row.event ?? 0, 1]);
  }
  return result;
}
