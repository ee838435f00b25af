import { makeApp, endApp, type App } from '../src/context';
import { together, type Row } from '../src/feed/feed';
import { addressIn, openDb } from '../src/db/open';
import { changePictures } from '../src/picture/change';
import { recover } from '../src/intake/recover';
import { ownName } from '../src/running';
import { Shared } from '../src/shared';
import { openHouse, type House } from './house';
import { pictureRow } from './pictures';

describe('the change feed', () => {
  let house: House;
  let other: App;
  beforeAll(async () => {
    house = await openHouse();
    await house.runner.stop();
    // Another process on the same database, such as the command line.
    other = makeApp(house.app.config, openDb(addressIn(house.app.db)), 'none');
  });
  afterAll(async () => {
    await endApp(other);
    await other.db.destroy();
    await house?.stop();
  });
  const until = async (so: () => boolean) => {
    for (let i = 0; i < 200 && !so(); i++) await new Promise((resolve) => setTimeout(resolve, 20));
    expect(so()).toBe(true);
  };

  test('what one process changes is heard by another, each piece once, and only by its library', async () => {
    const heard: Row[] = [];
    const strange: Row[] = [];
    const end = await house.app.feed.listen(1, (rows) => heard.push(...rows));
    const endOther = await house.app.feed.listen(77, (rows) => strange.push(...rows));
    other.changed(1, 'albums', 'tags');
    const id = await pictureRow(house.app, 91_001);
    await changePictures(other, { library: 1, member: null }, [id], { rating: 3 });
    await until(() => heard.length >= 4);
    await new Promise((resolve) => setTimeout(resolve, 700));
    expect(heard.map((row) => [row.topic, row.ids]).sort()).toEqual([
      ['acts', null],
      ['albums', null],
      ['said', [id]],
      ['tags', null],
    ]);
    expect(strange).toEqual([]);
    end();
    endOther();
  });

  test('a transaction that ends after a later one is not missed', async () => {
    const heard: Row[] = [];
    const end = await house.app.feed.listen(1, (rows) => heard.push(...rows));
    const slow = await other.db.transaction();
    await slow('changes').insert({ library_id: 1, topic: 'people', ids: null });
    other.changed(1, 'clips');
    await until(() => heard.some((row) => row.topic === 'clips'));
    expect(heard.some((row) => row.topic === 'people')).toBe(false);
    await slow.commit();
    await until(() => heard.some((row) => row.topic === 'people'));
    end();
  });

  test('a browser that comes back says what it heard last and is told the rest; after too long that everything may be new', async () => {
    const first = await house.app.feed.last();
    other.changed(1, 'shares');
    await until(() => true);
    await new Promise((resolve) => setTimeout(resolve, 200));
    const news = (await house.app.feed.since(1, first))!;
    expect(news.some((row) => row.topic === 'shares')).toBe(true);
    expect(await house.app.feed.since(1, 999_999_999)).toBeNull();
    const stream = async (heard: string | null, over = 0) => {
      const response = await house.fetch(`/api/progress?over=${over}`, {
        headers: heard === null ? {} : { 'last-event-id': heard },
      });
      const reader = response.body!.getReader();
      let text = '';
      for (let i = 0; i < 4 && !/event: (changed|everything)/.test(text); i++) {
        const { value } = await reader.read();
        text += Buffer.from(value!).toString();
      }
      await reader.cancel();
      return text;
    };
    const told = await stream(String(first));
    expect(told).toContain('event: hello');
    expect(told).toMatch(/event: changed\ndata: .*"topic":"shares"/);
    expect(told).toMatch(/id: \d+/);
    expect(await stream('999999999')).toContain('event: everything');
    // A page that listens for the first time, some moments after it was answered.
    const young = await stream(null, 10_000);
    expect(young).toContain('event: hello');
    expect(young).toMatch(/event: changed\ndata: .*"topic":"shares"/);
    expect((await house.app.feed.over(1, 0))!).toEqual([]);
    expect((await house.app.feed.over(77, 10_000))!).toEqual([]);
  });

  test('pieces of a kind are put together; one that names none stands for all', () => {
    expect(
      together([
        { topic: 'said', ids: [1, 2] },
        { topic: 'said', ids: [2, 3] },
        { topic: 'albums', ids: [4] },
        { topic: 'albums', ids: null },
        { topic: 'albums', ids: [5] },
      ]),
    ).toEqual([
      { topic: 'said', ids: [1, 2, 3] },
      { topic: 'albums', ids: null },
    ]);
  });

  test('starting beside another process leaves alone what that one is receiving', async () => {
    const { db } = house.app;
    const [batch] = await db('batches').insert({ library_id: 1, name: 'Phone', way: 'phone', state: 'coming' });
    const item = async (owner: string | null) =>
      (
        await db('batch_items').insert({
          library_id: 1,
          batch_id: batch!,
          path: 'a.jpg',
          bytes: 5,
          state: 'waiting',
          owner,
        })
      )[0]!;
    const living = await item(`${ownName().split(':')[0]}:${process.ppid}:`);
    const elsewhere = await item('another-machine:1:x');
    const dead = await item(`${ownName().split(':')[0]}:999999:`);
    const old = await item(null);
    await recover(house.app);
    const left = ((await db('batch_items').where('batch_id', batch!).select('id')) as { id: number }[]).map(
      (i) => i.id,
    );
    expect(left).toEqual([living, elsewhere]);
    expect(left).not.toContain(dead);
    expect(left).not.toContain(old);
  });
});

describe('what many ask for at once', () => {
  test('is worked out once for all who ask meanwhile, and never from before they asked', async () => {
    let runs = 0;
    let value = 'a';
    const gates: (() => void)[] = [];
    const shared = new Shared<number, string>(async () => {
      runs++;
      const seen = value;
      await new Promise<void>((resolve) => gates.push(resolve));
      return seen;
    });
    const first = shared.get(1);
    const later = [shared.get(1), shared.get(1), shared.get(1)];
    value = 'b';
    gates.shift()!();
    expect(await first).toBe('a');
    await new Promise((resolve) => setImmediate(resolve));
    gates.shift()!();
    expect(await Promise.all(later)).toEqual(['b', 'b', 'b']);
    expect(runs).toBe(2);
    const after = shared.get(1);
    gates.shift()!();
    await after;
    expect(runs).toBe(3);
  });
});
