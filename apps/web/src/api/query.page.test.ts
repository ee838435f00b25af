import { QueryClientProvider } from '@tanstack/react-query';
import { act, renderHook, waitFor } from '@testing-library/react';
import { createElement, type ReactNode } from 'react';
import { queries, useAnswer, useProgress } from './query';

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

describe('an answer that is on screen', () => {
  const fetched = jest.fn<Promise<Response>, []>();
  const kept = globalThis.fetch;
  beforeEach(() => void (globalThis.fetch = fetched as never));
  afterEach(() => {
    queries.clear();
    globalThis.fetch = kept;
  });
  const says = (status: number, answer: object) =>
    fetched.mockResolvedValueOnce({ ok: status < 400, status, json: () => Promise.resolve(answer) } as Response);
  const onScreen = async () => {
    says(200, { id: 7 });
    const wrapper = ({ children }: { children: ReactNode }) =>
      createElement(QueryClientProvider, { client: queries }, children);
    // As pages do: what they read is what they are drawn anew for.
    const useRead = () => {
      const { data, error, refetch } = useAnswer('picture', { params: { id: 7 } });
      return { data, error, refetch };
    };
    const { result } = renderHook(useRead, { wrapper });
    await waitFor(() => expect(result.current.data).toEqual({ id: 7 }));
    return result;
  };

  test('stays when nothing comes back to the same question', async () => {
    const result = await onScreen();
    fetched.mockRejectedValueOnce(new TypeError('Failed to fetch'));
    await act(async () => {
      await result.current.refetch();
      await new Promise((resolve) => setTimeout(resolve, 50));
    });
    expect(queries.getQueryState(['picture', { params: { id: 7 } }])!.error).toMatchObject({ status: 0 });
    expect(result.current).toMatchObject({ data: { id: 7 }, error: null });
    says(200, { id: 7, stars: 3 });
    await act(() => result.current.refetch());
    await waitFor(() => expect(result.current.data).toEqual({ id: 7, stars: 3 }));
  });

  test('does not when the answer is that it has gone', async () => {
    const result = await onScreen();
    says(404, { code: 'pictures.gone' });
    await act(() => result.current.refetch());
    await waitFor(() => expect(result.current.error).toMatchObject({ status: 404 }));
  });
});
