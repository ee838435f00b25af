import { tell } from '../src/feed/feed';
import { remembered, rememberAll } from '../src/http/remembered';
import { openHouse, type House } from './house';

/** Answers that nothing has changed are not worked out again; any news of theirs, from whatever process and however late, has them worked out. */
describe('answers that are remembered', () => {
  let house: House;
  let made = 0;
  beforeAll(async () => {
    house = await openHouse();
    rememberAll(house.app);
  });
  afterAll(() => house.stop());
  const ask = (name = 'names') => remembered(house.app, 1, name, ['people', 'tags'], async () => ({ made: ++made }));
  const work = (topic: 'people') => tell(house.app.db, 1, new Map([[topic, null]]), true);
  const news = (topic: 'people' | 'tags' | 'albums', library = 1) =>
    tell(house.app.db, library, new Map([[topic, null]]));

  test('only news of their own topics and library has them worked out again', async () => {
    const first = await ask();
    await news('albums');
    expect(await ask()).toBe(first);
    await news('people');
    const second = await ask();
    expect(second).not.toBe(first);
    expect(await ask('others')).not.toBe(second);
    expect(await ask()).toBe(second);
  });

  test('news that was begun before what was heard, and is told after it, counts', async () => {
    const { db } = house.app;
    const late = await db.transaction();
    await tell(late, 1, new Map([['people', null]]));
    await news('tags');
    const before = await ask();
    await late.commit();
    expect(await ask()).not.toBe(before);
  });

  test('what changes while an answer is worked out is not missed', async () => {
    await news('people');
    const slow = await remembered(house.app, 1, 'names', ['people', 'tags'], async () => {
      await news('people');
      return { made: ++made };
    });
    expect(await ask()).not.toBe(slow);
  });

  test('those who ask at once are answered by one working out', async () => {
    await news('people');
    const [one, other] = await Promise.all([ask(), ask()]);
    expect(other).toBe(one);
  });

  test('a long list is told as it was while work goes on, and then anew; what somebody did is in it always', async () => {
    const long = () =>
      remembered(house.app, 1, 'long', ['people'], async () => {
        await new Promise((resolve) => setTimeout(resolve, 200));
        return { made: ++made };
      });
    const heard: string[] = [];
    const end = await house.app.feed.listen(1, (rows) => rows.forEach(({ topic }) => heard.push(topic)));
    const first = await long();
    await work('people');
    expect(await long()).toBe(first);
    house.app.worked(1, 'people');
    expect(await long()).toBe(first);
    for (let i = 0; i < 200 && !heard.includes('lists'); i++) await new Promise((resolve) => setTimeout(resolve, 50));
    expect(heard).toContain('lists');
    const second = await long();
    expect(second).not.toBe(first);
    // Nothing has come since: nothing is worked out, and nothing told.
    expect(await long()).toBe(second);
    await work('people');
    expect(await long()).toBe(second);
    await news('people');
    expect(await long()).not.toBe(second);
    end();
  });

  test('whoever made it says what of theirs is new', async () => {
    const counted = () =>
      remembered(
        house.app,
        1,
        'counted',
        ['people'],
        async () => {
          await new Promise((resolve) => setTimeout(resolve, 60));
          return { made: ++made };
        },
        'figures',
      );
    const heard: string[] = [];
    const end = await house.app.feed.listen(1, (rows) => rows.forEach(({ topic }) => heard.push(topic)));
    const first = await counted();
    await work('people');
    expect(await counted()).toBe(first);
    for (let i = 0; i < 200 && !heard.includes('figures'); i++) await new Promise((resolve) => setTimeout(resolve, 50));
    expect(heard).toContain('figures');
    expect(await counted()).not.toBe(first);
    end();
  });

  test('what is quickly worked out is never told as it was', async () => {
    const first = await ask();
    await work('people');
    expect(await ask()).not.toBe(first);
  });

  test('old news that is removed changes nothing for the worse', async () => {
    await ask();
    await house.app.db('changes').where('library_id', 1).delete();
    const now = await ask();
    expect(await ask()).toBe(now);
    await news('people');
    expect(await ask()).not.toBe(now);
  });
});
