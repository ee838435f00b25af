import { todayIn } from '../time/home';
import type { Question } from '@gemmel/core';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import { notFound } from '../problem';

/** Most years that are told. */
const MOST = 12;

/**
 * This day in other years: of each year its best picture (stars, heart, sharpness), leaving out who is hidden, and pictures and
 * events that were said not to be shown again.
 */
export async function thisDay(app: App, library: number) {
  const day = await todayIn(app.db, library);
  const [year, month, date] = day.split('-').map(Number) as [number, number, number];
  const hidden = (await app.db('people').where({ library_id: library, hidden: true }).select('id')).map(
    (row) => row.id,
  );
  const question: Question = {
    all: [
      { taken: { month, day: date } },
      { taken: { to: `${year - 1}-12-31` } },
      ...(hidden.length ? [{ not: { who: { people: hidden, mode: 'any' as const } } }] : []),
    ],
  };
  const [rows] = (await app.db.raw(
    `SELECT YEAR(p.day) AS year, p.id, p.shown AS sha256, e.id AS event, e.title,
       COUNT(*) OVER (PARTITION BY YEAR(p.day)) AS pictures,
       ROW_NUMBER() OVER (PARTITION BY YEAR(p.day) ORDER BY p.favourite DESC, p.rating DESC, p.sharpness DESC, p.id) AS nth
     FROM pictures p LEFT JOIN events e ON e.id = p.event_id
     WHERE p.library_id = ? AND p.month_day = ? AND p.day < ? AND p.kind = 'photo' AND p.taken_exact IS NULL AND NOT p.not_again AND NOT COALESCE(e.not_again, FALSE)
       ${hidden.length ? `AND NOT EXISTS (SELECT 1 FROM faces f WHERE f.picture_id = p.id AND f.person_id IN (${hidden.map(() => '?').join(',')}))` : ''}
     ORDER BY year DESC`,
    [library, month * 100 + date, `${year}-01-01`, ...hidden],
  )) as [
    {
      year: number;
      id: number;
      sha256: Buffer;
      event: number | null;
      title: string | null;
      pictures: number;
      nth: number;
    }[],
  ];
  return {
    day,
    question,
    years: rows
      .filter((row) => Number(row.nth) === 1)
      .slice(0, MOST)
      .map((row) => ({
        year: Number(row.year),
        id: row.id,
        sha: row.sha256.toString('hex'),
        pictures: Number(row.pictures),
        event: row.event === null ? null : { id: row.event, title: row.title },
      })),
  };
}

/** Says that a picture, or everything of an event, is not to be shown again among this day's pictures of other years. */
export const notAgain = (
  app: App,
  by: By,
  what: { picture: number } | { event: number },
): Promise<{ act: number | null }> =>
  perform(app, by, 'not again', async ({ trx, library, hold, words }) => {
    const [table, id] = 'picture' in what ? (['pictures', what.picture] as const) : (['events', what.event] as const);
    const [row] = await hold(table, [id]);
    if (!row) throw notFound('picture' in what ? 'picture' : 'event');
    if (table === 'events' && row['title']) words({ name: String(row['title']) });
    words({ what: [table] });
    await trx(table).where({ id, library_id: library }).update({ not_again: true });
  });
