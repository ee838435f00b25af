import 'fake-indexeddb/auto';
import { call, Told } from '@/api/client';
import { givenFiles, keepGiven } from '@/device/given';
import { forgetDevice } from '@/device/stores';
import { upload, type Outcome } from '@/features/arrivals/upload';
import { useToast } from '@/state/toast';
import { addGiven, useAdding } from './adding';

jest.mock('@/features/arrivals/upload', () => ({ upload: jest.fn() }));
jest.mock('@/api/client', () => ({ ...jest.requireActual<object>('@/api/client'), call: jest.fn() }));

const file = (name: string, size = 100) => ({ name, size, lastModified: 7 }) as File;

describe('pictures a relative adds', () => {
  /** How each try ends, in order; sent when nothing is said. */
  let ends: Outcome[];
  let tries: { item: number; before: boolean }[];
  let opened: { path: string }[][];
  let line: boolean;
  let during: () => void;

  beforeEach(async () => {
    [ends, tries, opened, line, during] = [[], [], [], true, () => undefined];
    useAdding.setState({ going: null, done: 0, wrong: '' });
    useToast.setState({ note: null });
    await forgetDevice();
    jest.mocked(call).mockImplementation((async (name: string, input: { body: { files: { path: string }[] } }) => {
      if (!line) throw new Told(null, 0);
      if (name !== 'openBatch') return {};
      opened.push(input.body.files);
      return { id: opened.length, items: input.body.files.map((_, i) => opened.length * 100 + i) };
    }) as never);
    jest.mocked(upload).mockImplementation((item, one, before, told) => {
      tries.push({ item, before });
      told(one.size / 2);
      during();
      let hold: () => void = () => undefined;
      const done = new Promise<Outcome>((resolve) => {
        hold = () => resolve({ how: 'held' });
        setTimeout(() => resolve(ends.shift() ?? { how: 'sent' }), 5);
      });
      return { done, hold: () => hold() };
    });
  });
  const { send, stop } = useAdding.getState();
  const now = () => {
    const { going, done, wrong } = useAdding.getState();
    return { going, done, wrong };
  };

  test('they are announced together and sent one after another, and how far that is is told', async () => {
    const told: unknown[] = [];
    const end = useAdding.subscribe(({ going }) => going && told.push([going.sent, going.of, going.files]));
    expect(await send([file('a.jpg'), file('b.jpg', 300)])).toEqual({ left: 0, away: false });
    end();
    expect(opened).toEqual([
      [
        { path: 'a.jpg', bytes: 100, modified: 7 },
        { path: 'b.jpg', bytes: 300, modified: 7 },
      ],
    ]);
    expect(tries).toEqual([
      { item: 100, before: false },
      { item: 101, before: false },
    ]);
    expect(told).toEqual([
      [0, 400, 2],
      [50, 400, 2],
      [250, 400, 2],
    ]);
    expect(now()).toEqual({ going: null, done: 2, wrong: '' });
  });

  test('two that are called the same are two', async () => {
    await send([file('image.jpg'), file('image.jpg'), file('clip'), file('clip')]);
    expect(opened[0]!.map(({ path }) => path)).toEqual(['image.jpg', 'image (2).jpg', 'clip', 'clip (2)']);
  });

  test('what is refused is said, and the others come all the same', async () => {
    ends = [{ how: 'refused', reason: { code: 'damaged', params: {} } }];
    expect(await send([file('a.jpg'), file('b.jpg')])).toEqual({ left: 0, away: false });
    expect(now()).toMatchObject({ done: 1, wrong: expect.stringMatching(/\w/) as string });
  });

  test('stopped, the rest is not sent, and nobody sends it later', async () => {
    during = stop;
    ends = [{ how: 'held' }];
    expect(await send([file('a.jpg'), file('b.jpg'), file('c.jpg')])).toEqual({ left: 0, away: false });
    expect([tries.length, now().going]).toEqual([1, null]);
    // The next sending is another.
    during = () => undefined;
    await send([file('d.jpg')]);
    expect(now().done).toBe(1);
  });

  test('two sendings do not get in each other’s way', async () => {
    const both = Promise.all([send([file('a.jpg'), file('b.jpg')]), send([file('c.jpg')])]);
    await both;
    expect(tries.map(({ item }) => item)).toEqual([100, 101, 200]);
  });

  test('without a line it is said that there is none', async () => {
    line = false;
    expect(await send([file('a.jpg')])).toEqual({ left: 1, away: true });
    expect(now().wrong).not.toBe('');
  });

  describe('from another application’s share sheet', () => {
    beforeEach(async () => {
      await keepGiven({ at: 2, files: [file('second.jpg')] });
      await keepGiven({ at: 1, files: [file('image.jpg'), file('image.jpg')] });
    });

    test('they are sent in the order they were given in, and then this device holds nothing of them', async () => {
      await addGiven();
      expect(opened.map((files) => files.map(({ path }) => path))).toEqual([
        ['image.jpg', 'image (2).jpg'],
        ['second.jpg'],
      ]);
      expect(await givenFiles()).toEqual([]);
    });

    test('without a line they wait, which is said, and go when there is one', async () => {
      line = false;
      await addGiven();
      expect([(await givenFiles()).length, opened]).toEqual([2, []]);
      expect(now().wrong).toBe('');
      expect(useToast.getState().note?.text).toBe(
        'All 2 wait on this device and are sent as soon as there is a connection.',
      );
      line = true;
      await addGiven();
      expect([(await givenFiles()).length, opened.length, now().done]).toEqual([0, 2, 1]);
    });

    test('cut in the middle, they go on where they were, in the same batch', async () => {
      ends = [{ how: 'sent' }, { how: 'lost' }];
      await addGiven();
      expect((await givenFiles()).map(([, given]) => given.items)).toEqual([[100, 101], undefined]);
      tries.length = 0;
      await addGiven();
      expect(tries).toEqual([
        { item: 100, before: true },
        { item: 101, before: true },
        { item: 200, before: false },
      ]);
      expect([opened.length, await givenFiles()]).toEqual([2, []]);
    });

    test('a disk that is full has them wait; what nobody waits for any longer is let go', async () => {
      ends = [{ how: 'full' }, { how: 'full' }];
      await addGiven();
      expect([(await givenFiles()).length, now().wrong]).toEqual([2, expect.stringMatching(/\w/)]);
      ends = [{ how: 'over' }, { how: 'over' }];
      await addGiven();
      expect(await givenFiles()).toEqual([]);
    });
  });
});
