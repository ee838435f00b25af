import { ask } from '../src/jobs/jobs';
import { openHouse, type House } from './house';

const PEOPLE = [[1, 2], [3], [1, 4], [2, 5, 6], [7], [3, 4, 8], [9, 1]];

describe('clocks in the house', () => {
  let house: House;
  let phone: number;
  let camera: number;

  /** Writes pictures as intake would have left them: the same moments by a phone, and by a camera 62 minutes behind. */
  beforeAll(async () => {
    house = await openHouse();
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
  });

  test('a yes puts its pictures right and nothing more is found; taking it back is exact', async () => {
    const before = await times(camera);
    const phones = await times(phone);
    const [clock] = (await house.call('clocks', {})).clocks;
    expect(await house.call('answerClock', { params: { id: clock!.id }, body: { mend: true } })).toEqual({
      mended: 28,
    });
    await house.quiet();
    expect((await times(camera)).map((t) => Date.parse(`${t}Z`))).toEqual(
      before.map((t) => Date.parse(`${t}Z`) + 3_720_000),
    );
    expect(await times(phone)).toEqual(phones);
    expect((await house.call('clocks', {})).clocks).toEqual([]);
    const days = (await house.app.db('pictures').whereRaw('day <> DATE(taken_local)').select('id')) as object[];
    expect(days).toEqual([]);
    await expect(house.call('answerClock', { params: { id: clock!.id }, body: { mend: true } })).rejects.toThrow(
      /answered already/,
    );
    await house.call('reopenClock', { params: { id: clock!.id } });
    await house.quiet();
    expect(await times(camera)).toEqual(before);
    expect((await house.call('clocks', {})).clocks).toHaveLength(1);
  });

  test('a no stands, however often clocks are compared; pictures dated by hand are left alone', async () => {
    const [clock] = (await house.call('clocks', {})).clocks;
    await house.call('answerClock', { params: { id: clock!.id }, body: { mend: false } });
    await ask(house.app.db, 1, 'clocks');
    await house.quiet();
    expect((await house.call('clocks', {})).clocks).toEqual([]);
    await house.call('reopenClock', { params: { id: clock!.id } });
    const one = (await house.app.db('pictures').where('device_id', camera).first('id')) as { id: number };
    await house.call('change', { body: { ids: [one.id], change: { taken: '2026-05-02T09:00' } } });
    await house.quiet();
    const [again] = (await house.call('clocks', {})).clocks;
    expect(again!.pictures).toBe(27);
    await house.call('answerClock', { params: { id: again!.id }, body: { mend: true } });
    await house.quiet();
    expect((await house.call('picture', { params: { id: one.id } })).taken).toBe('2026-05-02T09:00:00.000');
  });
});
