import { LOOK_AND_SAVE, TELLS_NOTHING, type Album, type Event, type Share } from '@gemmel/contract';
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { Albums } from '@/features/album/Albums';
import { EventHeading } from '@/features/browse/EventHeading';
import { IntoAlbum } from '@/features/filing/IntoAlbum';
import { PileActs } from '@/features/pile/PileActs';
import { dayFromNow } from '@/features/share/settings';
import { ShareSheet } from '@/features/share/ShareSheet';
import { Sharing } from '@/features/share/Sharing';
import { usePile } from '@/state/pile';
import { moves, show } from './house';

jest.mock('expo-router', () => {
  const { PlainLink, router } = jest.requireActual('./router');
  return { useRouter: () => router, usePathname: () => '/browse', Link: PlainLink };
});

const album = (id: number, name: string, more: Partial<Album> = {}): Album => ({
  id,
  kind: 'plain',
  name,
  description: null,
  question: null,
  names: null,
  best: null,
  pictures: 34,
  counting: false,
  cover: null,
  chosenCover: null,
  from: '2026-07-11',
  to: '2026-07-14',
  ownDays: false,
  sorted: 'hand',
  backwards: false,
  shelf: null,
  position: 'a0',
  ...more,
});
const toAlbum = (id: number) => ({ way: 'push', to: { pathname: '/albums/[id]', params: { id } } });

beforeEach(() => void (moves.length = 0));

describe('albums', () => {
  test('stand on their shelves, and what stands on none below them; what is in no album yet leads to its page', async () => {
    show(<Albums shelf={null} />, {
      'GET /api/albums': {
        albums: [
          album(1, 'Gotland', { shelf: 5 }),
          album(2, 'The two', {
            kind: 'smart',
            question: { who: { people: [1, 2], mode: 'all' } },
            names: { person: { 1: 'Tove', 2: 'Emil' } },
          }),
          album(3, 'Azores', { shelf: 6 }),
        ],
        shelves: [
          { id: 5, name: 'Journeys', shelf: null, position: 'a0', sorted: 'hand' },
          { id: 6, name: 'Far away', shelf: 5, position: 'a1', sorted: 'hand' },
        ],
        sorted: 'name',
      },
      'POST /api/count': { count: 221 },
    });
    expect(await screen.findByRole('heading', { name: 'Journeys' })).toBeTruthy();
    expect(screen.getByText('shelf · 2 albums')).toBeTruthy();
    expect(screen.getByRole('heading', { name: 'On no shelf' })).toBeTruthy();
    expect(screen.getByText('34 pictures · with Tove and Emil')).toBeTruthy();
    expect(screen.queryByText('Azores')).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: /Far away/ }));
    expect(moves).toEqual([{ way: 'push', to: { pathname: '/albums/shelf/[id]', params: { id: 6 } } }]);
    expect(await screen.findByText('221')).toBeTruthy();
  });

  test('one is made from the pile or empty, under a name', async () => {
    const { of } = show(<Albums shelf={null} />, {
      'GET /api/albums': { albums: [], shelves: [], sorted: 'name' },
      'POST /api/albums': { id: 9 },
    });
    usePile.setState({ ids: [3, 1], has: new Set([3, 1]) });
    fireEvent.click(await screen.findByRole('button', { name: 'Make the first album' }));
    const fromPile = screen.getByRole('button', { name: 'An album from the pile (2)' });
    expect(fromPile.hasAttribute('disabled')).toBe(true);
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: '  Kai at 68 ' } });
    fireEvent.click(fromPile);
    await waitFor(() =>
      expect(of('POST', '/api/albums')[0]!.body).toEqual({ name: 'Kai at 68', ids: [3, 1], shelf: null }),
    );
    await waitFor(() => expect(moves).toEqual([toAlbum(9)]));
  });

  test('pictures go into one that is there, and what was there already is said', async () => {
    let closed = 0;
    const { of } = show(<IntoAlbum from={{ ids: [4, 5, 6] }} count={3} onClose={() => closed++} />, {
      'GET /api/albums': {
        albums: [album(1, 'Gotland'), album(2, 'Smart', { kind: 'smart' })],
        shelves: [],
        sorted: 'name',
      },
      'POST /api/albums/1/pictures': { added: [6] },
    });
    expect(screen.queryByText('Smart')).toBeNull();
    fireEvent.click(await screen.findByRole('button', { name: /Gotland/ }));
    expect(await screen.findByText('1 picture added to “Gotland”. 2 were already there.')).toBeTruthy();
    expect(closed).toBe(1);
    fireEvent.click(screen.getByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(of('POST', '/api/acts/900/undo')).toHaveLength(1));
  });

  test('nothing new is said as it is', async () => {
    show(<IntoAlbum from={{ ids: [4] }} count={1} onClose={() => undefined} />, {
      'GET /api/albums': { albums: [album(1, 'Gotland')], shelves: [], sorted: 'name' },
      'POST /api/albums/1/pictures': { added: [] },
    });
    fireEvent.click(await screen.findByRole('button', { name: /Gotland/ }));
    expect(await screen.findByText('All of them are already in “Gotland”')).toBeTruthy();
  });
});

describe('the acts of the pile', () => {
  test('stars, hearts and tags go to all that is in hand', async () => {
    const { of } = show(<PileActs />, {
      'POST /api/pictures/change': { pictures: [] },
      'POST /api/said': {
        pictures: 2,
        ratings: [1, 0, 0, 1, 0, 0],
        favourites: 1,
        marks: [],
        tags: [{ id: 4, name: 'lake', pictures: 1 }],
        people: [],
        title: null,
        titles: 0,
        caption: null,
        captions: 0,
      },
    });
    usePile.setState({ ids: [7, 8], has: new Set([7, 8]) });
    fireEvent.click(await screen.findByRole('button', { name: 'Describe' }));
    // What only some say is shown as such.
    expect(await screen.findByText(/They differ: ★★★ 1 · no stars 1|They differ: no stars 1 · ★★★ 1/)).toBeTruthy();
    fireEvent.click(screen.getByRole('radio', { name: '5 stars' }));
    fireEvent.click(screen.getByRole('button', { name: 'Heart, on 1' }));
    expect(screen.getByRole('button', { name: 'lake, on 1' })).toBeTruthy();
    fireEvent.change(screen.getByLabelText('A tag'), { target: { value: 'boats' } });
    fireEvent.keyDown(screen.getByLabelText('A tag'), { key: 'Enter' });
    await waitFor(() => expect(of('POST', '/api/pictures/change')).toHaveLength(3));
    expect(of('POST', '/api/pictures/change').map((a) => a.body)).toEqual([
      { ids: [7, 8], change: { rating: 5 } },
      { ids: [7, 8], change: { favourite: true } },
      { ids: [7, 8], change: { addTags: ['boats'] } },
    ]);
    fireEvent.click(screen.getByRole('button', { name: 'Done' }));
    fireEvent.click(screen.getByRole('button', { name: 'Put down' }));
    expect(usePile.getState().ids).toEqual([]);
  });
});

describe('over an event', () => {
  const event = (more: Partial<Event> = {}): Event => ({
    id: 3,
    title: null,
    start: '2026-05-13',
    end: '2026-05-13',
    place: null,
    town: { name: 'Uppsala', country: 'SE' },
    spanByHand: false,
    cover: null,
    pictures: 9,
    people: ['Tove', 'Emil'],
    ...more,
  });
  const block = {
    kind: 'event' as const,
    event: 3,
    day: '2026-05-13',
    until: '2026-05-13',
    top: 0,
    height: 60,
    from: 0,
    to: 9,
  };
  const ids = Int32Array.from({ length: 9 }, (_, i) => i + 1);

  test('without a name: the day, and the offer to give it one in place', async () => {
    const { of } = show(<EventHeading block={block} event={event()} ids={ids} />, {
      'PATCH /api/events/3': {},
    });
    fireEvent.click(screen.getByRole('button', { name: 'No name yet. Give it one?' }));
    const line = screen.getByLabelText(/^Name of the event on Wednesday 13 May/);
    fireEvent.change(line, { target: { value: ' Kite day ' } });
    fireEvent.keyDown(line, { key: 'Enter' });
    await waitFor(() => expect(of('PATCH', '/api/events/3')[0]!.body).toEqual({ title: 'Kite day' }));
    await screen.findByText(/^Named “Kite day”/);
    fireEvent.click(await screen.findByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(of('POST', '/api/acts/900/undo')).toHaveLength(1));
  });

  test('Escape and leaving it empty change nothing', () => {
    const { of } = show(<EventHeading block={block} event={event()} ids={ids} />);
    fireEvent.click(screen.getByRole('button', { name: /No name yet/ }));
    fireEvent.change(screen.getByLabelText(/^Name of the event/), { target: { value: 'x' } });
    fireEvent.keyDown(screen.getByLabelText(/^Name of the event/), { key: 'Escape' });
    fireEvent.click(screen.getByRole('button', { name: /No name yet/ }));
    fireEvent.blur(screen.getByLabelText(/^Name of the event/));
    expect(of('PATCH', '/api/events/3')).toEqual([]);
  });

  test('its sheet makes an album of the whole event, or puts what is shown on the pile', async () => {
    const { of } = show(<EventHeading block={{ ...block, to: 4 }} event={event({ title: 'Kite day' })} ids={ids} />, {
      'GET /api/albums': { albums: [], shelves: [] },
      'POST /api/albums': { id: 21 },
    });
    expect(screen.getByText(/Wednesday 13 May 2026 · Uppsala, Sweden · Tove and Emil/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'More for Kite day' }));
    expect(screen.getByText('Wednesday 13 May 2026 · 4 of 9 pictures')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Put all 4 on the pile' }));
    expect(usePile.getState().ids).toEqual([1, 2, 3, 4]);
    fireEvent.click(screen.getByRole('button', { name: 'More for Kite day' }));
    fireEvent.click(screen.getByRole('button', { name: 'Put all into an album' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Make album' }));
    await waitFor(() => expect(of('POST', '/api/albums')[0]!.body).toEqual({ name: 'Kite day', from: { event: 3 } }));
    await waitFor(() => expect(moves).toEqual([toAlbum(21)]));
  });
});

const share = (more: Partial<Share> = {}): Share => ({
  id: 4,
  title: 'Kai at 68',
  about: { kind: 'album', name: 'Kai at 68' },
  frozen: false,
  pictures: 22,
  cover: null,
  visits: null,
  may: LOOK_AND_SAVE,
  tells: TELLS_NOTHING,
  reach: 'house',
  anybody: true,
  word: false,
  guests: [],
  waiting: 0,
  until: '2026-11-30',
  state: 'open',
  closedAt: null,
  opened: 14,
  lastOpened: '2026-11-23T10:00:00Z',
  path: '/s/abc',
  ...more,
});

const guest = {
  id: 1,
  name: 'Noor',
  email: null,
  member: null,
  path: '/s/noor',
  opened: 0,
  lastOpened: null,
};

describe('sharing', () => {
  const tried = { pictures: 30, beyond: { pictures: 4, ids: [1, 2, 3, 4], me: 0, house: 4, family: 0 } };

  test('a share is opened for as long as wished, for whom and with what is said, and its links are there', async () => {
    const { of } = show(<ShareSheet what={{ album: 2 }} title="Gotland" onClose={() => undefined} />, {
      'POST /api/shares/try': tried,
      'POST /api/shares': { share: share({ guests: [guest] }) },
      'GET /api/members': { members: [], invites: [] },
      'POST /api/tiles': { tiles: [] },
    });
    expect(await screen.findByText('30 pictures are shared')).toBeTruthy();
    expect(screen.getByText(/^4 pictures in it have been only for the house/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Share them, too' }));
    expect(screen.getByText('34 pictures are shared')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: /^How long/, expanded: false }));
    fireEvent.click(screen.getByRole('button', { name: 'A week' }));
    fireEvent.click(screen.getByRole('button', { name: /^Guests may/ }));
    fireEvent.click(screen.getByRole('switch', { name: 'Comment, and give hearts' }));
    fireEvent.click(screen.getByRole('button', { name: /^For/ }));
    fireEvent.change(screen.getByLabelText('Somebody else’s name'), { target: { value: 'Noor' } });
    fireEvent.click(screen.getByRole('button', { name: 'Add Noor' }));
    fireEvent.click(screen.getByRole('button', { name: 'Open the share' }));
    expect(await screen.findByRole('button', { name: 'Copy the link for Anybody with the link' })).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Copy the link for Noor' })).toBeTruthy();
    expect(of('POST', '/api/shares')[0]!.body).toEqual({
      title: 'Gotland',
      of: { album: 2 },
      frozen: false,
      until: dayFromNow(7),
      visits: null,
      may: { ...LOOK_AND_SAVE, say: true },
      tells: { ...TELLS_NOTHING, dates: true },
      reach: 'house',
      anybody: true,
      word: null,
      members: [],
      people: [{ name: 'Noor', email: null }],
    });
  });

  test('a share for nobody is not opened', async () => {
    show(<ShareSheet what={{ ids: [1] }} title="Gotland" onClose={() => undefined} />, {
      'POST /api/shares/try': { ...tried, beyond: { ...tried.beyond, pictures: 0, house: 0 } },
      'GET /api/members': { members: [], invites: [] },
      'POST /api/tiles': { tiles: [] },
    });
    fireEvent.click(screen.getByRole('button', { name: /^For/ }));
    fireEvent.click(screen.getByRole('switch', { name: 'Anybody with the link' }));
    expect(screen.getByRole('button', { name: 'Open the share' }).getAttribute('aria-disabled')).toBe('true');
  });

  test('what is open, closed and over is told apart, and can be closed and opened again', async () => {
    const { of } = show(<Sharing />, {
      'GET /api/shares': {
        shares: [
          share(),
          share({
            id: 5,
            title: 'Skating',
            state: 'closed',
            closedAt: '2026-03-15T09:00:00Z',
            path: null,
            opened: 0,
            lastOpened: null,
          }),
          share({ id: 6, title: 'Old', state: 'over', until: '2026-01-01', path: null }),
        ],
      },
      'POST /api/shares/4/close': { share: share({ state: 'closed' }) },
      'POST /api/shares/5/reopen': { share: share({ id: 5 }) },
    });
    expect(await screen.findByText('Open until Monday 30 November 2026')).toBeTruthy();
    expect(screen.getAllByText(/^Opened 14 times, last on 23 November/)).toHaveLength(2);
    expect(screen.getByText('Not opened yet')).toBeTruthy();
    expect(screen.getByText('Ended Thursday 1 January 2026')).toBeTruthy();
    expect(screen.getAllByRole('button', { name: 'Copy the link' })).toHaveLength(1);
    fireEvent.click(screen.getByRole('button', { name: 'Close' }));
    await waitFor(() => expect(of('POST', '/api/shares/4/close')).toHaveLength(1));
    fireEvent.click(screen.getByRole('button', { name: 'Open again' }));
    await waitFor(() => expect(of('POST', '/api/shares/5/reopen')).toHaveLength(1));
  });
});
