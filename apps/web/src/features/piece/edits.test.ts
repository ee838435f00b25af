import { NO_EDITS, type BookEdits } from '@gemmel/core';
import {
  keepPage,
  leaveOut,
  letFlow,
  moveTo,
  moveWithin,
  otherWay,
  pageBeside,
  takeIn,
  withWords,
  type Page,
} from './edits';

const page = (ids: number[], more: Partial<Page> = {}): Page => ({
  kind: 'pictures',
  kept: false,
  way: 0,
  ways: 4,
  chapter: 'a',
  pictures: ids.map((id) => ({ id })),
  ...more,
});
const kept = (edits: BookEdits) => edits.kept.map(({ ids, way, full }) => `${ids.join()} ${way}${full ? ' full' : ''}`);

describe('a book’s pages', () => {
  test('are kept once, and let go', () => {
    const once = keepPage(keepPage(NO_EDITS, page([1, 2])), page([1, 2], { way: 3 }));
    expect(kept(once)).toEqual(['1,2 3']);
    expect(kept(letFlow(once, page([1, 2])))).toEqual([]);
  });

  test('are placed in one way after another, and in the first again', () => {
    expect(kept(otherWay(NO_EDITS, page([1, 2])))).toEqual(['1,2 1']);
    expect(kept(otherWay(NO_EDITS, page([1, 2], { way: 3 })))).toEqual(['1,2 0']);
  });

  test('give a picture to the next and to the one before', () => {
    const [a, b] = [page([1, 2, 3]), page([4])];
    expect(kept(moveTo(NO_EDITS, a, b, 3, 1))).toEqual(['1,2 0', '3,4 0']);
    expect(kept(moveTo(NO_EDITS, b, a, 4, -1))).toEqual(['1,2,3,4 0']);
  });

  test('have a neighbour only in their chapter, with room, past pages without pictures', () => {
    const pages = [
      page([1]),
      page([]),
      page([2, 3]),
      page([4, 5, 6, 7, 8, 9, 10, 11, 12]),
      page([13], { chapter: 'b' }),
    ];
    expect(pageBeside(pages, pages[0]!, 1)).toBe(pages[2]);
    expect(pageBeside(pages, pages[0]!, -1)).toBeNull();
    expect(pageBeside(pages, pages[2]!, 1)).toBeNull();
    expect(pageBeside(pages, pages[3]!, 1)).toBeNull();
  });

  test('have their pictures in another order', () => {
    expect(kept(moveWithin(NO_EDITS, page([1, 2, 3], { way: 2 }), 2, -1))).toEqual(['2,1,3 2']);
    expect(moveWithin(NO_EDITS, page([1, 2]), 1, -1)).toBe(NO_EDITS);
  });
});

test('a picture that is left out is on no kept page and not on the cover, and comes back', () => {
  const edits = { ...keepPage(NO_EDITS, page([1, 2])), cover: 1 };
  const out = leaveOut(edits, 1);
  expect(kept(out)).toEqual(['2 0']);
  expect(out.out).toEqual([1]);
  expect(out.cover).toBeNull();
  const back = takeIn(out, 1);
  expect(back.out).toEqual([]);
  expect(back.also).toEqual([1]);
});

test('words are said otherwise, and as they were', () => {
  const said = withWords(NO_EDITS, 'title:a', 'The lake');
  expect(said.words).toEqual({ 'title:a': 'The lake' });
  expect(withWords(said, 'title:a', null).words).toEqual({});
});
