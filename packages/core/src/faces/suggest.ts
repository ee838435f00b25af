import { dot, type Vector } from './vector';

/** A face somebody has named: what new faces are compared with. */
export interface Exemplar {
  person: number;
  vector: Vector;
}

/** How sure recognition must be. Cosines of centred, joined descriptions. */
export interface SuggestOptions {
  /** From here on it asks. */
  ask: number;
  /** From here on it may file by itself … */
  file: number;
  /** … if the second most likely person is at least this far behind … */
  margin: number;
  /** … and the face is at least this many pixels high. */
  fileFrom: number;
  /** How many of a person's nearest exemplars speak. */
  nearest: number;
}

export const SUGGEST_DEFAULTS: SuggestOptions = { ask: 0.36, file: 0.56, margin: 0.12, fileFrom: 32, nearest: 3 };

/** A person a face may be, with how alike they are and how many exemplars are that near. */
export interface Candidate {
  person: number;
  score: number;
  support: number;
}

/** What recognition makes of a face: file it, ask about it, or say nothing. */
export interface Suggestion {
  act: 'file' | 'ask' | 'none';
  candidates: Candidate[];
  /** How far the first is ahead of the second; 1 when there is no second. */
  margin: number;
}

/**
 * Compares a face with all named ones. A person's score is the mean of the best likeness and the mean of the few best,
 * so that one lucky exemplar does not decide and different ages of one person do not blur each other.
 * @param excluded people it cannot be: those already in the picture, and those somebody said no to.
 * @param height of the face in the original, in pixels.
 */
export function suggest(
  vector: Vector,
  exemplars: readonly Exemplar[],
  excluded: ReadonlySet<number>,
  height: number,
  options: Partial<SuggestOptions> = {},
): Suggestion {
  const o = { ...SUGGEST_DEFAULTS, ...options };
  const likeness = new Map<number, number[]>();
  for (const { person, vector: other } of exemplars) {
    if (excluded.has(person)) continue;
    const list = likeness.get(person) ?? [];
    list.push(dot(vector, other));
    likeness.set(person, list);
  }
  const candidates: Candidate[] = [];
  for (const [person, all] of likeness) {
    const best = all.sort((a, b) => b - a).slice(0, o.nearest);
    // A person known by a single face is judged with some reserve.
    const mean = best.reduce((a, b) => a + b, 0) / best.length;
    candidates.push({ person, score: (best[0]! + mean) / 2, support: all.filter((s) => s >= o.ask).length });
  }
  candidates.sort((a, b) => b.score - a.score || a.person - b.person);
  const first = candidates[0];
  if (!first || first.score < o.ask) return { act: 'none', candidates: candidates.slice(0, 5), margin: 0 };
  const margin = candidates[1] ? first.score - candidates[1].score : 1;
  const sure = first.score >= o.file && margin >= o.margin && height >= o.fileFrom && first.support >= 2;
  return { act: sure ? 'file' : 'ask', candidates: candidates.slice(0, 5), margin };
}
