import { groupFaces } from './group';
import { suggest, SUGGEST_DEFAULTS, type Candidate, type Exemplar, type SuggestOptions } from './suggest';
import { centred, joined, meanDescription, type Vector } from './vector';

/** A face as it stands in the library. */
export interface LibraryFace {
  id: number;
  picture: number;
  /** Height in the original, in pixels. */
  height: number;
  quality: number;
  a: Vector;
  b: Vector;
  /** The person it is filed under, by hand or by the machine; null while it waits. */
  person: number | null;
  byHand: boolean;
}

/** What gathering wants changed. Faces that are not mentioned stay as they are. */
export interface Gathered {
  /** Faces to file by machine: sure enough to need no question. */
  filed: { face: number; person: number; score: number; support: number }[];
  /** Waiting faces that are probably somebody known. */
  likely: { face: number; candidates: Candidate[] }[];
  /** Waiting faces and the likely person they belong to: the key is the smallest id of its group. */
  groups: { face: number; key: number }[];
}

/** How many faces stand for one person: the best ones, so that comparing stays fast. */
const EXEMPLARS = 40;

/** Faces smaller or worse than this keep out of groups; they can still be recognised once somebody is named. */
const GROUP_FROM = { height: 20, quality: 0.08 };

/** Descriptions with the library's middle taken out, both kinds joined, in the order of `faces`. */
export function describeAll(faces: readonly LibraryFace[]): Vector[] {
  const people = new Map<string, LibraryFace[]>();
  faces.forEach((face) => {
    // Until somebody is named, every face is its own voice.
    const key = face.person === null ? `face ${face.id}` : `person ${face.person}`;
    const list = people.get(key);
    if (list) list.push(face);
    else people.set(key, [face]);
  });
  const voices = [...people.values()];
  const meanA = meanDescription(
    voices.map((v) => v.map((f) => f.a)),
    faces[0]?.a.length ?? 0,
  );
  const meanB = meanDescription(
    voices.map((v) => v.map((f) => f.b)),
    faces[0]?.b.length ?? 0,
  );
  return faces.map((face) => joined(centred(face.a, meanA), centred(face.b, meanB)));
}

function exemplarsOf(faces: readonly LibraryFace[], vectors: readonly Vector[]): Exemplar[] {
  const people = new Map<number, number[]>();
  faces.forEach((face, i) => {
    if (!face.byHand || face.person === null) return;
    const list = people.get(face.person);
    if (list) list.push(i);
    else people.set(face.person, [i]);
  });
  return [...people].flatMap(([person, list]) =>
    list
      .sort((x, y) => faces[y]!.quality - faces[x]!.quality)
      .slice(0, EXEMPLARS)
      .map((i) => ({ person, vector: vectors[i]! })),
  );
}

/**
 * Compares every face nobody has named with everybody somebody has named, and gathers the rest into likely people.
 * Faces filed by the machine are looked at afresh each time, so that a later yes or no can put them right.
 * @param refused pairs `${face}|${person}` somebody said no to.
 */
export function gatherFaces(
  faces: readonly LibraryFace[],
  refused: ReadonlySet<string>,
  options: Partial<SuggestOptions> = {},
): Gathered {
  const o = { ...SUGGEST_DEFAULTS, ...options };
  const result: Gathered = { filed: [], likely: [], groups: [] };
  if (faces.length === 0) return result;
  const vectors = describeAll(faces);
  const exemplars = exemplarsOf(faces, vectors);
  const everybody = [...new Set(exemplars.map((e) => e.person))];
  const pictures = new Map<number, number[]>();
  faces.forEach((face, i) => {
    const list = pictures.get(face.picture);
    if (list) list.push(i);
    else pictures.set(face.picture, [i]);
  });
  const waiting: number[] = [];
  for (const list of pictures.values()) {
    const taken = new Set(
      list.filter((i) => faces[i]!.byHand && faces[i]!.person !== null).map((i) => faces[i]!.person!),
    );
    let open = list.filter((i) => !faces[i]!.byHand);
    // The surest face of a picture chooses first; nobody is put into one picture twice.
    while (open.length) {
      const ranked = open
        .map((i) => {
          const no = new Set([...taken, ...everybody.filter((p) => refused.has(`${faces[i]!.id}|${p}`))]);
          return { i, s: suggest(vectors[i]!, exemplars, no, faces[i]!.height, o) };
        })
        .sort((x, y) => (y.s.candidates[0]?.score ?? -1) - (x.s.candidates[0]?.score ?? -1));
      const { i, s } = ranked[0]!;
      const face = faces[i]!;
      const first = s.candidates[0];
      if (s.act === 'file' && first && face.quality >= 0.15) {
        taken.add(first.person);
        result.filed.push({ face: face.id, person: first.person, score: first.score, support: first.support });
      } else {
        if (s.act !== 'none') {
          if (first && s.margin >= o.margin) taken.add(first.person);
          result.likely.push({ face: face.id, candidates: s.candidates.filter((c) => c.score >= o.ask - 0.08) });
        }
        waiting.push(i);
      }
      open = open.filter((j) => j !== i);
    }
  }
  const grouped = waiting.filter(
    (i) => faces[i]!.height >= GROUP_FROM.height && faces[i]!.quality >= GROUP_FROM.quality,
  );
  const labels = groupFaces(
    grouped.map((i) => ({ vector: vectors[i]!, picture: faces[i]!.picture, quality: faces[i]!.quality })),
  );
  const key = new Map<number, number>();
  grouped.forEach((i, k) => key.set(labels[k]!, Math.min(key.get(labels[k]!) ?? Infinity, faces[i]!.id)));
  grouped.forEach((i, k) => result.groups.push({ face: faces[i]!.id, key: key.get(labels[k]!)! }));
  return result;
}
