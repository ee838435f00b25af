import type { Person } from '@gemmel/contract';
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { Introductions } from '@/features/person/Introductions';
import { byCircle, firstPeople, Who } from '@/features/person/Who';
import { filed, circles, group, noReason, noor, person, samira } from './family';
import { moves, router, show } from './house';

jest.mock('expo-router', () => {
  const { PlainLink, router } = jest.requireActual('./router');
  return { useRouter: () => router, usePathname: () => '/browse', Link: PlainLink };
});

describe('introductions', () => {
  const groups = [
    group(100, 3, {
      candidates: [
        { person: 1, name: 'Noor Castell', portrait: 51, closeness: 'very close', why: { ...noReason, support: 14 } },
        {
          person: 2,
          name: 'Samira Castell',
          portrait: 52,
          closeness: 'close',
          why: { ...noReason, rival: 'Noor Castell' },
        },
      ],
    }),
    group(200, 12),
    group(300, 1),
  ];
  const answers = {
    'GET /api/introductions': { groups, total: 3, faces: 16 },
    'GET /api/people': { people: [noor, samira], circles },
    'POST /api/faces/answer': filed('Noor Castell'),
  };
  const begin = async (more = {}) => {
    const page = show(<Introductions />, { ...answers, ...more });
    await screen.findByText('Somebody you know?');
    return page;
  };

  test('one group at a time; odd ones are tapped away and go along as odd', async () => {
    const { of } = await begin();
    expect(screen.getByText('1 of 3')).toBeTruthy();
    expect(screen.getByText(/^3 pictures, May 2024 to May 2026\. Tap any face that isn’t them\.$/)).toBeTruthy();
    fireEvent.click(screen.getByRole('checkbox', { name: 'Face 2 of 3' }));
    expect(screen.getByRole('checkbox', { name: 'Face 2 of 3, not them' }).getAttribute('aria-checked')).toBe('false');
    fireEvent.click(screen.getByRole('button', { name: 'It’s Noor' }));
    // The next group is there without waiting for the server.
    expect(screen.getByText('2 of 3')).toBeTruthy();
    await waitFor(() => expect(of('POST', '/api/faces/answer')).toHaveLength(1));
    expect(of('POST', '/api/faces/answer')[0]!.body).toEqual({ faces: [100, 101, 102], odd: [101], is: { person: 1 } });
    expect((await screen.findByRole('status')).textContent).toContain('2 faces named Noor Castell');
  });

  test('who is perhaps the same person comes along with one touch, and is not asked about again', async () => {
    const other = group(400, 7);
    const twin = group(500, 1);
    const first = group(100, 3, {
      perhaps: [other, { key: twin.key, faces: [{ ...twin.faces[0]!, picture: other.faces[0]!.picture }] }],
    });
    const { of } = await begin({ 'GET /api/introductions': { groups: [first, other, twin], total: 3, faces: 11 } });
    expect(screen.getAllByText('Perhaps the same person')).toHaveLength(2);
    expect(screen.getByText('and 3 more')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'These too' }));
    // The other one stands in one picture with those that came along.
    expect(screen.queryByText('Perhaps the same person')).toBeNull();
    expect(screen.getByText(/^10 pictures/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Passer-by' }));
    await waitFor(() => expect(of('POST', '/api/faces/answer')).toHaveLength(1));
    expect((of('POST', '/api/faces/answer')[0]!.body as { faces: number[] }).faces).toHaveLength(10);
    expect(screen.getByText('3 of 3')).toBeTruthy();
  });

  test('undo brings the group back', async () => {
    const { of } = await begin();
    fireEvent.click(screen.getByRole('button', { name: 'Passer-by' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Undo' }));
    expect(await screen.findByText('1 of 3')).toBeTruthy();
    expect(of('POST', '/api/acts/900/undo')).toHaveLength(1);
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
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'Bastian O.' } });
    fireEvent.change(screen.getByLabelText('Born, if you know (helps with ages)'), {
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
    expect(screen.getByText('3 faces, about a minute')).toBeTruthy();
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
    fireEvent.click(screen.getByRole('button', { name: 'Most recent' }));
    expect(names().slice(0, 3)).toEqual(['Mia', 'Ada', 'Zoe']);
    fireEvent.click(screen.getByRole('button', { name: '1 hidden person' }));
    expect(names()).toContain('Kit');
    fireEvent.click(screen.getByRole('button', { name: 'Most pictures' }));
  });

  test('of a large family a screen stands at once, under the circles as they are, and all of it in the end', async () => {
    const many = Array.from({ length: 90 }, (_, i) => person(i + 1, `Somebody ${i}`, { circles: i < 50 ? [1] : [] }));
    const parts = byCircle(many, [...circles, { id: 2, name: 'Neighbours' }]);
    const counted = (room: number) => firstPeople(parts, room).map(({ people, all }) => [people.length, all]);
    expect(counted(30)).toEqual([[30, 50]]);
    expect(counted(60)).toEqual([
      [50, 50],
      [0, 0],
      [10, 40],
    ]);
    expect(counted(Infinity).at(-1)).toEqual([40, 40]);
    begin(many);
    await waitFor(() => expect(document.querySelectorAll('a[aria-label^=Somebody]').length).toBe(90), {
      timeout: 20_000,
    });
    expect(screen.getByText('50')).toBeTruthy();
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

  test('a finger that swipes over a cameo leafs through it and does not open it; one that taps does', async () => {
    begin([noor], {
      'GET /api/people/1': {
        years: [],
        together: [],
        alike: [],
        faces: { ids: [91, 92], pictures: [1, 2], days: [], byMachine: [] },
      },
    });
    const link = await screen.findByRole('link', { name: /^Noor/ });
    const leaf = link.querySelector('[data-leaf]') as HTMLElement;
    leaf.getBoundingClientRect = () => ({ left: 0, width: 100 }) as DOMRect;
    const finger = (type: string, clientX: number) => {
      const event = new MouseEvent(type, { bubbles: true, clientX });
      Object.assign(event, { pointerType: 'touch' });
      fireEvent(leaf, event);
    };
    const opened: Event[] = [];
    document.addEventListener('click', (event) => opened.push(event));
    finger('pointerdown', 10);
    await waitFor(() => {
      finger('pointermove', 90);
      expect(leaf.querySelector('img')!.getAttribute('src')).toContain('/92/');
    });
    finger('pointerup', 90);
    fireEvent.click(leaf);
    expect(opened).toHaveLength(0);
    finger('pointerdown', 10);
    finger('pointerup', 11);
    fireEvent.click(leaf);
    expect(opened).toHaveLength(1);
  });

  test('a circle is made with people in it, renamed, moved and removed', async () => {
    const { of } = begin([noor, samira], {
      'POST /api/circles': { id: 7 },
      'PATCH /api/circles/1': {},
      'DELETE /api/circles/1': {},
    });
    fireEvent.click(await screen.findByRole('button', { name: 'New circle' }));
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'Sisters' } });
    fireEvent.click(screen.getByRole('checkbox', { name: 'Noor Castell' }));
    fireEvent.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(of('POST', '/api/circles')[0]!.body).toEqual({ name: 'Sisters', people: [1] }));
    fireEvent.click(screen.getByRole('button', { name: 'Edit circle Cousins' }));
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'The cousins' } });
    fireEvent.click(screen.getByRole('checkbox', { name: 'Samira Castell' }));
    fireEvent.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(of('PATCH', '/api/circles/1')[0]!.body).toEqual({ name: 'The cousins', people: [1] }));
    fireEvent.click(screen.getByRole('button', { name: 'Edit circle Cousins' }));
    fireEvent.click(screen.getByRole('button', { name: 'Move down' }));
    await waitFor(() => expect(of('PATCH', '/api/circles/1')[1]!.body).toEqual({ position: 1 }));
    fireEvent.click(screen.getByRole('button', { name: 'Edit circle Cousins' }));
    fireEvent.click(screen.getByRole('button', { name: 'Remove circle' }));
    await waitFor(() => expect(of('DELETE', '/api/circles/1')).toHaveLength(1));
    fireEvent.click(await screen.findByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(of('POST', '/api/acts/900/undo')).toHaveLength(1));
  });
});
