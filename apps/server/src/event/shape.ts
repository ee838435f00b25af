import type { EventsBefore } from '@gemmel/contract';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { takeTurn, wholly } from '../db/turn';
import { ask } from '../jobs/jobs';
import { refuseForeign } from '../library/own';
import { pictureRows } from '../picture/rows';
import { notFound, Refused } from '../problem';

interface EventRow {
  id: number;
  title: string | null;
  start_day: string;
  end_day: string;
  made_by: 'found' | 'hand';
  place: string | null;
  cover_id: number | null;
  span_by_hand: number;
}
interface Member {
  id: number;
  event_id: number | null;
  event_by_hand: number;
  taken_local: string | null;
}

async function eventOf(db: Db, library: number, id: number): Promise<EventRow> {
  const row = (await db('events').where({ id, library_id: library }).first()) as EventRow | undefined;
  if (!row) throw notFound('This event');
  return row;
}

const membersOf = async (db: Db, library: number, event: number): Promise<Member[]> =>
  (await db('pictures')
    .where({ library_id: library, event_id: event })
    .orderByRaw('taken_local IS NULL, taken_local, id')
    .select('id', 'event_id', 'event_by_hand', 'taken_local')) as Member[];

const picturesOf = (db: Db, library: number, ids: readonly number[]): Promise<Member[]> =>
  pictureRows(db, library, ids, ['id', 'event_id', 'event_by_hand', 'taken_local']);

/** What stood there before, of pictures and events that are about to change. */
function before(members: readonly Member[], events: readonly EventRow[]): EventsBefore {
  return {
    pictures: members.map((m) => ({ id: m.id, event: m.event_id, byHand: Boolean(m.event_by_hand) })),
    events: events.map((e) => ({
      id: e.id,
      title: e.title,
      start: e.start_day,
      end: e.end_day,
      madeBy: e.made_by,
      place: e.place,
      cover: e.cover_id,
      spanByHand: Boolean(e.span_by_hand),
    })),
    made: [],
  };
}

/** Files pictures under an event, or under none, as people said; finding events again leaves them there. */
async function put(db: Db, library: number, ids: readonly number[], event: number | null): Promise<void> {
  for (const some of chunks(ids, 1000))
    await db('pictures')
      .where('library_id', library)
      .whereIn('id', some)
      .update({ event_id: event, event_by_hand: true });
}

/** Keeps events' days to what is in them; those that people have shaped are theirs from now on. */
async function settle(
  db: Db,
  library: number,
  events: readonly number[],
  shaped: readonly number[] = events,
): Promise<void> {
  for (const id of new Set(events)) {
    const [span] = (await db('pictures')
      .where({ library_id: library, event_id: id })
      .whereNotNull('day')
      .select(db.raw('MIN(day) AS first, MAX(day) AS last'))) as unknown as [
      { first: string | null; last: string | null },
    ];
    const said = (await db('events').where({ id, library_id: library }).first('span_by_hand')) as
      { span_by_hand: number } | undefined;
    const change = {
      ...(said?.span_by_hand ? {} : { start_day: span.first, end_day: span.last }),
      ...(shaped.includes(id) ? { made_by: 'hand' } : {}),
    };
    if (span.first && Object.keys(change).length) await db('events').where({ id, library_id: library }).update(change);
  }
}

/**
 * Does an act that shapes events wholly or not at all, one at a time in a library: what stood there before is what the act
 * changed. Then events are found anew around it, and the files follow.
 */
async function shaping<T>(app: App, library: number, act: (trx: Db) => Promise<T>, findAnew = true): Promise<T> {
  const done = await wholly(app.db, async (trx) => {
    await takeTurn(trx, library, 'events');
    return act(trx);
  });
  if (findAnew) await ask(app.db, library, 'events');
  await ask(app.db, library, 'refile', 0, 1000);
  app.changed(library, 'events', 'pictures', 'library');
  return done;
}

async function newEvent(db: Db, library: number, title: string | null, day: string): Promise<number> {
  const [id] = await db('events').insert({ library_id: library, title, start_day: day, end_day: day, made_by: 'hand' });
  return id!;
}

/** Splits an event before a picture: that picture and all later ones become an event of their own, without a name. */
export async function splitEvent(app: App, library: number, id: number, at: number): Promise<EventsBefore> {
  return shaping(app, library, async (trx) => {
    const event = await eventOf(trx, library, id);
    const members = await membersOf(trx, library, id);
    const from = members.findIndex((m) => m.id === at);
    if (from < 0) throw new Refused(400, 'This picture is not in the event.');
    if (from === 0)
      throw new Refused(400, 'The event begins with this picture: there is nothing to split off before it.');
    const later = members.slice(from);
    const undo = before(members, [event]);
    const made = await newEvent(trx, library, null, later[0]!.taken_local?.slice(0, 10) ?? event.end_day);
    await put(
      trx,
      library,
      members.slice(0, from).map((m) => m.id),
      id,
    );
    await put(
      trx,
      library,
      later.map((m) => m.id),
      made,
    );
    await settle(trx, library, [id, made]);
    return { ...undo, made: [made] };
  });
}

/** Joins another event to one; the one's name stays, or the other's when it has none. */
export async function joinEvents(app: App, library: number, id: number, other: number): Promise<EventsBefore> {
  if (id === other) throw new Refused(400, 'An event cannot be joined to itself.');
  return shaping(app, library, async (trx) => {
    const [event, second] = [await eventOf(trx, library, id), await eventOf(trx, library, other)];
    const members = [...(await membersOf(trx, library, id)), ...(await membersOf(trx, library, other))];
    const undo = before(members, [event, second]);
    await put(
      trx,
      library,
      members.map((m) => m.id),
      id,
    );
    if (!event.title && second.title) await trx('events').where('id', id).update({ title: second.title });
    await trx('events').where({ id: other, library_id: library }).delete();
    await settle(trx, library, [id]);
    return undo;
  });
}

/** Where pictures are to go: an event, a new one of a name, or out of any. */
type Target = { event: number } | { title: string | null } | null;

async function move(db: Db, library: number, ids: readonly number[], to: Target): Promise<EventsBefore> {
  const moved = await picturesOf(db, library, ids);
  if (moved.length === 0) throw notFound('These pictures');
  const there = to && 'event' in to ? await membersOf(db, library, to.event) : [];
  const coming = new Set(moved.map((m) => m.id));
  // The event is theirs with all that is in it, so that finding events again leaves it whole.
  const members = [...moved, ...there.filter((m) => !coming.has(m.id))];
  const old = [...new Set(members.map((m) => m.event_id).filter((e): e is number => e !== null))];
  const target = to && 'event' in to ? await eventOf(db, library, to.event) : null;
  const rows = await Promise.all(old.map((e) => eventOf(db, library, e)));
  const undo = before(members, target && !old.includes(target.id) ? [...rows, target] : rows);
  const days = members.map((m) => m.taken_local?.slice(0, 10)).filter((d): d is string => d !== undefined);
  const made =
    to && 'title' in to
      ? await newEvent(db, library, to.title, days.sort()[0] ?? new Date().toISOString().slice(0, 10))
      : null;
  const event = target?.id ?? made;
  await put(
    db,
    library,
    members.map((m) => m.id),
    event,
  );
  const shaped = event === null ? [] : [event];
  await settle(db, library, [...old, ...shaped], shaped);
  return { ...undo, made: made === null ? [] : [made] };
}

/** Moves pictures to an event, to a new one of a name, or out of any. */
export const moveToEvent = (app: App, library: number, ids: readonly number[], to: Target): Promise<EventsBefore> =>
  shaping(app, library, (trx) => move(trx, library, ids, to));

/** Makes an event for a span of days by hand: everything taken in it that people have not filed elsewhere belongs to it. */
export async function makeEvent(
  app: App,
  library: number,
  title: string | null,
  from: string,
  to: string,
): Promise<EventsBefore & { id: number }> {
  if (to < from) throw new Refused(400, 'An event ends after it begins.');
  return shaping(app, library, async (trx) => {
    const ids = (
      (await trx('pictures')
        .where({ library_id: library, event_by_hand: false })
        .whereBetween('day', [from, to])
        .select('id')) as { id: number }[]
    ).map((p) => p.id);
    if (ids.length === 0) throw new Refused(400, 'No picture was taken in these days.');
    const undo = await move(trx, library, ids, { title });
    const id = undo.made[0]!;
    await trx('events').where('id', id).update({ start_day: from, end_day: to, span_by_hand: true });
    return { ...undo, id };
  });
}

/**
 * Sets an event's days, place or cover. Given days take in all that was taken in them and people have not filed elsewhere,
 * and let go of what lies outside, to be found anew.
 */
export async function changeEvent(
  app: App,
  library: number,
  id: number,
  change: {
    span?: { from: string; to: string } | undefined;
    place?: string | null | undefined;
    cover?: number | null | undefined;
  },
): Promise<EventsBefore> {
  return shaping(app, library, async (trx) => {
    const event = await eventOf(trx, library, id);
    const { span } = change;
    if (span && span.to < span.from) throw new Refused(400, 'An event ends after it begins.');
    const inside = span
      ? ((await trx('pictures')
          .where({ library_id: library })
          .where((q) => q.where('event_by_hand', false).orWhere('event_id', id))
          .whereNull('taken_exact')
          .whereBetween('day', [span.from, span.to])
          .select('id', 'event_id', 'event_by_hand', 'taken_local')) as Member[])
      : [];
    if (span && inside.length === 0) throw new Refused(400, 'No picture was taken in these days.');
    if (change.cover !== undefined && change.cover !== null) {
      const cover = await trx('pictures').where({ id: change.cover, library_id: library, event_id: id }).first('id');
      if (!cover) throw new Refused(400, 'The cover must be a picture of the event.');
    }
    const keeps = new Set(inside.map((m) => m.id));
    const outside = span ? (await membersOf(trx, library, id)).filter((m) => !keeps.has(m.id)) : [];
    const others = [...new Set(inside.map((m) => m.event_id).filter((e): e is number => e !== null && e !== id))];
    const undo = before(
      [...inside, ...outside],
      [event, ...(await Promise.all(others.map((e) => eventOf(trx, library, e))))],
    );
    await trx('events')
      .where({ id, library_id: library })
      .update({
        ...(span ? { start_day: span.from, end_day: span.to, span_by_hand: true, made_by: 'hand' } : {}),
        ...(change.place === undefined ? {} : { place: change.place, made_by: 'hand' }),
        ...(change.cover === undefined ? {} : { cover_id: change.cover }),
      });
    await put(
      trx,
      library,
      inside.map((m) => m.id),
      id,
    );
    for (const some of chunks(outside, 1000))
      await trx('pictures')
        .where('library_id', library)
        .whereIn(
          'id',
          some.map((m) => m.id),
        )
        .update({ event_id: null, event_by_hand: false });
    // A place is said of the event as it is: finding events again must not take it for another.
    if (change.place !== undefined)
      await trx('pictures').where({ library_id: library, event_id: id }).update({ event_by_hand: true });
    await settle(trx, library, [id, ...others], span || change.place !== undefined ? [id] : []);
    return undo;
  });
}

/** Removes an event; its pictures stay, and belong to none until somebody says so. */
export async function removeEvent(app: App, library: number, id: number): Promise<EventsBefore> {
  return shaping(app, library, async (trx) => {
    const event = await eventOf(trx, library, id);
    const members = await membersOf(trx, library, id);
    const undo = before(members, [event]);
    await put(
      trx,
      library,
      members.map((m) => m.id),
      null,
    );
    await trx('events').where({ id, library_id: library }).delete();
    await settle(trx, library, []);
    return undo;
  });
}

/** Takes a change of events back, exactly: events that are gone come back under their number, new ones go. */
export async function restoreEvents(app: App, library: number, undo: EventsBefore): Promise<void> {
  await shaping(
    app,
    library,
    async (trx) => {
      await refuseForeign(
        trx,
        library,
        'pictures',
        undo.events.map((e) => e.cover),
        'One of these pictures',
      );
      for (const event of undo.events) {
        const row = {
          title: event.title,
          start_day: event.start,
          end_day: event.end,
          made_by: event.madeBy,
          place: event.place,
          cover_id: event.cover,
          span_by_hand: event.spanByHand,
        };
        const there = await trx('events').where({ id: event.id, library_id: library }).update(row);
        if (!there) await trx('events').insert({ id: event.id, library_id: library, ...row });
      }
      await refuseForeign(
        trx,
        library,
        'events',
        undo.pictures.map((p) => p.event),
        'One of these events',
      );
      for (const picture of undo.pictures)
        await trx('pictures')
          .where({ id: picture.id, library_id: library })
          .update({ event_id: picture.event, event_by_hand: picture.byHand });
      if (undo.made.length) await trx('events').where('library_id', library).whereIn('id', undo.made).delete();
    },
    false,
  );
}
