import 'fake-indexeddb/auto';
import type { Me, Picture, Tile } from '@gemmel/contract';
import { call, largeOf, musicOf, playOf, smallOf, Told } from '@/api/client';
import {
  freshenKept,
  keepHere,
  keepNoLonger,
  keptThings,
  LIMITS,
  readKept,
  setLimit,
  stopKeeping,
  useKept,
} from './kept';
import type { Wanted } from './kept';
import { allKept } from './pictures';
import { CACHES, forgetDevice } from './stores';
import { settle } from './whose';

jest.mock('@/api/eyes', () => ({ lentEyes: jest.fn(() => null), throughEyes: (path: string) => path }));
jest.mock('@/api/client', () => ({ ...jest.requireActual<object>('@/api/client'), call: jest.fn() }));

const me = (email: string | null, slug = 'home'): Me =>
  ({
    signedIn: email !== null,
    account: email === null ? null : { email },
    library: { id: 1, slug, name: 'Home' },
    looking: false,
  }) as Me;
const picture = (id: number): Picture => ({ id, sha: `sha${id}`, kind: id % 5 === 0 ? 'video' : 'photo' }) as Picture;
const tile = (id: number): Tile => ({ id, sha: `sha${id}` }) as Tile;
const range = (from: number, n: number) => Array.from({ length: n }, (_, i) => from + i);

/** What the server has: albums, and what files of pictures weigh. */
let albums: Record<number, number[]>;
const WEIGHS = 1000;
/** Files that were fetched, in order; and something that happens before each of them. */
let fetched: string[];
let before: (at: string) => unknown;

const album = (id: number): Wanted => ({ kind: 'album', id, name: `Album ${id}` });
const kept = (wanted: Wanted) => useKept.getState().kept[`${wanted.kind} ${wanted.id}`];
const filesOf = (ids: readonly number[]) =>
  ids.flatMap((id) => [smallOf(`sha${id}`), largeOf(`sha${id}`), ...(id % 5 === 0 ? [playOf(id)] : [])]).sort();

const unlessOff = (signal?: AbortSignal) => {
  if (signal?.aborted) throw new DOMException('called off', 'AbortError');
};

class CacheOfFiles {
  files = new Map<string, object>();
  match = async (at: string) => this.files.get(at);
  put = async (at: string, file: object) => void this.files.set(at, file);
  delete = async (at: string) => this.files.delete(at);
}
const stores = new Map<string, CacheOfFiles>();
const here = () => [...(stores.get(CACHES.kept)?.files.keys() ?? [])].sort();

beforeAll(() => {
  const locks = {
    held: new Set<string>(),
    async request(name: string, _: object, act: (lock: object | null) => unknown) {
      if (this.held.has(name)) return act(null);
      this.held.add(name);
      try {
        return await act({});
      } finally {
        this.held.delete(name);
      }
    },
  };
  Object.defineProperty(navigator, 'locks', { value: locks });
  Object.defineProperty(globalThis, 'caches', {
    value: {
      open: async (name: string) => {
        if (!stores.has(name)) stores.set(name, new CacheOfFiles());
        return stores.get(name)!;
      },
      delete: async (name: string) => stores.delete(name),
    },
  });
});
beforeEach(async () => {
  albums = { 1: range(1, 100), 2: range(91, 20) };
  fetched = [];
  before = () => undefined;
  jest.mocked(call).mockImplementation((async (name: string, input: never, signal?: AbortSignal) => {
    unlessOff(signal);
    const { params, body } = input as { params?: { id: number }; body?: { ids: number[] } };
    if (name === 'album') {
      if (!albums[params!.id]) throw new Told({ code: 'not-found', params: {} }, 404);
      return { ids: albums[params!.id] };
    }
    if (name === 'wholePictures') return { pictures: body!.ids.map(picture), tiles: body!.ids.map(tile) };
    if (name === 'showOf') return { pictures: albums[2]!.map((id) => ({ id })) };
    return {};
  }) as never);
  globalThis.fetch = jest.fn(async (at: string, { signal }: { signal: AbortSignal }) => {
    unlessOff(signal);
    await before(at);
    unlessOff(signal);
    fetched.push(at);
    const blob = async () => ({ size: WEIGHS });
    return { ok: true, blob, clone: () => ({ blob }) };
  }) as never;
  localStorage.clear();
  await forgetDevice();
  await settle(me('ilse@house.example'));
  await readKept();
});

describe('what is kept on this device', () => {
  test('an album comes with every file of its pictures, and clips with what is played', async () => {
    await keepHere(album(1));
    expect(kept(album(1))).toMatchObject({ state: 'here', done: 100, bytes: filesOf(albums[1]!).length * WEIGHS });
    expect(here()).toEqual(filesOf(albums[1]!));
    expect((await allKept()).map((one) => one.picture.id).sort((a, b) => a - b)).toEqual(albums[1]);
    // It is there for the next page of this browser.
    expect((await keptThings()).map(({ wanted }) => wanted)).toEqual([album(1)]);
  });

  test('brought up to date, only what is new is fetched, and what has gone goes', async () => {
    await keepHere(album(1));
    albums[1] = [...range(11, 90), 201];
    fetched = [];
    await keepHere(album(1));
    expect(fetched).toEqual([smallOf('sha201'), largeOf('sha201')]);
    expect(here()).toEqual(filesOf(albums[1]));
    expect(kept(album(1))!.bytes).toBe(here().length * WEIGHS);
  });

  test('pictures of two albums stay until neither is kept', async () => {
    await keepHere(album(1));
    await keepHere(album(2));
    expect(kept(album(2))!.bytes).toBe(filesOf(range(101, 10)).length * WEIGHS);
    await keepNoLonger(album(1));
    expect(here()).toEqual(filesOf(albums[2]!));
    await keepNoLonger(album(2));
    expect([here(), await allKept(), await keptThings()]).toEqual([[], [], []]);
  });

  test('stopped, it stays stopped until it is asked for again, and goes on where it was', async () => {
    before = (at) => at === smallOf('sha60') && stopKeeping(album(1));
    await keepHere(album(1));
    expect(kept(album(1))).toMatchObject({ state: 'stopped', done: 40 });
    const first = [...fetched];
    before = () => undefined;
    await freshenKept();
    expect(fetched).toEqual(first);
    await keepHere(album(1));
    expect(kept(album(1))).toMatchObject({ state: 'here', done: 100 });
    expect(new Set(fetched).size).toBe(fetched.length);
    expect(kept(album(1))!.bytes).toBe(here().length * WEIGHS);
  });

  test.each([
    ['in the middle', smallOf('sha60')],
    ['with the last file of a portion', playOf(40)],
    ['with the very last file', playOf(100)],
  ])('let go %s while it comes, it does not come back', async (_, moment) => {
    let going: Promise<void> | undefined;
    before = (at) => void (at === moment && (going = keepNoLonger(album(1))));
    // A cache writes a while after it was asked.
    const cache = (await caches.open(CACHES.kept)) as unknown as CacheOfFiles;
    const put = cache.put;
    cache.put = async (at, file) => {
      await put(at, file);
      if (at === moment) await (going ??= keepNoLonger(album(1)));
    };
    if (moment !== smallOf('sha60')) before = () => undefined;
    await keepHere(album(1));
    await going;
    expect(kept(album(1))).toBeUndefined();
    expect(await keptThings()).toEqual([]);
    expect(await allKept()).toEqual([]);
    expect(here()).toEqual([]);
  });

  test('it stops at the limit of the device, and says so; with more room it goes on', async () => {
    setLimit(50 * WEIGHS);
    await keepHere(album(1));
    expect(kept(album(1))!.state).toBe('full');
    expect(here().length).toBe(51);
    await freshenKept();
    expect(here().length).toBe(51);
    setLimit(LIMITS[1]);
    await keepHere(album(1));
    expect(kept(album(1))).toMatchObject({ state: 'here', bytes: here().length * WEIGHS });
  });

  test('a browser that is full says so as well; a line that breaks is another matter, and tried again', async () => {
    before = (at) => {
      if (at === smallOf('sha60')) throw new DOMException('no room', 'QuotaExceededError');
    };
    await keepHere(album(1));
    expect(kept(album(1))!.state).toBe('full');
    before = (at) => {
      if (at === smallOf('sha60')) throw new TypeError('no line');
    };
    await keepHere(album(1));
    expect(kept(album(1))!.state).toBe('failed');
    before = () => undefined;
    await freshenKept();
    expect(kept(album(1))!.state).toBe('here');
  });

  test('what is no longer in the library is no longer kept either', async () => {
    await keepHere(album(1));
    await keepHere(album(2));
    delete albums[1];
    await keepHere(album(1));
    expect(kept(album(1))).toBeUndefined();
    expect(here()).toEqual(filesOf(albums[2]!));
  });

  test('a show comes with its music, and what was looked through lately is left alone', async () => {
    const show: Wanted = {
      kind: 'show',
      id: 3,
      name: 'Summer',
      show: { source: { album: 2 }, settings: { music: [7] } } as never,
    };
    await keepHere(show);
    expect(here()).toEqual([...filesOf(albums[2]!), musicOf(7)].sort());
    expect(kept(show)!.answers.map(([name]) => name)).toEqual(['showOf', 'music']);
    fetched = [];
    jest.mocked(call).mockClear();
    await freshenKept();
    expect(call).not.toHaveBeenCalled();
    jest.useFakeTimers({
      now: Date.now() + 7 * 3_600_000,
      doNotFake: ['setImmediate', 'setTimeout', 'queueMicrotask'],
    });
    await freshenKept();
    jest.useRealTimers();
    expect(call).toHaveBeenCalled();
    expect(fetched).toEqual([]);
  });

  test('one page of a browser brings it, and nobody is left with what another began', async () => {
    await Promise.all([keepHere(album(2)), keepHere(album(2))]);
    expect(new Set(fetched).size).toBe(fetched.length);
    let signedOut: Promise<void> | undefined;
    before = (at) => void (at === smallOf('sha20') && (signedOut = settle(me('emil@house.example'))));
    await keepHere(album(1));
    await signedOut;
    expect(useKept.getState().kept).toEqual({});
    expect([await keptThings(), await allKept(), here()]).toEqual([[], [], []]);
    // Back again, nothing of it is there.
    await settle(me('ilse@house.example'));
    await readKept();
    expect(useKept.getState().kept).toEqual({});
  });

  test('each library of an account has its own', async () => {
    await keepHere(album(2));
    await settle(me('ilse@house.example', 'club'));
    await readKept();
    expect(useKept.getState().kept).toEqual({});
    await settle(me('ilse@house.example', 'home'));
    await readKept();
    expect(kept(album(2))!.state).toBe('here');
  });
});
