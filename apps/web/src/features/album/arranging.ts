/** Something that stands in an album: a picture, or a heading or note. */
export type Standing = { picture: number } | { chapter: number };

export const keyOf = (one: Standing): string => ('picture' in one ? `p${one.picture}` : `c${one.chapter}`);

/** Pictures with the chapters that stand among them, in one list. */
export function together(ids: readonly number[], chapters: readonly { id: number; at: number }[]): Standing[] {
  const list: Standing[] = [];
  let next = 0;
  ids.forEach((picture, i) => {
    for (; next < chapters.length && chapters[next]!.at <= i; next++) list.push({ chapter: chapters[next]!.id });
    list.push({ picture });
  });
  for (; next < chapters.length; next++) list.push({ chapter: chapters[next]!.id });
  return list;
}

/** Where cells of one size stand: how many in a row, and which rows are near the window. */
export interface Cells {
  columns: number;
  width: number;
  height: number;
  gap: number;
}

/** As many cells of about a width as fit side by side. */
export function cellsIn(width: number, wanted: number, height: number, gap: number): Cells {
  const columns = Math.max(1, Math.floor((width + gap) / (wanted + gap)));
  return { columns, width: (width - gap * (columns - 1)) / columns, height, gap };
}

/** Left and top of a cell, in CSS pixels. */
export const cellAt = ({ columns, width, height, gap }: Cells, index: number): { left: number; top: number } => ({
  left: (index % columns) * (width + gap),
  top: Math.floor(index / columns) * (height + gap),
});

/** Before which of `n` cells something stands that is let go at a point; `n` for the end. */
export function gapAt({ columns, width, height, gap }: Cells, n: number, x: number, y: number): number {
  const row = Math.max(0, Math.floor(y / (height + gap)));
  const column = Math.max(0, Math.min(columns, Math.round(x / (width + gap))));
  return Math.min(n, row * columns + column);
}

/** The cells from one to another that are near the window. */
export function cellsNear(cells: Cells, n: number, from: number, to: number): { first: number; last: number } {
  const { columns, height, gap } = cells;
  const first = Math.max(0, Math.floor(from / (height + gap)) * columns);
  const last = Math.min(n, (Math.floor(to / (height + gap)) + 1) * columns);
  return { first: Math.min(first, last), last };
}
