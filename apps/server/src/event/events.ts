import type { Event } from '@gemmel/contract';
import { findEvents } from '@gemmel/core';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import type { EventsRow } from '../db/tables';
import { ask } from '../jobs/jobs';
import { defineJob, type Job } from '../jobs/kind';
import { shortName } from '../person/names';
import { copiesTakeTheTime } from '../time/copies';

/** Only times at least this certain can tell events apart: scans that know their summer at best stay out. */
const SURE = 0.35;

interface Row {
  id: number;
  taken_local: string;
  offset_minutes: number | null;
  lat: number | null;
  lon: number | null;
  event_id: number | null;
}

/** Events that people have shaped, from the first to the last picture they put there; none of them is found anew. */
async function shapedByHand(app: App, library: number): Promise<{ id: number; first: string; last: string }[]> {
  return (await app
    .db('pictures as p')
    .join('events as e', 'e.id', 'p.event_id')
    .where({ 'p.library_id': library, 'p.event_by_hand': true, 'e.made_by': 'hand' })
    .whereNotNull('p.taken_local')
    .groupBy('e.id')
    .orderBy('e.id', 'desc')
    .select(
      'e.id',
      app.db.raw(
        `IF(e.span_by_hand, LEAST(MIN(p.taken_local), e.start_day), MIN(p.taken_local)) AS first,
         IF(e.span_by_hand, GREATEST(MAX(p.taken_local), e.end_day + INTERVAL 1 DAY), MAX(p.taken_local)) AS last`,
      ),
    )) as unknown as {
    id: number;
    first: string;
    last: string;
  }[];
}

/**
 * Files pictures under an event as the machine finds it: not those that somebody has filed since they were looked at, nor
 * those whose date is no longer within it.
 */
async function file(db: Db, rows: readonly Row[], event: number, first: string, last: string): Promise<void> {
  for (const some of chunks(rows, 1000))
    await db('pictures')
      .whereIn(
        'id',
        some.map((row) => row.id),
      )
      .where('event_by_hand', false)
      .whereNull('taken_exact')
      .where('taken_certainty', '>=', SURE)
      .whereBetween('taken_local', [first, last])
      .update({ event_id: event });
}

/** Whether a picture lies in an event that was found, on one of its days. */
function isLeft({ event_id, taken_local }: Row, known: ReadonlyMap<number, EventsRow>): boolean {
  const event = event_id === null ? undefined : known.get(event_id);
  const day = taken_local.slice(0, 10);
  return event?.made_by === 'found' && event.start_day <= day && day <= event.end_day;
}

/** How many pictures of each day each event has. */
type Days = Map<string, Map<number, number>>;

/**
 * Pictures that only know their day make no event: they belong to the one that has most pictures of that day, those that
 * people have shaped before others.
 */
async function fileDays(db: Db, library: number, days: Days, shaped: ReadonlySet<number>): Promise<void> {
  const rows = (await db('pictures')
    .where({ library_id: library, event_by_hand: false, taken_exact: 'day', taken_about: false })
    .where('taken_certainty', '>=', SURE)
    .select('id', 'day', 'event_id')) as { id: number; day: string; event_id: number | null }[];
  const moves = new Map<string, { day: string; event: number | null; ids: number[] }>();
  for (const { id, day, event_id } of rows) {
    const [most] = [...(days.get(day) ?? [])].sort(
      ([a, n], [b, m]) => Number(shaped.has(b)) - Number(shaped.has(a)) || m - n || a - b,
    );
    const event = most?.[0] ?? null;
    if (event === event_id) continue;
    const key = `${day} ${event}`;
    const move = moves.get(key) ?? { day, event, ids: [] };
    move.ids.push(id);
    moves.set(key, move);
  }
  for (const { day, event, ids } of moves.values())
    for (const some of chunks(ids, 1000))
      await db('pictures')
        .whereIn('id', some)
        .where({ event_by_hand: false, taken_exact: 'day', day })
        .update({ event_id: event });
}

/**
 * Looks at all gaps of a library again and files its pictures under events. Events that exist keep their id: each found
 * span takes over the event most of its pictures were in, named ones first, so that a name is never lost while any of
 * its pictures is there.
 */
export async function refreshEvents(app: App, { library }: Pick<Job, 'library'>): Promise<void> {
  const { db } = app;
  await copiesTakeTheTime(db, library);
  const shaped = await shapedByHand(app, library);
  const all = (await db('pictures')
    .where({ library_id: library, event_by_hand: false })
    .whereNotNull('taken_local')
    .whereNull('taken_exact')
    .where('taken_certainty', '>=', SURE)
    .orderBy('taken_local')
    .orderBy('id')
    .select('id', 'taken_local', 'offset_minutes', 'lat', 'lon', 'event_id')) as Row[];
  const events = await db('events').where('library_id', library);
  const known = new Map(events.map((e) => [e.id, e]));
  const rows: Row[] = [];
  const joins = new Map<(typeof shaped)[number], Row[]>();
  const days: Days = new Map();
  const count = (event: number, taken: string, n = 1) => {
    const day = taken.slice(0, 10);
    const of = days.get(day) ?? new Map<number, number>();
    days.set(day, of.set(event, (of.get(event) ?? 0) + n));
  };
  for (const row of all) {
    // What comes in later for an event that people have shaped belongs to it, but not what they left in another that was there.
    const event = shaped.find((e) => row.taken_local >= e.first && row.taken_local <= e.last);
    if (event === undefined || isLeft(row, known)) {
      rows.push(row);
      continue;
    }
    count(event.id, row.taken_local);
    if (row.event_id !== event.id) {
      const those = joins.get(event);
      if (those) those.push(row);
      else joins.set(event, [row]);
    }
  }
  for (const [event, those] of joins) await file(db, those, event.id, event.first, event.last);
  const theirs = new Set(shaped.map((e) => e.id));
  for (const { event_id, day, n } of (await db('pictures')
    .where({ library_id: library, event_by_hand: true })
    .whereNotNull('event_id')
    .whereNotNull('day')
    .groupBy('event_id', 'day')
    .select('event_id', 'day', db.raw('COUNT(*) AS n'))) as unknown as { event_id: number; day: string; n: number }[])
    count(event_id, day, Number(n));
  const spans = findEvents(
    rows.map((r) => ({ at: Date.parse(`${r.taken_local.replace(' ', 'T')}Z`), lat: r.lat, lon: r.lon })),
  );
  const groups: Row[][] = [];
  rows.forEach((row, i) => (groups[spans[i]!] ??= []).push(row));
  const votes: { group: number; event: number; n: number }[] = [];
  groups.forEach((group, g) => {
    const count = new Map<number, number>();
    for (const row of group)
      if (row.event_id !== null && !theirs.has(row.event_id))
        count.set(row.event_id, (count.get(row.event_id) ?? 0) + 1);
    for (const [event, n] of count) votes.push({ group: g, event, n: n + (known.get(event)?.title ? 1e6 : 0) });
  });
  const eventOf = new Map<number, number>();
  const used = new Set<number>();
  for (const { group, event } of votes.sort((a, b) => b.n - a.n || a.group - b.group))
    if (!eventOf.has(group) && !used.has(event)) {
      eventOf.set(group, event);
      used.add(event);
    }
  for (const [g, group] of groups.entries()) {
    const span = {
      start_day: group[0]!.taken_local.slice(0, 10),
      end_day: group[group.length - 1]!.taken_local.slice(0, 10),
    };
    let event = eventOf.get(g);
    if (event === undefined) [event] = await db('events').insert({ library_id: library, ...span });
    else {
      // Somebody may have shaped or removed it since it was looked at: then it is theirs.
      const found = () => db('events').where({ id: event!, made_by: known.get(event!)!.made_by });
      if (!(await found().update(span)) && !(await found().first('id'))) continue;
    }
    for (const row of group) count(event!, row.taken_local);
    const wrong = group.filter((row) => row.event_id !== event);
    await file(db, wrong, event!, group[0]!.taken_local, group[group.length - 1]!.taken_local);
  }
  await fileDays(db, library, days, theirs);
  await db.raw(
    "DELETE e FROM events e WHERE e.library_id = ? AND e.made_by = 'found' AND e.title IS NULL AND NOT EXISTS (SELECT 1 FROM pictures p WHERE p.event_id = e.id)",
    [library],
  );
  await ask(db, library, 'refile', 0, 1000);
  app.worked(library, 'events', 'pictures', 'library');
}

/** Events with what is in them, newest first. */
export async function listEvents(app: App, library: number): Promise<Event[]> {
  const { db } = app;
  const events = (await db('events as e')
    .join('pictures as p', 'p.event_id', 'e.id')
    .where('e.library_id', library)
    .groupBy('e.id')
    .orderBy('e.start_day', 'desc')
    .orderBy('e.id', 'desc')
    .select(
      'e.id',
      'e.title',
      'e.start_day as start',
      'e.end_day as end',
      'e.place',
      'e.cover_id as cover',
      'e.span_by_hand as spanByHand',
      db.raw('COUNT(*) AS pictures'),
    )) as unknown as Omit<Event, 'people'>[];
  const places = (await db('pictures as p')
    .leftJoin('own_places as o', 'o.id', 'p.own_place_id')
    .where('p.library_id', library)
    .whereNotNull('p.event_id')
    .whereRaw('(p.place IS NOT NULL OR o.id IS NOT NULL)')
    .groupByRaw('p.event_id, p.place, p.country, o.name')
    .orderByRaw('COUNT(*)')
    .select('p.event_id', 'p.place', 'p.country', 'o.name as own')) as {
    event_id: number;
    place: string;
    country: string;
    own: string | null;
  }[];
  // Counted first, named after: names would be carried along for every face.
  const [people] = (await db.raw(
    `SELECT c.event_id, ${shortName('n')} AS name FROM (
       SELECT STRAIGHT_JOIN p.event_id, f.person_id, COUNT(*) AS times
       FROM pictures p FORCE INDEX (event_places) JOIN faces f ON f.picture_id = p.id
       WHERE p.library_id = ? AND p.event_id IS NOT NULL AND f.person_id IS NOT NULL
       GROUP BY p.event_id, f.person_id) c JOIN people n ON n.id = c.person_id
     ORDER BY c.times DESC, n.id`,
    [library],
  )) as [{ event_id: number; name: string }[]];
  const placeOf = new Map(places.map((p) => [p.event_id, p]));
  const peopleOf = new Map<number, string[]>();
  for (const { event_id, name } of people) {
    const list = peopleOf.get(event_id) ?? [];
    if (list.length < 3) peopleOf.set(event_id, [...list, name]);
  }
  return events.map((e) => ({
    ...e,
    pictures: Number(e.pictures),
    spanByHand: Boolean(e.spanByHand),
    ...whereWas(e.place, placeOf.get(e.id)),
    people: peopleOf.get(e.id) ?? [],
  }));
}

/** Where an event was: as people call it, else the household's own place or the town most of it was in. */
function whereWas(
  said: string | null,
  most: { place: string; country: string; own: string | null } | undefined,
): Pick<Event, 'place' | 'town'> {
  const place = said ?? most?.own ?? null;
  return { place, town: place === null && most ? { name: most.place, country: most.country } : null };
}

declare module '../jobs/kind' {
  interface JobPayloads {
    events: null;
  }
}

/** Finding events. */
export const eventsJob = defineJob({
  kind: 'events',
  answers: true,
  priority: 2,
  alone: true,
  run: refreshEvents,
});
