import type { UploadOptions } from 'tus-js-client';
import { setSessionToken } from '@/api/client';
import { nameLibrary } from '@/api/library';
import { upload, type Outcome } from './upload';

interface Begun {
  file: File;
  how: UploadOptions;
  aborted: boolean;
}
const mockBegun: Begun[] = [];
jest.mock('tus-js-client', () => ({
  Upload: class {
    private readonly one: Begun;
    constructor(file: File, how: UploadOptions) {
      this.one = { file, how, aborted: false };
    }
    start() {
      mockBegun.push(this.one);
    }
    abort() {
      this.one.aborted = true;
      return Promise.resolve();
    }
  },
}));

const file = { name: 'kite.jpg', size: 100 } as File;
const loaded = async () => {
  for (let i = 0; i < 20 && !mockBegun.length; i++) await new Promise((resolve) => setTimeout(resolve, 0));
};
/** What the protocol tells when a server has said no: its status, and what it wrote. */
const failure = (status: number | null, body = '') =>
  Object.assign(
    new Error('no'),
    status === null ? {} : { originalResponse: { getStatus: () => status, getBody: () => body } },
  );

beforeEach(() => (mockBegun.length = 0));

describe('sending one file', () => {
  const begin = async (before = false) => {
    const told: number[] = [];
    const going = upload(7, file, before, (bytes) => told.push(bytes));
    await loaded();
    return { going, told, ...mockBegun[0]! };
  };
  const outcome = async (error: Error): Promise<Outcome> => {
    const { going, how } = await begin();
    how.onError!(error as never);
    return going.done;
  };

  test('it goes to the address of its item, and asks first how much has come already when it was begun before', async () => {
    const fresh = await begin();
    expect(fresh.how).toMatchObject({ endpoint: '/api/uploads', metadata: { item: '7' } });
    expect(fresh.how.uploadUrl).toBeUndefined();
    mockBegun.length = 0;
    expect((await begin(true)).how.uploadUrl).toBe('/api/uploads/7');
    fresh.how.onProgress!(40, 100);
    fresh.how.onProgress!(100, 100);
    fresh.how.onSuccess!({} as never);
    expect([fresh.told, await fresh.going.done]).toEqual([[40, 100], { how: 'sent' }]);
  });

  test('it says who sends, and into which library', async () => {
    const { how } = await begin();
    const heads = () => {
      const said: Record<string, string> = {};
      const request = { setHeader: (name: string, value: string) => void (said[name] = value) };
      void how.onBeforeRequest!(request as never);
      return said;
    };
    setSessionToken(null);
    nameLibrary(null);
    expect(heads()).toEqual({});
    setSessionToken('the token');
    nameLibrary('club');
    expect(heads()).toEqual({ 'x-gemmel-token': 'the token', 'x-gemmel-library': 'club' });
    setSessionToken(null);
    nameLibrary(null);
  });

  test.each<[string, number | null, Outcome['how']]>([
    ['no line', null, 'lost'],
    ['a server that is being started', 503, 'lost'],
    ['somebody else sends it just now', 423, 'lost'],
    ['it has come further than was thought', 409, 'lost'],
    ['signed out meanwhile', 401, 'lost'],
    ['the disk is full', 507, 'full'],
    ['nobody waits for it', 410, 'over'],
  ])('%s', async (_, status, how) => expect(await outcome(failure(status))).toEqual({ how }));

  test.each<[string, string, object]>([
    ['in the words of the server', '{"code":"damaged","params":{"at":3}}', { code: 'damaged', params: { at: 3 } }],
    ['without words', '{"code":"damaged"}', { code: 'damaged', params: {} }],
    ['by something in between', '<html>Forbidden</html>', { code: 'unexpected', params: {} }],
    ['with nothing at all', '', { code: 'unexpected', params: {} }],
    ['with something else', '[]', { code: 'unexpected', params: {} }],
  ])('refused %s', async (_, body, reason) =>
    expect(await outcome(failure(413, body))).toEqual({ how: 'refused', reason }),
  );

  test('it is tried again where that may help, and not where it was refused or is to wait', async () => {
    const { going, how } = await begin();
    const again = (status: number | null) => how.onShouldRetry!(failure(status) as never, 0, how);
    expect([null, 409, 423, 500, 503].map(again)).toEqual([true, true, true, true, true]);
    expect([400, 401, 403, 410, 413, 507].map(again)).toEqual([false, false, false, false, false, false]);
    going.hold();
    expect([null, 503].map(again)).toEqual([false, false]);
  });

  test('held, it ends, and what the protocol says after that changes nothing', async () => {
    const { going, how } = await begin();
    going.hold();
    how.onError!(failure(410) as never);
    expect(await going.done).toEqual({ how: 'held' });
    expect(mockBegun[0]!.aborted).toBe(true);
  });

  test('held before the protocol was there, nothing is sent at all', async () => {
    const going = upload(8, file, false, () => undefined);
    going.hold();
    expect(await going.done).toEqual({ how: 'held' });
    await loaded();
    expect(mockBegun).toEqual([]);
  });
});
