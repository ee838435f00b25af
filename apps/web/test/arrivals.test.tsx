import type { Batch } from '@gemmel/contract';
import { act, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { BatchCard } from '@/features/arrivals/BatchCard';
import { useSending } from '@/features/arrivals/sending';
import { moves, show } from './house';

jest.mock('expo-router', () => {
  const { PlainLink, router } = jest.requireActual('./router');
  return { useRouter: () => router, usePathname: () => '/browse', Link: PlainLink };
});

const batch = (more: Partial<Batch> = {}): Batch => ({
  id: 7,
  name: 'Harvest',
  named: 'given',
  state: 'done',
  way: 'browser',
  guest: null,
  counts: {
    total: 10,
    waiting: 0,
    received: 0,
    stored: 7,
    known: 2,
    mended: 0,
    skipped: 1,
    aside: 0,
    failed: 0,
    beside: 0,
  },
  share: 1,
  secondsLeft: null,
  bytes: 1000,
  bytesDone: 1000,
  bytesPerSecond: null,
  folders: [],
  conflicts: 0,
  binned: 0,
  createdAt: '2026-11-24T10:00:00Z',
  offer: 'open',
  albums: [],
  leftOut: [
    { id: 1, path: 'Harvest/notes.txt', state: 'skipped', reason: { code: 'not-a-picture', params: {} } },
    { id: 2, path: 'Harvest/1.jpg', state: 'known', reason: { code: 'already-here', params: {} } },
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
    counts: {
      total: 10,
      waiting: 0,
      received: 6,
      stored: 4,
      known: 0,
      mended: 0,
      skipped: 0,
      aside: 0,
      failed: 0,
      beside: 0,
    },
    ...more,
  });

describe('a batch', () => {
  beforeEach(() => useSending.setState({ sendings: {} }));
  const nothing = () => undefined;

  test('that put an original right which had been damaged here says so', () => {
    const counts = { ...batch().counts, stored: 0, skipped: 0, mended: 1 };
    show(<BatchCard batch={batch({ counts })} full={false} again={nothing} />);
    expect(screen.getByText('2 already here · 1 original repaired')).toBeTruthy();
  });

  test('that is done says what was stored, what was here and what was left out, and leads to every file', () => {
    show(<BatchCard batch={batch()} full={false} again={nothing} />);
    expect(screen.getByText('7 pictures stored · 2 already here · 1 left out')).toBeTruthy();
    expect(screen.getByText('See every file: 1 left out, and why')).toBeTruthy();
  });

  test('that is coming in says n of m, per cent and time left, how fast, and can be paused', async () => {
    const { of } = show(<BatchCard batch={coming({ bytesPerSecond: 3_200_000 })} full={false} again={nothing} />, {
      'POST /api/batches/7/stop': { done: true },
    });
    expect(screen.getByText('4 of 10 · 40% · 3.2 MB/s · about a minute left')).toBeTruthy();
    expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('40');
    expect(screen.queryByText('Make an album')).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: 'Pause' }));
    await waitFor(() => expect(of('POST', '/api/batches/7/stop')).toHaveLength(1));
  });

  test('that was paused stays, and goes on at a press', async () => {
    const { of } = show(<BatchCard batch={coming({ state: 'stopped' })} full={false} again={nothing} />, {
      'POST /api/batches/7/resume': { done: true },
    });
    expect(screen.getByText('Paused at 4 of 10 · 40%. Everything stored stays.')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Continue' }));
    await waitFor(() => expect(of('POST', '/api/batches/7/resume')).toHaveLength(1));
  });

  test('whose page was closed says so, can be chosen again, or be ended where it is', async () => {
    const counts = {
      total: 10,
      waiting: 6,
      received: 0,
      stored: 4,
      known: 0,
      mended: 0,
      skipped: 0,
      aside: 0,
      failed: 0,
      beside: 0,
    };
    const again = jest.fn();
    const { of } = show(<BatchCard batch={coming({ counts })} full={false} again={again} />, {
      'POST /api/batches/7/give-up': { done: true },
    });
    expect(screen.getByText(/^6 files never arrived because the page was closed/)).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Pause' })).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: 'Choose it again' }));
    expect(again).toHaveBeenCalledTimes(1);
    fireEvent.click(screen.getByRole('button', { name: 'Finish without the rest' }));
    fireEvent.click(within(screen.getByRole('dialog')).getByRole('button', { name: 'Finish without the rest' }));
    await waitFor(() => expect(of('POST', '/api/batches/7/give-up')).toHaveLength(1));
  });

  test('whose line broke goes on by itself; files that could not be read are counted', () => {
    const counts = {
      total: 10,
      waiting: 6,
      received: 0,
      stored: 4,
      known: 0,
      mended: 0,
      skipped: 0,
      aside: 0,
      failed: 0,
      beside: 0,
    };
    show(<BatchCard batch={coming({ counts })} full={false} again={nothing} />);
    act(() =>
      useSending.setState({
        sendings: {
          7: {
            state: 'lost',
            total: 10,
            done: 4,
            checked: 4,
            bytes: 1000,
            bytesDone: 400,
            bytesPerSecond: null,
            secondsLeft: null,
            unread: [{ path: 'Harvest/locked.jpg', reason: { code: 'unreadable', params: {} } }],
          },
        },
      }),
    );
    expect(screen.getByText('Connection lost at 4 of 10 · 40%. It continues by itself.')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Continue' })).toBeTruthy();
    expect(screen.getByText('See every file: 1 left out, and why')).toBeTruthy();
  });

  test('offers an album under its own name, which can be changed', async () => {
    moves.length = 0;
    const { of } = show(<BatchCard batch={batch()} full={false} again={nothing} />, {
      'POST /api/batches/7/album': { albumId: 31 },
    });
    fireEvent.click(screen.getByRole('button', { name: 'Make an album' }));
    const name = screen.getByLabelText('Name of the album') as HTMLInputElement;
    expect(name.value).toBe('Harvest');
    fireEvent.change(name, { target: { value: 'Grapes 2026' } });
    fireEvent.click(screen.getByRole('button', { name: 'Make album' }));
    await waitFor(() => expect(of('POST', '/api/batches/7/album')[0]!.body).toEqual({ name: 'Grapes 2026' }));
    // Making it is no reason to leave what has just come in.
    expect(moves).toEqual([]);
    await waitFor(() => expect(screen.getByRole('status').textContent).toContain('The pictures stay where they are.'));
  });

  test('of several folders may become one album for each', async () => {
    const folders = ['Lake', 'Hill'].map((name, i) => ({ folder: `Harvest/${name}`, pictures: i + 3 }));
    const { of } = show(<BatchCard batch={batch({ folders })} full={false} again={nothing} />, {
      'POST /api/batches/7/folder-albums': { albumIds: [4, 5] },
    });
    fireEvent.click(screen.getByRole('button', { name: 'Make an album' }));
    expect(screen.getByText('Lake (3), Hill (4)')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'One album for each of 2 folders' }));
    await waitFor(() => expect(of('POST', '/api/batches/7/folder-albums')).toHaveLength(1));
    expect(screen.getByRole('status').textContent).toContain('2 albums made, one for each folder');
  });

  test('that waits for room on the disk says so', () => {
    show(<BatchCard batch={coming()} full again={nothing} />);
    expect(screen.getByText('Disk full at 4 of 10 · 40%. It continues by itself when there is space.')).toBeTruthy();
  });

  test('takes a no to its offer, and a refusal by the server is told in its words', async () => {
    const { of } = show(<BatchCard batch={batch()} full={false} again={nothing} />, {
      'POST /api/batches/7/album': 409,
    });
    fireEvent.click(screen.getByRole('button', { name: 'No album for Harvest' }));
    await waitFor(() => expect(of('POST', '/api/batches/7/album')[0]!.body).toEqual({ name: null }));
    await waitFor(() =>
      expect(within(screen.getByRole('status')).getByText('The server says no to /api/batches/7/album.')).toBeTruthy(),
    );
  });

  test('that has its album leads to it', () => {
    moves.length = 0;
    show(
      <BatchCard
        batch={batch({ offer: 'made', albums: [{ id: 12, name: 'Harvest' }] })}
        full={false}
        again={nothing}
      />,
    );
    expect(screen.queryByText('Make an album')).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: 'Open its album' }));
    expect(moves).toMatchObject([{ to: { params: { id: 12 } } }]);
  });
});
