import 'fake-indexeddb/auto';
import type { Me, Picture, Tile } from '@gemmel/contract';
import { call, Told } from '@/api/client';
import { queries } from '@/api/query';
import { useToast } from '@/state/toast';
import { openedWith, recall, recallTiles, remember, rememberTiles } from './answers';
import { answerAway, columnsOf, factsOf, isSimple } from './away';
import { useLine } from './line';
import { type Act, readOutbox, useOutbox } from './outbox';
import { allKept, keepPictures } from './pictures';
import { isLeaving, leave } from './leaving';
import { replay, sendAnyway } from './replay';
import { forgetDevice } from './stores';
import { takeBackWaiting } from './takeBack';
import { settle, whose } from './whose';
import { goWithout } from './without';

jest.mock('@/api/eyes', () => ({ lentEyes: jest.fn(() => null), throughEyes: (path: string) => path }));

const me = (email: string | null, more: Partial<Me> = {}): Me =>
  ({
    signedIn: email !== null,
    account: email === null ? null : { email },
    library: { id: 1, slug: 'home', name: 'Home' },
    looking: false,
    ...more,
  }) as Me;

const picture = (id: number, more: Partial<Picture> = {}): Picture =>
  ({
    id,
    sha: `sha-${id}`,
    kind: 'photo',
    name: `IMG_${id}.jpg`,
    format: 'jpeg',
    width: 4000,
    height: 3000,
    rating: 2,
    favourite: false,
    title: null,
    caption: null,
    taken: `2024-05-0${(id % 9) + 1}T10:00:00`,
    takenSpan: null,
    event: null,
    tags: [],
    faces: [],
    albums: [],
    comments: [],
    observed: [],
    where: null,
    ownPlace: null,
    folder: null,
    batch: null,
    position: null,
    alike: null,
    mark: null,
    camera: null,
    lens: null,
    seenWords: null,
    ...more,
  }) as Picture;
const tile = (id: number): Tile =>
  ({
    id,
    sha: `sha-${id}`,
    rating: 2,
    favourite: false,
    title: null,
    tags: [],
    day: '2024-05-01',
    about: null,
  }) as unknown as Tile;

interface Sent {
  path: string;
  once: string | null;
  body: Record<string, unknown>;
}
let sent: Sent[];
let answer: (sent: Sent) => unknown;
let line: boolean;

beforeAll(() => {
  const locks = { request: (_: string, ...rest: unknown[]) => (rest.at(-1) as (lock: object) => unknown)({}) };
  Object.defineProperty(navigator, 'locks', { value: locks });
  goWithout();
});
beforeEach(async () => {
  sent = [];
  line = true;
  answer = () => ({});
  globalThis.fetch = jest.fn(async (path: string, init: RequestInit = {}) => {
    if (!line) throw new TypeError('no line');
    const headers = init.headers as Record<string, string> | undefined;
    const one = {
      path,
      once: headers?.['x-gemmel-once'] ?? null,
      body: init.body ? JSON.parse(init.body as string) : {},
    };
    sent.push(one);
    const given = answer(one);
    if (given instanceof Told)
      return { ok: false, status: given.status, json: async () => ({ code: 'gone', params: {} }) } as Response;
    return { ok: true, status: 200, json: async () => given } as Response;
  }) as never;
  useLine.setState({ away: false });
  queries.clear();
  localStorage.clear();
  await forgetDevice();
  await settle(me('ilse@house.example'));
  await readOutbox();
});
const away = () => {
  line = false;
  useLine.setState({ away: true });
};
const back = () => {
  line = true;
  useLine.setState({ away: false });
};
/** Until what was gathered has been written. */
const written = () => new Promise((resolve) => setTimeout(resolve, 900));

describe('what a device keeps', () => {
  test('an answer that was seen is there without a line, and nothing is invented for one that was not', async () => {
    answer = () => picture(7);
    await call('picture', { params: { id: 7 } });
    away();
    expect(await call('picture', { params: { id: 7 } })).toMatchObject({ id: 7 });
    await expect(call('picture', { params: { id: 8 } })).rejects.toMatchObject({ status: 0 });
    await expect(call('safekeeping', {})).rejects.toMatchObject({ status: 0 });
  });

  test('what a page opened with is there at once the next time', async () => {
    remember('pins', {}, { pins: [] });
    rememberTiles([tile(1), tile(2)]);
    await written();
    await new Promise((resolve) => setTimeout(resolve, 3600));
    const { answers, tiles } = await openedWith();
    expect(answers.map(([name]) => name)).toContain('pins');
    expect(tiles.map(({ id }) => id)).toEqual([1, 2]);
  });

  test('nothing is left for whoever signs in next, nor when the session has ended', async () => {
    remember('picture', { params: { id: 7 } }, picture(7));
    rememberTiles([tile(7)]);
    await keepPictures([{ picture: picture(7), tile: tile(7) }]);
    away();
    await call('change', { body: { ids: [7], change: { rating: 5 } } });
    back();
    await written();
    expect(await recall('picture', { params: { id: 7 } })).toBeDefined();
    await settle(me('gran@house.example'));
    expect(whose()).toBe('home');
    await readOutbox();
    expect(useOutbox.getState().acts).toEqual([]);
    expect(await recall('picture', { params: { id: 7 } })).toBeUndefined();
    expect(await recallTiles([7])).toEqual([]);
    expect(await allKept()).toEqual([]);
    remember('picture', { params: { id: 9 } }, picture(9));
    await settle(me(null));
    expect(whose()).toBeNull();
    remember('picture', { params: { id: 9 } }, picture(9));
    await settle(me('gran@house.example'));
    expect(await recall('picture', { params: { id: 9 } })).toBeUndefined();
  });

  test('by somebody else’s eyes nothing is kept, and nothing kept is shown', async () => {
    remember('picture', { params: { id: 7 } }, picture(7));
    const { lentEyes } = jest.requireMock<{ lentEyes: jest.Mock }>('@/api/eyes');
    lentEyes.mockReturnValue('3');
    remember('picture', { params: { id: 8 } }, picture(8));
    expect(await recall('picture', { params: { id: 7 } })).toBeUndefined();
    lentEyes.mockReturnValue(null);
    expect(await recall('picture', { params: { id: 7 } })).toBeDefined();
    expect(await recall('picture', { params: { id: 8 } })).toBeUndefined();
  });
});

describe('asking without a line', () => {
  const kept = [
    picture(1, { rating: 5, title: 'The kite', tags: [{ id: 4, name: 'beach' }] }),
    picture(2, { caption: 'Supper', faces: [{ id: 1, state: 'named', person: { id: 9, name: 'Tove' } } as never] }),
    picture(3, { taken: null }),
  ];
  beforeEach(() => keepPictures(kept.map((one) => ({ picture: one, tile: tile(one.id) }))));
  const ids = async (question: object) => {
    const found = await answerAway('skeleton', { body: { question } } as never);
    let id = 0;
    return found?.ids.map((step) => (id += step));
  };

  test('by stars, tags, people, days and words', async () => {
    expect(await ids({ rating: { min: 5 } })).toEqual([1]);
    expect(await ids({ tag: 4 })).toEqual([1]);
    expect(await ids({ who: { people: [9], mode: 'all' } })).toEqual([2]);
    expect(await ids({ text: 'supper' })).toEqual([2]);
    expect(await ids({ not: { taken: { from: '2024-01-01' } } })).toEqual([3]);
    expect(await ids({ all: [] })).toEqual([2, 1, 3]);
    expect(await answerAway('count', { body: { question: { all: [] } } } as never)).toEqual({ count: 3 });
  });

  test('what only the library knows is not answered wrongly', async () => {
    for (const question of [{ device: 1 }, { all: [{ rating: { min: 1 } }, { like: 3 }] }, { has: 'double' }]) {
      expect(isSimple(question as never)).toBe(false);
      expect(await ids(question)).toBeUndefined();
    }
  });

  test('the columns say days and events in runs, and each picture in its shape', () => {
    const columns = columnsOf(kept.map((one) => ({ picture: one, tile: tile(one.id) })));
    expect(columns).toEqual({
      ids: [1, 1, 1],
      shapes: [133, 133, 133],
      days: [['2024-05-01', 3]],
      events: [[0, 3]],
      count: 3,
    });
    expect(factsOf(kept[1]!)).toMatchObject({ people: [9], faces: 1, unnamed: 0, day: '2024-05-03' });
  });
});

describe('saying something without a line', () => {
  const acts = () => useOutbox.getState().acts;
  const say = (change: object, id = 7) => call('change', { body: { ids: [id], change } });
  beforeEach(() => {
    remember('picture', { params: { id: 7 } }, picture(7, { caption: 'As it was' }));
    queries.setQueryData(['picture', { params: { id: 7 } }], picture(7, { caption: 'As it was' }));
  });

  test('it is shown at once, waits, and is sent in order when there is a line, each under its own name', async () => {
    away();
    expect(await say({ rating: 4 })).toMatchObject({ act: null, waiting: expect.any(String) });
    await call('comment', { body: { ids: [7], text: 'Mine' } });
    await say({ caption: 'Mine' });
    expect(queries.getQueryData(['picture', { params: { id: 7 } }])).toMatchObject({ rating: 4, caption: 'Mine' });
    expect(acts().map(({ name }) => name)).toEqual(['change', 'comment', 'change']);
    expect(sent).toEqual([]);
    back();
    const names = acts().map(({ id }) => id);
    await replay();
    expect(sent.map(({ path, once }) => [path, once])).toEqual([
      ['/api/pictures/change', names[0]],
      ['/api/comments', names[1]],
      ['/api/pictures/change', names[2]],
    ]);
    expect(sent[2]!.body).toMatchObject({ change: { caption: 'Mine' }, was: { caption: 'As it was' } });
    expect(acts()).toEqual([]);
    expect(useToast.getState().note?.text).toBe('All 3 changes are saved.');
  });

  test('what is said twice of one picture is sent once, as it was seen before the first', async () => {
    away();
    await say({ caption: 'First' });
    await say({ caption: 'Second' });
    expect(acts()).toHaveLength(1);
    expect(acts()[0]).toMatchObject({
      was: { caption: 'As it was' },
      input: { body: { change: { caption: 'Second' } } },
    });
  });

  test('it can be taken back, and is shown as it was', async () => {
    away();
    const { waiting } = (await say({ caption: 'Mine' })) as unknown as { waiting: string };
    await takeBackWaiting(waiting);
    expect(acts()).toEqual([]);
    expect(queries.getQueryData(['picture', { params: { id: 7 } }])).toMatchObject({ caption: 'As it was' });
  });

  test('when the line goes again half-way, the rest waits on', async () => {
    away();
    for (const id of [1, 2, 3]) await call('comment', { body: { ids: [id], text: 'Mine' } });
    back();
    answer = () => {
      if (sent.length === 2) line = false;
      return {};
    };
    await replay();
    // The second was sent, and its answer came; the third found no line.
    expect(acts().map(({ input }) => (input as { body: { ids: number[] } }).body.ids)).toEqual([[3]]);
    back();
    await replay();
    expect(acts()).toEqual([]);
  });

  test('what somebody else changed meanwhile is left, and told in words; what has gone is told', async () => {
    away();
    await say({ caption: 'Mine' });
    await call('comment', { body: { ids: [5], text: 'On one that goes' } });
    back();
    answer = ({ path }) => {
      if (path === '/api/pictures/change') return { act: null, left: [7] };
      if (path === '/api/comments') return new Told(null, 404);
      return picture(7, { caption: 'By Gran' });
    };
    await replay();
    expect(acts().map(({ stuck }: Act) => stuck)).toEqual([{ why: 'changed', theirs: 'By Gran' }, { why: 'gone' }]);
    expect(useToast.getState().note?.text).toMatch(/^2 changes weren’t saved/);
    // It is not sent again by itself.
    sent = [];
    await replay();
    expect(sent).toEqual([]);
  });

  test('“Use mine” is sent without asking how it was, and stays where it is when the line is lost just then', async () => {
    away();
    await say({ caption: 'Mine' });
    back();
    answer = ({ path }) =>
      path === '/api/pictures/change' ? { act: null, left: [7] } : picture(7, { caption: 'By Gran' });
    await replay();
    const stuck = acts()[0]!;
    line = false;
    await expect(sendAnyway(stuck)).rejects.toMatchObject({ status: 0 });
    await readOutbox();
    expect(acts()).toHaveLength(1);
    back();
    sent = [];
    answer = () => ({ act: 9 });
    await sendAnyway(stuck);
    expect(sent[0]!.body).not.toHaveProperty('was');
    expect(acts()).toEqual([]);
  });

  test('whoever signs out without a line leaves nothing here, and the server is told before anything is shown again', async () => {
    remember('picture', { params: { id: 7 } }, picture(7));
    away();
    await leave();
    expect([whose(), isLeaving()]).toEqual([null, true]);
    expect(await allKept()).toEqual([]);
    back();
    answer = ({ path }) => (path === '/api/me' ? { ...me('ilse@house.example'), token: 't' } : { done: true });
    await call('me', {}).catch(() => undefined);
    expect(sent.map(({ path }) => path)).toEqual(['/api/me', '/api/sign-out']);
    expect([whose(), isLeaving()]).toEqual([null, false]);
  });

  test('what can’t wait says that it needs a connection', async () => {
    away();
    await expect(call('makeAlbum', { body: { name: 'Away', ids: [] } } as never)).rejects.toMatchObject({ status: 0 });
  });
});
