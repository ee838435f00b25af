import path from 'node:path';
import { isDeepStrictEqual } from 'node:util';
import { api, type Api, type Endpoint } from '@gemmel/contract';
import { EVERYTHING } from '@gemmel/core';
import { makeHttp } from '../src/http/app';
import { DEMO, openHouse, type Caller, type House } from './house';
import { testLong } from './long';

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
  const ASKED: readonly [keyof Api, object?][] = [
    ['library'],
    ['count', { question }],
    ['facets', { question }],
    ['skeleton', { question, oldestFirst: false }],
    ['skeleton', { question, oldestFirst: true }],
    ['events'],
    ['people'],
    ['places'],
    ['tags'],
  ];
  /** What is answered to each of these by a server on this house. */
  const asked = async (http: House['http'], as: Caller): Promise<Record<string, unknown>[]> =>
    Promise.all(
      ASKED.map(async ([name, body]) => {
        const response = await http.request((api[name] as Endpoint).path, {
          method: api[name].method,
          headers: { cookie: as.cookie, 'x-gemmel-token': as.token, 'content-type': 'application/json' },
          ...(body && { body: JSON.stringify(body) }),
        });
        const answer = (await response.json()) as Record<string, unknown>;
        expect([name, response.status]).toEqual([name, 200]);
        // What waits and runs is told anew each time.
        return name === 'library' ? { pictures: answer['pictures'], bytes: answer['bytes'] } : answer;
      }),
    );
  const all = async (http = house.http) => [await asked(http, house.keeper), await asked(http, relative)];

  /** What is remembered is what another server says that remembers nothing: at once, or a moment after work has ended. */
  async function agrees(): Promise<void> {
    await house.quiet();
    const fresh = await all(makeHttp({ ...house.app }));
    let told = await all();
    for (let i = 0; i < 60 && !isDeepStrictEqual(told, fresh); i++) {
      await new Promise((resolve) => setTimeout(resolve, 100));
      told = await all();
    }
    expect(told).toEqual(fresh);
  }
  /** Does something, and looks whether all is told as it is then. */
  async function steps<T>(act: () => Promise<T>): Promise<T> {
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
    const counts = (await all()).map((answers) => answers.slice(0, 3).map(({ pictures, count }) => pictures ?? count));
    const n = ids.length;
    expect(counts).toEqual([
      [n, n, n],
      [n - 2, n - 2, n - 2],
    ]);
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
    await steps(async () => {
      for (const did of dids.reverse()) await house.undo(did);
    });
  });

  testLong('tags that are renamed, joined, moved and removed', async () => {
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

  testLong('events, days and places', async () => {
    const { events } = await house.call('events', {});
    await steps(() => house.call('nameEvent', { params: { id: events[0]!.id }, body: { title: 'Kite day' } }));
    await steps(() => house.call('mendDates', { body: { ids: [ids[7]!], how: { set: '1994-07-03T12:00' } as never } }));
    const given = await steps(() =>
      house.call('givePlace', {
        body: { given: [{ ids: ids.slice(0, 5), spot: { lat: VISBY[0], lon: VISBY[1] } }] } as never,
      }),
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

  testLong('people and faces', async () => {
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
    const { count } = await house.call('count', { body: { question } }, relative);
    expect(count).toBe((await house.call('count', { body: { question } })).count - 3);
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
