import type { Sureness } from '@gemmel/contract';
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { meaning, Recognition } from '@/features/library/Recognition';
import { PersonPage } from '@/features/person/PersonPage';
import { PersonSheet } from '@/features/person/PersonSheet';
import { filed, circles, noReason, noor, samira } from './family';
import { moves, show } from './house';

jest.mock('expo-router', () => {
  const { PlainLink, router } = jest.requireActual('./router');
  return { useRouter: () => router, usePathname: () => '/browse', Link: PlainLink };
});

describe('a person', () => {
  const detail = {
    years: [
      [2024, 2],
      [2026, 2],
    ],
    together: [{ id: 2, pictures: 3 }],
    alike: [2],
    faces: {
      ids: [91, 92, 93],
      pictures: [1, 2, 3],
      days: ['2026-05-16', '2026-05-01', '2024-05-01'],
      byMachine: [false, true, false],
    },
  };
  const answers = {
    'GET /api/people': { people: [{ ...noor, likely: 2 }, samira], circles },
    'GET /api/people/1': detail,
    'GET /api/people/1/likely': {
      faces: [
        { id: 61, picture: 5, closeness: 'close', why: { ...noReason, support: 3 } },
        { id: 62, picture: 6, closeness: 'perhaps', why: { ...noReason, support: 1 } },
      ],
    },
    'POST /api/faces/answer': filed('Noor Castell'),
    'PATCH /api/people/1': { favourite: false },
  };
  const begin = async (more = {}) => {
    const page = show(<PersonPage id={1} />, { ...answers, ...more });
    await screen.findByText('Noor Castell');
    return page;
  };

  test('faces that may be them: one, or all that are shown', async () => {
    const { of } = await begin();
    fireEvent.click(await screen.findByRole('button', { name: 'Yes to all 2 shown' }));
    await waitFor(() =>
      expect(of('POST', '/api/faces/answer')[0]!.body).toEqual({ faces: [61, 62], odd: [], is: { person: 1 } }),
    );
  });

  test('years, company, look-alikes; a year narrows what is shown', async () => {
    const { of } = await begin();
    expect(await screen.findByText(/^Easily mistaken for Samira Castell/)).toBeTruthy();
    expect(screen.getByRole('button', { name: 'With Samira Castell: 3 pictures' })).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: '2024: 2 pictures' }));
    await waitFor(() =>
      expect(of('POST', '/api/skeleton').map((a) => (a.body as { question: object }).question)).toContainEqual({
        all: [{ who: { people: [1], mode: 'all' } }, { taken: { from: '2024-01-01', to: '2024-12-31' } }],
      }),
    );
  });

  test('close-ups: faces are taken back out, one is made the portrait', async () => {
    const { of } = await begin();
    await screen.findByRole('heading', { name: 'Often with' });
    fireEvent.click(screen.getByRole('button', { name: 'Close-ups' }));
    fireEvent.click(screen.getByRole('checkbox', { name: 'Noor, 1 May 2026, named automatically' }));
    fireEvent.click(screen.getByRole('checkbox', { name: 'Noor, 1 May 2024' }));
    fireEvent.click(screen.getByRole('button', { name: 'Not Noor: remove 2' }));
    await waitFor(() =>
      expect(of('POST', '/api/faces/answer')[0]!.body).toEqual({ faces: [92, 93], odd: [], is: 'unnamed' }),
    );
    fireEvent.click(screen.getByRole('checkbox', { name: 'Noor, 16 May 2026' }));
    fireEvent.click(screen.getByRole('button', { name: 'Use as the portrait' }));
    await waitFor(() => expect(of('PATCH', '/api/people/1')[0]!.body).toEqual({ portrait: 91 }));
  });

  test('two names of one person are joined after saying what will happen', async () => {
    const { of } = await begin({
      'GET /api/people/1/join/2': { pictures: 4, both: 1, albums: 2 },
      'POST /api/people/1/join': {},
    });
    fireEvent.click(screen.getByRole('button', { name: 'Edit Noor Castell' }));
    fireEvent.click(screen.getByRole('button', { name: 'Join with somebody …' }));
    const line = screen.getByLabelText('Name to keep');
    fireEvent.change(line, { target: { value: 'sami' } });
    fireEvent.keyDown(line, { key: 'Enter' });
    expect(await screen.findByText(/Both are named in 1 picture.*2 smart albums will ask for Samira/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Join with Samira Castell' }));
    await waitFor(() => expect(of('POST', '/api/people/1/join')[0]!.body).toEqual({ into: 2 }));
    fireEvent.click(await screen.findByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(of('POST', '/api/acts/900/undo')).toHaveLength(1));
  });
});

describe('what is known of a person', () => {
  const KEEPER = { member: { name: 'Ilse', email: 'i@x', part: 'keeper' }, demo: null, first: false };
  const begin = (more = {}) => {
    const closed: string[] = [];
    const page = show(
      <PersonSheet person={samira} onClose={() => closed.push('closed')} onJoin={() => closed.push('join')} />,
      {
        'GET /api/people': { people: [noor, samira], circles: [...circles, { id: 2, name: 'Neighbours' }] },
        'GET /api/me': KEEPER,
        'PATCH /api/people/2': {},
        'DELETE /api/people/2': {},
        'PUT /api/people/2/recognised': { deleted: 12 },
        ...more,
      },
    );
    return { ...page, closed };
  };

  test('is changed in one act, which is taken back as one', async () => {
    const { of, closed } = begin();
    fireEvent.change(screen.getByLabelText('Nickname'), { target: { value: ' ' } });
    fireEvent.change(screen.getByLabelText('Born'), { target: { value: '2004-08-14' } });
    fireEvent.click(await screen.findByRole('button', { name: 'Neighbours' }));
    fireEvent.click(screen.getByRole('button', { name: 'Favourite' }));
    fireEvent.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(closed).toEqual(['closed']));
    expect(of('PATCH', '/api/people/2')[0]!.body).toEqual({
      name: 'Samira Castell',
      nickname: null,
      born: '2004-08-14',
      circles: [1, 2],
      favourite: true,
      hidden: false,
    });
    fireEvent.click(await screen.findByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(of('POST', '/api/acts/900/undo')).toHaveLength(1));
  });

  test('a refused change keeps the sheet open and says why', async () => {
    const { closed } = begin({ 'PATCH /api/people/2': 409 });
    fireEvent.click(screen.getByRole('button', { name: 'Save' }));
    expect(await screen.findByText('The server says no to /api/people/2.')).toBeTruthy();
    expect(closed).toEqual([]);
  });

  test('a name is taken away and given back', async () => {
    const { of } = begin();
    moves.length = 0;
    fireEvent.click(screen.getByRole('button', { name: 'Remove the name' }));
    await waitFor(() => expect(of('DELETE', '/api/people/2')).toHaveLength(1));
    await waitFor(() => expect(moves).toEqual([{ way: 'replace', to: '/browse/who' }]));
    fireEvent.click(await screen.findByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(of('POST', '/api/acts/900/undo')).toHaveLength(1));
  });

  test('never recognising says first that nothing can be brought back, then how much was deleted', async () => {
    const { of } = begin();
    fireEvent.click(await screen.findByRole('button', { name: 'Stop recognising Sam …' }));
    expect(screen.getByText(/deleted at once and can’t be brought back/)).toBeTruthy();
    expect(of('PUT', '/api/people/2/recognised')).toHaveLength(0);
    fireEvent.click(screen.getByRole('button', { name: 'Delete and stop recognising' }));
    await waitFor(() => expect(of('PUT', '/api/people/2/recognised')[0]!.body).toEqual({ on: false }));
    expect((await screen.findByRole('status')).textContent).toContain('12 descriptions deleted. The names stay');
  });

  test('only the keeper may say who is never recognised', async () => {
    begin({ 'GET /api/me': { ...KEEPER, member: { ...KEEPER.member, part: 'helper' } } });
    await screen.findByRole('button', { name: 'Neighbours' });
    expect(screen.queryByRole('button', { name: /^Stop recognising/ })).toBeNull();
  });
});

describe('how sure recognition must be', () => {
  const bins = (some: Record<number, number>) => Array.from({ length: 101 }, (_, i) => some[i] ?? 0);
  const sureness: Sureness = {
    recognises: true,
    ask: 0.3,
    file: 0.95,
    answers: 240,
    faces: bins({ 10: 5, 40: 20, 80: 30, 96: 50, 99: 200 }),
    mayFile: bins({ 80: 25, 96: 40, 99: 200 }),
    alike: [['Noor', 'Samira']],
    seeking: null,
  };
  test('is told by what it means on this household’s own faces', () => {
    expect(meaning(sureness, 0.3, 0.95)).toEqual({ files: 240, wrong: 2, asks: 60 });
    expect(meaning(sureness, 0.3, 0.75)).toEqual({ files: 265, wrong: 7, asks: 35 });
    expect(meaning(sureness, 0.5, 1)).toEqual({ files: 0, wrong: 0, asks: 280 });
  });
  test('sliders say it before it is kept; switching off asks first', async () => {
    const { of } = show(<Recognition />, {
      'GET /api/faces/sureness': sureness,
      'PUT /api/faces/sureness': { ask: 0.3, file: 0.95 },
      'PUT /api/faces/recognition': { deleted: 300 },
      'GET /api/me': { member: { name: 'Ilse', email: 'i@x', part: 'keeper' }, demo: null, first: false },
    });
    expect(
      await screen.findByText(/240 faces are named automatically; about 2 of them wrongly; you’ll be asked about 60/),
    ).toBeTruthy();
    fireEvent.change(await screen.findByLabelText('Name faces automatically from'), {
      target: { value: '0.75' },
    });
    expect(
      screen.getByText(/265 faces are named automatically; about 7 of them wrongly; you’ll be asked about 35/),
    ).toBeTruthy();
    fireEvent.click(await screen.findByRole('button', { name: 'Save' }));
    await waitFor(() => expect(of('PUT', '/api/faces/sureness')[0]!.body).toEqual({ ask: 0.3, file: 0.75 }));
    fireEvent.click(await screen.findByRole('button', { name: 'Switch recognition off …' }));
    expect(of('PUT', '/api/faces/recognition')).toHaveLength(0);
    fireEvent.click(screen.getByRole('button', { name: 'Delete and switch off' }));
    await waitFor(() => expect(of('PUT', '/api/faces/recognition')[0]!.body).toEqual({ on: false }));
    expect((await screen.findByRole('status')).textContent).toContain('300 descriptions of faces deleted');
  });
});
