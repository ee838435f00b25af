import { act, fireEvent, screen, waitFor } from '@testing-library/react';
import { moves, show } from './house';

import type { Act } from '@gemmel/contract';
import { call } from '@/api/client';
import { act as perform, redoLast, sayUndone, undoLast, useSteps } from '@/state/acts';
import { sayDiaryDay, WhatWasDone } from '@/features/acts/WhatWasDone';

const params: { picture?: string } = {};
jest.mock('expo-router', () => {
  const { router, PlainLink } = jest.requireActual('./router') as typeof import('./router');
  return { router, useRouter: () => router, Link: PlainLink, useLocalSearchParams: () => params };
});

const did = (more: Partial<Act> = {}): Act => ({
  id: 7,
  kind: 'say',
  words: { rating: 4 },
  by: { id: 1, name: 'Ilse' },
  at: '2026-05-16T12:07:00Z',
  pictures: 12,
  shown: [{ id: 3, sha: 'ab' }],
  undoable: true,
  undone: null,
  ...more,
});
const ME = { 'GET /api/me': { signedIn: true, token: 't', member: { id: 1, name: 'Ilse', part: 'keeper' } } };
const MEMBERS = [
  { id: 1, name: 'Ilse' },
  { id: 2, name: 'Marten' },
];

describe('what was done', () => {
  test('a diary by day, of everybody or one member, each entry with its way back', async () => {
    const { of, asked } = show(<WhatWasDone />, {
      ...ME,
      'GET /api/acts': {
        acts: [
          did(),
          did({ id: 6, by: { id: 2, name: 'Marten' }, kind: 'fill album', words: { name: 'Gotland', n: 2 } }),
          did({
            id: 5,
            at: '2026-05-14T09:00:00Z',
            undone: { act: 8, by: 'Marten', at: '2026-05-14T09:05:00Z' },
            undoable: false,
            words: { rating: 2 },
          }),
          did({
            id: 4,
            at: '2026-03-01T09:00:00Z',
            undoable: false,
            by: null,
            kind: 'number',
            words: { name: 'x', to: 'x 001.jpg' },
          }),
        ],
        before: null,
        members: MEMBERS,
      },
      'GET /api/acts?member=2': { acts: [], before: null, members: MEMBERS },
    });
    expect(await screen.findByText('Gave ★★★★ to 12 pictures')).toBeTruthy();
    expect(screen.getByText('Added 2 pictures to “Gotland”')).toBeTruthy();
    expect(screen.getByText('Numbered 12 files, the first “x 001.jpg”')).toBeTruthy();
    expect(screen.getByRole('heading', { name: 'Saturday 16 May 2026' })).toBeTruthy();
    expect(screen.getByText(/^You · .* · undone by Marten/)).toBeTruthy();
    expect(screen.getAllByRole('button', { name: 'Undo' })).toHaveLength(2);
    fireEvent.click(screen.getAllByRole('button', { name: 'Undo' })[0]!);
    await waitFor(() => expect(of('POST', '/api/acts/7/undo')).toHaveLength(1));
    fireEvent.click(screen.getByRole('button', { name: 'Redo' }));
    await waitFor(() => expect(of('POST', '/api/acts/8/undo')).toHaveLength(1));
    fireEvent.click(screen.getByRole('button', { name: 'Marten' }));
    expect(await screen.findByText('Nothing yet')).toBeTruthy();
    expect(asked.some((a) => a.path === '/api/acts?member=2')).toBe(true);
  });

  test('of one picture', async () => {
    params.picture = '3';
    show(<WhatWasDone />, {
      ...ME,
      'GET /api/acts?picture=3': { acts: [did({ pictures: 1 })], before: null, members: [] },
    });
    expect(await screen.findByRole('heading', { name: 'What was done to it' })).toBeTruthy();
    expect(await screen.findByText('Gave ★★★★ to 1 picture')).toBeTruthy();
    delete params.picture;
  });

  test('days are called as people call them', () => {
    const now = new Date(2026, 4, 16, 12);
    expect([sayDiaryDay('2026-05-16', now), sayDiaryDay('2026-05-15', now), sayDiaryDay('2026-05-02', now)]).toEqual([
      'Today',
      'Yesterday',
      'Saturday 2 May 2026',
    ]);
  });
});

describe('steps', () => {
  const step = (n: number) =>
    perform(() => call('change', { body: { ids: [n], change: { rating: n } } }), `${n} stars`);

  test('several are taken back one after another, and done again in the opposite order', async () => {
    let next = 100;
    const { of } = show(<></>, {
      'POST /api/pictures/change': () => ({ act: next++ }),
      'POST /api/acts/101/undo': { act: 201, back: 1, left: 0, gone: [] },
      'POST /api/acts/100/undo': { act: 200, back: 1, left: 1, gone: [] },
      'POST /api/acts/200/undo': { act: 300, back: 1, left: 0, gone: [] },
    });
    await act(async () => {
      await step(1);
      await step(2);
      await undoLast();
    });
    expect(of('POST', '/api/acts/101/undo')).toHaveLength(1);
    expect(screen.getByRole('status').textContent).toContain('Undone: 2 stars');
    await act(undoLast);
    expect(screen.getByRole('status').textContent).toContain('1 thing stays as it is');
    await act(undoLast);
    expect(screen.getByRole('status').textContent).toContain('Nothing to undo');
    await act(redoLast);
    expect(of('POST', '/api/acts/200/undo')).toHaveLength(1);
    expect(useSteps.getState().done.map((s) => s.act)).toEqual([300]);
    expect(JSON.parse(sessionStorage.getItem('gemmel-steps')!).done).toEqual([{ act: 300, said: '1 stars' }]);
  });

  test('whoever stands on the page of what is gone is led away from it', async () => {
    window.history.pushState(null, '', '/albums/5');
    moves.length = 0;
    show(<></>, {
      'POST /api/pictures/change': { act: 900 },
      'POST /api/acts/900/undo': { act: 901, back: 1, left: 0, gone: [{ what: 'album', id: 5 }] },
    });
    await act(async () => {
      await step(1);
      await undoLast();
    });
    expect(moves).toEqual([{ way: 'replace', to: '/albums' }]);
    window.history.pushState(null, '', '/');
  });

  test('what came of it is said plainly', () => {
    const undone = { act: 1, gone: [] };
    expect(sayUndone('4 stars', { ...undone, back: 3, left: 0 })).toBe('Undone: 4 stars');
    expect(sayUndone('4 stars', { ...undone, back: 3, left: 2 })).toBe(
      'Undone: 4 stars. 2 things stay as they are because they have been changed since.',
    );
    expect(sayUndone('x', { ...undone, back: 0, left: 2 })).toContain('can’t be undone');
    expect(sayUndone('x', { ...undone, back: 0, left: 0 })).toContain('already is as it was before');
    expect(sayUndone('4 stars', { ...undone, back: 1, left: 0 }, true)).toBe('Redone: 4 stars');
  });
});
