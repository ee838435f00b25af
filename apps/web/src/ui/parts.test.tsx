import { act, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { say, useToast } from '@/state/toast';
import { Button, Chip, IconButton } from './Button';
import { DoubleBar } from './DoubleBar';
import { Mishap } from './Mishap';
import { Ribbon } from './Ribbon';
import { Sheet } from './Sheet';
import { Stars } from './Stars';
import { Toast } from './Toast';
import { Words } from './Words';

beforeAll(() => {
  globalThis.ResizeObserver = class {
    observe() {}
    unobserve() {}
    disconnect() {}
  };
});

describe('parts', () => {
  test('the double bar is a mark, or tells how far something is', () => {
    const { rerender } = render(<DoubleBar />);
    expect(screen.queryByRole('progressbar')).toBeNull();
    rerender(<DoubleBar share={0.42} label="Walk" />);
    const bar = screen.getByRole('progressbar', { name: 'Walk' });
    expect(bar.getAttribute('aria-valuenow')).toBe('42');
    rerender(<DoubleBar share={7} label="Walk" />);
    expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('100');
  });

  test('stars: pressing the one that is set takes the rating away', () => {
    const given: number[] = [];
    render(<Stars value={3} onChange={(n) => given.push(n)} />);
    expect(screen.getByRole('radio', { name: '3 stars' }).getAttribute('aria-checked')).toBe('true');
    fireEvent.click(screen.getByRole('radio', { name: '5 stars' }));
    fireEvent.click(screen.getByRole('radio', { name: '3 stars' }));
    fireEvent.click(screen.getByRole('radio', { name: '1 star' }));
    expect(given).toEqual([5, 0, 1]);
  });

  test('a chip has two acts: what it is about, and away with it', () => {
    const done: string[] = [];
    render(<Chip label="kites" onPress={() => done.push('press')} onAway={() => done.push('away')} />);
    fireEvent.click(screen.getByRole('button', { name: 'kites' }));
    fireEvent.click(screen.getByRole('button', { name: 'Remove kites' }));
    expect(done).toEqual(['press', 'away']);
  });

  test('buttons say what they do, and do nothing while they cannot', () => {
    let n = 0;
    render(
      <>
        <Button label="Keep" disabled onPress={() => n++} />
        <IconButton name="heart" label="Give it a heart" pressed={false} onPress={() => n++} />
      </>,
    );
    fireEvent.click(screen.getByRole('button', { name: 'Keep' }));
    expect(n).toBe(0);
    const heart = screen.getByRole('button', { name: 'Give it a heart' });
    expect(heart.getAttribute('aria-pressed')).toBe('false');
    fireEvent.click(heart);
    expect(n).toBe(1);
  });

  test('titles and headings say so to screen readers', () => {
    render(
      <>
        <Words kind="title">Albums</Words>
        <Words kind="heading">Filled by hand</Words>
        <Words>plain</Words>
      </>,
    );
    expect(screen.getByRole('heading', { level: 1 }).textContent).toBe('Albums');
    expect(screen.getByRole('heading', { level: 2 }).textContent).toBe('Filled by hand');
    expect(screen.getAllByRole('heading')).toHaveLength(2);
  });

  test('a sheet takes the focus and gives it back, words stand above it; Escape and the ground put it away', () => {
    function Page() {
      const [open, setOpen] = useState(false);
      return (
        <>
          <button onClick={() => setOpen(true)}>Open</button>
          <Toast />
          {open ? (
            <Sheet title="Name of a new album" onClose={() => setOpen(false)}>
              <input aria-label="Name" />
              <button>Make</button>
            </Sheet>
          ) : null}
        </>
      );
    }
    render(<Page />);
    const opener = screen.getByText('Open');
    opener.focus();
    fireEvent.click(opener);
    expect(screen.getByRole('dialog', { name: 'Name of a new album' })).toBeTruthy();
    expect(document.activeElement).toBe(screen.getByLabelText('Name'));
    fireEvent.keyDown(document.activeElement!, { key: 'Escape' });
    expect(screen.queryByRole('dialog')).toBeNull();
    expect(document.activeElement).toBe(opener);
    fireEvent.click(opener);
    act(() => say('Not yet.'));
    expect(screen.getByRole('dialog').contains(screen.getByText('Not yet.'))).toBe(true);
    fireEvent.mouseDown(screen.getByText('Make'));
    expect(screen.queryByRole('dialog')).toBeTruthy();
    fireEvent.mouseDown(screen.getByRole('dialog'));
    expect(screen.queryByRole('dialog')).toBeNull();
  });

  test('the toast says what was done, takes it back once, and goes by itself', async () => {
    jest.useFakeTimers();
    let undone = 0;
    render(<Toast />);
    act(() => say('3 pictures tagged', { label: 'Undo', act: async () => undone++ }));
    expect(screen.getByRole('status').textContent).toContain('3 pictures tagged');
    fireEvent.click(screen.getByRole('button', { name: 'Undo' }));
    expect(undone).toBe(1);
    expect(screen.queryByText('3 pictures tagged')).toBeNull();
    act(() => say('Link copied'));
    expect(screen.queryByRole('button', { name: 'Undo' })).toBeNull();
    act(() => void jest.advanceTimersByTime(4600));
    expect(useToast.getState().note).toBeNull();
    jest.useRealTimers();
  });

  test('the ribbon is a slider over the months, and tells the one in view', () => {
    const jumps: number[] = [];
    const months = [
      { month: '2026-11', pictures: 27 },
      { month: '2026-10', pictures: 90 },
      { month: null, pictures: 3 },
    ];
    const { rerender } = render(<Ribbon months={months} at={0} onJump={(i) => jumps.push(i)} />);
    const ribbon = screen.getByRole('slider', { name: 'Month' });
    expect(ribbon.getAttribute('aria-valuetext')).toBe('November 2026');
    fireEvent.keyDown(ribbon, { key: 'ArrowDown' });
    fireEvent.keyDown(ribbon, { key: 'End' });
    fireEvent.keyDown(ribbon, { key: 'ArrowUp' });
    expect(jumps).toEqual([1, 2, 0]);
    rerender(<Ribbon months={months} at={2} onJump={(i) => jumps.push(i)} />);
    expect(ribbon.getAttribute('aria-valuetext')).toBe('No date');
  });

  test('a page that breaks says so in its place; what stands around it stays, and another page begins anew', () => {
    jest.spyOn(console, 'error').mockImplementation(() => undefined);
    const Broken = (): never => {
      throw new Error('a part could not be fetched');
    };
    const { rerender } = render(
      <>
        <p>The house</p>
        <Mishap at="/one">
          <Broken />
        </Mishap>
      </>,
    );
    expect(screen.getByRole('alert').textContent).toContain('Nothing is lost; load it again.');
    expect(screen.getByText('The house')).toBeTruthy();
    expect(document.body.textContent).not.toContain('fetched');
    rerender(
      <>
        <p>The house</p>
        <Mishap at="/two">
          <p>Another page</p>
        </Mishap>
      </>,
    );
    expect(screen.getByText('Another page')).toBeTruthy();
  });
});
