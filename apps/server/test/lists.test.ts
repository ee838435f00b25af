import path from 'node:path';
import { EVERYTHING } from '@gemmel/core';
import { rememberAll } from '../src/http/remembered';
import { DEMO, openHouse, type Caller, type House } from './house';

/**
 * Lists and figures of everything are remembered and worked out anew with news of them. Whatever is done, by whomever, what is remembered
 * afterwards is what is so: for those who see everything, and for a relative.
 */
describe('lists and figures that are remembered', () => {
  let house: House;
  let relative: Caller;
  let ids: number[];
  const VISBY: [number, number] = [57.64, 18.29];

  const question = EVERYTHING;
  const ask = (as: Caller) =>
    Promise.all([
      house.call('library', {}, as).then(({ pictures, bytes }) => ({ pictures, bytes })),
      house.call('count', { body: { question } }, as),
      house.call('facets', { body: { question } }, as),
      house.call('skeleton', { body: { question, oldestFirst: false } }, as),
      house.call('skeleton', { body: { question, oldestFirst: true } }, as),
      house.call('events', {}, as),
      house.call('people', {}, as),
      house.call('places', {}, as),
      house.call('tags', {}, as),
    ]);
  const all = async () => [await ask(house.keeper), await ask(relative)];

  /** What is remembered is what is worked out from nothing, at the latest a moment after work has ended. */
  async function agrees(): Promise<void> {
    await house.quiet();
    const fresh = async () => {
      rememberAll(house.app);
      return all();
    };
    // What is told while work ends may be a moment older; what is never worked out again stays so.
    for (let i = 0; i < 40; i++) {
      const told = await all();
      if (JSON.stringify(told) === JSON.stringify(await all()) && i > 0) break;
      await new Promise((resolve) => setTimeout(resolve, 25));
    }
    const told = await all();
    expect(told).toEqual(await fresh());
  }
  /** The same right after something was done, of whatever that changed by itself. */
  async function steps<T>(act: () => Promise<T>): Promise<T> {
    await all();
    const did = await act();
    await agrees();
    return did;
  }

  beforeAll(async () => {
    house = await openHouse();
    await house.takeIn(path.join(DEMO, 'grans-tablet'));
    await house.quiet();
    ids = (await house.app.db('pictures').orderBy('id').select('id')).map(({ id }) => id);
    relative = await house.member('relative');
    const { id } = (await house.app.db('members').where('part', 'relative').first('id'))!;
    // All but pictures that got one star.
    await house.call('setView', {
      params: { id },
      body: { question: { not: { rating: { min: 1, max: 1 } } }, reach: 'house' },
    });
    await house.quiet();
  });
  afterAll(() => house?.stop());

  test('a relative sees less of it once something is outside their view, and each has lists of their own', async () => {
    await agrees();
    await steps(() => house.call('change', { body: { ids: ids.slice(0, 2), change: { rating: 1 } } }));
    const [[{ pictures }, count, facets], [seen, counted, made]] = (await all()) as [
      Awaited<ReturnType<typeof ask>>,
      Awaited<ReturnType<typeof ask>>,
    ];
    expect([pictures, count.count, facets.pictures]).toEqual([ids.length, ids.length, ids.length]);
    expect([seen.pictures, counted.count, made.pictures]).toEqual([ids.length - 2, ids.length - 2, ids.length - 2]);
    expect(seen.bytes).toBeGreaterThan(0);
  });

  test('what is said of pictures, and taken back', async () => {
    const change = (some: number[], what: object) =>
      steps(() => house.call('change', { body: { ids: some, change: what as never } }));
    const dids = [
      await change([ids[3]!], { favourite: true }),
      await change(ids.slice(2, 6), { addTags: ['kites', 'lake › pike'] }),
      await change([ids[0]!], { rating: 4 }),
      await change(ids.slice(4, 6), { title: 'By the water', caption: 'Cold' }),
    ];
    const { id } = await house
      .call('makeMark', { body: { meaning: 'to print' } })
      .then(async () => (await house.call('marks', {})).marks[0]!);
    dids.push(await change([ids[4]!], { mark: id }));
    for (const did of dids.reverse()) await steps(() => house.undo(did));
  });

  test('tags that are renamed, joined, moved and removed', async () => {
    await house.call('change', { body: { ids: ids.slice(2, 6), change: { addTags: ['kites', 'boat', 'red boat'] } } });
    const tag = async (name: string) => (await house.call('tags', {})).tags.find((one) => one.name === name)!.id;
    const kites = await tag('kites');
    await steps(() => house.call('changeTag', { params: { id: kites }, body: { name: 'flying kites' } as never }));
    const joined = await steps(async () =>
      house.call('joinTags', { params: { id: await tag('red boat') }, body: { to: await tag('boat') } }),
    );
    await steps(() => house.undo(joined));
    const removed = await steps(() => house.call('removeTag', { params: { id: kites } }));
    await steps(() => house.undo(removed));
  });

  test('events, days and places', async () => {
    const { events } = await house.call('events', {});
    await steps(() => house.call('nameEvent', { params: { id: events[0]!.id }, body: { title: 'Kite day' } }));
    await steps(() => house.call('mendDates', { body: { ids: [ids[7]!], how: { set: '1994-07-03T12:00' } as never } }));
    const given = await steps(() =>
      house.call('givePlace', { body: { given: [{ ids: ids.slice(0, 5), spot: VISBY }] } as never }),
    );
    const own = await steps(() =>
      house.call('makeOwnPlace', {
        body: { name: 'Home', lat: VISBY[0], lon: VISBY[1], metres: 300, hidden: true } as never,
      }),
    ).catch(() => null);
    if (own) await steps(() => house.undo(own));
    await steps(() => house.undo(given));
    const made = await steps(() =>
      house.call('makeEvent', { body: { title: 'Old days', from: '1994-07-01', to: '1994-07-09' } }),
    );
    await steps(() => house.undo(made));
  });

  test('people and faces', async () => {
    const drawn = await steps(() =>
      house.call('drawFace', {
        params: { id: ids[3]! },
        body: { box: [0.3, 0.3, 0.2, 0.2], is: { newPerson: 'Agathe Wend' } } as never,
      }),
    );
    const person = (await house.call('people', {})).people[0]!;
    await steps(() =>
      house.call('changePerson', { params: { id: person.id }, body: { favourite: true, nickname: 'Gran' } as never }),
    );
    await steps(() => house.call('makeCircle', { body: { name: 'Grandparents' } }));
    await steps(() => house.undo(drawn));
  });

  test('the bin, what comes in, and for whom something is', async () => {
    await steps(() => house.call('intoBin', { body: { ids: [ids[1]!, ids[2]!] } }));
    await steps(() => house.call('restore', { body: { ids: [ids[1]!] } }));
    await steps(() => house.call('emptyBin', { body: { ids: [ids[2]!], word: 'Test library' } as never }));
    await steps(() => house.takeIn(path.join(DEMO, 'stick')));
    const mine = await steps(() =>
      house.call('sayAudience', { body: { of: 'pictures', ids: [ids[5]!], audience: 'me' } }),
    );
    const [, seen] = (await all()) as [unknown, Awaited<ReturnType<typeof ask>>];
    expect(seen[3].ids).not.toContain(ids[5]);
    await steps(() => house.undo(mine));
  });

  test('what a relative may see is theirs at once when that is said anew', async () => {
    const { id } = (await house.app.db('members').where('part', 'relative').first('id'))!;
    await all();
    await house.call('setView', { params: { id }, body: { question: { rating: { min: 1 } }, reach: 'house' } });
    const { count } = await house.call('count', { body: { question } }, relative);
    const rated = await house.call('count', { body: { question: { rating: { min: 1 } } } });
    expect(count).toBe(rated.count);
    await agrees();
  });
});
