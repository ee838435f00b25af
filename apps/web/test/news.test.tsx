import { fireEvent, screen, waitFor } from '@testing-library/react';
import { moves, show } from './house';

import type { Notice } from '@gemmel/contract';
import { News } from '@/features/notice/News';
import { NewsLine } from '@/features/notice/NewsLine';
import { sentenceOf } from '@/features/notice/sentence';

jest.mock('expo-router', () => {
  const { router, PlainLink } = jest.requireActual('./router') as typeof import('./router');
  return { router, useRouter: () => router, Link: PlainLink, useLocalSearchParams: () => ({}) };
});

const notice = (more: Partial<Notice> = {}): Notice => ({
  kind: 'comment',
  id: 3,
  at: '2026-05-16T12:07:00Z',
  who: 'Agathe',
  text: 'How high it went!',
  pictures: 1,
  fresh: true,
  ...more,
});
const TOLD = { digest: 'never', mail: true, key: 'k', places: 0 };
const NEWS = {
  fresh: 2,
  notices: [
    notice({ kind: 'waiting', id: 8, who: 'Kai', text: 'Kites', pictures: 4, at: '2026-05-17T12:00:00Z' }),
    notice(),
    notice({ kind: 'share', id: 5, who: 'Ilse', text: 'Gotland', fresh: false, at: '2026-05-01T12:00:00Z' }),
  ],
};

describe('what is new', () => {
  test('each kind says who did what', () => {
    expect(sentenceOf(notice())).toBe('Agathe wrote: “How high it went!”');
    expect(sentenceOf(notice({ kind: 'waiting', who: 'Kai', text: 'Kites', pictures: 1 }))).toBe(
      'Kai added 1 picture to “Kites”. It waits for your yes.',
    );
    expect(sentenceOf(notice({ kind: 'added', who: 'Noor', pictures: 3 }))).toBe('Noor added 3 pictures.');
    expect(sentenceOf(notice({ kind: 'share', who: 'Ilse', text: 'Gotland' }))).toBe('Ilse shares “Gotland” with you.');
    expect(sentenceOf(notice({ kind: 'fresh', pictures: 12 }))).toBe('12 new pictures to look at.');
  });

  test('a line says how much is new, and nothing when nothing is', async () => {
    const { unmount } = show(<NewsLine />, { 'GET /api/notices': NEWS });
    expect(await screen.findByText('2 things are new')).toBeTruthy();
    expect(screen.getByText('Kai added 4 pictures to “Kites”. They wait for your yes.')).toBeTruthy();
    fireEvent.click(screen.getByRole('link'));
    expect(moves.at(-1)).toEqual({ way: 'push', to: '/news' });
    unmount();
    show(<NewsLine />, { 'GET /api/notices': { ...NEWS, fresh: 0, notices: [notice({ fresh: false })] } });
    await waitFor(() => expect(screen.queryByText(/new/)).toBeNull());
  });

  test('listed, marked as new while the page is open, leading where it happened; looked at up to the latest', async () => {
    const { of } = show(<News />, {
      'GET /api/notices': NEWS,
      'GET /api/notices/told': TOLD,
      'POST /api/notices/seen': { done: true },
      'POST /api/tiles': { tiles: [] },
    });
    expect((await screen.findAllByText(/^New · /)).length).toBe(2);
    await waitFor(() => expect(of('POST', '/api/notices/seen')[0]?.body).toEqual({ until: '2026-05-17T12:00:00Z' }));
    const [waiting, comment, share] = screen.getAllByRole('link');
    fireEvent.click(comment!);
    expect(moves.at(-1)).toEqual({ way: 'push', to: { pathname: '/picture/[id]', params: { id: 3 } } });
    fireEvent.click(waiting!);
    expect(moves.at(-1)).toEqual({ way: 'push', to: { pathname: '/batch/[id]', params: { id: 8 } } });
    fireEvent.click(share!);
    expect(moves.at(-1)).toEqual({ way: 'push', to: '/parlour' });
  });

  test('letters are chosen in place; without a mailbox it says so; a device without an encrypted way, too', async () => {
    const { of, unmount } = show(<News />, {
      'GET /api/notices': { fresh: 0, notices: [] },
      'GET /api/notices/told': TOLD,
      'PUT /api/notices/told': { ...TOLD, digest: 'weekly' },
    });
    expect(await screen.findByText(/^Nothing yet/)).toBeTruthy();
    fireEvent.click(await screen.findByText('Once a week'));
    await waitFor(() => expect(of('PUT', '/api/notices/told')[0]?.body).toEqual({ digest: 'weekly' }));
    expect(screen.getByText(/only over an encrypted address/)).toBeTruthy();
    unmount();
    show(<News />, {
      'GET /api/notices': { fresh: 0, notices: [] },
      'GET /api/notices/told': { ...TOLD, mail: false },
    });
    expect(await screen.findByText('No e-mail can be sent from here yet.')).toBeTruthy();
  });
});
