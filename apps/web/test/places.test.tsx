import type { EventDetail, Folder, Place, Sitting as Open } from '@gemmel/contract';
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { TimePath } from '@/features/browse/TimePath';
import { Where } from '@/features/browse/Where';
import { EventSheet } from '@/features/event/EventSheet';
import { MakeEvent } from '@/features/event/MakeEvent';
import { Folders } from '@/features/folder/Folders';
import { VaultLayout } from '@/features/vault/VaultLayout';
import { houseStyle, streetLayers } from '@/features/place/mapStyle';
import { usePlaceInHand } from '@/features/place/inHand';
import { PlaceSheet } from '@/features/place/PlaceSheet';
import { readGpx } from '@/features/place/track';
import { Sitting } from '@/features/sitting/Sitting';
import { DatesSheet } from '@/features/time/DatesSheet';
import { useAsk } from '@/state/ask';
import { moves, show } from './house';

let mockParams: Record<string, string> = {};
jest.mock('expo-router', () => {
  const { PlainLink, router } = jest.requireActual('./router');
  return {
    useRouter: () => router,
    usePathname: () => '/browse/folders',
    useLocalSearchParams: () => mockParams,
    Link: PlainLink,
  };
});
// The map itself is drawn in the walk through the real interface.
jest.mock('@/features/place/BaseMap', () => ({ BaseMap: () => null }));

beforeEach(() => {
  moves.length = 0;
  mockParams = {};
  Element.prototype.scrollIntoView = jest.fn();
});

const place = (more: Partial<Place>): Place => ({
  country: 'SE',
  region: 'Visby',
  place: 'Visby',
  own: null,
  pictures: 10,
  ...more,
});

describe('Where', () => {
  const answers = {
    'GET /api/places': {
      places: [
        place({}),
        place({ own: 3, pictures: 2 }),
        place({ place: 'Slite', pictures: 1 }),
        place({ region: 'Umeå', place: 'Umeå', pictures: 4 }),
        place({ country: '', region: null, place: null, pictures: 5 }),
      ],
    },
    'GET /api/places/own': { places: [{ id: 3, name: 'The allotment', lat: 57, lon: 18, metres: 200, hidden: true }] },
  };
  test('goes from countries to regions to towns, with the sums of each, and asks for what is touched', async () => {
    show(<Where />, answers);
    expect(await screen.findByRole('button', { name: /All of Sweden.*17/ })).toBeTruthy();
    const visby = screen.getByRole('button', { name: /Around Visby/ });
    expect(visby.getAttribute('aria-expanded')).toBe('false');
    fireEvent.click(visby);
    // A town is one row, also where some of its pictures lie in a place of the household's own.
    fireEvent.click(screen.getByRole('button', { name: /^Visby.*12/ }));
    expect(useAsk.getState().question).toEqual({ where: { country: 'SE', region: 'Visby', place: 'Visby' } });
    expect(moves).toEqual([{ way: 'push', to: '/browse' }]);
    expect(screen.getByText(/no town within 50 km/)).toBeTruthy();
  });
  test('shows places of the household’s own with their counts, and says which are hidden', async () => {
    show(<Where />, answers);
    const own = await screen.findByRole('button', { name: /^The allotment.*hidden from guests/ });
    fireEvent.click(own);
    expect(useAsk.getState().question).toEqual({ where: { own: 3 } });
  });
});

const folder = (id: number, parent: number | null, name: string, more: Partial<Folder> = {}): Folder => ({
  id,
  parent,
  name,
  cameAs: null,
  pictures: 1,
  bytes: 2_000_000,
  first: '2026-05-16',
  last: '2026-05-17',
  changed: '2026-11-20',
  ...more,
});

describe('folders', () => {
  const answers = {
    'GET /api/folders': {
      folders: [
        folder(1, null, 'Old disk', { pictures: 3 }),
        folder(2, 1, 'lake'),
        folder(3, 1, 'town', { bytes: 9e6 }),
      ],
    },
    'GET /api/albums': { albums: [], shelves: [], sorted: 'name' },
    'POST /api/albums': { id: 8 },
  };
  test('open as a tree, and lead to everything below or to one alone', async () => {
    show(<Folders />, answers);
    fireEvent.click(await screen.findByRole('button', { name: 'Open Old disk' }));
    expect(screen.getByText('lake')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'More for Old disk' }));
    fireEvent.click(screen.getByRole('button', { name: 'This folder only: 3 pictures' }));
    expect(useAsk.getState().question).toEqual({ folder: { id: 1, only: true } });
  });
  test('stand flat by size, and become an album in one act', async () => {
    const { of, container } = show(<Folders />, answers);
    fireEvent.click(await screen.findByRole('button', { name: 'Flat' }));
    fireEvent.click(screen.getByRole('button', { name: 'Size' }));
    const order = [...container.querySelectorAll('[data-folder]')].map((e) => e.getAttribute('data-folder'));
    expect(order[0]).toBe('3');
    fireEvent.click(screen.getByRole('button', { name: 'More for town' }));
    fireEvent.click(screen.getByRole('button', { name: 'Put all into an album' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Make album' }));
    await waitFor(() => expect(of('POST', '/api/albums')[0]?.body).toEqual({ name: 'town', from: { folders: [3] } }));
  });
  test('several are chosen and put into one album at once', async () => {
    const { of } = show(<Folders />, answers);
    fireEvent.click(await screen.findByRole('button', { name: 'Flat' }));
    fireEvent.click(screen.getByRole('button', { name: 'Choose several' }));
    for (const box of screen.getAllByRole('checkbox').slice(0, 2)) fireEvent.click(box);
    fireEvent.click(screen.getByRole('button', { name: 'Put 2 folders into an album' }));
    fireEvent.change(await screen.findByLabelText('Name of a new album'), { target: { value: 'Both' } });
    fireEvent.click(screen.getByRole('button', { name: 'Make album' }));
    await waitFor(() => expect(of('POST', '/api/albums')).toHaveLength(1));
    const { from } = of('POST', '/api/albums')[0]!.body as { from: { folders: number[] } };
    expect(from.folders).toHaveLength(2);
  });
  test('show where a picture lies when somebody comes from it', async () => {
    mockParams = { at: '2' };
    const { container } = show(<Folders />, answers);
    await screen.findByText('lake');
    expect(container.querySelector('[data-folder="2"]')?.getAttribute('aria-current')).toBe('location');
  });
});

describe('mending dates', () => {
  const preview = {
    pictures: [
      {
        id: 1,
        name: 'scan.png',
        before: { local: '2026-05-16T14:07:00.000', offset: null, span: null },
        after: {
          local: '1988-07-16T12:00:00.000',
          offset: null,
          span: { from: '1988-06-01', to: '1988-08-31', exact: 'season', about: false },
        },
      },
      { id: 2, name: 'other.png', before: { local: null, offset: null, span: null }, after: null },
    ],
    changed: 1,
    left: 1,
  };
  test('shows before and after, and says what stays as it is', async () => {
    const { of } = show(<DatesSheet ids={[1, 2]} onClose={() => undefined} />, {
      'POST /api/dates/preview': preview,
      'POST /api/dates/mend': { pictures: [] },
    });
    fireEvent.change(screen.getByLabelText(/^In your own words/), { target: { value: 'summer 1988' } });
    const region = await screen.findByRole('region', { name: 'Before and after' });
    expect(within(region).getByText('Saturday 16 May 2026, 14:07')).toBeTruthy();
    expect(within(region).getByText('summer 1988')).toBeTruthy();
    expect(within(region).getByText(/1 of them says nothing about this/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Correct 1 date' }));
    await waitFor(() =>
      expect(of('POST', '/api/dates/mend')[0]?.body).toEqual({ ids: [1, 2], how: { set: 'summer 1988' } }),
    );
  });
  test('offers a shift, a zone, an order and what names say, each as its own question', async () => {
    const { of } = show(<DatesSheet ids={[1, 2]} onClose={() => undefined} />, { 'POST /api/dates/preview': preview });
    const asked = () => of('POST', '/api/dates/preview').map((a) => (a.body as { how: unknown }).how);
    fireEvent.click(screen.getByRole('button', { name: 'Shift' }));
    fireEvent.change(screen.getByLabelText(/^By how much/), { target: { value: '1:02' } });
    fireEvent.click(screen.getByRole('button', { name: 'Earlier' }));
    await waitFor(() => expect(asked()).toContainEqual({ shift: -3720 }));
    fireEvent.click(screen.getByRole('button', { name: 'Time zone' }));
    fireEvent.change(screen.getByLabelText(/^Hours ahead/), { target: { value: '-3:30' } });
    await waitFor(() => expect(asked()).toContainEqual({ zone: -210, keep: 'clock' }));
    fireEvent.click(screen.getByRole('button', { name: 'In their order' }));
    fireEvent.change(screen.getByLabelText(/^The first/), { target: { value: '1 July 1974 12:00' } });
    await waitFor(() => expect(asked()).toContainEqual({ order: { from: '1 July 1974 12:00', step: 60 } }));
    fireEvent.click(screen.getByRole('button', { name: 'From their names' }));
    await waitFor(() => expect(asked()).toContainEqual({ from: 'file name' }));
  });
  test('tells what cannot be read', async () => {
    show(<DatesSheet ids={[1]} onClose={() => undefined} />, { 'POST /api/dates/preview': 400 });
    fireEvent.change(screen.getByLabelText(/^In your own words/), { target: { value: 'kite day' } });
    expect((await screen.findByRole('alert')).textContent).toMatch(/says no/);
  });
});

const detail = (id: number, more: Partial<EventDetail> = {}): EventDetail => ({
  event: {
    id,
    title: null,
    start: '2026-05-16',
    end: '2026-05-16',
    place: null,
    town: { name: 'Visby', country: 'SE' },
    spanByHand: false,
    cover: null,
    pictures: 9,
    people: ['Tove'],
  },
  best: [{ id: 11, sha: 'a'.repeat(64) }],
  names: ['Kites at Visby'],
  ...more,
});

describe('the sitting', () => {
  const open = (more: Partial<Open> = {}): Open => ({
    events: [detail(1), detail(2)],
    unnamed: 2,
    clocks: 0,
    undated: [],
    unplaced: [
      {
        ids: [5, 6],
        lat: 57,
        lon: 18,
        name: 'the lake',
        before: { id: 4, sha: 'b' },
        after: { id: 7, sha: 'c' },
        best: [{ id: 5, sha: 'd' }],
      },
    ],
    ...more,
  });
  test('asks one thing at a time, names an event at one touch, leaves others for later, and says what changed', async () => {
    const { of } = show(<Sitting />, {
      'GET /api/sitting': open(),
      'PATCH /api/events/1': { before: null },
      'POST /api/places/give': { pictures: [] },
    });
    expect(await screen.findByText('3 still open')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Kites at Visby' }));
    await waitFor(() => expect(of('PATCH', '/api/events/1')[0]?.body).toEqual({ title: 'Kites at Visby' }));
    fireEvent.click(screen.getByRole('button', { name: 'Later' }));
    expect(screen.getByText('2 pictures between two at the lake')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Put them there' }));
    await waitFor(() => expect(of('POST', '/api/places/give')).toHaveLength(1));
    expect(await screen.findByText('That’s all of them')).toBeTruthy();
    expect(screen.getByText('1 event named')).toBeTruthy();
    expect(screen.getByText('2 pictures put in their places')).toBeTruthy();
    expect(screen.getByText('1 question left for later')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Ask the skipped ones again' }));
    expect(screen.getByRole('button', { name: 'Kites at Visby' })).toBeTruthy();
  });
  test('with nothing open says what will be asked here', async () => {
    show(<Sitting />, { 'GET /api/sitting': open({ events: [], unnamed: 0, unplaced: [] }) });
    expect(await screen.findByText(/^Every event has a name/)).toBeTruthy();
  });
  test('offers what a folder’s name says of pictures without a date', async () => {
    const undated = [
      {
        name: 'Summer 1988',
        ids: [1],
        best: [{ id: 1, sha: 'a' }],
        guess: { from: '1988-06-01', to: '1988-08-31', exact: 'season' as const, about: false },
      },
    ];
    show(<Sitting />, { 'GET /api/sitting': open({ events: [], unnamed: 0, unplaced: [], undated }) });
    expect(await screen.findByText(/They came in “Summer 1988”. Its name says summer 1988/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Give a date' }));
    expect(screen.getByText('When was it taken?')).toBeTruthy();
  });
});

describe('an event’s own page', () => {
  test('takes a name from what is known, its days, its place and its cover', async () => {
    const { of } = show(<EventSheet id={1} onClose={() => undefined} />, {
      'GET /api/events/1': detail(1),
      'POST /api/events/1/change': { pictures: [], events: [], made: [] },
    });
    fireEvent.change(await screen.findByLabelText('Last day'), { target: { value: '2026-05-18' } });
    fireEvent.click(screen.getByRole('button', { name: 'Use these days' }));
    await waitFor(() =>
      expect(of('POST', '/api/events/1/change')[0]?.body).toEqual({ span: { from: '2026-05-16', to: '2026-05-18' } }),
    );
    fireEvent.click(screen.getByRole('radio', { name: 'Cover 1 of 1' }));
    await waitFor(() => expect(of('POST', '/api/events/1/change')[1]?.body).toEqual({ cover: 11 }));
  });
  test('is made by hand of what was taken in some days', async () => {
    const { of } = show(<MakeEvent from="2026-05-16" onClose={() => undefined} />, {
      'POST /api/count': { count: 12 },
      'POST /api/events': { pictures: [], events: [], made: [1], id: 1 },
    });
    expect(await screen.findByText(/^12 pictures were taken on these days/)).toBeTruthy();
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'Kite day' } });
    fireEvent.click(screen.getByRole('button', { name: 'Make the event' }));
    await waitFor(() =>
      expect(of('POST', '/api/events')[0]?.body).toEqual({ title: 'Kite day', from: '2026-05-16', to: '2026-05-16' }),
    );
  });
});

describe('the way up in time', () => {
  test('keeps the rest of the question', async () => {
    const Shown = () => <TimePath />;
    show(<Shown />);
    useAsk.getState().set({ all: [{ favourite: true }, { taken: { from: '2026-05-01', to: '2026-05-31' } }] });
    fireEvent.click(await screen.findByRole('button', { name: 'This level only' }));
    expect(useAsk.getState().question).toEqual({ all: [{ favourite: true }, { taken: { only: '2026-05' } }] });
    fireEvent.click(await screen.findByRole('button', { name: '› 2026' }));
    expect(useAsk.getState().question).toEqual({
      all: [{ favourite: true }, { taken: { from: '2026-01-01', to: '2026-12-31' } }],
    });
    fireEvent.click(await screen.findByRole('button', { name: 'All years' }));
    expect(useAsk.getState().question).toEqual({ favourite: true });
  });
});

describe('giving a place', () => {
  test('by a name that a search finds', async () => {
    const { of } = show(<PlaceSheet ids={[1, 2]} position={null} onClose={() => undefined} />, {
      'POST /api/places/search': {
        places: [{ name: 'Visby', in: { country: 'SE', region: null }, lat: 57.6, lon: 18.3, km: 120 }],
      },
      'POST /api/places/give': { pictures: [] },
    });
    fireEvent.change(screen.getByLabelText('Find a place by name'), { target: { value: 'vis' } });
    fireEvent.click(await screen.findByRole('option', { name: /^Visby/ }));
    fireEvent.click(screen.getByRole('button', { name: 'Put them at Visby' }));
    await waitFor(() =>
      expect(of('POST', '/api/places/give')[0]?.body).toEqual({
        given: [{ ids: [1, 2], spot: { lat: 57.6, lon: 18.3 } }],
        source: 'hand',
      }),
    );
    expect(await screen.findByText('2 pictures put at Visby')).toBeTruthy();
  });
});

describe('a copied place', () => {
  test('is offered to other pictures by its name, and told to be copied', async () => {
    usePlaceInHand.setState({ place: { lat: 57.6, lon: 18.3, name: 'the allotment' } });
    const { of } = show(<PlaceSheet ids={[4]} position={null} onClose={() => undefined} />, {
      'GET /api/pictures/4': 404,
      'POST /api/places/give': { pictures: [] },
    });
    fireEvent.click(screen.getByRole('button', { name: 'Paste: the allotment' }));
    await waitFor(() =>
      expect(of('POST', '/api/places/give')[0]?.body).toEqual({
        given: [{ ids: [4], spot: { lat: 57.6, lon: 18.3 } }],
        source: 'copied',
      }),
    );
    usePlaceInHand.setState({ place: null });
  });
});

describe('a GPX track', () => {
  const gpx = (inside: string) => `<gpx xmlns="http://www.topografix.com/GPX/1/1" version="1.1">${inside}</gpx>`;
  test('is read with its times; points without one are left out', () => {
    const points = readGpx(
      gpx(
        '<trk><trkseg><trkpt lat="57.6" lon="18.3"><time>2026-07-12T07:15:00Z</time></trkpt><trkpt lat="1" lon="2"/></trkseg></trk>',
      ),
    );
    expect(points).toEqual([[Date.parse('2026-07-12T07:15:00Z'), 57.6, 18.3]]);
    expect(readGpx(gpx(''))).toEqual([]);
  });
  test.each(['{"no": "track"}', '<html></html>', ''])('%p is none', (text) => expect(readGpx(text)).toBeNull());
});

describe('the map’s looks', () => {
  const files = { engine: '', worker: '', style: '', land: 'l', shores: 's', borders: 'b', lakes: 'k', ponds: 'p' };
  test('by day and in the evening are not the same, and every layer has its source', () => {
    const [day, evening] = [houseStyle(files, false), houseStyle(files, true)];
    expect(day.layers[0]).not.toEqual(evening.layers[0]);
    for (const layer of day.layers) if ('source' in layer) expect(day.sources).toHaveProperty(layer.source as string);
  });
  test('a street map is drawn by what its layers’ names say', () => {
    const layers = streetLayers('street', ['water', 'roads', 'buildings', 'places', 'odd'], false);
    const of = (name: string) =>
      layers.filter((l) => 'source-layer' in l && l['source-layer'] === name).map((l) => l.type);
    expect(of('water')).toContain('fill');
    expect(of('roads')).toEqual(expect.arrayContaining(['line', 'symbol']));
    expect(of('places')).toEqual(['symbol']);
    expect(of('odd')).toEqual([]);
    expect(new Set(layers.map((l) => l.id)).size).toBe(layers.length);
    expect(streetLayers('street', null, false)).toEqual([{ id: 'street-pictures', type: 'raster', source: 'street' }]);
  });
});

describe('where originals lie', () => {
  test('is the keeper’s to change, with an undo, and says how far the move is', async () => {
    const { of } = show(<VaultLayout />, {
      'GET /api/me': { member: { part: 'keeper' } },
      'GET /api/vault/layout': {
        layout: 'year/event',
        examples: [
          { layout: 'year/event', example: '2026/2026-05-16 Kite day' },
          { layout: 'year/month', example: '2026/2026-05' },
        ],
        moving: { done: 25, of: 100, secondsLeft: 90 },
      },
      'POST /api/vault/layout': {},
    });
    expect(await screen.findByText(/25 of 100, 25%, about 2 minutes left/)).toBeTruthy();
    const other = screen.getByRole('radio', { name: /^One folder per year, with one per month in it/ });
    await waitFor(() => expect(other.getAttribute('aria-disabled')).toBeNull());
    fireEvent.click(other);
    await waitFor(() => expect(of('POST', '/api/vault/layout')[0]?.body).toEqual({ layout: 'year/month' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(of('POST', '/api/acts/900/undo')).toHaveLength(1));
  });
});
