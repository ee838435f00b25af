/** Rows of pictures that keep their own shapes and fill the width. Lengths in CSS pixels. */
export interface JustifyOptions {
  width: number;
  /** The height rows come near to. */
  rowHeight: number;
  gap: number;
}

/** One row: pictures `from` up to, not including, `to`, all `height` high. The last row of a section may be ragged. */
export interface Row {
  from: number;
  to: number;
  height: number;
}

/**
 * Breaks a run of pictures into justified rows, and tells each as it is found: a row ends as soon as one more picture would bring its height
 * further below the wished one than it now is above it. A last row that cannot fill the width keeps the wished height.
 * @param ratios width / height of each picture; values are kept between 1:4 and 6:1 so that no strip breaks the page.
 */
export function eachRow(
  ratios: ArrayLike<number>,
  start: number,
  to: number,
  { width, rowHeight, gap }: JustifyOptions,
  found: (from: number, to: number, height: number) => void,
): void {
  let sum = 0;
  for (let i = start; i < to; i++) {
    const ratio = shape(ratios[i]!);
    const now = sum > 0 ? (width - gap * (i - start - 1)) / sum : Infinity;
    const next = (width - gap * (i - start)) / (sum + ratio);
    if (sum > 0 && next < rowHeight && now - rowHeight <= rowHeight - next) {
      found(start, i, now);
      start = i;
      sum = 0;
    }
    sum += ratio;
  }
  if (start < to) found(start, to, Math.min((width - gap * (to - start - 1)) / sum, rowHeight * 1.15));
}

/** The rows `eachRow` finds. */
export function justify(ratios: ArrayLike<number>, from: number, to: number, options: JustifyOptions): Row[] {
  const rows: Row[] = [];
  eachRow(ratios, from, to, options, (first, end, height) => rows.push({ from: first, to: end, height }));
  return rows;
}

/** A shape kept within what a row can show. */
export const shape = (ratio: number): number => Math.min(6, Math.max(0.25, ratio || 1));

/** Left edge and width of each picture in a row, in whole pixels, the last one ending exactly where the row ends. */
export function places(ratios: ArrayLike<number>, row: Row, gap: number): { left: number; width: number }[] {
  const result: { left: number; width: number }[] = [];
  let x = 0;
  for (let i = row.from; i < row.to; i++) {
    const w = shape(ratios[i]!) * row.height;
    const left = Math.round(x);
    result.push({ left, width: Math.round(x + w) - left });
    x += w + gap;
  }
  return result;
}
