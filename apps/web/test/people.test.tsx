import type { FaceMark, Introduction, Person, Sureness } from '@gemmel/contract';
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { Introductions } from '@/features/person/Introductions';
import { meaning, Recognition } from '@/features/library/Recognition';
import { PersonPage } from '@/features/person/PersonPage';
import { DrawFace } from '@/features/picture/DrawFace';
import { placed } from '@/features/picture/FaceOvals';
import { FaceSheet } from '@/features/picture/FaceSheet';
import { Who } from '@/features/person/Who';
import { moves, router, show } from './house';

jest.mock('expo-router', () => {
  const { PlainLink, router } = jest.requireActual('./house');
  return { useRouter: () => router, usePathname: () => '/browse', Link: PlainLink };
});

const person = (id: number, name: string, more: Partial<Person> = {}): Person => ({
  id,
  name,
  nickname: null,
  circles: [1],
  born: null,
  favourite: false,
  hidden: false,
  recognised: true,
  pictures: 4,
  likely: 0,
  portrait: 50 + id,
  portraitByHand: false,
  first: '2024-05-01',
  last: '2026-05-16',
  ...more,
});
const group = (key: number, n: number, more: Partial<Introduction> = {}): Introduction => ({
  key,
  faces: Array.from({ length: n }, (_, i) => ({ id: key + i, picture: 1000 + key + i, taken: '2026-05-16' })),
  pictures: n,
  from: '2024-05-01',
  to: '2026-05-31',
  candidates: [],
  ...more,
});
const noor = person(1, 'Noor Castell');
const samira = person(2, 'Samira Castell', { nickname: 'Sam', likely: 3 });
const circles = [{ id: 1, name: 'Cousins' }];
const before = (said: string) => ({ faces: [], newPerson: null, said, rejected: [], apart: [], drawn: null });

describe('introductions', () => {
  const groups = [
    group(100, 3, {
      candidates: [
        { person: 1, name: 'Noor Castell', portrait: 51, closeness: 'Very close', why: 'Like 14 named pictures' },
        {
          person: 2,
          name: 'Samira Castell',
          portrait: 52,
          closeness: 'Close',
          why: 'Look twice: close to Noor Castell',
        },
      ],
    }),
    group(200, 12),
    group(300, 1),
  ];
  const answers = {
    'GET /api/introductions': { groups, total: 3, faces: 16 },
    'GET /api/people': { people: [noor, samira], circles },
    'POST /api/faces/answer': before('Noor Castell'),
    'POST /api/faces/restore': { done: true },
  };
  const begin = async (more = {}) => {
    const page = show(<Introductions />, { ...answers, ...more });
    await screen.findByText('Somebody you know?');
    return page;
  };

  test('one group at a time; odd ones are tapped away and go along as odd', async () => {
    const { of } = await begin();
    expect(screen.getByText('1 of 3')).toBeTruthy();
    expect(screen.getByText(/^3 pictures, May 2024 to May 2026\. Tap any that is somebody else\.$/)).toBeTruthy();
    fireEvent.click(screen.getByRole('checkbox', { name: 'Face 2 of 3' }));
    expect(screen.getByRole('checkbox', { name: 'Face 2 of 3, not them' }).getAttribute('aria-checked')).toBe('false');
    fireEvent.click(screen.getByRole('button', { name: 'It’s Noor' }));
    // The next group is there without waiting for the server.
    expect(screen.getByText('2 of 3')).toBeTruthy();
    await waitFor(() => expect(of('POST', '/api/faces/answer')).toHaveLength(1));
    expect(of('POST', '/api/faces/answer')[0]!.body).toEqual({ faces: [100, 101, 102], odd: [101], is: { person: 1 } });
    expect((await screen.findByRole('status')).textContent).toContain('2 faces filed under Noor Castell');
  });

  test('undo brings the group back', async () => {
    const { of } = await begin();
    fireEvent.click(screen.getByRole('button', { name: 'A passer-by' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Undo' }));
    expect(await screen.findByText('1 of 3')).toBeTruthy();
    expect(of('POST', '/api/faces/restore')[0]!.body).toEqual(before('Noor Castell'));
  });

  test('a refused answer brings the group back with the reason', async () => {
    await begin({ 'POST /api/faces/answer': 409 });
    fireEvent.click(screen.getByRole('button', { name: 'Not a face' }));
    expect(await screen.findByText('The server says no to /api/faces/answer.')).toBeTruthy();
    expect(screen.getByText('1 of 3')).toBeTruthy();
  });

  test('when all are tapped away, nobody can be named', async () => {
    await begin();
    for (const n of [1, 2, 3]) fireEvent.click(screen.getByRole('checkbox', { name: `Face ${n} of 3` }));
    expect(
      (screen.getByRole('button', { name: 'It’s Noor' }) as HTMLButtonElement).disabled ||
        screen.getByRole('button', { name: 'It’s Noor' }).getAttribute('aria-disabled'),
    ).toBeTruthy();
  });

  test('a name is typed ahead: the first letters and Enter, by nickname too, or somebody new', async () => {
    const { of } = await begin();
    const line = screen.getByLabelText('Type a name');
    fireEvent.change(line, { target: { value: 'noo' } });
    expect(screen.getByText('↵ to accept')).toBeTruthy();
    fireEvent.keyDown(line, { key: 'Enter' });
    await waitFor(() => expect(of('POST', '/api/faces/answer')[0]!.body).toMatchObject({ is: { person: 1 } }));
    expect(screen.getByText('2 of 3')).toBeTruthy();
    fireEvent.change(screen.getByLabelText('Type a name'), { target: { value: 'sam' } });
    fireEvent.click(screen.getByRole('button', { name: /^Samira Castell/ }));
    await waitFor(() => expect(of('POST', '/api/faces/answer')[1]!.body).toMatchObject({ is: { person: 2 } }));
    fireEvent.change(screen.getByLabelText('Type a name'), { target: { value: 'Bastian O.' } });
    fireEvent.click(screen.getByRole('button', { name: 'Somebody new: Bastian O.' }));
    await waitFor(() =>
      expect(of('POST', '/api/faces/answer')[2]!.body).toMatchObject({ is: { newPerson: 'Bastian O.' } }),
    );
  });

  test('somebody new may come with a birth date and a circle', async () => {
    const { of } = await begin();
    fireEvent.click(screen.getByRole('button', { name: 'Somebody new' }));
    fireEvent.change(screen.getByLabelText('The name of somebody new'), { target: { value: 'Bastian O.' } });
    fireEvent.change(screen.getByLabelText('Born, if you know (it tells years apart)'), {
      target: { value: '1974-05-03' },
    });
    fireEvent.click(screen.getByRole('button', { name: 'Cousins' }));
    fireEvent.click(screen.getByRole('button', { name: 'This is Bastian' }));
    await waitFor(() =>
      expect(of('POST', '/api/faces/answer')[0]!.body).toMatchObject({
        is: { newPerson: 'Bastian O.', born: '1974-05-03', circles: [1] },
      }),
    );
  });

  test('a large group shows its best faces first and the rest on demand', async () => {
    await begin();
    fireEvent.click(screen.getByRole('button', { name: 'Later' }));
    expect(screen.getAllByRole('checkbox')).toHaveLength(8);
    fireEvent.click(screen.getByRole('button', { name: 'Show all 12' }));
    expect(screen.getAllByRole('checkbox')).toHaveLength(12);
  });

  test('keys: x for a passer-by, l for later, Enter for the likeliest', async () => {
    const { of } = await begin();
    fireEvent.keyDown(document.body, { key: 'Enter' });
    fireEvent.keyDown(document.body, { key: 'x' });
    fireEvent.keyDown(document.body, { key: 'l' });
    await waitFor(() => expect(of('POST', '/api/faces/answer')).toHaveLength(3));
    expect(of('POST', '/api/faces/answer').map((a) => (a.body as { is: unknown }).is)).toEqual([
      { person: 1 },
      'passer-by',
      'later',
    ]);
    expect(await screen.findByText('Everybody is introduced')).toBeTruthy();
  });
});

describe('who', () => {
  const begin = (people: Person[], more = {}) =>
    show(<Who />, {
      'GET /api/people': { people, circles: [...circles, { id: 2, name: 'Neighbours' }] },
      'GET /api/introductions': { groups: [group(100, 3)], total: 1, faces: 3 },
      ...more,
    });

  test('people by circle, with who waits to be asked about', async () => {
    begin([noor, samira, person(3, 'Ada', { circles: [] })]);
    expect(await screen.findByRole('heading', { name: 'Cousins' })).toBeTruthy();
    expect(screen.getByRole('heading', { name: 'In no circle' })).toBeTruthy();
    expect(screen.getByText('Nobody is in it yet.')).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Samira Castell, 4 pictures, 3 to ask about' })).toBeTruthy();
    moves.length = 0;
    fireEvent.click(await screen.findByText('1 group to introduce'));
    expect(screen.getByText('3 faces, about 1 minute')).toBeTruthy();
    expect(moves).toEqual([{ way: 'push', to: '/introductions' }]);
    expect(router.canGoBack()).toBe(false);
  });

  test('favourites first, then by how often, name or lately; hidden ones on demand; a person in several circles', async () => {
    begin([
      person(1, 'Zoe', { pictures: 9, last: '2024-01-01', circles: [1, 2] }),
      person(2, 'Ada', { pictures: 3, last: '2026-01-01' }),
      person(3, 'Mia', { pictures: 1, favourite: true }),
      person(4, 'Kit', { hidden: true }),
    ]);
    const names = () =>
      screen.getAllByRole('link', { name: /picture/ }).map((l) => l.getAttribute('aria-label')!.split(',')[0]);
    await screen.findByRole('heading', { name: 'Cousins' });
    expect(names()).toEqual(['Mia', 'Zoe', 'Ada', 'Zoe']);
    fireEvent.click(screen.getByRole('button', { name: 'Name' }));
    expect(names().slice(0, 3)).toEqual(['Mia', 'Ada', 'Zoe']);
    fireEvent.click(screen.getByRole('button', { name: 'Lately' }));
    expect(names().slice(0, 3)).toEqual(['Mia', 'Ada', 'Zoe']);
    fireEvent.click(screen.getByRole('button', { name: '1 hidden person' }));
    expect(names()).toContain('Kit');
    fireEvent.click(screen.getByRole('button', { name: 'How often' }));
  });

  test('a cameo is leafed through by moving across it', async () => {
    begin([noor], {
      'GET /api/people/1': {
        years: [],
        together: [],
        alike: [],
        faces: { ids: [91, 92, 93, 94], pictures: [1, 2, 3, 4], days: [], byMachine: [] },
      },
    });
    const link = await screen.findByRole('link', { name: /^Noor/ });
    const leaf = link.querySelector('[data-leaf]') as HTMLElement;
    leaf.getBoundingClientRect = () => ({ left: 0, width: 100 }) as DOMRect;
    const move = (clientX: number) => {
      const event = new MouseEvent('pointermove', { bubbles: true, clientX });
      Object.assign(event, { pointerType: 'mouse' });
      fireEvent(leaf, event);
    };
    move(10);
    await waitFor(() => {
      move(80);
      expect(leaf.querySelector('img')!.getAttribute('src')).toContain('/94/');
    });
    move(30);
    expect(leaf.querySelector('img')!.getAttribute('src')).toContain('/92/');
  });

  test('a circle is made with people in it, renamed, moved and removed', async () => {
    const { of } = begin([noor, samira], {
      'POST /api/circles': { id: 7 },
      'PATCH /api/circles/1': { name: 'Cousins', position: 0 },
      'DELETE /api/circles/1': { name: 'Cousins', people: [1, 2], position: 0 },
    });
    fireEvent.click(await screen.findByRole('button', { name: 'New circle' }));
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'Sisters' } });
    fireEvent.click(screen.getByRole('checkbox', { name: 'Noor Castell' }));
    fireEvent.click(screen.getByRole('button', { name: 'Keep' }));
    await waitFor(() => expect(of('POST', '/api/circles')[0]!.body).toEqual({ name: 'Sisters', people: [1] }));
    fireEvent.click(screen.getByRole('button', { name: 'Change the circle Cousins' }));
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'The cousins' } });
    fireEvent.click(screen.getByRole('checkbox', { name: 'Samira Castell' }));
    fireEvent.click(screen.getByRole('button', { name: 'Keep' }));
    await waitFor(() => expect(of('PATCH', '/api/circles/1')[0]!.body).toEqual({ name: 'The cousins', people: [1] }));
    fireEvent.click(screen.getByRole('button', { name: 'Change the circle Cousins' }));
    fireEvent.click(screen.getByRole('button', { name: 'Further down' }));
    await waitFor(() => expect(of('PATCH', '/api/circles/1')[1]!.body).toEqual({ position: 1 }));
    fireEvent.click(screen.getByRole('button', { name: 'Change the circle Cousins' }));
    fireEvent.click(screen.getByRole('button', { name: 'Remove the circle' }));
    await waitFor(() => expect(of('DELETE', '/api/circles/1')).toHaveLength(1));
    fireEvent.click(await screen.findByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(of('POST', '/api/circles')[1]!.body).toMatchObject({ name: 'Cousins', position: 0 }));
  });
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
        { id: 61, picture: 5, why: 'Close. Like 3 named pictures' },
        { id: 62, picture: 6, why: 'Perhaps. Like one named picture' },
      ],
    },
    'POST /api/faces/answer': before('Noor Castell'),
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
    expect(await screen.findByText(/^Easily taken for Samira Castell/)).toBeTruthy();
    expect(screen.getByRole('button', { name: 'With Samira Castell, 3 pictures' })).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: '2024, 2 pictures' }));
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
    fireEvent.click(screen.getByRole('checkbox', { name: 'Noor, 1 May 2026, filed by itself' }));
    fireEvent.click(screen.getByRole('checkbox', { name: 'Noor, 1 May 2024' }));
    fireEvent.click(screen.getByRole('button', { name: 'Not Noor: take 2 back out' }));
    await waitFor(() =>
      expect(of('POST', '/api/faces/answer')[0]!.body).toEqual({ faces: [92, 93], odd: [], is: 'unnamed' }),
    );
    fireEvent.click(screen.getByRole('checkbox', { name: 'Noor, 16 May 2026' }));
    fireEvent.click(screen.getByRole('button', { name: 'Make it the portrait' }));
    await waitFor(() => expect(of('PATCH', '/api/people/1')[0]!.body).toEqual({ portrait: 91 }));
  });

  test('two names of one person are joined after saying what will happen', async () => {
    const { of } = await begin({
      'GET /api/people/1/join/2': { pictures: 4, both: 1, albums: 2 },
      'POST /api/people/1/join': { any: true },
      'POST /api/people/restore': { done: true },
    });
    fireEvent.click(screen.getByRole('button', { name: 'Change what is known of Noor Castell' }));
    fireEvent.click(screen.getByRole('button', { name: 'Join with somebody …' }));
    const line = screen.getByLabelText('The name that stays');
    fireEvent.change(line, { target: { value: 'sami' } });
    fireEvent.keyDown(line, { key: 'Enter' });
    expect(await screen.findByText(/In 1 picture both are named.*2 smart albums will ask for Samira/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Join with Samira Castell' }));
    await waitFor(() => expect(of('POST', '/api/people/1/join')[0]!.body).toEqual({ into: 2 }));
    fireEvent.click(await screen.findByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(of('POST', '/api/people/restore')).toHaveLength(1));
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
    expect(await screen.findByText(/files 240 by itself, about 2 of them wrongly, and asks about 60/)).toBeTruthy();
    fireEvent.change(await screen.findByLabelText('Files by itself when at least this sure'), {
      target: { value: '0.75' },
    });
    expect(screen.getByText(/files 265 by itself, about 7 of them wrongly, and asks about 35/)).toBeTruthy();
    fireEvent.click(await screen.findByRole('button', { name: 'Keep' }));
    await waitFor(() => expect(of('PUT', '/api/faces/sureness')[0]!.body).toEqual({ ask: 0.3, file: 0.75 }));
    fireEvent.click(await screen.findByRole('button', { name: 'Switch recognition off …' }));
    expect(of('PUT', '/api/faces/recognition')).toHaveLength(0);
    fireEvent.click(screen.getByRole('button', { name: 'Delete and switch off' }));
    await waitFor(() => expect(of('PUT', '/api/faces/recognition')[0]!.body).toEqual({ on: false }));
    expect((await screen.findByRole('status')).textContent).toContain('300 descriptions of faces deleted');
  });
});

describe('names at faces', () => {
  const face = (id: number, box: FaceMark['box'], name: string | null): FaceMark => ({
    id,
    box,
    state: name ? 'named' : 'waiting',
    person: name ? { id, name } : null,
    namedBy: name ? 'hand' : null,
    likely: null,
  });
  test('stand below, or above where they would cover another face; none leaves the picture', () => {
    const upper = face(1, [0.4, 0.3, 0.1, 0.12], 'Ruben Wend');
    const lower = face(2, [0.41, 0.48, 0.1, 0.12], null);
    const edge = face(3, [0.9, 0.84, 0.1, 0.14], 'Tove Hallorin');
    const [a, b, c] = placed([upper, lower, edge], { width: 390, height: 290 });
    expect([a!.name, b!.name, c!.name]).toEqual(['Ruben', '?', 'Tove']);
    expect(a!.label.top).toBeLessThan(a!.oval.top);
    expect(b!.label.top).toBeGreaterThan(b!.oval.top);
    expect(c!.label.top).toBeLessThan(c!.oval.top);
    expect(c!.label.left + c!.label.width).toBeLessThanOrEqual(390);
  });
});

describe('a missed face', () => {
  test('is drawn over the picture, or moved there by keys, then named', async () => {
    let done = 0;
    const { of } = show(<DrawFace picture={5} box={{ width: 400, height: 300 }} onDone={() => done++} />, {
      'GET /api/people': { people: [noor, samira], circles },
      'POST /api/pictures/5/faces': before('Noor Castell'),
    });
    const board = screen.getByTestId('draw-face');
    fireEvent.keyDown(board, { key: 'ArrowRight' });
    fireEvent.keyDown(board, { key: 'ArrowDown', shiftKey: true });
    fireEvent.keyDown(board, { key: 'Enter' });
    const line = screen.getByLabelText('Name');
    fireEvent.change(line, { target: { value: 'noor' } });
    await screen.findByText('↵ to accept');
    fireEvent.keyDown(line, { key: 'Enter' });
    await waitFor(() => expect(of('POST', '/api/pictures/5/faces')).toHaveLength(1));
    const { box, is } = of('POST', '/api/pictures/5/faces')[0]!.body as { box: number[]; is: object };
    expect(is).toEqual({ person: 1 });
    expect(box[0]).toBeCloseTo(0.46);
    expect(box[2]).toBeCloseTo(0.1);
    expect(box[3]).toBeCloseTo(0.17);
    expect(done).toBe(1);
  });
});

describe('one face', () => {
  const face = (more: Partial<FaceMark>): FaceMark => ({
    id: 9,
    box: [0.1, 0.1, 0.2, 0.2],
    state: 'waiting',
    person: null,
    namedBy: null,
    likely: null,
    ...more,
  });
  const answers = { 'GET /api/people': { people: [noor, samira], circles }, 'POST /api/faces/answer': before('x') };

  test('that is likely somebody: yes and no', async () => {
    let closed = 0;
    const likely = { id: 1, name: 'Noor Castell', why: 'Like 3 named pictures' };
    const { of } = show(<FaceSheet face={face({ likely })} onClose={() => closed++} />, answers);
    expect(screen.getByText('Probably Noor Castell. Like 3 named pictures.')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Yes, Noor Castell' }));
    fireEvent.click(screen.getByRole('button', { name: 'No' }));
    await waitFor(() => expect(of('POST', '/api/faces/answer')).toHaveLength(2));
    expect(of('POST', '/api/faces/answer').map((a) => a.body)).toEqual([
      { faces: [9], odd: [], is: { person: 1 } },
      { faces: [9], odd: [], is: 'unnamed' },
    ]);
    expect(closed).toBe(2);
  });

  test('that was filed by itself can be put right', async () => {
    const { of } = show(
      <FaceSheet
        face={face({ state: 'named', namedBy: 'machine', person: { id: 2, name: 'Samira Castell' } })}
        onClose={() => undefined}
      />,
      answers,
    );
    expect(screen.getByText(/Filed by itself/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'This is not Samira Castell' }));
    await waitFor(() => expect(of('POST', '/api/faces/answer')[0]!.body).toMatchObject({ is: 'unnamed' }));
  });
});
