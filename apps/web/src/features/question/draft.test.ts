import { normalise, type Question } from '@gemmel/core';
import { groupAt, toDraft, toQuestion, withGroup } from './draft';

const who: Question = { who: { people: [3], mode: 'all' } };
const stars: Question = { rating: { min: 3 } };
const tag: Question = { tag: 8 };

describe('a question as sentences', () => {
  test.each<[string, Question]>([
    ['one condition', who],
    ['all of', { all: [who, stars] }],
    ['any of', { any: [who, tag] }],
    ['a group within', { all: [who, { any: [tag, stars] }] }],
    ['none of', { all: [who, { not: { any: [tag, stars] } }] }],
    ['not one', { all: [who, { not: tag }] }],
    ['groups in groups', { all: [who, { any: [tag, { all: [stars, { not: { any: [tag, who] } }] }] }] }],
    ['everything', { all: [] }],
    ['nothing but a denial', { not: { any: [tag, stars] } }],
  ])('%s comes back meaning the same', (_, question) => {
    const back = normalise(toQuestion(toDraft(question)));
    const plain = normalise(question);
    expect(
      [plain, 'not' in plain ? { not: { any: [plain.not] } } : plain].map((q) => JSON.stringify(normalise(q))),
    ).toContain(JSON.stringify(back));
  });

  test('groups without lines ask for nothing', () => {
    expect(toQuestion({ join: 'all', lines: [who, { join: 'none', lines: [] }] } as never)).toEqual({ all: [who] });
  });

  test('a line deep within is changed, and nothing else is', () => {
    const draft = toDraft({ all: [who, { any: [tag, { all: [stars, tag] }] }] });
    const inner = groupAt(draft, [1, 1]);
    expect(inner).toEqual({ join: 'all', lines: [stars, tag] });
    const next = withGroup(draft, [1, 1], { ...inner, join: 'none' });
    expect(groupAt(next, [1, 1]).join).toBe('none');
    expect(next.lines[0]).toBe(draft.lines[0]);
    expect(groupAt(next, []).join).toBe('all');
  });
});
