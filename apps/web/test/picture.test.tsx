import type { Picture } from '@gemmel/contract';
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { FactsToRead } from '@/features/picture/FactsToRead';
import { FaceOvals } from '@/features/picture/FaceOvals';
import { Facts } from '@/features/picture/Facts';
import { PicturePage } from '@/features/picture/PicturePage';
import { Viewer } from '@/features/picture/Viewer';
import { useSequence } from '@/state/ask';
import { usePile } from '@/state/pile';
import { noReason } from './family';
import { moves, show } from './house';

jest.mock('expo-router', () => {
  const { PlainLink, router } = jest.requireActual('./router');
  return { useRouter: () => router, usePathname: () => '/browse', Link: PlainLink };
});

const picture = (more: Partial<Picture> = {}): Picture => ({
  id: 5,
  sha: 'a'.repeat(64),
  thumb: '',
  kind: 'photo',
  name: 'IMG_2041.jpg',
  format: 'jpg',
  keptAt: '2026/2026-05-16 Kite day/IMG_2041.jpg',
  bytes: 3_100_000,
  width: 4032,
  height: 3024,
  seconds: null,
  touched: false,
  rating: 4,
  favourite: false,
  title: 'Gran lets the big one go',
  caption: null,
  taken: '2026-05-16T14:07:00',
  offset: 120,
  takenSource: 'camera',
  takenCertainty: 0.9,
  takenSpan: null,
  placeSource: null,
  where: { country: 'SE', region: null, place: 'Uppsala', km: 1 },
  ownPlace: null,
  folder: null,
  event: { id: 3, title: 'Kite day' },
  position: null,
  device: 'Fjordlys F7',
  camera: 'Fjordlys F7',
  exposure: 'f/1.8 · 1/620 s',
  sharpness: 200,
  tags: [{ id: 8, name: 'kites' }],
  faces: [
    {
      id: 1,
      box: [0.1, 0.1, 0.2, 0.3],
      state: 'named',
      person: { id: 2, name: 'Agathe Wend' },
      namedBy: 'hand',
      likely: null,
    },
    {
      id: 2,
      box: [0.6, 0.1, 0.2, 0.3],
      state: 'waiting',
      person: null,
      namedBy: null,
      likely: { id: 4, name: 'Noor Castell', why: { ...noReason, support: 3 } },
    },
    { id: 3, box: [0.9, 0.1, 0.05, 0.1], state: 'passer-by', person: null, namedBy: 'hand', likely: null },
  ],
  albums: [
    { id: 1, name: 'Heath walks' },
    { id: 2, name: 'Best of 2026' },
  ],
  originalName: null,
  label: null,
  mark: null,
  comments: [],
  loved: { mine: false, by: [] },
  observed: [],
  lens: null,
  seenWords: null,
  beside: [],
  alike: null,
  looks: [],
  isLook: false,
  pair: null,
  batch: { id: 1, name: 'Ilse’s phone', named: 'source', createdAt: '2026-05-16T14:07:00Z' },
  ...more,
});
const answers = { 'POST /api/pictures/change': {} };

describe('what is said about a picture', () => {
  const facts = (more: Partial<Picture> = {}, told: object = {}) => {
    const page = show(<Facts picture={picture(more)} onFaces={() => undefined} />, { ...answers, ...told });
    const changes = () => page.of('POST', '/api/pictures/change').map((a) => (a.body as { change: unknown }).change);
    return { ...page, changes };
  };

  test('is all there, in words', () => {
    facts();
    expect(screen.getByText('Saturday 16 May 2026, 14:07')).toBeTruthy();
    expect(screen.getByText('Kite day')).toBeTruthy();
    expect(screen.getByText('Uppsala, Sweden')).toBeTruthy();
    expect(screen.getByText('Kept once, seen in 2 albums')).toBeTruthy();
    expect(screen.getByText('4,032 × 3,024, 3.1 MB, JPG')).toBeTruthy();
    expect(screen.getByText('from the camera’s clock, UTC +2:00')).toBeTruthy();
    expect(screen.getByText('1 face without a name')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Agathe Wend' })).toBeTruthy();
  });

  test('says so when nobody knows, and when it is a guess', () => {
    facts({ taken: null, where: null, event: null, albums: [], faces: [] });
    expect(screen.getByText('No date yet. Give it one?')).toBeTruthy();
    expect(screen.getByText('No place yet. Give it one?')).toBeTruthy();
    expect(screen.getByText('Kept once, in no album')).toBeTruthy();
  });
  test('a scan’s day is only perhaps', () => {
    facts({ taken: '1992-07-15T12:00:00', takenSource: 'folder name', takenCertainty: 0.2 });
    expect(screen.getByText('Wednesday 15 July 1992, 12:00 (perhaps)')).toBeTruthy();
  });

  test('stars and heart change at a press, with an undo', async () => {
    const { changes, of } = facts();
    fireEvent.click(screen.getByRole('radio', { name: '2 stars' }));
    fireEvent.click(screen.getByRole('button', { name: 'Give it a heart' }));
    await waitFor(() => expect(changes()).toEqual([{ rating: 2 }, { favourite: true }]));
    fireEvent.click(await screen.findByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(of('POST', '/api/acts/900/undo')).toHaveLength(1));
  });

  test('a guest’s comment is answered where guests read it, and hidden from them', async () => {
    const { of } = facts(
      {
        comments: [
          {
            id: 9,
            member: null,
            author: 'Kai',
            text: 'So high!',
            at: '2026-05-17T10:00:00Z',
            edited: null,
            guests: 'read',
          },
        ],
      },
      {
        'GET /api/me': { signedIn: true, token: 't', member: { id: 1, name: 'Ilse', part: 'keeper' } },
        'POST /api/comments/9/answer': { id: 10, act: 900 },
        'POST /api/comments/9/hide': { act: 901 },
      },
    );
    expect(screen.getByText(/where guests read it/)).toBeTruthy();
    fireEvent.click(await screen.findByRole('button', { name: 'Answer' }));
    fireEvent.change(screen.getByLabelText('An answer that guests read'), { target: { value: ' We ran. ' } });
    fireEvent.click(screen.getByRole('button', { name: 'Write the answer' }));
    await waitFor(() => expect(of('POST', '/api/comments/9/answer').map((a) => a.body)).toEqual([{ text: 'We ran.' }]));
    fireEvent.click(await screen.findByRole('button', { name: 'Hide it from guests' }));
    await waitFor(() => expect(of('POST', '/api/comments/9/hide').map((a) => a.body)).toEqual([{ hidden: true }]));
  });

  test('words are changed where they stand: Enter keeps, Escape does not, the same again is no change', async () => {
    const { changes } = facts();
    fireEvent.click(screen.getByRole('button', { name: 'Title: Gran lets the big one go. Edit' }));
    const line = screen.getByLabelText('Title');
    fireEvent.change(line, { target: { value: 'Up it goes' } });
    fireEvent.keyDown(line, { key: 'Enter' });
    await waitFor(() => expect(changes()).toEqual([{ title: 'Up it goes' }]));
    fireEvent.click(screen.getByRole('button', { name: /^Title:/ }));
    fireEvent.change(screen.getByLabelText('Title'), { target: { value: 'no' } });
    fireEvent.keyDown(screen.getByLabelText('Title'), { key: 'Escape' });
    fireEvent.click(screen.getByRole('button', { name: /^Title:/ }));
    fireEvent.blur(screen.getByLabelText('Title'));
    expect(changes()).toHaveLength(1);
    fireEvent.click(screen.getByRole('button', { name: /^Title:/ }));
    fireEvent.change(screen.getByLabelText('Title'), { target: { value: '   ' } });
    fireEvent.blur(screen.getByLabelText('Title'));
    await waitFor(() => expect(changes()[1]).toEqual({ title: null }));
  });

  test('tags: type-ahead over those in use, new ones, and away with one', async () => {
    const page = show(<Facts picture={picture()} onFaces={() => undefined} />, {
      ...answers,
      'GET /api/tags': { tags: [{ id: 9, name: 'Kite building', parent: null, pictures: 3, below: 3, spellings: [] }] },
    });
    fireEvent.click(screen.getByRole('button', { name: 'Tag' }));
    await waitFor(() => expect(page.of('GET', '/api/tags')).toHaveLength(1));
    const line = screen.getByLabelText('A tag');
    await waitFor(() => {
      fireEvent.change(line, { target: { value: 'kite' } });
      expect(screen.getByRole('button', { name: /Kite building/ })).toBeTruthy();
    });
    expect(screen.getByText('new tag')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: /Kite building/ }));
    fireEvent.click(screen.getByRole('button', { name: 'Remove the tag kites' }));
    await waitFor(() =>
      expect(page.of('POST', '/api/pictures/change').map((a) => a.body)).toEqual([
        { ids: [5], change: { giveTags: [9] } },
        { ids: [5], change: { removeTags: [8] } },
      ]),
    );
  });

  test('date and time are set by a calendar', async () => {
    const { of } = show(<Facts picture={picture()} onFaces={() => undefined} />, {
      'POST /api/dates/preview': { pictures: [], changed: 1, left: 0 },
      'POST /api/dates/mend': { pictures: [] },
    });
    fireEvent.click(screen.getByRole('button', { name: /Saturday 16 May 2026/ }));
    const field = screen.getByLabelText('Date and time by the clock on the wall') as HTMLInputElement;
    expect(field.value).toMatch(/^2026-05-16T14:07/);
    fireEvent.change(field, { target: { value: '2026-05-16T15:09:30' } });
    const keep = screen.getByRole('button', { name: 'Use this time' });
    await waitFor(() => expect(keep.getAttribute('aria-disabled')).toBeNull());
    fireEvent.click(keep);
    await waitFor(() => expect(of('POST', '/api/dates/mend')).toHaveLength(1));
    const { ids, how } = of('POST', '/api/dates/mend')[0]!.body as { ids: number[]; how: { set: string } };
    expect(ids).toEqual([5]);
    expect(how.set).toMatch(/^2026-05-16T15:09:30(\.000)?$/);
  });

  test('what the server refuses is told, and nothing pretends to have changed', async () => {
    show(<Facts picture={picture()} onFaces={() => undefined} />, { 'POST /api/pictures/change': 403 });
    fireEvent.click(screen.getByRole('radio', { name: '1 star' }));
    expect(await screen.findByText('The server says no to /api/pictures/change.')).toBeTruthy();
    expect(screen.getByRole('radio', { name: '4 stars' }).getAttribute('aria-checked')).toBe('true');
  });
});

describe('faces on a picture', () => {
  test('are outlined with their names, by how sure they are', () => {
    const seen: number[] = [];
    show(<FaceOvals faces={picture().faces} box={{ width: 400, height: 300 }} onFace={(f) => seen.push(f.id)} />);
    fireEvent.click(screen.getByRole('button', { name: 'Agathe Wend' }));
    fireEvent.click(screen.getByRole('button', { name: 'Probably Noor Castell' }));
    expect(screen.getByText('Noor?')).toBeTruthy();
    expect(screen.getByText('Passer-by')).toBeTruthy();
    expect(seen).toEqual([1, 2]);
    const oval = screen.getByRole('button', { name: 'Agathe Wend' }).style;
    // The oval stands round the middle of the face's box.
    expect(parseFloat(oval.left) + parseFloat(oval.width) / 2).toBeCloseTo(0.2 * 400);
    expect(parseFloat(oval.top) + parseFloat(oval.height) / 2).toBeCloseTo(0.25 * 300);
  });
});

describe('the picture page', () => {
  const open = async () => {
    const page = show(<PicturePage id={5} />, {
      ...answers,
      'GET /api/pictures/5': picture(),
      'GET /api/pictures/4': picture({ id: 4 }),
      'GET /api/pictures/6': picture({ id: 6 }),
    });
    await screen.findByText('Gran lets the big one go');
    moves.length = 0;
    return page;
  };
  const press = (key: string) => fireEvent.keyDown(document.body, { key });

  test('next and previous follow the list it was opened from; Escape leads back there', async () => {
    useSequence.getState().open([4, 5, 6], '/albums/2');
    await open();
    press('ArrowRight');
    press('ArrowLeft');
    press('Escape');
    expect(moves).toEqual([
      { way: 'replace', to: { pathname: '/picture/[id]', params: { id: 6 } } },
      { way: 'replace', to: { pathname: '/picture/[id]', params: { id: 4 } } },
      { way: 'navigate', to: '/albums/2' },
    ]);
  });

  test('at the ends there is no further', async () => {
    useSequence.getState().open([5], '/browse');
    await open();
    expect(screen.queryByRole('button', { name: 'Next picture' })).toBeNull();
    expect(screen.queryByRole('button', { name: 'Previous picture' })).toBeNull();
    press('ArrowRight');
    expect(moves).toEqual([]);
  });

  test('keys: stars, heart, pile, faces, looking close, and the list of keys', async () => {
    useSequence.getState().open([5], '/browse');
    const { of } = await open();
    press('3');
    press('h');
    press('p');
    await waitFor(() =>
      expect(of('POST', '/api/pictures/change').map((a) => (a.body as { change: unknown }).change)).toEqual([
        { rating: 3 },
        { favourite: true },
      ]),
    );
    await waitFor(() => expect(usePile.getState().ids).toEqual([5]));
    press('f');
    expect(screen.getByRole('button', { name: 'Hide the faces' })).toBeTruthy();
    press(' ');
    expect(screen.queryByText('The facts')).toBeNull();
    press('Escape');
    expect(screen.getByText('The facts')).toBeTruthy();
    press('?');
    expect(screen.getByRole('dialog', { name: 'Keys' })).toBeTruthy();
  });

  test('a picture that is not here any more says so', async () => {
    show(<PicturePage id={99} />);
    expect(await screen.findByText('The server says no to /api/pictures/99.')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Try again' })).toBeTruthy();
  });
});

describe('the large view', () => {
  beforeAll(() => {
    Element.prototype.setPointerCapture = () => undefined;
    Element.prototype.hasPointerCapture = () => false;
    Object.defineProperty(HTMLElement.prototype, 'clientWidth', { configurable: true, get: () => 400 });
    Object.defineProperty(HTMLElement.prototype, 'clientHeight', { configurable: true, get: () => 300 });
  });
  const at = (clientX: number, clientY: number, pointerId = 1) => ({ clientX, clientY, pointerId, bubbles: true });
  /** jsdom knows no pointer events with places; these carry them. */
  const point = (type: string, place: ReturnType<typeof at>) => {
    const event = new MouseEvent(type, place);
    Object.defineProperties(event, { pointerId: { value: place.pointerId }, buttons: { value: 1 } });
    fireEvent(screen.getByTestId('viewer'), event);
  };
  const zoom = () => screen.getByTestId('viewer').dataset['zoom'];
  const look = () => {
    const turned: string[] = [];
    show(<Viewer picture={picture()} onNext={() => turned.push('next')} onBefore={() => turned.push('before')} />);
    return turned;
  };

  test('a swipe turns to the next or the one before, a small one does not', () => {
    const turned = look();
    const swipe = (from: number, to: number, dy = 0) => {
      point('pointerdown', at(from, 100));
      point('pointermove', at(to, 100 + dy));
      point('pointerup', at(to, 100 + dy));
    };
    swipe(300, 200);
    swipe(100, 250);
    swipe(100, 130);
    swipe(100, 170, 160);
    expect(turned).toEqual(['next', 'before']);
  });

  test('a double tap looks closer and back; while close, dragging moves and does not turn', () => {
    const turned = look();
    const tap = () => {
      point('pointerdown', at(200, 150));
      point('pointerup', at(200, 150));
    };
    tap();
    tap();
    expect(zoom()).toBe('2.50');
    point('pointerdown', at(300, 100));
    point('pointermove', at(100, 100));
    point('pointerup', at(100, 100));
    expect(turned).toEqual([]);
    tap();
    tap();
    expect(zoom()).toBe('1.00');
  });

  test('two fingers zoom, within bounds', () => {
    look();
    point('pointerdown', at(150, 150, 1));
    point('pointerdown', at(250, 150, 2));
    point('pointermove', at(350, 150, 2));
    expect(zoom()).toBe('2.00');
    point('pointermove', at(5000, 150, 2));
    expect(zoom()).toBe('6.00');
    point('pointermove', at(160, 150, 2));
    expect(zoom()).toBe('1.00');
    point('pointerup', at(160, 150, 2));
    point('pointerup', at(150, 150, 1));
  });

  test('a relative reads of a picture without a title and a date as of any other', async () => {
    show(<FactsToRead picture={picture({ title: null, taken: null, takenSpan: null, caption: 'On the hill' })} />, {
      'GET /api/me': { signedIn: true, token: 't', member: { id: 9, name: 'Agathe', part: 'relative' } },
    });
    expect(await screen.findByText('No date')).toBeTruthy();
    expect(screen.getByText('On the hill')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Give it a heart' })).toBeTruthy();
  });
});
