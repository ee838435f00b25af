import type { FaceMark } from '@gemmel/contract';
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { DrawFace } from '@/features/picture/DrawFace';
import { placed } from '@/features/picture/FaceOvals';
import { FaceSheet } from '@/features/picture/FaceSheet';
import { filed, circles, noReason, noor, samira } from './family';
import { show } from './house';

jest.mock('expo-router', () => {
  const { PlainLink, router } = jest.requireActual('./router');
  return { useRouter: () => router, usePathname: () => '/browse', Link: PlainLink };
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
      'POST /api/pictures/5/faces': filed('Noor Castell'),
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

  test('by the pointer: a touch that draws nothing asks nothing; Escape leaves; it may be marked without a name', async () => {
    let done = 0;
    const { of } = show(<DrawFace picture={5} box={{ width: 400, height: 300 }} onDone={() => done++} />, {
      'POST /api/pictures/5/faces': filed(''),
    });
    const board = screen.getByTestId('draw-face');
    board.getBoundingClientRect = () => ({ left: 0, top: 0, width: 400, height: 300 }) as DOMRect;
    board.setPointerCapture = () => undefined;
    const point = (type: string, clientX: number, clientY: number) =>
      fireEvent(board, new MouseEvent(type, { bubbles: true, clientX, clientY }));
    point('pointerdown', 40, 30);
    point('pointerup', 40, 30);
    expect(screen.queryByRole('dialog')).toBeNull();
    point('pointerdown', 120, 90);
    point('pointermove', 80, 60);
    point('pointerup', 80, 60);
    fireEvent.click(screen.getByRole('button', { name: 'Draw again' }));
    expect(screen.queryByRole('dialog')).toBeNull();
    point('pointerdown', 120, 90);
    point('pointermove', 80, 30);
    point('pointerup', 80, 30);
    fireEvent.click(screen.getByRole('button', { name: 'Mark without a name' }));
    await waitFor(() => expect(of('POST', '/api/pictures/5/faces')).toHaveLength(1));
    expect(of('POST', '/api/pictures/5/faces')[0]!.body).toEqual({
      box: [0.2, 0.1, expect.closeTo(0.1), expect.closeTo(0.2)],
      is: null,
    });
    fireEvent.click(await screen.findByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(of('POST', '/api/acts/900/undo')).toHaveLength(1));
    fireEvent.keyDown(board, { key: 'Escape' });
    expect(done).toBe(2);
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
  const answers = { 'GET /api/people': { people: [noor, samira], circles }, 'POST /api/faces/answer': filed('x') };

  test('that is likely somebody: yes and no', async () => {
    let closed = 0;
    const likely = { id: 1, name: 'Noor Castell', why: { ...noReason, support: 3 } };
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
    expect(screen.getByText(/Named automatically/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'This isn’t Samira Castell' }));
    await waitFor(() => expect(of('POST', '/api/faces/answer')[0]!.body).toMatchObject({ is: 'unnamed' }));
  });
});
