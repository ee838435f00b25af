/** How a score is turned into a certainty: 1 / (1 + exp(-(slope * score + shift))). */
export interface Calibration {
  slope: number;
  shift: number;
}

/** Before anybody has answered, scores are taken for the log odds they are meant to be. */
export const UNCALIBRATED: Calibration = { slope: 1, shift: 0 };

/** How far the answers of a household may lead away from {@link UNCALIBRATED}: standard deviations of slope and shift. */
const PRIOR = { slope: 0.25, shift: 1 } as const;

/** How certain a score is, 0..1. */
export const certainty = ({ slope, shift }: Calibration, score: number): number =>
  1 / (1 + Math.exp(-(slope * score + shift)));

/**
 * Puts certainties right by what people have answered: logistic regression on the scores (Platt 1999) with a Gaussian prior
 * around "scores are log odds", so that a few answers change little; Newton's method.
 * @param answers scores of guesses somebody has said yes or no to.
 */
export function calibrate(answers: readonly { score: number; right: boolean }[]): Calibration {
  let { slope, shift } = UNCALIBRATED;
  for (let round = 0; round < 30; round++) {
    let gs = -(slope - 1) / PRIOR.slope ** 2;
    let gh = -shift / PRIOR.shift ** 2;
    let ss = 1 / PRIOR.slope ** 2;
    let hh = 1 / PRIOR.shift ** 2;
    let sh = 0;
    for (const { score, right } of answers) {
      const p = 1 / (1 + Math.exp(-(slope * score + shift)));
      const off = (right ? 1 : 0) - p;
      const weight = p * (1 - p);
      gs += off * score;
      gh += off;
      ss += weight * score * score;
      sh += weight * score;
      hh += weight;
    }
    const det = ss * hh - sh * sh;
    const [ds, dh] = [(gs * hh - gh * sh) / det, (gh * ss - gs * sh) / det];
    // A long step is halved until it stays where the curve still rises.
    const step = Math.min(1, 1 / Math.max(1e-9, Math.abs(ds), Math.abs(dh) / 2));
    slope = Math.max(0.2, slope + step * ds);
    shift += step * dh;
    if (Math.abs(ds) + Math.abs(dh) < 1e-9) break;
  }
  return { slope, shift };
}
