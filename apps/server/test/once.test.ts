import { mkdir, writeFile } from 'node:fs/promises';
import path from 'node:path';
import type { Answer, Api } from '@gemmel/contract';
import { openHouse, type House } from './house';
import { jpeg } from './pictures';

/** What a device did without a line and sends later: once, however often it is sent, and never over what somebody else said since. */
describe('acts that are sent later', () => {
  let house: House;
  let id: number;
  beforeAll(async () => {
    house = await openHouse();
    const folder = path.join(house.app.config.data, 'source');
    await mkdir(folder);
    for (let i = 0; i < 5; i++)
      await writeFile(path.join(folder, `IMG_${i}.jpg`), await jpeg(i, `2026:05:1${i} 12:00:00`));
    await house.takeIn(folder, 'Kites');
    ({ id } = (await house.app.db('pictures').orderBy('id').first('id'))!);
  });
  afterAll(() => house.stop());

  const name = (n: number) => `0000000${n}-0000-4000-8000-000000000000`;
  const send = (at: string, body: object, once: string, as = house.keeper) =>
    house.fetch(
      at,
      {
        method: 'POST',
        headers: { 'content-type': 'application/json', 'x-gemmel-once': once },
        body: JSON.stringify(body),
      },
      as,
    );

  test('an act that is sent twice, or by two tabs at once, is done once', async () => {
    const before = (await house.app.db('acts').select('id')).length;
    const body = { ids: [id], text: 'From the train' };
    const answers = await Promise.all([1, 2, 3, 4].map(() => send('/api/comments', body, name(1))));
    const again = await send('/api/comments', body, name(1));
    for (const one of [...answers, again]) expect(one.status).toBe(200);
    const acts = await Promise.all([...answers, again].map(async (one) => ((await one.json()) as { act: number }).act));
    expect(new Set(acts).size).toBe(1);
    expect(await house.app.db('comments').where({ picture_id: id, text: 'From the train' }).select('id')).toHaveLength(
      1,
    );
    expect((await house.app.db('acts').select('id')).length).toBe(before + 1);
    // Under another name it is another act.
    await send('/api/comments', body, name(2));
    expect(await house.app.db('comments').where({ picture_id: id }).select('id')).toHaveLength(2);
  });

  test('an act that is refused is not remembered as done', async () => {
    expect((await send('/api/comments', { ids: [987_654], text: 'Nowhere' }, name(3))).status).toBe(404);
    expect((await send('/api/comments', { ids: [id], text: 'Somewhere' }, name(3))).status).toBe(200);
    expect(await house.app.db('comments').where({ text: 'Somewhere' }).first('id')).toBeDefined();
  });

  test('a caption is left as it is when somebody else changed it since it was seen, and what was seen may be empty', async () => {
    await house.call('change', { body: { ids: [id], change: { caption: 'By Gran' } } });
    const mine = { ids: [id], change: { caption: 'By me' }, was: { caption: null } };
    expect(await (await send('/api/pictures/change', mine, name(4))).json()).toEqual({ act: null, left: [id] });
    expect((await house.app.db('pictures').where('id', id).first('caption'))!.caption).toBe('By Gran');
    const now = { ...mine, was: { caption: 'By Gran' } };
    const taken = (await (await send('/api/pictures/change', now, name(5))).json()) as { act: number; left?: number[] };
    expect(taken.left).toBeUndefined();
    expect(taken.act).toBeGreaterThan(0);
    expect((await house.app.db('pictures').where('id', id).first('caption'))!.caption).toBe('By me');
  });

  test('what a page opens with: all columns and the first tiles; and pictures with everything, but for those that have gone', async () => {
    const answer = await house.fetch('/api/opening?tiles=3');
    const { skeleton, tiles } = (await answer.json()) as Answer<Api['opening']>;
    expect(skeleton).toEqual(await house.call('skeleton', { body: { question: { all: [] } } }));
    let at = 0;
    expect(tiles.map((tile) => tile.id)).toEqual(skeleton.ids.slice(0, 3).map((step) => (at += step)));
    const { pictures } = await house.call('wholePictures', { body: { ids: [id, 987_654] } });
    expect(pictures).toEqual([await house.call('picture', { params: { id } })]);
  });
});
