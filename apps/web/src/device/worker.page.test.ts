/** A registration that says what a test has it say. */
class Registration extends EventTarget {
  waiting: EventTarget | null = null;
  installing: EventTarget | null = null;
  update = jest.fn(() => Promise.resolve());
  unregister = jest.fn(() => Promise.resolve(true));
}

/** The page and its worker, anew for each test: what begins does so once. */
function page({ there, controlled = true }: { there: Registration | undefined; controlled?: boolean }) {
  const registered = there ?? new Registration();
  const workers = Object.assign(new EventTarget(), {
    controller: controlled ? new EventTarget() : null,
    getRegistration: jest.fn(() => Promise.resolve(there)),
    register: jest.fn(() => Promise.resolve(registered)),
  });
  Object.defineProperty(navigator, 'serviceWorker', { configurable: true, value: workers });
  let made!: typeof import('./worker');
  jest.isolateModules(() => (made = jest.requireActual<typeof import('./worker')>('./worker')));
  made.startWorker();
  return { workers, registered, offered: () => made.useUpdate.getState(), take: () => made.takeUpdate() };
}

describe('a newer version', () => {
  const { isSecureContext } = window;
  beforeEach(() => {
    jest.useFakeTimers();
    jest.replaceProperty(process.env, 'NODE_ENV', 'production');
    Object.defineProperty(window, 'isSecureContext', { configurable: true, value: true });
  });
  afterEach(() => {
    jest.restoreAllMocks();
    jest.useRealTimers();
    Object.defineProperty(window, 'isSecureContext', { configurable: true, value: isSecureContext });
    Reflect.deleteProperty(navigator, 'serviceWorker');
  });
  const arrives = (registration: Registration, coming: EventTarget) => {
    registration.waiting = coming;
    registration.installing = null;
    coming.dispatchEvent(new Event('statechange'));
  };

  test('that was on its way when the page began is told of when it is there', async () => {
    const there = new Registration();
    const coming = (there.installing = new EventTarget());
    const { offered } = page({ there });
    await jest.advanceTimersByTimeAsync(10);
    expect(offered().waiting).toBeNull();
    arrives(there, coming);
    expect(offered().waiting).toBe(coming);
  });

  test('that is found before the page has looked itself is told of as well', async () => {
    const there = new Registration();
    const { offered, workers } = page({ there });
    await jest.advanceTimersByTimeAsync(10);
    expect(workers.register).not.toHaveBeenCalled();
    const coming = (there.installing = new EventTarget());
    there.dispatchEvent(new Event('updatefound'));
    arrives(there, coming);
    expect(offered().waiting).toBe(coming);
    await jest.advanceTimersByTimeAsync(3000);
    expect(workers.register).toHaveBeenCalledTimes(1);
  });

  test('that another page takes is told of, and at once', async () => {
    const { workers, offered } = page({ there: new Registration() });
    workers.dispatchEvent(new Event('controllerchange'));
    expect(offered().taken).toBe(true);
  });

  test('is nothing to tell of when it is the first', async () => {
    const { workers, registered, offered } = page({ there: undefined, controlled: false });
    await jest.advanceTimersByTimeAsync(3000);
    expect(workers.register).toHaveBeenCalledTimes(1);
    const coming = (registered.installing = new EventTarget());
    registered.dispatchEvent(new Event('updatefound'));
    arrives(registered, coming);
    workers.dispatchEvent(new Event('controllerchange'));
    expect(offered()).toEqual({ waiting: null, taken: false });
  });

  describe('that somebody takes', () => {
    const waiting = async () => {
      const there = new Registration();
      there.waiting = Object.assign(new EventTarget(), { postMessage: jest.fn() });
      const made = page({ there });
      await jest.advanceTimersByTimeAsync(10);
      return { ...made, there };
    };
    // jsdom begins no page anew, and says so.
    const begun = () => jest.spyOn(console, 'error').mockImplementation(() => undefined);
    const answers = (ok: boolean) => {
      const healthy = jest.fn(() => (ok ? Promise.resolve({ ok }) : Promise.reject(new Error('no line'))));
      Object.defineProperty(window, 'fetch', { configurable: true, value: healthy });
      return healthy;
    };

    test('comes at once where the one that is there makes way', async () => {
      const { take, there, workers } = await waiting();
      const healthy = answers(true);
      const anew = begun();
      const taking = take();
      await jest.advanceTimersByTimeAsync(100);
      expect(there.waiting).toHaveProperty('postMessage.mock.calls', [['take over']]);
      workers.dispatchEvent(new Event('controllerchange'));
      await jest.advanceTimersByTimeAsync(5000);
      await taking;
      expect(anew).toHaveBeenCalledTimes(1);
      expect(healthy).not.toHaveBeenCalled();
      expect(there.unregister).not.toHaveBeenCalled();
    });

    test('comes soon where the one that is there is kept busy', async () => {
      const { take, there } = await waiting();
      answers(true);
      const anew = begun();
      const taking = take();
      await jest.advanceTimersByTimeAsync(2900);
      expect(there.unregister).not.toHaveBeenCalled();
      await jest.advanceTimersByTimeAsync(500);
      await taking;
      expect(there.unregister).toHaveBeenCalledTimes(1);
      expect(anew).toHaveBeenCalledTimes(1);
    });

    test('waits where the server that would bring it cannot be reached', async () => {
      const { take, there } = await waiting();
      answers(false);
      const anew = begun();
      const taken = expect(take()).rejects.toMatchObject({ status: 0 });
      await jest.advanceTimersByTimeAsync(4000);
      await taken;
      expect(there.unregister).not.toHaveBeenCalled();
      expect(anew).not.toHaveBeenCalled();
    });
  });
});
