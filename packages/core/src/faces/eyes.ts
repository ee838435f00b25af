import { REFERENCE_POINTS, similarity, warp, type Pixels, type Point } from './geometry';

/** The side of the square in which the mesh of a face is looked for, in pixels. */
export const MESH = 192;
/** Where the aligned face of 112 x 112 lies in that square: its scale, and the point that is its middle. */
const SCALE = 1.6;
const MIDDLE = { from: [56, 70], to: [96, 100] } as const;
const TARGET = REFERENCE_POINTS.map(([x, y]): Point => [
  SCALE * (x - MIDDLE.from[0]) + MIDDLE.to[0],
  SCALE * (y - MIDDLE.from[1]) + MIDDLE.to[1],
]);

/** Cuts a face out for the mesh: upright, with some room around it, {@link MESH} x {@link MESH}. */
export const meshFace = (image: Pixels, points: readonly Point[]): Pixels =>
  warp(image, similarity(points, TARGET), MESH, MESH);

/** Points of the mesh around each eye: its corners, and pairs of one on the upper lid and the one below it on the lower. */
const EYES = [
  {
    corners: [33, 133],
    lids: [
      [159, 145],
      [158, 153],
      [160, 144],
    ],
  },
  {
    corners: [362, 263],
    lids: [
      [386, 374],
      [385, 380],
      [387, 373],
    ],
  },
] as const;

/**
 * How open the more open eye of a face is: the distance of its lids over the distance of its corners (Soukupová and Čech, "Real-Time
 * Eye Blink Detection using Facial Landmarks", 2016). About 0.3 for open eyes, under 0.2 for shut ones; how people differ is
 * taken out by measuring each against their own usual one. @param mesh x, y and depth of each point, one after another.
 */
export function eyesOpen(mesh: ArrayLike<number>): number {
  const apart = (a: number, b: number) => Math.hypot(mesh[3 * a]! - mesh[3 * b]!, mesh[3 * a + 1]! - mesh[3 * b + 1]!);
  return Math.max(
    ...EYES.map(
      ({ corners, lids }) =>
        lids.reduce((sum, [upper, lower]) => sum + apart(upper, lower), 0) /
        lids.length /
        Math.max(1, apart(corners[0], corners[1])),
    ),
  );
}
