import { steadily } from './plan';

/** A part of a picture, in fractions: left, top, width and height. */
export interface Part {
  x: number;
  y: number;
  w: number;
  h: number;
}

/** A gentle movement: what is seen when it begins, and when it ends. */
export interface Pan {
  from: Part;
  to: Part;
}

/** How much nearer a picture comes at most, and at least, from beginning to end. */
const NEARER = { least: 1.06, most: 1.16 } as const;
/** Room kept around faces, in fractions of the picture. */
const AROUND = 0.03;

/** What of one side is seen when a part of this size is laid so that a span stays within; in the middle when it cannot. */
function laid(size: number, from: number, to: number, wish: number): number {
  const least = Math.max(0, to - size);
  const most = Math.min(1 - size, from);
  if (least > most) return Math.min(1 - size, Math.max(0, (from + to) / 2 - size / 2));
  return Math.min(most, Math.max(least, wish));
}

/**
 * How a picture is gently moved and enlarged: from the whole of it to a part, or the other way round, so that every face that is whole in the picture
 * stays in view all the time. Both ends have the picture's own shape, so nothing is stretched. Without faces it leans to somewhere near the
 * middle. Always the same for one seed.
 * @param faces boxes in fractions of the picture.
 */
export function panOver(faces: readonly Part[], seed: number): Pan {
  const next = steadily(seed);
  const whole: Part = { x: 0, y: 0, w: 1, h: 1 };
  let [left, top, right, bottom] = [1, 1, 0, 0];
  for (const face of faces) {
    left = Math.min(left, Math.max(0, face.x - AROUND));
    top = Math.min(top, Math.max(0, face.y - AROUND));
    right = Math.max(right, Math.min(1, face.x + face.w + AROUND));
    bottom = Math.max(bottom, Math.min(1, face.y + face.h + AROUND));
  }
  const any = right > left && bottom > top;
  const wish = NEARER.least + next() * (NEARER.most - NEARER.least);
  // What holds all faces must be seen whole.
  const size = Math.max(1 / wish, any ? Math.max(right - left, bottom - top) : 0);
  const spot = { x: 0.2 + 0.6 * next(), y: 0.2 + 0.5 * next() };
  const middle = any ? { x: (left + right) / 2, y: (top + bottom) / 2 } : spot;
  const part: Part =
    size >= 1
      ? whole
      : {
          x: laid(size, any ? left : 0.5, any ? right : 0.5, middle.x - size / 2),
          y: laid(size, any ? top : 0.5, any ? bottom : 0.5, middle.y - size / 2),
          w: size,
          h: size,
        };
  return next() < 0.5 ? { from: whole, to: part } : { from: part, to: whole };
}

/** What is seen at a share of the way, from 0 to 1. */
export const partAt = ({ from, to }: Pan, share: number): Part => ({
  x: from.x + (to.x - from.x) * share,
  y: from.y + (to.y - from.y) * share,
  w: from.w + (to.w - from.w) * share,
  h: from.h + (to.h - from.h) * share,
});
