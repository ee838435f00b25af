import { putIntoAlbum, setOrder, takeOut } from '../src/album/fill';
import type { App } from '../src/context';
import type { Db } from '../src/db/open';
import { refreshEvents } from '../src/event/events';
import { changeEvent, joinEvents, moveToEvent, removeEvent, splitEvent } from '../src/event/shape';
import { openHouse, type House } from './house';
import { pictureRow } from './pictures';

/** The same application, in which something happens just before a table is asked for the nth time. */
function interrupted(app: App, table: string, nth: number, act: () => Promise<unknown>): App {
  let asked = 0;
  const db = new Proxy(app.db, {
    apply: (target, self, [name, ...rest]: [string]) => {
      const builder = Reflect.apply(target as never, self, [name, ...rest]) as {
        then: (yes: unknown, no: unknown) => Promise<unknown>;
      };
      if (name !== table || ++asked !== nth) return builder;
      const then = builder.then.bind(builder);
      builder.then = async (yes, no) => {
        await act();
        return then(yes, no);
      };
      return builder;
    },
  }) as Db;
  return { ...app, db };
}

const BY = { library: 1, member: null };

describe('two at the same moment', () => {
  let house: House;
  let app: App;
  let ids: number[];
  let made = 0;
  beforeAll(async () => {
    house = await openHouse();
    ({ app } = house);
    await house.runner.stop();
  });
  afterAll(() => house?.stop());

  const event = async (day: string, title: string | null = null) =>
    (await app.db('events').insert({ library_id: 1, title, start_day: day, end_day: day }))[0]!;
  const eventOf = async (picture: number) =>
    ((await app.db('pictures').where('id', picture).first('event_id')) as { event_id: number | null }).event_id;
  beforeEach(async () => {
    for (const table of ['acts', 'album_pictures', 'albums', 'pictures', 'events', 'jobs'])
      await app.db(table).delete();
    ids = [];
    for (let i = 0; i < 8; i++) ids.push(await pictureRow(app, ++made, { day: `2026-05-${i < 4 ? 16 : 23}` }));
  });

  test('what somebody files while events are found is not filed elsewhere by the machine', async () => {
    const theirs = await event('2026-05-16', 'Kite day');
    // The machine has read the pictures and is about to read the events when somebody files two of them by hand.
    const busy = interrupted(app, 'events', 2, () => moveToEvent(app, BY, ids.slice(4, 6), { event: theirs }));
    await refreshEvents(busy, { library: 1 });
    expect(await Promise.all(ids.slice(4, 6).map(eventOf))).toEqual([theirs, theirs]);
    expect(
      await app.db('pictures').whereIn('id', ids.slice(4, 6)).where('event_by_hand', true).count('* as n'),
    ).toEqual([{ n: 2 }]);
  });

  test('an event whose days somebody sets while events are found keeps them', async () => {
    const theirs = await event('2026-05-16', 'Kite day');
    await app.db('pictures').whereIn('id', ids.slice(0, 4)).update({ event_id: theirs });
    const busy = interrupted(app, 'events', 2, () =>
      changeEvent(app, BY, theirs, { span: { from: '2026-05-10', to: '2026-05-18' } }),
    );
    await refreshEvents(busy, { library: 1 });
    expect(await app.db('events').where('id', theirs).first('start_day', 'end_day', 'made_by')).toEqual({
      start_day: '2026-05-10',
      end_day: '2026-05-18',
      made_by: 'hand',
    });
  });

  test('two members shape the same event: one after the other, nothing half done', async () => {
    for (let round = 0; round < 6; round++) {
      await app.db('pictures').update({ event_id: null, event_by_hand: false });
      await app.db('events').delete();
      const [one, two] = [await event('2026-05-16'), await event('2026-05-23')];
      await app.db('pictures').whereIn('id', ids.slice(0, 4)).update({ event_id: one });
      await app.db('pictures').whereIn('id', ids.slice(4)).update({ event_id: two });
      const acts = await Promise.allSettled([
        splitEvent(app, BY, one, ids[2]!),
        joinEvents(app, BY, two, one),
        moveToEvent(app, BY, [ids[7]!], { title: 'Mine' }),
        removeEvent(app, BY, one),
        changeEvent(app, BY, two, { span: { from: '2026-05-16', to: '2026-05-23' } }),
      ]);
      // Whoever comes too late is told so; nobody meets a half-done state.
      for (const act of acts)
        if (act.status === 'rejected') expect(act.reason).toMatchObject({ status: expect.any(Number) });
      const lost = await app
        .db('pictures as p')
        .leftJoin('events as e', 'e.id', 'p.event_id')
        .whereNotNull('p.event_id')
        .whereNull('e.id')
        .first('p.id');
      expect(lost).toBeUndefined();
      const empty = await app
        .db('events as e')
        .whereNotExists(app.db('pictures').whereRaw('event_id = e.id'))
        .where('made_by', 'hand')
        .first('e.id', 'e.title');
      expect(empty).toBeUndefined();
    }
  });

  test('a shaping that fails half-way leaves everything as it was', async () => {
    const one = await event('2026-05-16', 'Kite day');
    await app.db('pictures').whereIn('id', ids).update({ event_id: one });
    const before = await app.db('pictures').orderBy('id').select('id', 'event_id', 'event_by_hand');
    const transaction = app.db.transaction.bind(app.db);
    // The database goes away when the second part is about to be filed.
    const failing = new Proxy(app.db, {
      get: (target, name) =>
        name === 'transaction'
          ? (act: (trx: Db) => Promise<unknown>) =>
              transaction(async (trx: Db) => {
                let updates = 0;
                return act(
                  new Proxy(trx, {
                    apply: (inner, self, [table, ...rest]: [string]) => {
                      const builder = Reflect.apply(inner as never, self, [table, ...rest]) as Record<string, unknown>;
                      const update = builder['update'] as (...all: unknown[]) => unknown;
                      if (table === 'pictures')
                        builder['update'] = (...all: unknown[]) => {
                          if (++updates === 2) throw new Error('gone');
                          return update.apply(builder, all);
                        };
                      return builder;
                    },
                  }) as Db,
                );
              })
          : Reflect.get(target, name),
    }) as Db;
    await expect(splitEvent({ ...app, db: failing }, BY, one, ids[3]!)).rejects.toThrow('gone');
    expect(await app.db('pictures').orderBy('id').select('id', 'event_id', 'event_by_hand')).toEqual(before);
    expect(await app.db('events').select('id')).toEqual([{ id: one }]);
  });

  test('two members put pictures into one album at once, and one takes some out: all of it counts', async () => {
    const [album] = await app.db('albums').insert({ library_id: 1, kind: 'plain', name: 'Ours' });
    await setOrder(app, BY, album!, ids.slice(0, 2));
    for (let round = 0; round < 5; round++) {
      await Promise.all([
        putIntoAlbum(app, BY, album!, { ids: [ids[2]!] }),
        putIntoAlbum(app, BY, album!, { ids: [ids[3]!, ids[4]!] }),
        takeOut(app, BY, album!, [ids[0]!]),
        putIntoAlbum(app, BY, album!, { ids: [ids[5]!] }),
      ]);
      const there = (await app.db('album_pictures').where('album_id', album!).orderBy('position')) as {
        picture_id: number;
        position: string;
      }[];
      expect(there.map((p) => p.picture_id).sort((a, b) => a - b)).toEqual(ids.slice(1, 6));
      expect(new Set(there.map((p) => p.position)).size).toBe(5);
      await setOrder(app, BY, album!, ids.slice(0, 2));
    }
  });
});
