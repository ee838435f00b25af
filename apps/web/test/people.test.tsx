import type { FaceMark, Introduction, Person } from '@gemmel/contract';
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { Introductions } from '@/features/person/Introductions';
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
  circle: 'Cousins',
  born: null,
  pictures: 4,
  likely: 0,
  portrait: 50 + id,
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
const before = (said: string) => ({ faces: [], newPerson: null, said, rejected: [] });

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
    'GET /api/introductions': { groups, faces: 16 },
    'GET /api/people': { people: [noor, samira] },
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
  test('people by circle, with who waits to be asked about', async () => {
    show(<Who />, {
      'GET /api/people': { people: [noor, samira, person(3, 'Ada', { circle: null })] },
      'GET /api/introductions': { groups: [group(100, 3)], faces: 3 },
    });
    expect(await screen.findByRole('heading', { name: 'Cousins' })).toBeTruthy();
    expect(screen.getByRole('heading', { name: 'Everybody else' })).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Samira Castell, 4 pictures, 3 to ask about' })).toBeTruthy();
    moves.length = 0;
    fireEvent.click(await screen.findByText('1 group to introduce'));
    expect(moves).toEqual([{ way: 'push', to: '/introductions' }]);
    expect(router.canGoBack()).toBe(false);
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
  const answers = { 'GET /api/people': { people: [noor, samira] }, 'POST /api/faces/answer': before('x') };

  test('that is likely somebody: yes and no', async () => {
    let closed = 0;
    const likely = { id: 1, name: 'Noor Castell', why: 'like 3 named pictures' };
    const { of } = show(<FaceSheet face={face({ likely })} onClose={() => closed++} />, answers);
    expect(screen.getByText('Probably Noor Castell: like 3 named pictures.')).toBeTruthy();
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
