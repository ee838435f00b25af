import type { Batch } from '@gemmel/contract';
import { act, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { BatchCard } from '@/features/arrivals/BatchCard';
import { useSending } from '@/features/arrivals/sending';
import { show } from './house';

const batch = (more: Partial<Batch> = {}): Batch => ({
  id: 7,
  name: 'Harvest',
  state: 'done',
  counts: { total: 10, waiting: 0, received: 0, stored: 7, known: 2, skipped: 1, aside: 0, failed: 0 },
  share: 1,
  secondsLeft: null,
  bytes: 1000,
  createdAt: '2026-11-24T10:00:00Z',
  offer: 'open',
  albumId: null,
  leftOut: [
    { id: 1, path: 'Harvest/notes.txt', state: 'skipped', reason: 'is not a picture or clip' },
    { id: 2, path: 'Harvest/1.jpg', state: 'known', reason: 'is already here' },
  ],
  covers: [],
  ...more,
});
const coming = (more: Partial<Batch> = {}) =>
  batch({
    state: 'coming',
    share: 0.4,
    secondsLeft: 62,
    leftOut: [],
    counts: { total: 10, waiting: 0, received: 6, stored: 4, known: 0, skipped: 0, aside: 0, failed: 0 },
    ...more,
  });

describe('a batch', () => {
  beforeEach(() => useSending.setState({ sendings: {} }));
  const nothing = () => undefined;

  test('that is done says what was stored, what was here and what was left out, each with its reason', () => {
    show(<BatchCard batch={batch()} onAlbum={nothing} />);
    expect(screen.getByText('7 pictures stored · 2 here already · 1 left out')).toBeTruthy();
    expect(screen.queryByText('is already here')).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: /See what was left out, and why \(3\)/ }));
    expect(screen.getByText('Harvest/notes.txt')).toBeTruthy();
    expect(screen.getByText('is not a picture or clip')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Hide what was left out' }));
    expect(screen.queryByText('is already here')).toBeNull();
  });

  test('that is coming in says n of m, per cent and time left, and can be stopped', async () => {
    const { of } = show(<BatchCard batch={coming()} onAlbum={nothing} />, {
      'POST /api/batches/7/stop': { done: true },
    });
    expect(screen.getByText('4 of 10 · 40 % · about a minute left')).toBeTruthy();
    expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('40');
    expect(screen.queryByText('Make an album of it')).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: 'Stop' }));
    await waitFor(() => expect(of('POST', '/api/batches/7/stop')).toHaveLength(1));
  });

  test('that was stopped stays, and goes on at a press', async () => {
    const { of } = show(<BatchCard batch={coming({ state: 'stopped' })} onAlbum={nothing} />, {
      'POST /api/batches/7/resume': { done: true },
    });
    expect(screen.getByText('Stopped at 4 of 10 · 40 %. What is stored stays.')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Go on' }));
    await waitFor(() => expect(of('POST', '/api/batches/7/resume')).toHaveLength(1));
  });

  test('whose page was closed says so and how to go on', () => {
    const counts = { total: 10, waiting: 6, received: 0, stored: 4, known: 0, skipped: 0, aside: 0, failed: 0 };
    show(<BatchCard batch={coming({ counts })} onAlbum={nothing} />);
    expect(screen.getByText(/^6 files never arrived because the page was closed/)).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Stop' })).toBeNull();
  });

  test('whose connection broke says that nothing is lost; files that could not be read are named', () => {
    const counts = { total: 10, waiting: 6, received: 0, stored: 4, known: 0, skipped: 0, aside: 0, failed: 0 };
    show(<BatchCard batch={coming({ counts })} onAlbum={nothing} />);
    act(() =>
      useSending.setState({
        sendings: {
          7: {
            batch: 7,
            waiting: [],
            total: 10,
            sent: 4,
            state: 'lost',
            unread: [{ path: 'Harvest/locked.jpg', reason: 'could not be read' }],
          },
        },
      }),
    );
    expect(screen.getByText('The connection broke at 4 of 10 · 40 %. Nothing is lost.')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Go on' })).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: /See what was left out/ }));
    expect(screen.getByText('Harvest/locked.jpg')).toBeTruthy();
  });

  test('offers an album under its own name, which can be changed', async () => {
    const opened: number[] = [];
    const { of } = show(<BatchCard batch={batch()} onAlbum={(id) => opened.push(id)} />, {
      'POST /api/batches/7/album': { albumId: 31 },
    });
    fireEvent.click(screen.getByRole('button', { name: 'Make an album of it' }));
    const name = screen.getByLabelText('Name of the album') as HTMLInputElement;
    expect(name.value).toBe('Harvest');
    fireEvent.change(name, { target: { value: 'Grapes 2026' } });
    fireEvent.click(screen.getByRole('button', { name: 'Make the album' }));
    await waitFor(() => expect(opened).toEqual([31]));
    expect(of('POST', '/api/batches/7/album')[0]!.body).toEqual({ name: 'Grapes 2026' });
    expect(screen.getByRole('status').textContent).toContain('The pictures stay where they are.');
  });

  test('takes a no to its offer, and a refusal by the server is told in its words', async () => {
    const { of } = show(<BatchCard batch={batch()} onAlbum={nothing} />, { 'POST /api/batches/7/album': 409 });
    fireEvent.click(screen.getByRole('button', { name: 'No album of Harvest' }));
    await waitFor(() => expect(of('POST', '/api/batches/7/album')[0]!.body).toEqual({ name: null }));
    await waitFor(() =>
      expect(within(screen.getByRole('status')).getByText('The server says no to /api/batches/7/album.')).toBeTruthy(),
    );
  });

  test('that has its album leads to it', () => {
    const opened: number[] = [];
    show(<BatchCard batch={batch({ offer: 'made', albumId: 12 })} onAlbum={(id) => opened.push(id)} />);
    expect(screen.queryByText('Make an album of it')).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: 'Open its album' }));
    expect(opened).toEqual([12]);
  });
});
