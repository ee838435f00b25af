import type { Block, Strip, Timeline } from '@gemmel/core';
import { act, renderHook } from '@testing-library/react';
import { leaveSoon } from '@/state/inTurn';
import { noteSeen } from '@/state/seen';
import { isShown } from '@/state/sight';
import { useScrolled } from './useScrolled';

const mockSaid: string[] = [];
jest.mock('@/state/inTurn', () => ({ LANDS: 300, leaveSoon: jest.fn(() => mockSaid.push('leave')) }));
jest.mock('@/state/tiles', () => {
  const useTileStore = { getState: () => ({ tiles: new Map() }), subscribe: () => () => undefined };
  return {
    useTileStore,
    want: jest.fn(),
    wantNow: jest.fn((ids: number[]) => mockSaid.push(`want ${ids[0]} to ${ids.at(-1)}`)),
  };
});

const [ROWS, EACH, HIGH, VIEW, ABOVE] = [200, 4, 100, 800, 150] as const;
const strip = { ids: Int32Array.from({ length: ROWS * EACH }, (_, i) => 1000 + i) } as unknown as Strip;
const blocks = Array.from({ length: ROWS }, (_, i) => ({
  kind: 'row',
  top: i * HIGH,
  height: HIGH,
  from: i * EACH,
  to: (i + 1) * EACH,
})) as unknown as Block[];

describe('what is drawn of a list that scrolls', () => {
  let element: HTMLDivElement;
  let place = 0;
  beforeEach(() => {
    jest.useFakeTimers();
    mockSaid.length = 0;
    place++;
    element = document.createElement('div');
    Object.defineProperties(element, {
      scrollHeight: { value: ROWS * HIGH + ABOVE },
      clientHeight: { value: VIEW },
      scrollTop: { value: 0, writable: true },
    });
  });
  afterEach(() => jest.useRealTimers());

  const list = (at = `list ${place}`) => {
    const scrollTo = jest.fn((y: number) => {
      mockSaid.push(`scroll to ${y}`);
      element.scrollTop = y;
      element.dispatchEvent(new Event('scroll'));
    });
    const scroller = { current: element };
    const months = [0, 50, 120].map((row) => ({ top: row * HIGH }));
    const given = {
      scroller,
      scrollTo,
      strip,
      timeline: { blocks } as unknown as Timeline,
      months,
      above: ABOVE,
      view: VIEW,
      width: 390,
      place: at,
    };
    return { scrollTo, ...renderHook(() => useScrolled(given)) };
  };
  const rows = (hook: ReturnType<typeof list>) => {
    const { shown } = hook.result.current;
    return [shown[0]!.top / HIGH, shown.at(-1)!.top / HIGH];
  };

  test('rows are kept ready beyond the window, and the month at its top is known', () => {
    const hook = list();
    expect(rows(hook)).toEqual([0, 13]);
    act(() => {
      element.scrollTop = ABOVE + 6000;
      element.dispatchEvent(new Event('scroll'));
      jest.advanceTimersByTime(20);
    });
    expect(rows(hook)).toEqual([53, 75]);
    expect(hook.result.current.month).toBe(1);
    expect([isShown(1000 + 60 * EACH), isShown(1000 + 53 * EACH)]).toEqual([true, false]);
  });

  test('a leap asks for what it will show before it scrolls, draws that alone, and what is near a moment later', () => {
    const hook = list();
    mockSaid.length = 0;
    act(() => hook.result.current.jumpTo(ABOVE + 12_000));
    expect(mockSaid).toEqual([
      'leave',
      `want ${1000 + 120 * EACH} to ${1000 + 128 * EACH - 1}`,
      `scroll to ${ABOVE + 12_000}`,
    ]);
    expect(leaveSoon).toHaveBeenCalled();
    expect(rows(hook)).toEqual([120, 128]);
    expect(hook.result.current.month).toBe(2);
    act(() => void jest.advanceTimersByTime(301));
    expect(rows(hook)).toEqual([113, 135]);
  });

  test('a leap beyond the end asks for the last pictures', () => {
    const hook = list();
    mockSaid.length = 0;
    act(() => hook.result.current.jumpTo(99_999_999));
    expect(mockSaid[1]).toBe(`want ${1000 + 192 * EACH} to ${1000 + ROWS * EACH - 1}`);
  });

  test('whoever comes back is where they were; the picture they looked at last is in sight', () => {
    const first = list('kept');
    act(() => {
      element.scrollTop = 5000;
      element.dispatchEvent(new Event('scroll'));
      jest.advanceTimersByTime(20);
    });
    first.unmount();
    const second = list('kept');
    expect(second.scrollTo).toHaveBeenLastCalledWith(5000);
    second.unmount();
    noteSeen(1000 + 150 * EACH);
    const third = list('kept');
    expect(third.scrollTo).toHaveBeenLastCalledWith(150 * HIGH + ABOVE - VIEW / 3);
  });
});
