import { LOOK_AND_SAVE, TELLS_NOTHING, type Addition, type GuestShare } from '@gemmel/contract';
import { act, fireEvent, screen, waitFor } from '@testing-library/react';
import { Add } from '@/guest/Add';
import * as api from '@/guest/api';
import * as sending from '@/guest/sending';
import { show } from './house';

const share: GuestShare = {
  title: 'For Gran',
  from: 'Ilse Hallorin',
  until: '2026-12-24',
  bytes: 1,
  may: { ...LOOK_AND_SAVE, add: true },
  tells: TELLS_NOTHING,
  name: null,
  others: [],
  pictures: [],
  chapters: [],
};
const addition = (item: number, state: Addition['state']): Addition => ({
  item,
  name: `${item}.jpg`,
  state,
  picture: null,
});

describe('a guest who adds pictures', () => {
  let stopped: AbortSignal | null = null;
  let finish: () => void = () => undefined;
  let progress: (done: number) => void = () => undefined;
  let states: Addition['state'] = 'coming';
  let reads: jest.SpyInstance;
  beforeEach(() => {
    states = 'coming';
    stopped = null;
    reads = jest
      .spyOn(api, 'additions')
      .mockImplementation(() => Promise.resolve({ additions: [addition(1, states), addition(2, states)] }));
    jest.spyOn(api, 'announce').mockResolvedValue({ additions: [addition(1, 'coming'), addition(2, 'coming')] });
    jest.spyOn(sending, 'sendAll').mockImplementation((_files, told, signal) => {
      stopped = signal;
      progress = told;
      return new Promise<void>((resolve) => (finish = resolve));
    });
  });
  afterEach(() => {
    jest.useRealTimers();
    jest.restoreAllMocks();
  });
  const choose = async () => {
    const { unmount } = show(<Add share={share} onShown={() => undefined} onClose={() => undefined} />);
    await waitFor(() => expect(reads).toHaveBeenCalled());
    reads.mockResolvedValueOnce({ additions: [] });
    fireEvent.change(document.querySelector('input[type=file]')!, {
      target: { files: [1, 2].map((n) => new File([new Uint8Array(9)], `${n}.jpg`, { type: 'image/jpeg' })) },
    });
    await waitFor(() => expect(stopped).not.toBeNull());
    return unmount;
  };

  test('is not stopped by hearing how far it is, only by leaving', async () => {
    const unmount = await choose();
    for (const done of [3, 9, 12]) await act(async () => progress(done));
    expect(stopped!.aborted).toBe(false);
    unmount();
    expect(stopped!.aborted).toBe(true);
  });

  test('hears what became of them, also when asking went wrong once', async () => {
    jest.useFakeTimers();
    const unmount = await choose();
    await act(async () => finish());
    reads.mockRejectedValueOnce(new Error('no line'));
    await act(async () => jest.advanceTimersByTimeAsync(2500));
    states = 'waiting';
    await act(async () => jest.advanceTimersByTimeAsync(2500));
    expect(screen.getAllByText(/waits for a yes/).length).toBe(2);
    unmount();
  });

  test('does not ask a share again and again that says no', async () => {
    jest.useFakeTimers();
    const unmount = await choose();
    await act(async () => finish());
    reads.mockRejectedValue(new api.Refusal(null, 410));
    await act(async () => jest.advanceTimersByTimeAsync(2500));
    const asked = reads.mock.calls.length;
    await act(async () => jest.advanceTimersByTimeAsync(30_000));
    expect(reads.mock.calls.length).toBe(asked);
    unmount();
  });
});
