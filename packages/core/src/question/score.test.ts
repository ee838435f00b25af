import type { Heard } from './heard';
import { scoreOf, type Scored } from './score';

const heard = (more: Partial<Heard> = {}): Heard => ({
  asked: ['lantern'],
  instead: null,
  tags: new Set(),
  people: new Set(),
  events: new Set(),
  albums: new Set(),
  folders: new Set(),
  ownPlaces: new Set(),
  places: [],
  ...more,
});
const plain: Scored = {
  title: null,
  caption: null,
  files: ['IMG_1.jpg'],
  comments: [],
  seenWords: null,
  tags: [],
  people: [],
  albums: [],
  event: null,
  folder: null,
  ownPlace: null,
  country: null,
  region: null,
  place: null,
};
const best = (texts: Heard, ...pictures: Partial<Scored>[]): number[] =>
  pictures
    .map((picture, i) => ({ i, score: scoreOf(texts, { ...plain, ...picture }) }))
    .sort((a, b) => b.score - a.score)
    .map(({ i }) => i);

describe('the best match', () => {
  test('a title before a tag, an event, a caption, a comment, words seen and the name of the file', () => {
    expect(
      best(
        heard({ tags: new Set([1]), events: new Set([2]) }),
        { files: ['lantern.jpg'] },
        { seenWords: 'Lantern shop' },
        { comments: ['what a lantern'] },
        { caption: 'The lantern by the quay' },
        { event: 2 },
        { tags: [1] },
        { title: 'Lantern' },
      ),
    ).toEqual([6, 5, 4, 3, 2, 1, 0]);
  });

  test('whole words before begun ones, and what is found twice before what is found once', () => {
    expect(best(heard(), { title: 'Lanterns' }, { title: 'A lantern' })).toEqual([1, 0]);
    expect(best(heard(), { title: 'Lantern' }, { title: 'Lantern', comments: ['that lantern'] })).toEqual([1, 0]);
  });

  test('a letter that was forgiven, places, and nothing at all', () => {
    expect(
      scoreOf(heard({ asked: ['lantren'], instead: ['lantern'] }), { ...plain, title: 'Lantern' }),
    ).toBeGreaterThan(8);
    const uppsala = heard({ places: [{ country: 'SE', region: 'Uppsala', place: 'Uppsala' }] });
    expect(scoreOf(uppsala, { ...plain, country: 'SE', region: 'Uppsala', place: 'Uppsala' })).toBe(4);
    expect(scoreOf(uppsala, { ...plain, country: 'SE', region: 'Uppsala', place: 'Knivsta' })).toBe(0);
    expect(scoreOf(heard(), plain)).toBe(0);
  });
});
