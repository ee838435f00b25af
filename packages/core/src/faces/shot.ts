import { sharpness, toGrey } from '../likeness/likeness';
import { eyesOpen, meshFace } from './eyes';
import type { Pixels, Point } from './geometry';

/** What a face is like in one shot: what tells a good one from a bad one of the same person. */
export interface FaceShot {
  /** How open its eyes are; see {@link eyesOpen}. */
  eyes: number;
  /** How sharp it is: the variance of the Laplacian of its upright crop. To be held against the same face in other shots. */
  sharp: number;
  /** How far it is turned away: 0 looks at the camera, 1 and more is a profile. */
  turn: number;
}

/** Points of the mesh: the tip of the nose, and the outer corners of the eyes. */
const NOSE = 1;
const CORNERS = [33, 263] as const;

/** How far the tip of the nose stands from the middle between the eyes, in halves of the distance of the eyes, along their line. */
export function turnOf(mesh: ArrayLike<number>): number {
  const at = (i: number) => [mesh[3 * i]!, mesh[3 * i + 1]!] as const;
  const [[x1, y1], [x2, y2], [nx, ny]] = [at(CORNERS[0]), at(CORNERS[1]), at(NOSE)];
  const [dx, dy] = [x2 - x1, y2 - y1];
  const wide = Math.max(1, dx * dx + dy * dy);
  const along = ((nx - x1) * dx + (ny - y1) * dy) / wide;
  return Math.abs(along - 0.5) * 2;
}

/** What a face is like, from its picture, its five points, and the mesh that was found in its {@link meshFace}. */
export function faceShot(image: Pixels, points: readonly Point[], mesh: ArrayLike<number>): FaceShot {
  const crop = meshFace(image, points);
  return {
    eyes: eyesOpen(mesh),
    sharp: sharpness(toGrey(crop.data, crop.width, crop.height)),
    turn: turnOf(mesh),
  };
}
