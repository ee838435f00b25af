import type { EventDetail } from '@gemmel/contract';
import { distanceKm, eventNames } from '@gemmel/core';
import Holidays from 'date-holidays';
import type { App } from '../context';
import { notFound } from '../problem';
import { homeOf, type Spot } from '../place/places';
import { listEvents } from './events';

/** How far from home an event's place is worth naming, in kilometres. */
const AWAY = 25;
const HOLIDAYS = new Map<string, Holidays>();

/** A public or school holiday of a country among some days, in English where it has an English name. */
function holidayOf(country: string | null, from: string, to: string): string | null {
  if (!country) return null;
  const holidays = HOLIDAYS.get(country) ?? new Holidays(country);
  HOLIDAYS.set(country, holidays);
  const year = Number(from.slice(0, 4));
  const found = holidays
    .getHolidays(year, 'en')
    .filter((h) => h.date.slice(0, 10) >= from && h.date.slice(0, 10) <= to && h.type !== 'optional')
    .sort((a, b) => Number(b.type === 'public') - Number(a.type === 'public'));
  return found[0]?.name ?? null;
}

/** An event's best pictures, the one somebody chose for its cover first. */
const best = async (app: App, library: number, event: number, cover: number | null, most: number) =>
  (
    (await app
      .db('pictures')
      .where({ library_id: library, event_id: event })
      .orderByRaw('id = ? DESC, favourite DESC, rating DESC, sharpness DESC, id', [cover ?? 0])
      .limit(most)
      .select('id', 'sha256')) as { id: number; sha256: Buffer }[]
  ).map((p) => ({ id: p.id, sha: p.sha256.toString('hex') }));

/** Events with their best pictures and the names they could have. */
export async function detailsOf(app: App, library: number, ids: readonly number[], most = 5): Promise<EventDetail[]> {
  const { db } = app;
  const events = new Map((await listEvents(app, library)).map((e) => [e.id, e]));
  const home = await homeOf(app, library);
  const details: EventDetail[] = [];
  for (const id of ids) {
    const event = events.get(id);
    if (!event) continue;
    const places = (await db('pictures as p')
      .leftJoin('own_places as o', 'o.id', 'p.own_place_id')
      .where({ 'p.library_id': library, 'p.event_id': id })
      .whereNotNull('p.lat')
      .groupByRaw('COALESCE(o.name, p.place), o.id IS NULL')
      .orderByRaw('COUNT(*) DESC')
      .limit(5)
      .select(
        db.raw(
          'COALESCE(o.name, p.place) AS name, o.id IS NOT NULL AS own, COUNT(*) AS pictures, AVG(p.lat) AS lat, AVG(p.lon) AS lon, MAX(p.country) AS country',
        ),
      )) as unknown as (Spot & { name: string | null; own: number; pictures: number; country: string | null })[];
    const named = places.filter((p) => p.name !== null);
    const tags = (await db('picture_tags as t')
      .join('pictures as p', 'p.id', 't.picture_id')
      .join('tags as n', 'n.id', 't.tag_id')
      .where({ 'p.library_id': library, 'p.event_id': id })
      .groupBy('n.id')
      .orderByRaw('COUNT(*) DESC')
      .limit(5)
      .select('n.name', db.raw('COUNT(*) AS pictures'))) as unknown as { name: string; pictures: number }[];
    const people = (await db('faces as f')
      .join('pictures as p', 'p.id', 'f.picture_id')
      .join('people as n', 'n.id', 'f.person_id')
      .where({ 'p.library_id': library, 'p.event_id': id })
      .groupBy('n.id')
      .orderByRaw('COUNT(*) DESC, n.id')
      .limit(8)
      .select(
        'n.circle',
        db.raw("COALESCE(n.nickname, SUBSTRING_INDEX(n.name, ' ', 1)) AS name, COUNT(*) AS pictures"),
      )) as unknown as { name: string; circle: string | null; pictures: number }[];
    const counted = <T extends { pictures: number }>(list: readonly T[]) =>
      list.map((one) => ({ ...one, pictures: Number(one.pictures) }));
    const first = places[0];
    details.push({
      event,
      best: await best(app, library, id, event.cover, most),
      names: eventNames({
        pictures: event.pictures,
        from: event.start,
        to: event.end,
        places: counted(named).map((p) => ({ name: p.name!, pictures: p.pictures, own: Boolean(p.own) })),
        away: Boolean(first && home && distanceKm(home.lat, home.lon, first.lat, first.lon) > AWAY),
        holiday: holidayOf(first?.country ?? null, event.start, event.end),
        tags: counted(tags),
        people: counted(people),
      }),
    });
  }
  return details;
}

/** One event with its best pictures and the names it could have. */
export async function eventDetail(app: App, library: number, id: number): Promise<EventDetail> {
  const [detail] = await detailsOf(app, library, [id], 12);
  if (!detail) throw notFound('This event');
  return detail;
}
