import type { PaperBox } from './paper';

/**
 * How pictures share a rectangle: one by its index, several side by side and equally high, or several above each other and equally wide. Every
 * picture keeps its shape; the whole has the one shape that follows from that (slicing structures: Otten, 1982; with pictures of fixed shape:
 * Atkins, 2008).
 */
export type Slice = number | { row: readonly Slice[] } | { column: readonly Slice[] };

/** A picture to be placed: width / height, and what stands below it, as wide as the picture. */
export interface Leaf {
  ratio: number;
  below: number;
}

/** Width as it follows from height: `width = a * height + b`. */
interface Line {
  a: number;
  b: number;
}

/** The line of a slice. Side by side widths add up at one height; above each other heights add up at one width. */
function lineOf(slice: Slice, leaves: readonly Leaf[], gap: number): Line {
  if (typeof slice === 'number') {
    const { ratio, below } = leaves[slice]!;
    return { a: ratio, b: -ratio * below };
  }
  const parts = ('row' in slice ? slice.row : slice.column).map((part) => lineOf(part, leaves, gap));
  const gaps = (parts.length - 1) * gap;
  if ('row' in slice)
    return { a: parts.reduce((sum, { a }) => sum + a, 0), b: parts.reduce((sum, { b }) => sum + b, gaps) };
  const a = 1 / parts.reduce((sum, part) => sum + 1 / part.a, 0);
  return { a, b: a * (parts.reduce((sum, part) => sum + part.b / part.a, 0) - gaps) };
}

function lay(slice: Slice, leaves: readonly Leaf[], gap: number, box: PaperBox, out: PaperBox[]): void {
  if (typeof slice === 'number') {
    out[slice] = { ...box, h: box.h - leaves[slice]!.below };
    return;
  }
  let { x, y } = box;
  for (const part of 'row' in slice ? slice.row : slice.column) {
    const { a, b } = lineOf(part, leaves, gap);
    if ('row' in slice) {
      const w = a * box.h + b;
      lay(part, leaves, gap, { x, y, w, h: box.h }, out);
      x += w + gap;
    } else {
      const h = (box.w - b) / a;
      lay(part, leaves, gap, { x, y, w: box.w, h }, out);
      y += h + gap;
    }
  }
}

/**
 * Places pictures in a rectangle as large as they can be, in its middle.
 * @returns a box for each picture, without what stands below it; null where there is no room.
 */
export function slicedInto(area: PaperBox, slice: Slice, leaves: readonly Leaf[], gap: number): PaperBox[] | null {
  const { a, b } = lineOf(slice, leaves, gap);
  const h = Math.min(area.h, (area.w - b) / a);
  const w = a * h + b;
  if (!(h > 0 && w > 0)) return null;
  const boxes: PaperBox[] = [];
  lay(slice, leaves, gap, { x: area.x + (area.w - w) / 2, y: area.y + (area.h - h) / 2, w, h }, boxes);
  return boxes.every((box) => box.w > 0 && box.h > 0) ? boxes : null;
}

/** Ways of parting `n` things, in their order, into groups of at most `most`: each by the sizes of its groups. */
function partings(n: number, most: number): number[][] {
  if (n === 0) return [[]];
  const out: number[][] = [];
  for (let first = 1; first <= Math.min(most, n); first++)
    for (const rest of partings(n - first, most)) out.push([first, ...rest]);
  return out;
}

/** At most so many pictures stand side by side, or above each other. */
const IN_LINE = 4;

/** Some pictures, in their order, in rows, and in columns. */
function grids(pictures: readonly number[]): Slice[] {
  if (pictures.length === 1) return [pictures[0]!];
  const seen = new Map<string, Slice>();
  for (const sizes of partings(pictures.length, IN_LINE)) {
    if (sizes.length > IN_LINE) continue;
    let at = 0;
    const groups = sizes.map((size) => pictures.slice(at, (at += size)));
    const joined = (inner: 'row' | 'column', outer: 'row' | 'column'): Slice => {
      const parts = groups.map((group): Slice =>
        group.length === 1 ? group[0]! : inner === 'row' ? { row: group } : { column: group },
      );
      return parts.length === 1 ? parts[0]! : outer === 'row' ? { row: parts } : { column: parts };
    };
    for (const slice of [joined('row', 'column'), joined('column', 'row')]) seen.set(JSON.stringify(slice), slice);
  }
  return [...seen.values()];
}

/**
 * Every way worth trying to place `n` pictures on a page: in rows or columns in their order, and with one of `large` along a whole side and
 * the others in rows or columns beside it.
 */
export function slicesOf(n: number, large: readonly number[]): Slice[] {
  const all = Array.from({ length: n }, (_, i) => i);
  const seen = new Map<string, Slice>(grids(all).map((slice) => [JSON.stringify(slice), slice]));
  if (n > 2)
    for (const one of large)
      for (const rest of grids(all.filter((i) => i !== one)))
        for (const slice of [
          { row: [one, rest] },
          { row: [rest, one] },
          { column: [one, rest] },
          { column: [rest, one] },
        ])
          seen.set(JSON.stringify(slice), slice);
  return [...seen.values()];
}
