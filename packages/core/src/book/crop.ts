import type { Part } from '../show/pan';

/** A picture as it is cropped: width / height, and boxes of its faces in fractions of it. */
export interface Croppable {
  ratio: number;
  faces: readonly Part[];
}

/**
 * What of a picture fills a box of another shape, as much of it as can be, around its faces; null when they do not all fit. Faces that the picture
 * itself cuts are as they are.
 * @param room how far faces keep from the box's edges, in the box's own lengths.
 * @param strict whether they keep it where the picture has no more around a face, too.
 * @param rest what of the height left over lies above, where there are no faces.
 */
export function cropTo(
  { ratio, faces }: Croppable,
  box: { w: number; h: number },
  room: number,
  { strict = false, rest = 0.5 }: { strict?: boolean; rest?: number } = {},
): Part | null {
  const wish = box.w / box.h;
  const [w, h] = ratio > wish ? [wish / ratio, 1] : [1, ratio / wish];
  const whole = faces.filter((f) => f.x >= 0 && f.y >= 0 && f.x + f.w <= 1 && f.y + f.h <= 1);
  if (!whole.length) return { x: (1 - w) / 2, y: (1 - h) * rest, w, h };
  const lay = (size: number, at: 'x' | 'y', long: 'w' | 'h', around: number): number | null => {
    if (size >= 1 && !strict) return 0;
    const from = Math.min(...whole.map((f) => f[at])) - around;
    const to = Math.max(...whole.map((f) => f[at] + f[long])) + around;
    const least = Math.max(0, (strict ? to : Math.min(1, to)) - size);
    const most = Math.min(1 - size, strict ? from : Math.max(0, from));
    return least > most + 1e-9 ? null : Math.min(most, Math.max(least, (from + to - size) / 2));
  };
  const x = lay(w, 'x', 'w', (room / box.w) * w);
  const y = lay(h, 'y', 'h', (room / box.h) * h);
  return x === null || y === null ? null : { x, y, w, h };
}
