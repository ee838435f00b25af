/** A face of a shot: its middle in fractions of the picture, and how open its eyes are (see `eyesOpen`). */
export interface BurstFace {
  x: number;
  y: number;
  eyes: number;
}

/** Faces of two shots whose middles are this close, in fractions of the picture, are one person's. */
const SAME_SPOT = 0.12;
/** So much more open all eyes must be before another shot than the one that stands first is the better. */
const CLEARLY = 0.06;

/**
 * Which of several sharp shots of one moment shows the most open eyes: each face is measured against the same face where it is
 * most open, and the shots by the mean of their faces. The first stands unless another is clearly better.
 * @returns its index.
 */
export function mostOpen(shots: readonly (readonly BurstFace[])[]): number {
  const [first = []] = shots;
  if (first.length === 0) return 0;
  const ratios = shots.map((): number[] => []);
  for (const face of first) {
    const same = shots.map((shot) =>
      shot
        .filter((other) => Math.hypot(other.x - face.x, other.y - face.y) <= SAME_SPOT)
        .reduce<BurstFace | null>(
          (near, other) =>
            near && Math.hypot(near.x - face.x, near.y - face.y) <= Math.hypot(other.x - face.x, other.y - face.y)
              ? near
              : other,
          null,
        ),
    );
    const most = Math.max(...same.map((other) => other?.eyes ?? 0));
    if (most > 0) same.forEach((other, i) => ratios[i]!.push((other?.eyes ?? 0) / most));
  }
  const score = ratios.map((some) => (some.length ? some.reduce((sum, one) => sum + one, 0) / some.length : 0));
  const best = score.reduce((top, one, i) => (one > score[top]! ? i : top), 0);
  return score[best]! >= score[0]! + CLEARLY ? best : 0;
}
