import { LOOK_AND_SAVE, TELLS_NOTHING, type GuestPicture, type GuestShare } from '@gemmel/contract';
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { App } from '@/guest/App';
import { sectionsOf } from '@/guest/Gallery';
import { show } from './house';

const picture = (id: number, more: Partial<GuestPicture> = {}): GuestPicture => ({
  id,
  shape: 1.5,
  thumb: '',
  kind: 'photo',
  seconds: null,
  bytes: 1,
  town: null,
  day: null,
  title: null,
  caption: null,
  names: [],
  hearts: 0,
  heart: false,
  comments: 0,
  ...more,
});
const given = (more: Partial<GuestShare> = {}): GuestShare => ({
  title: 'For Gran',
  from: 'Ilse Hallorin',
  until: '2026-12-24',
  bytes: 3_800_000,
  may: LOOK_AND_SAVE,
  tells: TELLS_NOTHING,
  name: null,
  others: [],
  pictures: [1, 2, 3].map((id) => picture(id)),
  chapters: [],
  ...more,
});

describe('a guest', () => {
  beforeAll(() => {
    Object.defineProperty(HTMLElement.prototype, 'clientWidth', { configurable: true, get: () => 400 });
    Object.defineProperty(HTMLImageElement.prototype, 'decode', { configurable: true, value: async () => undefined });
    Object.defineProperty(HTMLDialogElement.prototype, 'showModal', { configurable: true, value: () => undefined });
    Object.defineProperty(HTMLDialogElement.prototype, 'close', { configurable: true, value: () => undefined });
    history.replaceState(null, '', '/s/tok');
  });
  afterAll(() => history.replaceState(null, '', '/'));

  test('sees a gallery and a big view with next and previous, and saves one, some or all', async () => {
    show(<App />, { 'GET /api/guest/tok': given() });
    expect(await screen.findByText('3 pictures from Ilse Hallorin · open until 24 December 2026')).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Save all at full size (3.8\u00a0MB)' }).getAttribute('href')).toBe(
      '/api/guest/tok/zip',
    );
    fireEvent.click(screen.getByRole('button', { name: 'Picture 2 of 3' }));
    const big = screen.getByRole('dialog');
    expect(screen.getByText('2 of 3')).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Save this picture at full size' }).getAttribute('href')).toBe(
      '/api/guest/tok/pictures/2/original?save',
    );
    fireEvent.keyDown(big, { key: 'ArrowRight' });
    expect(screen.getByText('3 of 3')).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'The next one' })).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: 'The one before' }));
    fireEvent.keyDown(screen.getByRole('dialog'), { key: 'Escape' });
    expect(screen.queryByRole('dialog')).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: 'Choose some' }));
    fireEvent.click(screen.getByRole('button', { name: /^Picture 1 of 3/ }));
    fireEvent.click(screen.getByRole('button', { name: /^Picture 3 of 3/ }));
    expect(screen.getByRole('link', { name: 'Save 2 pictures' }).getAttribute('href')).toBe(
      '/api/guest/tok/zip?ids=1,3',
    );
  });

  test('is given no way to do what the share does not allow', async () => {
    show(<App />, { 'GET /api/guest/tok': given({ may: { ...LOOK_AND_SAVE, save: 'nothing' } }) });
    fireEvent.click(await screen.findByRole('button', { name: 'Picture 1 of 3' }));
    expect(screen.queryByRole('link')).toBeNull();
    expect(screen.queryByRole('button', { name: 'Give it a heart' })).toBeNull();
    expect(screen.queryByRole('button', { name: 'Add your pictures' })).toBeNull();
  });

  test('says a name before the first comment, and hearts', async () => {
    const comments = [{ id: 7, author: 'Kai', text: 'Lovely', at: '2026-05-16T12:00:00Z', mine: true, house: false }];
    const { of } = show(<App />, {
      'GET /api/guest/tok': given({ may: { ...LOOK_AND_SAVE, say: true } }),
      'GET /api/guest/tok/pictures/1/comments': { comments: [] },
      'POST /api/guest/tok/enter': { name: 'Kai' },
      'POST /api/guest/tok/pictures/1/comments': { comments },
      'PUT /api/guest/tok/pictures/1/heart': { hearts: 1 },
    });
    fireEvent.click(await screen.findByRole('button', { name: 'Picture 1 of 3' }));
    fireEvent.click(screen.getByRole('button', { name: 'Give it a heart' }));
    expect(await screen.findByRole('button', { name: 'Take the heart back' })).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Write something about it' }));
    fireEvent.change(await screen.findByLabelText('Write something'), { target: { value: 'Lovely' } });
    fireEvent.click(screen.getByText('Send'));
    fireEvent.change(await screen.findByLabelText('Your name'), { target: { value: 'Kai' } });
    fireEvent.click(screen.getByText('Go on'));
    expect(await screen.findByText('Lovely', { selector: 'p' })).toBeTruthy();
    expect(of('POST', '/api/guest/tok/enter')[0]!.body).toEqual({ name: 'Kai' });
  });

  test('of a closed share is told so kindly, and is asked for a word where there is one', async () => {
    const { of } = show(<App />, { 'GET /api/guest/tok': 410 });
    expect(await screen.findByRole('heading', { name: 'This share isn’t open' })).toBeTruthy();
    await waitFor(() => expect(of('GET', '/api/guest/tok')).toHaveLength(1));
  });

  test('of an empty share is told so', async () => {
    show(<App />, { 'GET /api/guest/tok': given({ pictures: [], bytes: 0 }) });
    expect(await screen.findByText('Nothing here yet.')).toBeTruthy();
    expect(screen.queryByRole('link')).toBeNull();
  });
});

describe('headings of a share', () => {
  const on = (...days: (string | null)[]) => days.map((day, i) => picture(i, { day }));

  test('one for each day that is told; none when days come and go; chapters before days', () => {
    const days = sectionsOf({ pictures: on('2026-05-16', '2026-05-16', '2026-05-17', null), chapters: [] });
    expect(days.map(({ heading, from, to }) => [heading, from, to])).toEqual([
      ['Saturday 16 May 2026', 0, 2],
      ['Sunday 17 May 2026', 2, 3],
      [null, 3, 4],
    ]);
    expect(sectionsOf({ pictures: on('2026-05-16', '2026-05-17', '2026-05-16'), chapters: [] })).toHaveLength(1);
    const chapters = [{ at: 1, heading: 'Kites', note: 'Up' }];
    expect(sectionsOf({ pictures: on('2026-05-16', '2026-05-17'), chapters })).toMatchObject([
      { heading: null, from: 0, to: 1 },
      { heading: 'Kites', note: 'Up', from: 1, to: 2 },
    ]);
    expect(sectionsOf({ pictures: [], chapters: [] })).toEqual([{ heading: null, note: null, from: 0, to: 0 }]);
  });
});
