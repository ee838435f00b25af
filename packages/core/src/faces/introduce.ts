/** A waiting face with its group and whom it may show. */
export interface WaitingFace {
  id: number;
  picture: number;
  quality: number;
  /** The group it is in. */
  key: number;
  offers: readonly { person: number; certainty: number }[];
}

/** Somebody a whole group may be. */
export interface GroupCandidate {
  person: number;
  /** Mean certainty over the faces of the group, 0..1. */
  certainty: number;
  /** In how many of its faces they are a candidate at all. */
  faces: number;
}

/** One likely person nobody has named, the best faces first. */
export interface IntroductionGroup<F extends WaitingFace = WaitingFace> {
  key: number;
  faces: F[];
  pictures: number;
  candidates: GroupCandidate[];
}

const CANDIDATES = 3;
/** Less likely than this, on the whole, nobody is named as a candidate. */
const FAINT = 0.08;

/**
 * Groups of faces to introduce, those first whose answer says most: larger groups before smaller ones, single faces last and
 * among them those that are probably somebody known before strangers.
 */
export function introduce<F extends WaitingFace>(waiting: readonly F[]): IntroductionGroup<F>[] {
  const groups = new Map<number, F[]>();
  for (const face of waiting) {
    const list = groups.get(face.key);
    if (list) list.push(face);
    else groups.set(face.key, [face]);
  }
  const result = [...groups].map(([key, faces]): IntroductionGroup<F> => {
    const votes = new Map<number, { sum: number; faces: number }>();
    for (const { offers } of faces)
      for (const { person, certainty } of offers) {
        const vote = votes.get(person) ?? { sum: 0, faces: 0 };
        votes.set(person, { sum: vote.sum + certainty, faces: vote.faces + 1 });
      }
    return {
      key,
      faces: faces.sort((a, b) => b.quality - a.quality || a.id - b.id),
      pictures: new Set(faces.map((f) => f.picture)).size,
      candidates: [...votes]
        .map(([person, { sum, faces: n }]) => ({ person, certainty: sum / faces.length, faces: n }))
        .filter((c) => c.certainty >= FAINT)
        .sort((a, b) => b.certainty - a.certainty || a.person - b.person)
        .slice(0, CANDIDATES),
    };
  });
  const surest = (g: IntroductionGroup<F>) => g.candidates[0]?.certainty ?? 0;
  return result.sort(
    (a, b) =>
      Number(b.faces.length > 1) - Number(a.faces.length > 1) ||
      b.faces.length - a.faces.length ||
      surest(b) - surest(a) ||
      b.faces[0]!.quality - a.faces[0]!.quality ||
      a.key - b.key,
  );
}
