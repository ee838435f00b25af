import type { ActKind, ActWords } from '@gemmel/contract';
import { perform, type Act, type By } from '../act/perform';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { takeTurn } from '../db/turn';
import { pictureRows } from '../picture/rows';
import { notFound, refused } from '../problem';

interface EventRow {
  id: number;
  title: string | null;
  start_day: string;
  end_day: string;
  span_by_hand: number;
}
interface Member {
  id: number;
  event_id: number | null;
  event_by_hand: number;
  taken_local: string | null;
}

/** What an act that shaped something answers: its number, or null when nothing came of it. */
type Shaped<T = object> = Promise<T & { act: number | null }>;

async function eventOf({ trx, library, hold }: Act, id: number): Promise<EventRow> {
  await hold('events', [id]);
  const row = (await trx('events').where({ id, library_id: library }).first()) as EventRow | undefined;
  if (!row) throw notFound('event');
  return row;
}

const membersOf = async (db: Db, library: number, event: number): Promise<Member[]> =>
  await db('pictures')
    .where({ library_id: library, event_id: event })
    .orderByRaw('taken_local IS NULL, taken_local, id')
    .select('id', 'event_id', 'event_by_hand', 'taken_local');

const idsOf = (members: readonly Member[]): number[] => members.map((m) => m.id);

/** What an act says of an event: its name, or the day it begins when it has none. */
const called = ({ title, start_day }: EventRow): ActWords => (title ? { name: title } : { day: start_day });
/** The same of the other one of two. */
const calledTo = ({ title, start_day }: EventRow): ActWords => (title ? { to: title } : { toDay: start_day });

/** Files pictures under an event, or under none, as people said; finding events again leaves them there. */
async function put({ trx, library, hold }: Act, ids: readonly number[], event: number | null): Promise<void> {
  await hold('pictures', ids);
  for (const some of chunks(ids, 1000))
    await trx('pictures')
      .where('library_id', library)
      .whereIn('id', some)
      .update({ event_id: event, event_by_hand: true });
}

/** Keeps events' days to what is in them; those that people have shaped are theirs from now on. */
async function settleDays(
  { trx, library, hold }: Act,
  events: readonly number[],
  shaped: readonly number[] = events,
): Promise<void> {
  await hold('events', events);
  for (const id of new Set(events)) {
    const [span] = (await trx('pictures')
      .where({ library_id: library, event_id: id })
      .whereNotNull('day')
      .select(trx.raw('MIN(day) AS first, MAX(day) AS last'))) as [{ first: string | null; last: string | null }];
    const said = await trx('events').where({ id, library_id: library }).first('span_by_hand');
    if (!span.first || !span.last) continue;
    const change = {
      ...(said?.span_by_hand ? {} : { start_day: span.first, end_day: span.last }),
      ...(shaped.includes(id) ? { made_by: 'hand' as const } : {}),
    };
    if (Object.keys(change).length) await trx('events').where({ id, library_id: library }).update(change);
  }
}

/**
 * Does an act that shapes events, one at a time in a library. Then events are found anew around it, and the files follow.
 */
function shaping<T extends object | void>(
  app: App,
  by: By,
  kind: ActKind,
  change: (act: Act) => Promise<T>,
): Shaped<T> {
  return perform(app, by, kind, async (act) => {
    await takeTurn(act.trx, act.library, 'events');
    const done = await change(act);
    act.then('events');
    return done;
  });
}

async function newEvent({ trx, library, made }: Act, title: string | null, day: string): Promise<number> {
  const [id] = (await trx('events').insert({
    library_id: library,
    title,
    start_day: day,
    end_day: day,
    made_by: 'hand',
  })) as [number];
  made('events', id);
  return id;
}

/** Splits an event before a picture: that picture and all later ones become an event of their own, without a name. */
export const splitEvent = (app: App, by: By, id: number, at: number): Shaped =>
  shaping(app, by, 'split event', async (act) => {
    const event = await eventOf(act, id);
    const members = await membersOf(act.trx, act.library, id);
    const from = members.findIndex((m) => m.id === at);
    if (from < 0) throw refused('not-in-event');
    if (from === 0) throw refused('nothing-before');
    const later = members.slice(from);
    const made = await newEvent(act, null, later[0]!.taken_local?.slice(0, 10) ?? event.end_day);
    await put(act, idsOf(members.slice(0, from)), id);
    await put(act, idsOf(later), made);
    await settleDays(act, [id, made]);
    act.words({ ...called(event), n: later.length });
    return {};
  });

/** Joins another event to one; the one's name stays, or the other's when it has none. */
export function joinEvents(app: App, by: By, id: number, other: number): Shaped {
  if (id === other) throw refused('event-itself');
  return shaping(app, by, 'join events', async (act) => {
    const { trx, library } = act;
    const [event, second] = [await eventOf(act, id), await eventOf(act, other)];
    await put(act, idsOf([...(await membersOf(trx, library, id)), ...(await membersOf(trx, library, other))]), id);
    if (!event.title && second.title) await trx('events').where('id', id).update({ title: second.title });
    await trx('events').where({ id: other, library_id: library }).delete();
    await settleDays(act, [id]);
    act.words({ ...called(second), ...calledTo(event) });
    return {};
  });
}

/** Where pictures are to go: an event, a new one of a name, or out of any. */
type Target = { event: number } | { title: string | null } | null;

async function move(act: Act, ids: readonly number[], to: Target): Promise<number | null> {
  const { trx, library } = act;
  const moved = await pictureRows<Member>(trx, library, ids, ['id', 'event_id', 'event_by_hand', 'taken_local']);
  if (moved.length === 0) throw notFound('pictures');
  const target = to && 'event' in to ? await eventOf(act, to.event) : null;
  const there = target ? await membersOf(trx, library, target.id) : [];
  const coming = new Set(idsOf(moved));
  // The event is theirs with all that is in it, so that finding events again leaves it whole.
  const members = [...moved, ...there.filter((m) => !coming.has(m.id))];
  const old = [...new Set(members.map((m) => m.event_id).filter((e): e is number => e !== null))];
  const days = members.map((m) => m.taken_local?.slice(0, 10)).filter((d): d is string => d !== undefined);
  const made =
    to && 'title' in to ? await newEvent(act, to.title, days.sort()[0] ?? new Date().toISOString().slice(0, 10)) : null;
  const event = target?.id ?? made;
  await put(act, idsOf(members), event);
  const shaped = event === null ? [] : [event];
  await settleDays(act, [...old, ...shaped], shaped);
  act.words({ ...(target ? calledTo(target) : { to: to && 'title' in to ? to.title : null }), n: moved.length });
  return made;
}

/** Moves pictures to an event, to a new one of a name, or out of any. */
export const moveToEvent = (app: App, by: By, ids: readonly number[], to: Target): Shaped =>
  shaping(app, by, to && 'title' in to ? 'make event' : 'move to event', async (act) => {
    const made = await move(act, ids, to);
    if (made !== null && to && 'title' in to) act.words(to.title ? { name: to.title } : {});
    return {};
  });

/** Makes an event for a span of days by hand: everything taken in it that people have not filed elsewhere belongs to it. */
export function makeEvent(app: App, by: By, title: string | null, from: string, to: string): Shaped<{ id: number }> {
  if (to < from) throw refused('ends-before-begins');
  return shaping(app, by, 'make event', async (act) => {
    const { trx, library } = act;
    const ids = (
      await trx('pictures')
        .where({ library_id: library, event_by_hand: false })
        .whereBetween('day', [from, to])
        .select('id')
    ).map((p) => p.id);
    if (ids.length === 0) throw refused('no-pictures-then');
    const id = (await move(act, ids, { title }))!;
    await trx('events').where('id', id).update({ start_day: from, end_day: to, span_by_hand: true });
    if (title) act.words({ name: title });
    return { id };
  });
}

/**
 * Sets an event's days, place or cover. Given days take in all that was taken in them and people have not filed elsewhere,
 * and let go of what lies outside, to be found anew.
 */
export function changeEvent(
  app: App,
  by: By,
  id: number,
  change: {
    span?: { from: string; to: string } | undefined;
    place?: string | null | undefined;
    cover?: number | null | undefined;
  },
): Shaped {
  return shaping(app, by, 'change event', async (act) => {
    const { trx, library } = act;
    const event = await eventOf(act, id);
    const { span } = change;
    if (span && span.to < span.from) throw refused('ends-before-begins');
    const inside = span
      ? ((await trx('pictures')
          .where({ library_id: library })
          .where((q) => q.where('event_by_hand', false).orWhere('event_id', id))
          .whereRaw("(taken_exact IS NULL OR taken_exact = 'day')")
          .whereBetween('day', [span.from, span.to])
          .select('id', 'event_id', 'event_by_hand', 'taken_local')) as Member[])
      : [];
    if (span && inside.length === 0) throw refused('no-pictures-then');
    if (change.cover !== undefined && change.cover !== null) {
      const cover = await trx('pictures').where({ id: change.cover, library_id: library, event_id: id }).first('id');
      if (!cover) throw refused('cover-of-another');
    }
    act.words({ ...called(event), what: Object.keys(change) });
    const keeps = new Set(idsOf(inside));
    const all = await membersOf(trx, library, id);
    const outside = span ? all.filter((m) => !keeps.has(m.id)) : [];
    const others = [...new Set(inside.map((m) => m.event_id).filter((e): e is number => e !== null && e !== id))];
    const said = {
      ...(span ? { start_day: span.from, end_day: span.to, span_by_hand: true, made_by: 'hand' as const } : {}),
      ...(change.place === undefined ? {} : { place: change.place, made_by: 'hand' as const }),
      ...(change.cover === undefined ? {} : { cover_id: change.cover }),
    };
    if (Object.keys(said).length) await trx('events').where({ id, library_id: library }).update(said);
    await put(act, idsOf(inside), id);
    await act.hold('pictures', idsOf(outside));
    for (const some of chunks(idsOf(outside), 1000))
      await trx('pictures')
        .where('library_id', library)
        .whereIn('id', some)
        .update({ event_id: null, event_by_hand: false });
    // A place is said of the event as it is: finding events again must not take it for another.
    if (change.place !== undefined) await put(act, idsOf(span ? inside : all), id);
    await settleDays(act, [id, ...others], span || change.place !== undefined ? [id] : []);
    return {};
  });
}

/** Gives an event a name, or takes it away; the folders on disk follow. */
export const nameEvent = (app: App, by: By, id: number, title: string | null): Shaped =>
  perform(app, by, 'name event', async (act) => {
    const event = await eventOf(act, id);
    await act.trx('events').where({ id, library_id: act.library }).update({ title });
    act.words({ ...called(event), to: title });
    return {};
  });

/** Removes an event; its pictures stay, and belong to none until somebody says so. */
export const removeEvent = (app: App, by: By, id: number): Shaped =>
  shaping(app, by, 'remove event', async (act) => {
    const event = await eventOf(act, id);
    await put(act, idsOf(await membersOf(act.trx, act.library, id)), null);
    await act.trx('events').where({ id, library_id: act.library }).delete();
    act.words(called(event));
    return {};
  });
