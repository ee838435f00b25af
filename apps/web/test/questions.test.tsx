import { complete, narrow, parse, WORDS, type Condition, type Question } from '@gemmel/core';
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { ConditionSheet, subjectOf } from '@/features/question/ConditionSheet';
import { QuestionBar } from '@/features/question/QuestionBar';
import { SmartEditorNew } from '@/features/question/SmartEditor';
import { useAsk } from '@/state/ask';
import { act } from 'react';
import { moves, show } from './house';

jest.mock('expo-router', () => ({ useRouter: () => jest.requireActual('./router').router }));

const people = ['Tove Hallorin', 'Emil Hallorin'].map((name, i) => ({
  id: i + 1,
  name,
  nickname: name.split(' ')[0],
  circle: null,
  born: null,
  pictures: 9,
  likely: 0,
  portrait: null,
}));
const answers = {
  'GET /api/people': { people },
  'GET /api/tags': { tags: [{ id: 5, name: 'kites', parent: null, pictures: 13, below: 13, spellings: [] }] },
  'GET /api/places': {
    places: [{ country: 'SE', place: 'Visby', region: 'Gotland', pictures: 15 }],
  },
  'GET /api/events': {
    events: [
      { id: 4, title: 'First swim', start: '2026-06-14', end: '2026-06-14', place: null, pictures: 3, people: [] },
      { id: 6, title: null, start: '2026-06-15', end: '2026-06-15', place: null, pictures: 3, people: [] },
    ],
  },
  'POST /api/count': { count: 46 },
};

/** As the server would: what is typed, read with the names above. */
const askAnswer = ({ body }: { body: unknown }) => {
  const { typed, question } = body as { typed: string; question: Question };
  const names = { people, tags: [{ id: 5, name: 'kites' }], events: [{ id: 4, name: 'First swim' }] };
  const parsed = parse(typed, names, WORDS.en, '2026-11-24');
  return {
    question: narrow(question, parsed.question),
    pictures: 12,
    completions: complete(parsed.open, names, WORDS.en).map((one) => ({
      ...one,
      hint: null,
      question: narrow(question, one.question),
      pictures: 7,
    })),
  };
};

describe('the question bar', () => {
  const open = () => {
    show(<QuestionBar />, { ...answers, 'POST /api/ask': askAnswer });
    const line = screen.getByLabelText('Ask for people, places, days, tags');
    fireEvent.focus(line);
    const type = (value: string) => fireEvent.change(line, { target: { value } });
    return { line, type };
  };
  const asked = () => useAsk.getState().question;

  test('typing offers names with their counts and asks at once; what is taken becomes a chip', async () => {
    const { line, type } = open();
    type('to');
    const option = await screen.findByRole('option', { name: 'Tove Hallorin, a person, 7 pictures' });
    // The pictures follow what is typed, without Enter.
    await waitFor(() => expect(useAsk.getState().typing).toEqual({ text: 'to' }));
    expect(screen.getByText('12 pictures')).toBeTruthy();
    fireEvent.click(option);
    expect(asked()).toEqual({ who: { people: [1], mode: 'all' } });
    expect(useAsk.getState().typing).toBeNull();
    type('apr-sep 2026 #kites');
    fireEvent.keyDown(line, { key: 'Enter' });
    await waitFor(() =>
      expect(asked()).toEqual({
        all: [{ who: { people: [1], mode: 'all' } }, { taken: { from: '2026-04-01', to: '2026-09-30' } }, { tag: 5 }],
      }),
    );
    expect(await screen.findByText('46 pictures')).toBeTruthy();
    fireEvent.blur(line);
    // On a phone a long question is one line, which opens.
    fireEvent.click(
      await screen.findByRole('button', { name: /^The whole question: with Tove Hallorin, .* tagged kites$/ }),
    );
    fireEvent.click(screen.getByRole('button', { name: 'Remove: tagged kites' }));
    expect(JSON.stringify(asked())).not.toContain('tag');
    fireEvent.click(screen.getByRole('button', { name: 'Show every picture' }));
    expect(asked()).toEqual({ all: [] });
  });

  test('keys go through what is offered; an empty line takes the last part back as text', async () => {
    const { line, type } = open();
    type('first');
    await screen.findByRole('option', { name: 'First swim, an event, 7 pictures' });
    fireEvent.keyDown(line, { key: 'ArrowDown' });
    expect(line.getAttribute('aria-activedescendant')).toBe('asked-0');
    fireEvent.keyDown(line, { key: 'Enter' });
    expect(asked()).toEqual({ event: 4 });
    fireEvent.keyDown(line, { key: 'Backspace' });
    expect(asked()).toEqual({ all: [] });
    expect((line as HTMLInputElement).value).toBe('from First swim');
  });

  test('a chip is put right in place: any of several, wider, left out', async () => {
    open();
    const set = (question: Question) => act(() => useAsk.getState().set(question));
    set({ who: { people: [1, 2], mode: 'all' } });
    fireEvent.click(await screen.findByRole('button', { name: 'Tove Hallorin and Emil Hallorin' }));
    fireEvent.click(await screen.findByRole('button', { name: 'with Tove Hallorin or Emil Hallorin' }));
    expect(asked()).toEqual({ who: { people: [1, 2], mode: 'any' } });
    set({ taken: { from: '2026-05-16', to: '2026-05-16' } });
    fireEvent.click(screen.getByRole('button', { name: '16 May 2026' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Wider: taken in May 2026' }));
    fireEvent.click(screen.getByRole('button', { name: 'May 2026' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Leave out: not taken in May 2026' }));
    expect(asked()).toEqual({ not: { taken: { from: '2026-05-01', to: '2026-05-31' } } });
  });

  test('a slash anywhere begins a question; without a server it is read here', async () => {
    show(<QuestionBar />, { ...answers, 'POST /api/ask': 500 });
    fireEvent.keyDown(document.body, { key: '/' });
    const line = screen.getByLabelText('Ask for people, places, days, tags');
    expect(document.activeElement).toBe(line);
    fireEvent.change(line, { target: { value: '-"big one"' } });
    fireEvent.keyDown(line, { key: 'Enter' });
    await waitFor(() => expect(asked()).toEqual({ not: { text: 'big one' } }));
    expect(screen.getByText('not that say')).toBeTruthy();
    expect(screen.getByText('“big one”')).toBeTruthy();
  });
});

describe('conditions', () => {
  const made: Condition[] = [];
  const open = (condition: Condition | null = null) => {
    made.length = 0;
    show(<ConditionSheet condition={condition} onTake={(c) => made.push(c)} onClose={() => undefined} />, answers);
  };
  const press = (name: string | RegExp) => fireEvent.click(screen.getByRole('button', { name }));

  test.each<[string, string, Condition]>([
    ['Stars', '3 or better', { rating: { min: 3 } }],
    ['Stars', 'Not rated', { rating: { max: 0 } }],
    ['Hearts', 'With a heart', { favourite: true }],
    ['Photographs or clips', 'Clips', { kind: 'video' }],
    ['What it has or doesn’t have', 'Has a face without a name', { lacks: 'names' }],
    ['What it has or doesn’t have', 'Has a caption', { has: 'caption' }],
    ['An album', 'In no album', { inNoAlbum: true }],
    ['When it was taken', 'May', { taken: { month: 5 } }],
    ['When it was taken', 'Always the last days', { taken: { lastDays: 7 } }],
  ])('%s: %s', (subject, value, condition) => {
    open();
    press(subject);
    press(value);
    expect(made).toEqual([condition]);
  });

  test('days: either end may be missing, the wrong way round is told', () => {
    open();
    press('When it was taken');
    const keep = () => screen.getByRole('button', { name: 'Between these days' });
    expect(keep().hasAttribute('disabled')).toBe(true);
    fireEvent.change(screen.getByLabelText('First day'), { target: { value: '2026-09-30' } });
    fireEvent.change(screen.getByLabelText('Last day'), { target: { value: '2026-04-01' } });
    expect(screen.getByText('The last day can’t be before the first.')).toBeTruthy();
    fireEvent.change(screen.getByLabelText('Last day'), { target: { value: '' } });
    fireEvent.click(keep());
    expect(made).toEqual([{ taken: { from: '2026-09-30' } }]);
  });

  test('people: several, all or any of them or only these', async () => {
    open();
    press('Who is in it');
    for (const { name } of people) fireEvent.click(await screen.findByRole('checkbox', { name }));
    press('All of these, nobody else');
    press('Add');
    expect(made).toEqual([{ who: { people: [1, 2], mode: 'only' } }]);
  });

  test('tags, places and named events come from the library', async () => {
    open();
    press('A tag');
    fireEvent.click(await screen.findByRole('button', { name: /kites/ }));
    expect(made).toEqual([{ tag: 5 }]);
  });

  test('an event without a name cannot be asked for by name', async () => {
    open();
    press('An event');
    expect(await screen.findByRole('button', { name: /First swim/ })).toBeTruthy();
    expect(screen.queryAllByRole('button').filter((b) => /15 June/.test(b.textContent ?? ''))).toHaveLength(0);
  });

  test('one that is there opens where it stands', () => {
    open({ text: 'kites' });
    expect((screen.getByLabelText('Words') as HTMLInputElement).value).toBe('kites');
    expect(subjectOf({ inNoAlbum: true })).toBe('album');
    expect(subjectOf({ lacks: 'place' })).toBe('has');
    expect(subjectOf({ where: { country: 'SE' } })).toBe('where');
  });
});

describe('a smart album', () => {
  test('begins with what Browse asks, is made of sentences and groups, and is kept as its question', async () => {
    const page = show(<SmartEditorNew />, { ...answers, 'POST /api/albums': { id: 77 } });
    page.unmount();
    const { of } = show(<SmartEditorNew />, { ...answers, 'POST /api/albums': { id: 77 } });
    moves.length = 0;
    expect(screen.getByText('No conditions yet, so every picture belongs.')).toBeTruthy();
    const keep = () => screen.getByRole('button', { name: 'Save' });
    expect(keep().hasAttribute('disabled')).toBe(true);
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'Lake or stars' } });
    const add = (nth: number, subject: string, value: string) => {
      fireEvent.click(screen.getAllByRole('button', { name: 'Condition' })[nth]!);
      fireEvent.click(screen.getByRole('button', { name: subject }));
      fireEvent.click(screen.getByRole('button', { name: value }));
    };
    add(0, 'Hearts', 'With a heart');
    fireEvent.click(screen.getByRole('button', { name: 'Group' }));
    add(0, 'Stars', '4 or better');
    add(0, 'Photographs or clips', 'Clips');
    // The group's "any" becomes "none".
    fireEvent.click(screen.getByRole('button', { name: 'any' }));
    expect(screen.getByRole('button', { name: 'none' })).toBeTruthy();
    await act(async () => void fireEvent.click(keep()));
    await waitFor(() => expect(of('POST', '/api/albums')).toHaveLength(1));
    expect(of('POST', '/api/albums')[0]!.body).toEqual({
      name: 'Lake or stars',
      question: { all: [{ favourite: true }, { not: { any: [{ rating: { min: 4 } }, { kind: 'video' }] } }] },
      best: null,
      shelf: null,
    });
    await waitFor(() =>
      expect(moves[0]).toEqual({ way: 'replace', to: { pathname: '/albums/[id]', params: { id: 77 } } }),
    );
    fireEvent.click(screen.getByRole('button', { name: 'Remove: with a heart' }));
    expect(screen.queryByText('a heart')).toBeNull();
  });
});
