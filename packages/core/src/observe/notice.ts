import type { Noticed } from './kinds';
import type { Measures } from './measure';

/** Something noticed, and how sure that is, 0 to 1. */
export interface Notice {
  kind: Noticed;
  sure: number;
}

/** How far a value is over a threshold, as a certainty: a half at the threshold, nearly one at `full`. */
const over = (value: number, from: number, full: number): number =>
  Math.max(0, Math.min(1, 0.5 + (0.5 * (value - from)) / (full - from)));

/**
 * Thresholds, chosen on the made-up household and on plain drawings, each so that what is beyond it by a little is not noticed:
 * an observation nobody asked for must be right.
 */
const FROM = {
  blur: 0.56,
  flat: 0.72,
  common: 0.82,
  ink: 0.35,
  darkMiddle: 0.12,
  darkHigh: 0.5,
  brightWhite: 0.3,
  brightLow: 0.45,
  grey: 0.06,
  long: 2.2,
  /** Of how open the same person's eyes usually are. */
  shut: 0.72,
  faces: 6,
} as const;

/** What is noticed of a picture by what was measured of it. */
export function noticedIn(m: Measures, { width, height }: { width: number; height: number }): Notice[] {
  const found: Notice[] = [];
  const add = (kind: Noticed, sure: number) => found.push({ kind, sure: Math.round(100 * sure) / 100 });
  // What has no contrast at all is neither sharp nor blurred.
  const plain = m.high - m.low < 0.06 || m.flat > 0.97;
  const screen = m.flat >= FROM.flat && m.common >= FROM.common && m.ink >= FROM.ink;
  if (screen) add('screen', Math.min(over(m.flat, FROM.flat, 0.85), over(m.common, FROM.common, 0.95)));
  if (!screen && !plain && m.blur >= FROM.blur) add('blurred', over(m.blur, FROM.blur, 0.7));
  if (!screen && m.middle <= FROM.darkMiddle && m.high <= FROM.darkHigh)
    add('dark', over(FROM.darkMiddle - m.middle, 0, FROM.darkMiddle));
  if (!screen && !plain && m.white >= FROM.brightWhite && m.low >= FROM.brightLow)
    add('bright', over(m.white, FROM.brightWhite, 0.6));
  if (!screen && !plain && m.colours <= FROM.grey) add('grey', over(FROM.grey - m.colours, 0, FROM.grey));
  const long = Math.max(width / height, height / width);
  if (!screen && long > FROM.long) add('wide', over(long, FROM.long, 3));
  return found;
}

/** A face as far as observations need it: how high it is in pixels, and how open its eyes (see `eyesOpen`). */
export interface FaceSeen {
  height: number;
  eyes: number | null;
}

/** Faces from this height on are large enough to tell whether their eyes are shut, in pixels. */
const TELLS_FROM = 90;

/** What is noticed of a picture by the faces found in it. */
export function noticedOfFaces(faces: readonly FaceSeen[]): Notice[] {
  const found: Notice[] = [];
  if (faces.length >= FROM.faces) found.push({ kind: 'crowd', sure: 1 });
  const eyes = faces.flatMap((face) => (face.eyes !== null && face.height >= TELLS_FROM ? [face.eyes] : []));
  const least = Math.min(...eyes);
  if (eyes.length && least <= FROM.shut)
    found.push({ kind: 'shut', sure: Math.round(100 * over(FROM.shut - least, 0, FROM.shut / 2)) / 100 });
  return found;
}
