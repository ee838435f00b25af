import { calibrate, certainty, type Calibration } from './calibrate';
import { groupFaces, SAME_FACE } from './group';
import { candidatesFor, isSameMoment, NEAR, type Candidate, type Evidence } from './recognise';
import { remember, type KnownPerson, type Memory, type SeenFace } from './memory';
import { findNeighbours } from './neighbours';
import { mayBeAsked, mayLead } from './quality';
import { VectorTable } from './table';
import { centred, joined, meanDescription, type Vector } from './vector';

/** A face as it stands in the library, with its two descriptions. */
export interface LibraryFace extends Omit<SeenFace, 'vector'> {
  a: Vector;
  b: Vector;
  /** What people said of it: who it is, that nobody will name it, or nothing. */
  said: { person: number } | 'passer-by' | null;
}

/** How sure recognition must be, 0..1: the keeper's to move. */
export interface Sureness {
  /** From here on it asks. */
  ask: number;
  /** From here on it files by itself. */
  file: number;
}

export const SURENESS: Sureness = { ask: 0.3, file: 0.95 };

/** Whatever the certainty: a face files itself only if it is at least this large, good, backed and alike … */
export const FILE_FROM = { height: 32, quality: 0.25, support: 2, like: 0.58 } as const;
/**
 * … and the next likely person this far behind, further when they are easily taken for each other, and no unnamed faces much
 * more like it.
 */
export const MARGINS = { plain: 0.12, alike: 0.25, unnamed: -0.05 } as const;

/** How far ahead of every other likely person, and how near to the named faces for somebody's own, a face files itself. */
export const STANDING = { ahead: 0.06, near: 0.92 } as const;

/** All that gathering goes by. */
export interface FaceWorld {
  /** Faces that have descriptions, and named ones that have none (`a` and `b` of length 0). */
  faces: readonly LibraryFace[];
  people: readonly KnownPerson[];
  /** Face and person somebody said no to. */
  refused: readonly (readonly [face: number, person: number])[];
  /** Two faces somebody said are different people. */
  apart: readonly (readonly [number, number])[];
  sureness: Sureness;
}

/** A person a face is offered, and how certain that is. */
export interface Offer {
  person: number;
  /** 0..1, as calibrated by the household's own answers. */
  certainty: number;
  /** Whether it could be filed by itself if it were certain enough. */
  mayFile: boolean;
  evidence: Evidence;
}

/** What gathering makes of the faces nobody has answered for. */
export interface Gathered {
  /** Faces to file by machine: sure enough to need no question. Their offers come first in `offers`. */
  filed: { face: number; person: number }[];
  /** Faces of somebody who was left as a passer-by before. */
  passed: number[];
  /** The likeliest people for every face that may be somebody known, the surest first. */
  offers: { face: number; offers: Offer[] }[];
  /** Waiting faces and the likely person they belong to: the key is the smallest id of its group. */
  groups: { face: number; key: number }[];
  /** Two groups that are perhaps one person, by their keys, the smaller first. */
  perhaps: [number, number][];
  calibration: Calibration;
  /** Pairs of people who are easily taken for each other. */
  alike: [number, number][];
}

/** Candidates less certain than this are not worth a word, unless their faces are near. */
const FAINT = 0.03;
const OFFERS = 3;
/** A face this alike to a passer-by's, and more than to anybody named, is a passer-by's again. */
const PASSED = { like: 0.66, ahead: 0.12 } as const;
/** Named faces the certainties are put right by, at most. */
const JUDGED = 400;

const isDescribed = (face: LibraryFace): boolean => face.a.length > 0;

/** Descriptions with the library's middle taken out, both kinds joined, in the order of `faces`; empty for those without. */
export function describeAll(faces: readonly LibraryFace[]): Vector[] {
  const people = new Map<string, LibraryFace[]>();
  for (const face of faces) {
    if (!isDescribed(face)) continue;
    // Until somebody is named, every face is its own voice.
    const key = face.said && face.said !== 'passer-by' ? `person ${face.said.person}` : `face ${face.id}`;
    const list = people.get(key);
    if (list) list.push(face);
    else people.set(key, [face]);
  }
  const voices = [...people.values()];
  const first = voices[0]?.[0];
  if (!first) return faces.map(() => new Float32Array(0));
  const meanA = meanDescription(
    voices.map((v) => v.map((f) => f.a)),
    first.a.length,
  );
  const meanB = meanDescription(
    voices.map((v) => v.map((f) => f.b)),
    first.b.length,
  );
  return faces.map((face) =>
    isDescribed(face) ? joined(centred(face.a, meanA), centred(face.b, meanB)) : new Float32Array(0),
  );
}

/** How the guesses of recognition on faces that people have named turn out when each is judged by all the others. */
function judge(
  seen: readonly SeenFace[],
  told: readonly { i: number; person: number }[],
  refused: FaceWorld['refused'],
  memory: Memory,
): { score: number; right: boolean }[] {
  const answers: { score: number; right: boolean }[] = [];
  const step = Math.max(1, Math.ceil(told.length / JUDGED));
  for (const { i, person } of told.filter((_, k) => k % step === 0)) {
    const face = seen[i]!;
    const others = new Set([...(memory.pictures.get(face.picture) ?? [])].filter((id) => id !== person));
    const skip = (k: number) => isSameMoment(face, memory.exemplars[k]!);
    for (const one of candidatesFor(face, memory, others, null, skip).slice(0, 2))
      answers.push({ score: one.score, right: one.person === person });
  }
  const byId = new Map(seen.map((face) => [face.id, face]));
  for (const [id, person] of refused.slice(-JUDGED)) {
    const face = byId.get(id);
    if (!face || face.vector.length === 0) continue;
    const one = candidatesFor(face, { ...memory, refused: new Map() }, new Set()).find((c) => c.person === person);
    if (one) answers.push({ score: one.score, right: false });
  }
  return answers;
}

/** How a face stands in the group that grouping put it into. */
interface Standing {
  person: number | null;
  ahead: number;
  near: number;
}

/**
 * Whether a candidate could be filed without asking, were it certain enough: large, good, backed, well ahead of whoever has a
 * name, and gathered with their faces ahead of everybody who has none.
 */
function mayFile(face: SeenFace, { person, evidence }: Candidate, standing: Standing | undefined): boolean {
  return (
    standing !== undefined &&
    standing.person === person &&
    standing.ahead >= STANDING.ahead &&
    standing.near >= STANDING.near &&
    evidence.like >= FILE_FROM.like &&
    evidence.unnamed >= MARGINS.unnamed &&
    face.height >= FILE_FROM.height &&
    face.quality >= FILE_FROM.quality &&
    evidence.support >= FILE_FROM.support &&
    evidence.margin >= (evidence.rival === null ? MARGINS.plain : MARGINS.alike)
  );
}

/**
 * Compares every face nobody has answered for with everybody somebody has named, and gathers the rest into likely people.
 * What people said is never changed, and the same facts give the same answer in whatever order they are told.
 */
export function gatherFaces({ faces: all, people, refused, apart, sureness }: FaceWorld): Gathered {
  const faces = [...all].sort((a, b) => a.id - b.id);
  const vectors = describeAll(faces);
  const seen = faces.map((face, i): SeenFace => ({ ...face, vector: vectors[i]! }));
  const told = faces.flatMap(({ said }, i) => (said && said !== 'passer-by' ? [{ i, person: said.person }] : []));
  const indexOf = new Map(faces.map((face, i) => [face.id, i]));
  const no = new Map<number, Set<number>>();
  const noVectors: { person: number; vector: Vector }[] = [];
  for (const [face, person] of refused) {
    const set = no.get(face);
    if (set) set.add(person);
    else no.set(face, new Set([person]));
    const i = indexOf.get(face);
    if (i !== undefined && vectors[i]!.length) noVectors.push({ person, vector: vectors[i]! });
  }
  const memory = remember(
    told.map(({ i, person }) => ({ ...seen[i]!, person })),
    people,
    noVectors,
  );
  const calibration = calibrate(
    judge(
      seen,
      told.filter(({ i }) => vectors[i]!.length > 0),
      refused,
      memory,
    ),
  );
  const passers = faces.flatMap((face, i) => (face.said === 'passer-by' && vectors[i]!.length ? [vectors[i]!] : []));
  const passed = new VectorTable(passers.length, vectors.find((v) => v.length)?.length ?? 16);
  passers.forEach((v, i) => passed.set(i, v));

  const result: Gathered = {
    filed: [],
    passed: [],
    offers: [],
    groups: [],
    perhaps: [],
    calibration,
    alike: [...memory.alike].map((key) => key.split('|').map(Number) as [number, number]),
  };
  const pictures = new Map<number, { i: number; offers: Offer[] }[]>();
  const waiting: number[] = [];
  const open = faces.map((_, i) => i).filter((i) => faces[i]!.said === null && vectors[i]!.length > 0);
  // Only asked when there is anybody to be likened to.
  const near = memory.exemplars.length
    ? findNeighbours(
        open.map((i) => vectors[i]!),
        (a, b) => faces[open[a]!]!.picture === faces[open[b]!]!.picture,
        { above: SAME_FACE },
      )
    : null;
  const excludedFor = (i: number) =>
    new Set([...(memory.pictures.get(faces[i]!.picture) ?? []), ...(no.get(faces[i]!.id) ?? [])]);
  const nobody: ReadonlySet<number> = new Set();
  const grouped = [
    ...told.filter(({ i }) => vectors[i]!.length > 0 && mayLead(faces[i]!)).map(({ i }) => i),
    ...open.filter((i) => mayBeAsked(faces[i]!)),
  ].sort((x, y) => x - y);
  const {
    group,
    person,
    ahead,
    near: nearTold,
    perhaps,
  } = groupFaces(
    grouped.map((i) => {
      const said = faces[i]!.said as { person: number } | null;
      return {
        ...seen[i]!,
        leads: mayLead(faces[i]!),
        person: said?.person ?? null,
        never: said ? nobody : excludedFor(i),
      };
    }),
    apart,
  );
  const standing = new Map<number, Standing>(
    grouped.map((i, k) => [i, { person: person[group[k]!]!, ahead: ahead[k]!, near: nearTold[k]! }]),
  );
  open.forEach((i, o) => {
    const face = seen[i]!;
    const candidates = candidatesFor(
      face,
      memory,
      excludedFor(i),
      near && nearestUnnamed(face, near.who[o]!, near.like[o]!, open, seen),
    );
    if (passers.length) {
      const like = Math.max(...passed.scan(face.vector));
      if (like >= PASSED.like && like > (candidates[0]?.evidence.like ?? 0) + PASSED.ahead) {
        result.passed.push(face.id);
        return;
      }
    }
    const offers = candidates
      .map((one): Offer => ({
        person: one.person,
        certainty: certainty(calibration, one.score),
        mayFile: mayFile(face, one, standing.get(i)),
        evidence: one.evidence,
      }))
      .filter((offer) => offer.certainty >= FAINT || offer.evidence.like >= NEAR);
    const list = pictures.get(face.picture);
    if (list) list.push({ i, offers });
    else pictures.set(face.picture, [{ i, offers }]);
  });
  for (const list of pictures.values()) {
    // The surest face of a picture chooses first; nobody is put into one picture twice.
    const taken = new Set<number>();
    for (const { i, offers } of list.sort(
      (x, y) => (y.offers[0]?.certainty ?? 0) - (x.offers[0]?.certainty ?? 0) || x.i - y.i,
    )) {
      const id = faces[i]!.id;
      const open = offers.filter((offer) => !taken.has(offer.person)).slice(0, OFFERS);
      const first = open[0];
      if (open.length) result.offers.push({ face: id, offers: open });
      if (first && first === offers[0] && first.mayFile && first.certainty >= sureness.file) {
        taken.add(first.person);
        result.filed.push({ face: id, person: first.person });
      } else waiting.push(i);
    }
  }
  const key = new Map<number, number>();
  const waits = new Set(waiting);
  grouped.forEach((i, k) => {
    if (waits.has(i)) key.set(group[k]!, Math.min(key.get(group[k]!) ?? Infinity, faces[i]!.id));
  });
  grouped.forEach((i, k) => {
    if (waits.has(i)) result.groups.push({ face: faces[i]!.id, key: key.get(group[k]!)! });
  });
  result.perhaps = perhaps.flatMap(([g, h]) => {
    const [a, b] = [key.get(g), key.get(h)];
    return a === undefined || b === undefined ? [] : [[Math.min(a, b), Math.max(a, b)]];
  });
  return result;
}

/** How alike a face is to the unnamed faces nearest to it, those of the same moment aside. */
function nearestUnnamed(
  face: SeenFace,
  who: Int32Array,
  like: Float32Array,
  open: readonly number[],
  seen: readonly SeenFace[],
): number | null {
  const best: number[] = [];
  for (let k = 0; k < who.length && best.length < 3; k++)
    if (!isSameMoment(face, seen[open[who[k]!]!]!)) best.push(like[k]!);
  return best.length ? (best[0]! + best.reduce((a, b) => a + b, 0) / best.length) / 2 : null;
}
