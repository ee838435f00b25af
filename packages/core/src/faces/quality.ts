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

/** Described this strongly it is a face, whatever else. */
export const SURE_STRENGTH = 2.8;
/** Less strong than this it is none: where a face would be seen clearly, and where it is small or blurred. */
const NO_FACE = { clear: 1.9, unclear: 0.8 } as const;
/** A face is like its mirror image; each hundredth less takes this much of the strength. */
const MIRRORED = { usual: 0.95, each: 20 } as const;
/** What the checking network's log odds add, from where on, and at most. */
const CHECKED = { usual: 4, each: 0.15, most: 0.8 } as const;

/**
 * The check that can say no: dogs, toys, fruit and patterns that look like faces to the detector are described weakly (the length
 * of description A before it is brought to 1; lengths grow with how much of a face there is, Meng et al., "MagFace", 2021), less
 * like their mirror image, and with less of a yes from the checking network. Fitted on photographs of people, animals and
 * things and on the demo; see docs/faces.md.
 * @param strength length of description A. @param mirrored its cosine with that of the mirrored crop.
 */
export function isNoFace(parts: FaceParts, height: number, strength: number, mirrored: number): boolean {
  const isClear = height >= 48 && parts.sharp >= 0.4;
  const odds = Math.log(parts.check / Math.max(1e-9, 1 - parts.check));
  const all =
    strength +
    MIRRORED.each * (mirrored - MIRRORED.usual) +
    Math.max(-CHECKED.most, Math.min(CHECKED.most, CHECKED.each * (odds - CHECKED.usual)));
  return all < (isClear ? NO_FACE.clear : NO_FACE.unclear);
}
