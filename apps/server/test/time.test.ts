import { mkdirSync } from 'node:fs';
import path from 'node:path';
import { ask } from '../src/jobs/jobs';
import { openHouse, type House } from './house';

const PEOPLE = [[1, 2], [3], [1, 4], [2, 5, 6], [7], [3, 4, 8], [9, 1]];

/** A row without the columns that the database works out. */
const given = (row: object): Record<string, unknown> =>
  Object.fromEntries(Object.entries(row).filter(([name]) => !/^(month_day|shown|band\d)$/.test(name)));

describe('clocks in the house', () => {
  let house: House;
  let phone: number;
  let camera: number;

  /** Writes pictures as intake would have left them: the same moments by a phone, and by a camera 62 minutes behind. */
  beforeAll(async () => {
    house = await openHouse();
    mkdirSync(path.join(house.app.paths.vault, 'home'));
    const { db } = house.app;
    const device = async (model: string) =>
      (await db('devices').insert({ library_id: 1, name: model, make: 'm', model }))[0]!;
    [phone, camera] = [await device('phone'), await device('camera')];
    for (let n = 1; n <= 9; n++) await db('people').insert({ library_id: 1, name: `P${n}` });
    let made = 0;
    for (const [owner, shift, offset] of [
      [phone, 0, 120],
      [camera, -62 * 60_000, null],
    ] as const)
      for (let day = 0; day < 4; day++)
        for (const [i, people] of PEOPLE.entries()) {
          const at = new Date(Date.UTC(2026, 4, 2 + day * 7, 14) + i * 11 * 60_000 + shift);
          const local = at.toISOString().slice(0, -1).replace('T', ' ');
          const [id] = await db('pictures').insert({
            library_id: 1,
            sha256: Buffer.from(String(++made).padStart(32, '0')),
            kind: 'photo',
            format: 'jpg',
            name: `${made}.jpg`,
            vault_path: `${made}.jpg`,
            bytes: 1,
            width: 4,
            height: 3,
            taken_local: local,
            day: local.slice(0, 10),
            offset_minutes: offset,
            taken_source: 'camera',
            taken_certainty: 0.9,
            device_id: owner,
            words: '',
            thumb: Buffer.alloc(0),
            verified_at: db.raw('UTC_TIMESTAMP(3)'),
          });
          for (const person of people)
            await db('faces').insert({
              library_id: 1,
              picture_id: id!,
              x: 0,
              y: 0,
              w: 0.1,
              h: 0.1,
              height_px: 50,
              quality: 0.5,
              vector_a: Buffer.alloc(0),
              vector_b: Buffer.alloc(0),
              state: 'named',
              named_by: 'hand',
              person_id: person,
            });
        }
    await ask(db, 1, 'events');
    await ask(db, 1, 'clocks');
    await house.quiet();
  });
  afterAll(() => house?.stop());

  const times = async (owner: number) =>
    (
      (await house.app.db('pictures').where('device_id', owner).orderBy('id').select('taken_local')) as {
        taken_local: string;
      }[]
    ).map((p) => p.taken_local);

  test('a camera that is 62 minutes behind is offered to be mended, with its evidence', async () => {
    const { clocks } = await house.call('clocks', {});
    expect(clocks).toMatchObject([
      {
        device: 'camera',
        shiftSeconds: 3720,
        occasions: 4,
        kind: 'a wrong clock',
        pictures: 28,
        from: '2026-05-02',
        to: '2026-05-23',
      },
    ]);
    expect(clocks[0]!.pairs).toBeGreaterThan(20);
    expect(clocks[0]!.examples).toHaveLength(6);
    expect((await house.call('library', {})).clocks).toBe(1);
    expect(clocks[0]).toMatchObject({ earlier: null, later: null });
  });

  test('lone pictures before and after are asked about; the offer stays the same one; mended with it if wished, and back', async () => {
    const { db } = house.app;
    const lone: number[] = [];
    for (const local of ['2026-03-01 10:00:00.000', '2026-06-20 10:00:00.000', '2099-01-01 10:00:00.000']) {
      const { id: _, ...like } = given((await db('pictures').where('device_id', camera).first())!) as Record<
        string,
        unknown
      >;
      const day = local.slice(0, 10);
      const [id] = await db('pictures').insert({
        ...like,
        sha256: Buffer.from(local.padStart(32, 'z').slice(0, 32)),
        name: `${day}.jpg`,
        vault_path: `${day}.jpg`,
        taken_local: local,
        day,
      } as never);
      lone.push(id!);
    }
    const [was] = (await house.call('clocks', {})).clocks;
    await ask(db, 1, 'clocks');
    await house.quiet();
    const [clock] = (await house.call('clocks', {})).clocks;
    expect(clock).toMatchObject({
      id: was!.id,
      pictures: 28,
      earlier: { pictures: 1, from: '2026-03-01' },
      // Nothing was taken in the future, whatever a clock says.
      later: { pictures: 1, to: '2026-06-20' },
    });
    const at = async () =>
      (await db('pictures').whereIn('id', lone).orderBy('id').select('taken_local')).map((p) => p.taken_local);
    const before = await at();
    const answered = await house.call('answerClock', {
      params: { id: clock!.id },
      body: { mend: true, earlier: false, later: true },
    });
    expect(answered.mended).toBe(29);
    expect(await at()).toEqual([before[0], '2026-06-20 11:02:00.000', before[2]]);
    await house.undo(answered);
    expect(await at()).toEqual(before);
    await db('pictures').whereIn('id', lone).update({ device_id: null });
    await house.quiet();
    await ask(db, 1, 'clocks');
    await house.quiet();
  });

  test('a yes puts its pictures right and nothing more is found; taking it back is exact', async () => {
    const before = await times(camera);
    const phones = await times(phone);
    const [clock] = (await house.call('clocks', {})).clocks;
    const mended = await house.call('answerClock', { params: { id: clock!.id }, body: { mend: true } });
    expect(mended.mended).toBe(28);
    await house.quiet();
    expect((await times(camera)).map((t) => Date.parse(`${t}Z`))).toEqual(
      before.map((t) => Date.parse(`${t}Z`) + 3_720_000),
    );
    expect(await times(phone)).toEqual(phones);
    expect((await house.call('clocks', {})).clocks).toEqual([]);
    const days = (await house.app.db('pictures').whereRaw('day <> DATE(taken_local)').select('id')) as object[];
    expect(days).toEqual([]);
    await expect(house.call('answerClock', { params: { id: clock!.id }, body: { mend: true } })).rejects.toThrow(
      /already been answered/,
    );
    await house.undo(mended);
    await house.quiet();
    expect(await times(camera)).toEqual(before);
    expect((await house.call('clocks', {})).clocks).toHaveLength(1);
  });

  test('a no stands, however often clocks are compared; pictures dated by hand are left alone', async () => {
    const [clock] = (await house.call('clocks', {})).clocks;
    const declined = await house.call('answerClock', { params: { id: clock!.id }, body: { mend: false } });
    await ask(house.app.db, 1, 'clocks');
    await house.quiet();
    expect((await house.call('clocks', {})).clocks).toEqual([]);
    await house.undo(declined);
    const one = (await house.app.db('pictures').where('device_id', camera).first('id')) as { id: number };
    await house.call('mendDates', { body: { ids: [one.id], how: { set: '2026-05-02T09:00' } } });
    await house.quiet();
    const [again] = (await house.call('clocks', {})).clocks;
    expect(again!.pictures).toBe(27);
    await house.call('answerClock', { params: { id: again!.id }, body: { mend: true } });
    await house.quiet();
    expect((await house.call('picture', { params: { id: one.id } })).taken).toBe('2026-05-02T09:00:00.000');
  });
});

describe('events shaped by people', () => {
  let house: House;
  let ids: number[];
  beforeAll(async () => {
    house = await openHouse();
    mkdirSync(path.join(house.app.paths.vault, 'home'));
    ids = [];
    for (let i = 0; i < 12; i++) {
      const local = `2026-05-${i < 8 ? '16' : '20'} ${String(10 + (i % 8)).padStart(2, '0')}:00:00.000`;
      const [id] = await house.app.db('pictures').insert({
        library_id: 1,
        sha256: Buffer.from(String(i).padStart(32, 'x')),
        kind: 'photo',
        format: 'jpg',
        name: `${i}.jpg`,
        vault_path: `${i}.jpg`,
        bytes: 1,
        width: 4,
        height: 3,
        taken_local: local,
        day: local.slice(0, 10),
        taken_source: 'camera',
        taken_certainty: 0.9,
        words: '',
        thumb: Buffer.alloc(0),
      });
      ids.push(id!);
    }
    await ask(house.app.db, 1, 'events');
    await house.quiet();
  });
  afterAll(() => house?.stop());

  /** Which event each picture is in, as numbers in the order of their first picture. */
  const filed = async () => {
    const rows = (await house.app.db('pictures').whereIn('id', ids).orderBy('id').select('event_id')) as {
      event_id: number | null;
    }[];
    const seen: (number | null)[] = [];
    return rows
      .map(({ event_id }) => {
        if (event_id === null) return '-';
        if (!seen.includes(event_id)) seen.push(event_id);
        return String(seen.indexOf(event_id));
      })
      .join('');
  };
  const eventAt = async (n: number) =>
    ((await house.app.db('pictures').where('id', ids[n]!).first('event_id')) as { event_id: number }).event_id;
  const again = async () => {
    await ask(house.app.db, 1, 'events');
    await house.quiet();
  };

  test('a picture that only knows its day makes no event: it joins that of its day; a copy takes the time of its original', async () => {
    const { db } = house.app;
    const day = (n: number, date: string, more: object = {}) =>
      db('pictures')
        .where('id', ids[n]!)
        .update({
          taken_local: `${date} 12:00:00.000`,
          day: date,
          taken_exact: 'day',
          taken_from: date,
          taken_to: date,
          taken_source: 'file name',
          taken_certainty: 0.5,
          ...more,
        });
    const was = (await db('pictures').whereIn('id', [ids[1]!, ids[2]!, ids[3]!]).orderBy('id')) as object[];
    await day(1, '2026-05-20');
    await day(2, '2026-06-20');
    await day(3, '2026-05-16', { alike_id: ids[4]! });
    await again();
    expect(await filed()).toBe('01-000001111');
    expect(await db('pictures').where('id', ids[3]!).first()).toMatchObject({
      taken_local: '2026-05-16 14:00:00.000',
      taken_exact: null,
      taken_source: 'copy',
      taken_certainty: 0.8,
    });
    // It follows when that is mended.
    await db('pictures').where('id', ids[4]!).update({ taken_local: '2026-05-16 14:02:00.000' });
    await again();
    expect(await db('pictures').where('id', ids[3]!).first()).toMatchObject({ taken_local: '2026-05-16 14:02:00.000' });
    await db('pictures').where('id', ids[4]!).update({ taken_local: '2026-05-16 14:00:00.000' });
    for (const row of was as { id: number; month_day?: number }[]) {
      const columns = given(row);
      await db('pictures').where('id', row.id).update(columns);
    }
    await again();
  });

  test('split, join, move and remove stand when events are found again, and each is taken back exactly', async () => {
    expect(await filed()).toBe('000000001111');
    const first = await eventAt(0);
    await house.call('nameEvent', { params: { id: first }, body: { title: 'Kite day' } });

    const split = await house.call('splitEvent', { params: { id: first }, body: { picture: ids[5]! } });
    await again();
    expect(await filed()).toBe('000001112222');
    await house.undo(split);
    await again();
    expect(await filed()).toBe('000000001111');

    const second = await eventAt(8);
    const joined = await house.call('joinEvents', { params: { id: second }, body: { other: first } });
    await again();
    expect(await filed()).toBe('000000000000');
    expect((await house.call('events', {})).events).toMatchObject([
      { title: 'Kite day', start: '2026-05-16', end: '2026-05-20' },
    ]);
    await house.undo(joined);
    await again();
    expect(await filed()).toBe('000000001111');
    expect((await house.call('events', {})).events.map((e) => [e.id, e.title])).toEqual([
      [second, null],
      [first, 'Kite day'],
    ]);

    const moved = await house.call('moveToEvent', { body: { ids: [ids[7]!], to: { event: second } } });
    await again();
    expect(await filed()).toBe('000000011111');
    await house.undo(moved);

    const apart = await house.call('moveToEvent', { body: { ids: [ids[2]!, ids[3]!], to: { title: 'Lunch' } } });
    await again();
    expect(await filed()).toBe('001100002222');
    await house.undo(apart);

    // Those between them were not chosen, and stay; what comes in between them later joins them.
    const wide = await house.call('moveToEvent', { body: { ids: [ids[1]!, ids[5]!], to: { title: 'An hour apart' } } });
    await again();
    expect(await filed()).toBe('010001002222');
    await house.app.db('pictures').where('id', ids[3]!).update({ event_id: null });
    await again();
    expect(await filed()).toBe('010101002222');
    await house.app.db('pictures').where('id', ids[3]!).update({ event_id: first });
    await house.undo(wide);

    const removed = await house.call('removeEvent', { params: { id: first } });
    await again();
    expect(await filed()).toBe('--------0000');
    await house.undo(removed);
    await again();
    expect(await filed()).toBe('000000001111');
    expect((await house.call('events', {})).events.find((e) => e.id === first)?.title).toBe('Kite day');
  });

  test('made by hand for a span; what comes in later for its days belongs to it', async () => {
    const made = await house.call('makeEvent', { body: { title: 'May', from: '2026-05-16', to: '2026-05-20' } });
    await again();
    expect(await filed()).toBe('000000000000');
    await house.app.db('pictures').where('id', ids[4]!).update({ event_id: null, event_by_hand: false });
    await again();
    expect(await filed()).toBe('000000000000');
    await house.undo(made);
    await again();
    expect(await filed()).toBe('000000001111');
  });

  test('what makes no sense is refused in plain words', async () => {
    const event = await eventAt(0);
    await expect(house.call('splitEvent', { params: { id: event }, body: { picture: ids[0]! } })).rejects.toThrow(
      /begins with this picture/,
    );
    await expect(house.call('splitEvent', { params: { id: event }, body: { picture: ids[11]! } })).rejects.toThrow(
      /not in the event/,
    );
    await expect(house.call('joinEvents', { params: { id: event }, body: { other: event } })).rejects.toThrow(
      /joined to itself/,
    );
    await expect(
      house.call('makeEvent', { body: { title: null, from: '2020-01-01', to: '2020-01-02' } }),
    ).rejects.toThrow(/No pictures were taken/);
    await expect(
      house.call('makeEvent', { body: { title: null, from: '2020-01-03', to: '2020-01-02' } }),
    ).rejects.toThrow(/cannot be before the first/);
  });
});
