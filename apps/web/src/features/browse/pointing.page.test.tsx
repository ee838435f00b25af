import { layoutTimeline, places, plainStrip, rowOf } from '@gemmel/core';
import { act, fireEvent, render } from '@testing-library/react';
import { useRef, type KeyboardEvent } from 'react';
import { useCarrying } from '@/state/carrying';
import { jumpTo } from '@/state/jump';
import { usePile } from '@/state/pile';
import { useOpenRuns } from '@/state/stacks';
import { useTileStore } from '@/state/tiles';
import { GAP } from './TileRow';
import { useChoosing } from './useChoosing';
import { useFocus } from './useFocus';

jest.mock('@/api/client', () => ({ ...jest.requireActual<object>('@/api/client'), call: jest.fn(async () => ({})) }));
const mockSaid: unknown[] = [];
jest.mock('@/features/said/acts', () => ({
  keyAct: (key: string, ids: readonly number[], favourite: boolean) => {
    if (!/^[0-5h]$/.test(key)) return false;
    mockSaid.push([key, [...ids], favourite]);
    return true;
  },
}));

const N = 30;
const ids = Array.from({ length: N }, (_, i) => 101 + i);
/** Wide and high ones by turns, so that rows hold different numbers of them. */
const strip = plainStrip(
  ids,
  ids.map((_, i) => [1.5, 0.75, 1, 1.8][i % 4]!),
);
const { blocks } = layoutTimeline(strip, {
  width: 600,
  rowHeight: 110,
  gap: GAP,
  month: 0,
  event: 0,
  day: 0,
  after: 0,
});
const rows = blocks.filter((one) => one.kind === 'row');
const boxOf = (index: number) => {
  const row = rows[rowOf(blocks, index)]!;
  const cell = places(strip.ratios, row, GAP)[index - row.from]!;
  return { ...cell, top: row.top, height: row.height };
};

/** What the page was asked to do: open a picture, show the menu of some, scroll. */
let done: unknown[];

function Page({ wide, carried }: { wide: boolean; carried?: (album: number, ids: readonly number[]) => void }) {
  const [scroller, page] = [useRef<HTMLDivElement>(null), useRef<HTMLDivElement>(null)];
  const { focus, setFocus, keys } = useFocus({
    strip,
    blocks,
    scroller,
    scrollTo: (y) => done.push(['scroll', Math.round(y)]),
    page,
    above: 50,
    view: 400,
    shown: blocks,
    open: (index) => done.push(['open', index]),
    sheet: (key, some) => key === 't' && Boolean(done.push(['tags', some])),
  });
  const { handlers, band } = useChoosing({
    strip,
    blocks,
    gap: GAP,
    wide,
    scroller,
    page,
    open: (index) => done.push(['open', index]),
    focusAt: setFocus,
    carried,
    menu: (some) => done.push(['menu', [...some]]),
  });
  return (
    <div ref={scroller} data-band={JSON.stringify(band)}>
      <div ref={page} onKeyDown={(event: KeyboardEvent) => keys(event)} {...handlers}>
        {ids.map((id, i) => (
          <button key={id} className="tile" data-index={i} data-focus={focus === i}>
            <span data-choose="" />
            {i === 4 ? <span data-stack="9" /> : null}
          </button>
        ))}
        <div data-drop="77" />
      </div>
    </div>
  );
}

const open = (wide: boolean, carried?: (album: number, ids: readonly number[]) => void) => {
  const { container } = render(<Page wide={wide} {...(carried && { carried })} />);
  const tile = (index: number) => container.querySelector<HTMLElement>(`[data-index="${index}"]`)!;
  const marked = () => Number(container.querySelector<HTMLElement>('[data-focus="true"]')?.dataset['index']);
  return { container, tile, marked, mark: (index: number) => tile(index).querySelector('[data-choose]')! };
};
const pile = () => usePile.getState().ids;
/** What a pointer does on a picture; this document knows no pointers of its own. */
const point = (on: Element, type: string, more: object) =>
  void fireEvent(on, Object.assign(new Event(type, { bubbles: true, cancelable: true }), { button: 0, ...more }));
/** A finger goes down, and up again after a while. */
function hold(on: Element, ms: number, moved = 0): void {
  point(on, 'pointerdown', { pointerType: 'touch', clientX: 10, clientY: 10 });
  if (moved) point(on, 'pointermove', { pointerType: 'touch', clientX: 10, clientY: 10 + moved });
  act(() => void jest.advanceTimersByTime(ms));
  point(on, 'pointerup', { pointerType: 'touch' });
  fireEvent.click(on, { detail: 1 });
}
const pointer = (type: string, x: number, y: number) =>
  act(() => {
    window.dispatchEvent(Object.assign(new Event(type), { clientX: x, clientY: y }));
    jest.advanceTimersByTime(20);
  });

beforeEach(() => {
  jest.useFakeTimers();
  done = [];
  mockSaid.length = 0;
  usePile.setState({ ids: [], has: new Set(), choosing: false });
  useOpenRuns.setState(useOpenRuns.getInitialState());
  useTileStore.setState({ tiles: new Map(), version: 0 });
});
afterEach(() => jest.useRealTimers());

describe('with a finger', () => {
  test('a tap opens; holding begins to choose, and taps choose from then on', () => {
    const { tile } = open(false);
    hold(tile(3), 100);
    expect([done, pile()]).toEqual([[['open', 3]], []]);
    hold(tile(5), 600);
    expect([pile(), usePile.getState().choosing]).toEqual([[106], true]);
    hold(tile(8), 100);
    hold(tile(5), 100);
    expect(pile()).toEqual([109]);
    // Whoever scrolls with the finger on a picture chooses nothing.
    hold(tile(9), 600, 40);
    expect(done).toEqual([['open', 3]]);
  });

  test('holding one that is chosen opens the menu of all that are', () => {
    const { tile } = open(false);
    act(() => usePile.getState().add([102, 104]));
    hold(tile(3), 600);
    expect(done).toEqual([['menu', [102, 104]]]);
    expect(pile()).toEqual([102, 104]);
  });

  test('a long press that a browser tells as a wish for a menu opens none of its own', () => {
    const { tile } = open(false);
    expect(fireEvent.contextMenu(tile(3))).toBe(false);
    expect(done).toEqual([]);
  });
});

describe('with a mouse', () => {
  test('the mark and Ctrl choose one, shift chooses all in between, whichever way', () => {
    const { tile, mark, marked } = open(true);
    fireEvent.click(mark(10), { detail: 1 });
    fireEvent.click(tile(12), { detail: 1, ctrlKey: true });
    expect(pile()).toEqual([111, 113]);
    fireEvent.click(tile(9), { detail: 1, shiftKey: true });
    expect([...pile()].sort()).toEqual([110, 111, 112, 113]);
    fireEvent.click(tile(9), { detail: 1, metaKey: true });
    expect([...pile()].sort()).toEqual([111, 112, 113]);
    expect([marked(), done]).toEqual([9, []]);
  });

  test('a right click asks for the menu of that picture, or of all chosen when it is one of them', () => {
    const { tile } = open(true);
    fireEvent.contextMenu(tile(2));
    act(() => usePile.getState().add([103, 110]));
    fireEvent.contextMenu(tile(2));
    fireEvent.contextMenu(tile(4));
    expect(done).toEqual([
      ['menu', [103]],
      ['menu', [103, 110]],
      ['menu', [105]],
    ]);
  });

  test('the number on a run opens the run, and not the picture', () => {
    const { tile } = open(true);
    fireEvent.click(tile(4).querySelector('[data-stack]')!, { detail: 1 });
    expect([done, useOpenRuns.getState().open.has(9)]).toEqual([[], true]);
  });

  test('a band takes what it touches, and the click that follows opens nothing', () => {
    const { container, tile } = open(true);
    const [a, b] = [boxOf(1), boxOf(rows[1]!.from + 1)];
    point(tile(1), 'pointerdown', { pointerType: 'mouse', clientX: a.left + 5, clientY: a.top + 5 });
    pointer('pointermove', a.left + 6, a.top + 6);
    expect(container.firstElementChild!.getAttribute('data-band')).toBe('null');
    pointer('pointermove', b.left + b.width - 5, b.top + 20);
    expect(container.firstElementChild!.getAttribute('data-band')).toContain('"width"');
    act(() => void window.dispatchEvent(new Event('pointerup')));
    fireEvent.click(tile(1), { detail: 1 });
    const [left, right] = [a.left + 5, b.left + b.width - 5];
    const touched = ids.filter((_, i) => {
      const box = boxOf(i);
      return i < rows[2]!.from && box.left < Math.max(left, right) && box.left + box.width > Math.min(left, right);
    });
    expect(touched.length).toBeGreaterThan(1);
    expect(pile()).toEqual(touched);
    expect(done).toEqual([]);
    // The next click is one again.
    act(() => void jest.advanceTimersByTime(10));
    fireEvent.click(tile(20), { detail: 1 });
    expect(done).toEqual([['open', 20]]);
  });

  test('a press that hardly moves is a click', () => {
    const { tile } = open(true);
    point(tile(2), 'pointerdown', { pointerType: 'mouse', clientX: 50, clientY: 50 });
    pointer('pointermove', 54, 53);
    act(() => void window.dispatchEvent(new Event('pointerup')));
    fireEvent.click(tile(2), { detail: 1 });
    expect([done, pile()]).toEqual([[['open', 2]], []]);
  });

  describe('what is chosen', () => {
    let over: Element | null;
    beforeEach(() => {
      over = null;
      document.elementFromPoint = () => over;
    });
    const carry = (drop: jest.Mock) => {
      const { container, tile } = open(true, drop);
      act(() => usePile.getState().add([103, 105]));
      point(tile(2), 'pointerdown', { pointerType: 'mouse', clientX: 50, clientY: 50 });
      pointer('pointermove', 54, 50);
      expect(useCarrying.getState().pictures).toBeNull();
      over = container.querySelector('[data-drop]');
      pointer('pointermove', 90, 80);
      expect(useCarrying.getState().pictures).toEqual({ ids: [103, 105], x: 90, y: 80, over: 77 });
      return tile;
    };

    test('is carried to an album, and is not opened by that', () => {
      const drop = jest.fn();
      const tile = carry(drop);
      pointer('pointerup', 90, 80);
      fireEvent.click(tile(2), { detail: 1 });
      expect(drop.mock.calls).toEqual([[77, [103, 105]]]);
      expect([useCarrying.getState().pictures, done, pile()]).toEqual([null, [], [103, 105]]);
    });

    test.each([
      ['let go beside every album', () => ((over = null), pointer('pointerup', 300, 300))],
      ['called off with Escape', () => void fireEvent.keyDown(window, { key: 'Escape' })],
      ['called off by the browser', () => pointer('pointercancel', 90, 80)],
    ])('%s, it goes nowhere', (_, how) => {
      const drop = jest.fn();
      carry(drop);
      how();
      pointer('pointerup', 90, 80);
      expect([drop.mock.calls, useCarrying.getState().pictures, pile()]).toEqual([[], null, [103, 105]]);
    });
  });
});

describe('with keys', () => {
  const press = (tile: (index: number) => HTMLElement, at: number, key: string, more = {}) =>
    !fireEvent.keyDown(tile(at), { key, ...more });

  test('arrows go to the neighbour, up and down to what lies there, and no further than the ends', () => {
    const { tile, marked } = open(true);
    press(tile, 0, 'ArrowLeft');
    expect(marked()).toBe(0);
    press(tile, 0, 'ArrowUp');
    expect(marked()).toBe(0);
    press(tile, 0, 'ArrowRight');
    press(tile, 1, 'ArrowDown');
    const [from, to] = [boxOf(1), boxOf(marked())];
    expect(to.top).toBe(rows[1]!.top);
    const middle = from.left + from.width / 2;
    expect([to.left <= middle + GAP, to.left + to.width >= middle]).toEqual([true, true]);
    expect(document.activeElement).toBe(tile(marked()));
    press(tile, marked(), 'End');
    expect(marked()).toBe(N - 1);
    press(tile, N - 1, 'ArrowRight');
    press(tile, N - 1, 'ArrowDown');
    expect(marked()).toBe(N - 1);
    press(tile, N - 1, 'Home');
    expect(marked()).toBe(0);
  });

  test('going down every row and up again passes each row once', () => {
    const { tile, marked } = open(true);
    const seen: number[] = [0];
    for (let i = 1; i < rows.length; i++) {
      press(tile, marked(), 'ArrowDown');
      seen.push(rowOf(blocks, marked()));
    }
    expect(seen).toEqual(rows.map((_, i) => i));
    for (let i = 1; i < rows.length; i++) press(tile, marked(), 'ArrowUp');
    expect(rowOf(blocks, marked())).toBe(0);
  });

  test('with shift they choose on their way', () => {
    const { tile, marked } = open(true);
    press(tile, 0, 'ArrowRight', { shiftKey: true });
    press(tile, 1, 'ArrowDown', { shiftKey: true });
    expect(pile()).toEqual(ids.slice(0, marked() + 1));
  });

  test('what is out of sight is brought into it', () => {
    const { tile, marked } = open(true);
    press(tile, 0, 'End');
    const box = boxOf(marked());
    expect(done).toEqual([['scroll', Math.round(box.top + 50 + box.height - 400 + 130)]]);
  });

  test('Enter and the space bar open; p and x choose; Escape ends choosing', () => {
    const { tile } = open(true);
    press(tile, 0, 'ArrowRight');
    press(tile, 1, 'Enter');
    press(tile, 1, ' ');
    expect(done).toEqual([
      ['open', 1],
      ['open', 1],
    ]);
    press(tile, 1, 'p');
    expect(pile()).toEqual([102]);
    press(tile, 1, 'x');
    expect(pile()).toEqual([]);
    act(() => usePile.getState().setChoosing(true));
    expect(press(tile, 1, 'Escape')).toBe(true);
    expect(usePile.getState().choosing).toBe(false);
    // Then it is somebody else's key.
    expect(press(tile, 1, 'Escape')).toBe(false);
  });

  test('what is said with a key is said of all chosen ones, if this is one of them, and of it alone otherwise', () => {
    const { tile } = open(true);
    act(() => useTileStore.setState({ tiles: new Map([[101, { favourite: true, run: 9 } as never]]) }));
    act(() => usePile.getState().add([101, 105]));
    press(tile, 0, '4');
    press(tile, 0, 'h');
    press(tile, 0, 'ArrowRight');
    press(tile, 1, '2');
    press(tile, 1, 't');
    expect(mockSaid).toEqual([
      ['4', [101, 105], true],
      ['h', [101, 105], true],
      ['2', [102], undefined],
    ]);
    expect(done.filter((one) => (one as unknown[])[0] === 'tags')).toEqual([['tags', [102]]]);
    // A key that means nothing here is left to the browser.
    expect(press(tile, 1, 'q')).toBe(false);
    press(tile, 1, 'Home');
    press(tile, 0, 'r');
    expect(useOpenRuns.getState().open.has(9)).toBe(true);
  });

  test('keys with Ctrl, and keys in a field, are none of its own', () => {
    const { tile, marked } = open(true);
    expect(press(tile, 0, 'ArrowRight', { ctrlKey: true })).toBe(false);
    const field = document.createElement('input');
    tile(0).append(field);
    expect(!fireEvent.keyDown(field, { key: 'ArrowRight' })).toBe(false);
    expect(marked()).toBe(0);
  });

  test('whoever comes back to a picture finds it in sight, and the keys with it', () => {
    const { tile, marked } = open(true);
    act(() => void jumpTo(120));
    expect(marked()).toBe(19);
    expect(document.activeElement).toBe(tile(19));
    act(() => void jumpTo(9999));
    expect(marked()).toBe(19);
  });
});
