import type { Answer, Api, RunShot } from '@gemmel/contract';
import { act, fireEvent, screen, waitFor } from '@testing-library/react';
import { refreshTopics } from '@/api/query';
import { RunPage } from '@/features/run/RunPage';
import { moves, show } from './house';

jest.mock('expo-router', () => {
  const { PlainLink, router } = jest.requireActual<{ PlainLink: unknown; router: unknown }>('./router');
  return { useRouter: () => router, usePathname: () => '/runs/7', Link: PlainLink };
});

const shot = (id: number, more: Partial<RunShot> = {}): RunShot =>
  ({
    id,
    sha: String(id).repeat(16),
    thumb: '',
    width: 4000,
    height: 3000,
    taken: `2026-05-16T12:00:0${id % 10}`,
    rating: 0,
    favourite: false,
    faces: [],
    against: [],
    ...more,
  }) as unknown as RunShot;
const run = (ids: readonly number[], best = ids[0]!): Answer<Api['run']> => ({
  id: 7,
  shots: ids.map((id) => shot(id)),
  best,
  reasons: [],
  names: {},
  event: 'Kite day',
  place: null,
});

describe('a run of shots', () => {
  let now: Answer<Api['run']>;
  const open = () =>
    show(<RunPage id={7} />, {
      'GET /api/runs/7': () => now,
      'GET /api/runs?limit=500': { runs: [], total: 1, doubles: 0 },
      'POST /api/runs/7/choose': { kept: 1, binned: 2 },
    });
  const chosen = (page: ReturnType<typeof open>) => page.of('POST', '/api/runs/7/choose').map((one) => one.body);
  const press = (key: string) => act(() => void fireEvent.keyDown(document.body, { key }));
  beforeEach(() => {
    now = run([11, 12, 13]);
    moves.length = 0;
  });

  test('what is proposed is kept, and with a number another one too', async () => {
    const page = open();
    await screen.findByText('Keep 1, bin the other 2');
    press('3');
    await screen.findByText('Keep 2, bin 1');
    press('1');
    await screen.findByText('Keep 3, bin the other 2');
    // The last one stays: of a run one is kept at least.
    press('3');
    fireEvent.click(screen.getByText('Keep 3, bin the other 2'));
    await waitFor(() => expect(chosen(page)).toEqual([{ keep: [13] }]));
    expect(moves).toEqual([{ way: 'replace', to: '/runs' }]);
  });

  test('somebody else takes a shot away that was looked at and picked here: the page stands, and keeps what there is', async () => {
    const page = open();
    await screen.findByText('Keep 1, bin the other 2');
    press('2');
    press('3');
    press('1');
    await screen.findByText('Keep 2, bin 1');
    now = run([11, 12], 12);
    act(() => refreshTopics('runs'));
    await screen.findByText('Keep 2, bin the other');
    // All that was picked has gone: then it is what is proposed.
    now = run([14, 11]);
    act(() => refreshTopics('runs'));
    fireEvent.click(await screen.findByText('Keep 1, bin the other'));
    await waitFor(() => expect(chosen(page)).toEqual([{ keep: [14] }]));
  });

  test('Escape leads back to all runs', async () => {
    open();
    await screen.findByText('Keep 1, bin the other 2');
    press('Escape');
    expect(moves).toEqual([{ way: 'navigate', to: '/runs' }]);
  });
});
