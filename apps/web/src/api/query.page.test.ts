import { act, renderHook } from '@testing-library/react';
import { queries, useProgress } from './query';

/** A stream of news that says what a test has it say. */
class Stream extends EventTarget {
  static readonly CLOSED = 2;
  static made: Stream[] = [];
  readyState = 0;
  constructor(readonly url: string) {
    super();
    Stream.made.push(this);
  }
  close(): void {
    this.readyState = Stream.CLOSED;
  }
  say(what: string): void {
    act(() => void this.dispatchEvent(new Event(what)));
  }
}

describe('news', () => {
  const also = jest.fn();
  let everything: jest.SpyInstance;
  beforeEach(() => {
    jest.useFakeTimers();
    Stream.made = [];
    Object.assign(globalThis, { EventSource: Stream });
    everything = jest.spyOn(queries, 'invalidateQueries').mockResolvedValue(undefined);
    also.mockClear();
  });
  afterEach(() => {
    everything.mockRestore();
    jest.useRealTimers();
  });
  const listen = () => {
    const { unmount } = renderHook(() => useProgress(true, also));
    return { stream: Stream.made[0]!, unmount };
  };

  test('heard at the first try leave what was asked for as it is', () => {
    const { stream, unmount } = listen();
    stream.say('hello');
    expect(everything).not.toHaveBeenCalled();
    // A line that is cut later is taken up where it was left.
    stream.say('error');
    stream.say('hello');
    expect(everything).not.toHaveBeenCalled();
    unmount();
  });

  test('heard at a later try, as on a page opened without a line: everything is asked for anew, once', () => {
    const { stream, unmount } = listen();
    stream.say('error');
    stream.say('error');
    expect(everything).not.toHaveBeenCalled();
    stream.say('hello');
    expect(everything).toHaveBeenCalledTimes(1);
    expect(also).toHaveBeenCalledWith(null);
    stream.say('hello');
    expect(everything).toHaveBeenCalledTimes(1);
    unmount();
  });

  test('refused and asked for again: the same', () => {
    const { stream, unmount } = listen();
    stream.say('hello');
    stream.readyState = Stream.CLOSED;
    stream.say('error');
    act(() => void jest.advanceTimersByTime(5000));
    expect(Stream.made.length).toBe(2);
    Stream.made[1]!.say('hello');
    expect(everything).toHaveBeenCalledTimes(1);
    unmount();
  });
});
