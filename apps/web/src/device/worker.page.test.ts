/** A registration that says what a test has it say. */
class Registration extends EventTarget {
  waiting: EventTarget | null = null;
  installing: EventTarget | null = null;
  update = jest.fn(() => Promise.resolve());
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
  return { workers, registered, offered: () => made.useUpdate.getState() };
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
});
