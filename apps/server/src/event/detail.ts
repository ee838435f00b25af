import type { EventDetail } from '@gemmel/contract';
import { distanceKm, eventNames, WORDS, type Language } from '@gemmel/core';
import type Holidays from 'date-holidays';
import type { App } from '../context';
import { shortName } from '../person/names';
import { notFound } from '../problem';
import { homeOf, type Spot } from '../place/places';
import { languageOf } from '../library/language';
import { listEvents } from './events';

/** How far from home an event's place is worth naming, in kilometres. */
const AWAY = 25;
const HOLIDAYS = new Map<string, Holidays>();

/** A public or school holiday of a country among some days, in a language where it has a name in it, else as the country says. */
function holidayOf(
  Calendar: typeof Holidays,
  country: string | null,
  from: string,
  to: string,
  language: Language,
): string | null {
  if (!country) return null;
  const holidays = HOLIDAYS.get(country) ?? new Calendar(country);
  HOLIDAYS.set(country, holidays);
  const year = Number(from.slice(0, 4));
  const found = holidays
    .getHolidays(year, language)
    .filter((h) => h.date.slice(0, 10) >= from && h.date.slice(0, 10) <= to && h.type !== 'optional')
    .sort((a, b) => Number(b.type === 'public') - Number(a.type === 'public'));
  return found[0]?.name ?? null;
}

/** How many of the most frequent places, tags and people of an event are looked at. */
const LOOKED_AT = 8;

/** Rows by their event, in their order. */
function byEvent<T extends { event: number }>(rows: readonly T[]): (event: number) => T[] {
  const groups = new Map<number, T[]>();
  for (const row of rows) {
    const group = groups.get(row.event);
    if (group) group.push(row);
    else groups.set(row.event, [row]);
  }
  return (event) => groups.get(event) ?? [];
}

/** Events with their best pictures, a chosen cover first, and the names they could have. */
export async function detailsOf(app: App, library: number, ids: readonly number[], most = 5): Promise<EventDetail[]> {
  if (ids.length === 0) return [];
  const { db } = app;
  const events = new Map((await listEvents(app, library)).map((e) => [e.id, e]));
  const home = await homeOf(app, library);
  const language = await languageOf(db, library);
  /** A query over the pictures of these events, counted by something, the most frequent first. */
  const counted = async <T extends { event: number; pictures: number }>(
    columns: string,
    joins: string,
    group: string,
  ): Promise<(event: number) => T[]> => {
    const [rows] = (await db.raw(
      `SELECT p.event_id AS event, COUNT(*) AS pictures, ${columns} FROM pictures p ${joins}
       WHERE p.library_id = ? AND p.event_id IN (${ids.map(() => '?').join(',')})
       GROUP BY p.event_id, ${group} ORDER BY COUNT(*) DESC, ${group}`,
      [library, ...ids],
    )) as [T[]];
    const of = byEvent(rows.map((row) => ({ ...row, pictures: Number(row.pictures) })));
    return (event) => of(event).slice(0, LOOKED_AT);
  };
  const placesOf = await counted<
    Spot & { event: number; pictures: number; name: string | null; own: number; country: string | null }
  >(
    'COALESCE(o.name, p.place) AS name, o.id IS NOT NULL AS own, AVG(p.lat) AS lat, AVG(p.lon) AS lon, MAX(p.country) AS country',
    'LEFT JOIN own_places o ON o.id = p.own_place_id',
    'COALESCE(o.name, p.place), o.id IS NOT NULL',
  );
  const tagsOf = await counted<{ event: number; pictures: number; name: string }>(
    'n.name',
    'JOIN picture_tags t ON t.picture_id = p.id JOIN tags n ON n.id = t.tag_id',
    'n.id',
  );
  const peopleOf = await counted<{ event: number; pictures: number; name: string; circle: string | null }>(
    `(SELECT c.name FROM circle_people m JOIN circles c ON c.id = m.circle_id WHERE m.person_id = n.id
       ORDER BY c.position, c.id LIMIT 1) AS circle, ${shortName('n')} AS name`,
    'JOIN faces f ON f.picture_id = p.id JOIN people n ON n.id = f.person_id',
    'n.id',
  );
  const [best] = (await db.raw(
    `SELECT * FROM (SELECT p.id, p.event_id AS event, p.shown AS sha256,
       ROW_NUMBER() OVER (PARTITION BY p.event_id ORDER BY p.id = e.cover_id DESC, p.favourite DESC, p.rating DESC, p.sharpness DESC, p.id) AS nth
       FROM pictures p JOIN events e ON e.id = p.event_id
       WHERE p.library_id = ? AND p.event_id IN (${ids.map(() => '?').join(',')})) ranked WHERE nth <= ? ORDER BY nth`,
    [library, ...ids, most],
  )) as [{ id: number; event: number; sha256: Buffer }[]];
  const bestOf = byEvent(best);
  const { default: Calendar } = await import('date-holidays');
  return ids.flatMap((id) => {
    const event = events.get(id);
    if (!event) return [];
    const places = placesOf(id).filter((p) => p.lat !== null);
    const first = places[0];
    const names = eventNames(
      {
        pictures: event.pictures,
        from: event.start,
        to: event.end,
        places: places.flatMap(({ name, pictures, own }) => (name ? [{ name, pictures, own: Boolean(own) }] : [])),
        away: Boolean(first && home && distanceKm(home.lat, home.lon, first.lat, first.lon) > AWAY),
        holiday: holidayOf(Calendar, first?.country ?? null, event.start, event.end, language),
        tags: tagsOf(id),
        people: peopleOf(id),
      },
      WORDS[language],
    );
    return [{ event, names, best: bestOf(id).map((p) => ({ id: p.id, sha: p.sha256.toString('hex') })) }];
  });
}

/** One event with its best pictures and the names it could have. */
export async function eventDetail(app: App, library: number, id: number): Promise<EventDetail> {
  const [detail] = await detailsOf(app, library, [id], 12);
  if (!detail) throw notFound('event');
  return detail;
}
