import type { Pixels, Point } from './geometry';

/** What makes a face good or bad to go by, each 0 (useless) to 1 (as good as can be wished). */
export interface FaceParts {
  /** From its height in the original: 64 pixels are enough. */
  size: number;
  /** From the variance of the Laplacian inside the aligned face. */
  sharp: number;
  /** How straight it looks at us, from how far the nose is off the middle of the eyes. */
  straight: number;
  /** Neither dark, nor burnt out, nor flat. */
  light: number;
  /** How sure the checking network was that it is a face. */
  check: number;
}

/** From this quality and height on a face may lead a group and stand for its person; below it only follows. */
const LEAD_FROM = { quality: 0.15, height: 32 } as const;
/** Faces poorer than this are not asked about; they can still be recognised once somebody is named. */
const ASK_FROM = { quality: 0.08, height: 20 } as const;

const held = (x: number) => Math.max(0, Math.min(1, x));

/**
 * Judges a face by its aligned crop of 112 x 112, its five points in the picture, its height in the original in pixels,
 * and how sure the checking network was (0..1).
 */
export function faceParts(crop: Pixels, points: readonly Point[], height: number, check: number): FaceParts {
  const n = crop.width;
  const grey = (i: number) => 0.3 * crop.data[3 * i]! + 0.59 * crop.data[3 * i + 1]! + 0.11 * crop.data[3 * i + 2]!;
  let [edge, edge2, tone, tone2, count] = [0, 0, 0, 0, 0];
  for (let y = 28; y < n - 20; y++)
    for (let x = 24; x < n - 24; x++) {
      const i = y * n + x;
      const here = grey(i);
      const l = 4 * here - grey(i - 1) - grey(i + 1) - grey(i - n) - grey(i + n);
      edge += l;
      edge2 += l * l;
      tone += here;
      tone2 += here * here;
      count++;
    }
  const spread = (sum: number, squares: number) => Math.sqrt(Math.max(0, squares / count - (sum / count) ** 2));
  const mean = tone / count;
  const eye = Math.hypot(points[1]![0] - points[0]![0], points[1]![1] - points[0]![1]) || 1;
  const ux = (points[1]![0] - points[0]![0]) / eye;
  const uy = (points[1]![1] - points[0]![1]) / eye;
  const nose = ((points[2]![0] - points[0]![0]) * ux + (points[2]![1] - points[0]![1]) * uy) / eye;
  return {
    size: held(height / 64),
    sharp: held(spread(edge, edge2) / 8),
    straight: 1 - 0.6 * held(Math.abs(nose - 0.5) * 2),
    light: held((mean - 12) / 30) * held((252 - mean) / 25) * Math.max(0.4, held(spread(tone, tone2) / 14)),
    check: Math.max(0.2, held(check)),
  };
}

/** How far a face's description can be trusted, 0..1: the product of its parts, so that one bad part is enough. */
export const faceQuality = ({ size, sharp, straight, light, check }: FaceParts): number =>
  size * sharp * straight * light * check;

/** Whether a face may lead a group and stand for its person. */
export const mayLead = (face: { quality: number; height: number }): boolean =>
  face.quality >= LEAD_FROM.quality && face.height >= LEAD_FROM.height;

/** Whether a face is good enough to be asked about. */
export const mayBeAsked = (face: { quality: number; height: number }): boolean =>
  face.quality >= ASK_FROM.quality && face.height >= ASK_FROM.height;
