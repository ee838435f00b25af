import type { BookLayout } from '@gemmel/contract';
import type { BookEdits } from '@gemmel/core';

/** A page of a book, as far as it bears pictures. */
export type Page = Pick<BookLayout['pages'][number], 'kind' | 'kept' | 'way' | 'ways' | 'chapter'> & {
  pictures: readonly { id: number }[];
};

const idsOn = (page: Page): number[] => page.pictures.map(({ id }) => id);

/** Without whatever is kept of these pictures. */
const without = (edits: BookEdits, ids: readonly number[]): BookEdits => ({
  ...edits,
  kept: edits.kept.flatMap((one) => {
    const left = one.ids.filter((id) => !ids.includes(id));
    return left.length ? [{ ...one, ids: left, full: one.full && left.length === 1 }] : [];
  }),
});

const withPage = (edits: BookEdits, ids: readonly number[], way: number, full: boolean): BookEdits => {
  const rest = without(edits, ids);
  return ids.length ? { ...rest, kept: [...rest.kept, { ids: [...ids], way, full }] } : rest;
};

/** Keeps a page as it is. */
export const keepPage = (edits: BookEdits, page: Page): BookEdits =>
  withPage(edits, idsOn(page), page.way, page.kind === 'full');

/** Lets a page's pictures flow again. */
export const letFlow = (edits: BookEdits, page: Page): BookEdits => without(edits, idsOn(page));

/** Keeps a page with the next way of placing its pictures. */
export const otherWay = (edits: BookEdits, page: Page): BookEdits =>
  withPage(edits, idsOn(page), (page.way + 1) % Math.max(1, page.ways), false);

/** Has the one picture of a page run over the whole of it, or not. */
export const overAll = (edits: BookEdits, page: Page, full: boolean): BookEdits =>
  withPage(edits, idsOn(page), 0, full);

/** At most so many pictures stand on a page. */
const MOST = 9;

/** The next page before or after one on which there is room for a picture of the same chapter; null when there is none. */
export function pageBeside<P extends Page>(pages: readonly P[], page: P, step: 1 | -1): P | null {
  const mine = pages.filter(
    ({ kind, pictures, chapter }) =>
      chapter === page.chapter && pictures.length && (kind === 'pictures' || kind === 'full'),
  );
  const next = mine[mine.indexOf(page) + step];
  return next && next.pictures.length < MOST ? next : null;
}

/** Moves a picture to the page before or after its own. Both stay as they are from then on. */
export function moveTo(edits: BookEdits, from: Page, to: Page, id: number, step: 1 | -1): BookEdits {
  const left = idsOn(from).filter((one) => one !== id);
  const there = step > 0 ? [id, ...idsOn(to)] : [...idsOn(to), id];
  return withPage(withPage(edits, left, 0, false), there, 0, false);
}

/** Moves a picture to another place on its page. */
export function moveWithin(edits: BookEdits, page: Page, id: number, step: 1 | -1): BookEdits {
  const ids = idsOn(page);
  const at = ids.indexOf(id);
  const to = at + step;
  if (at < 0 || to < 0 || to >= ids.length) return edits;
  [ids[at], ids[to]] = [ids[to]!, ids[at]!];
  return withPage(edits, ids, page.way, false);
}

/** Leaves a picture out of the book. */
export const leaveOut = (edits: BookEdits, id: number): BookEdits => {
  const rest = without(edits, [id]);
  return {
    ...rest,
    out: [...rest.out.filter((one) => one !== id), id],
    also: rest.also.filter((one) => one !== id),
    cover: rest.cover === id ? null : rest.cover,
  };
};

/** Takes a picture into the book, one that was left out or shows nearly the same as another. */
export const takeIn = (edits: BookEdits, id: number): BookEdits => ({
  ...edits,
  out: edits.out.filter((one) => one !== id),
  also: [...edits.also.filter((one) => one !== id), id],
});

/** Says something in other words; what is empty is as it was. */
export function withWords(edits: BookEdits, key: string, words: string | null): BookEdits {
  const { [key]: _, ...rest } = edits.words;
  return { ...edits, words: words === null ? rest : { ...rest, [key]: words } };
}
