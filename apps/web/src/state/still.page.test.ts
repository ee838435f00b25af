import { whenStill } from './still';

describe('what nobody waits for', () => {
  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());
  const scroll = () => dispatchEvent(new Event('scroll'));

  test('is done after its time when nobody moves anything, and once', () => {
    const work = jest.fn();
    whenStill(work, 2500, 30_000);
    jest.advanceTimersByTime(2499);
    expect(work).not.toHaveBeenCalled();
    jest.advanceTimersByTime(1);
    expect(work).toHaveBeenCalledTimes(1);
    scroll();
    jest.advanceTimersByTime(60_000);
    expect(work).toHaveBeenCalledTimes(1);
  });

  test('waits while somebody scrolls, and a second longer', () => {
    const work = jest.fn();
    whenStill(work, 2500, 30_000);
    for (let i = 0; i < 50; i++) {
      jest.advanceTimersByTime(100);
      scroll();
    }
    jest.advanceTimersByTime(999);
    expect(work).not.toHaveBeenCalled();
    jest.advanceTimersByTime(1);
    expect(work).toHaveBeenCalledTimes(1);
  });

  test('does not wait for ever', () => {
    const work = jest.fn();
    whenStill(work, 2500, 30_000);
    for (let i = 0; i < 299; i++) {
      jest.advanceTimersByTime(100);
      scroll();
    }
    expect(work).not.toHaveBeenCalled();
    jest.advanceTimersByTime(100);
    expect(work).toHaveBeenCalledTimes(1);
  });
});
