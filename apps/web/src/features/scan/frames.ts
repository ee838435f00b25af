import '@/api/checked';
import { quadSize, type Corners } from '@gemmel/core';
import { PrintCorners } from '@gemmel/contract';

/** The middle of a frame, in fractions of the scan. */
export const middleOf = (corners: Corners): readonly [number, number] => [
  (corners[0] + corners[2] + corners[4] + corners[6]) / 4,
  (corners[1] + corners[3] + corners[5] + corners[7]) / 4,
];

/** Where the number of a frame stands: at the middle of its print's upper edge, somewhat within; in fractions of the scan. */
export function numberAt(corners: Corners, within: number): readonly [number, number] {
  const [x, y] = [(corners[0] + corners[2]) / 2, (corners[1] + corners[3]) / 2];
  const [u, v] = middleOf(corners);
  return [x + within * (u - x), y + within * (v - y)];
}

/** The way a frame's print is read, in degrees clockwise: the direction of its upper edge on the glass. */
export const angleOf = (corners: Corners, width: number, height: number): number =>
  (Math.atan2((corners[3] - corners[1]) * height, (corners[2] - corners[0]) * width) * 180) / Math.PI;

/** A frame with its corners held on the glass; null where it would no longer be one. */
export function asFrame(corners: readonly number[]): Corners | null {
  const held = corners.map((v) => Math.min(1, Math.max(0, v)));
  const read = PrintCorners.safeParse(held);
  return read.success ? read.data : null;
}

/** A frame moved as a whole, as far as the glass goes. */
export function movedBy(corners: Corners, dx: number, dy: number): Corners {
  const along = (from: 0 | 1, by: number) => {
    const all = corners.filter((_, i) => i % 2 === from);
    return Math.min(1 - Math.max(...all), Math.max(-Math.min(...all), by));
  };
  const [x, y] = [along(0, dx), along(1, dy)];
  return corners.map((v, i) => v + (i % 2 ? y : x)) as unknown as Corners;
}

/** A further frame, where the glass is emptiest: the middle of a cell of a coarse table that is farthest from every other frame. */
export function furtherFrame(frames: readonly Corners[], width: number, height: number): Corners {
  const middles = frames.map(middleOf);
  let [best, far] = [[0.5, 0.5] as readonly [number, number], 0];
  for (const y of [0.25, 0.5, 0.75])
    for (const x of [0.25, 0.5, 0.75]) {
      const nearest = Math.min(...middles.map(([u, v]) => Math.hypot((u - x) * width, (v - y) * height)));
      if (Number.isFinite(nearest) && nearest > far) [best, far] = [[x, y], nearest];
    }
  const [x, y] = best;
  const [w, h] = width < height ? [0.2, 0.2 * (width / height)] : [0.2 * (height / width), 0.2];
  return [x - w, y - h, x + w, y - h, x + w, y + h, x - w, y + h];
}

/** How wide a print is beside its height. */
export function shapeOf(corners: Corners, width: number, height: number): number {
  const [w, h] = quadSize(width, height, corners);
  return w / h;
}
