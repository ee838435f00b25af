import { gatherFaces, type FaceWorld, type Gathered, type LibraryFace } from './gather';
import { introduce, type IntroductionGroup } from './introduce';
import type { KnownPerson } from './memory';
import { SURENESS } from './gather';
import { unit } from './vector';

/** A face the engine found in the demo household, with the person it truly shows (null: nobody of the truth). */
export interface TrueFace {
  file: string;
  box: [number, number, number, number];
  height: number;
  quality: number;
  person: string | null;
  asAged: string | null;
  passerby: boolean;
}

interface Written extends TrueFace {
  clothes: string | null;
}

/** The files of the demo household, wherever they are read from. */
export interface DemoFiles {
  json: <T>(name: string) => T;
  bytes: (name: string) => Buffer;
}

/** One signed byte a number, 704 of them a face. */
const numbersOf = (bytes: Buffer, i: number, from: number, length: number) =>
  unit(Float32Array.from({ length }, (_, k) => bytes.readInt8(i * 704 + from + k)));

/** The demo household: its faces, who they truly are, its people, and whom they have named so far. */
export interface Household {
  truth: TrueFace[];
  /** With nothing said. Ids count from 1 in the order of `truth`. */
  faces: LibraryFace[];
  people: KnownPerson[];
  names: string[];
  /** The number in `people` of whom a face truly shows; 0 for passers-by and what is no face of the truth. */
  trulyIs: (face: number) => number;
  /** What its people have said: face and person. */
  said: [face: number, person: number][];
}

/** Reads the demo household. */
export function readHousehold(demo: DemoFiles): Household {
  const all = demo.json<Written[]>('faces.json');
  const bytes = demo.bytes('faces.bin');
  const household = demo.json<{
    people: { id: string; born: string }[];
    said: { names: { file: string; box: [number, number, number, number]; person: string }[] };
  }>('household.json');
  const files = new Map(
    demo
      .json<{
        files: { path: string; trueLocal: string | null; event: string | null; dateIsApproximate?: boolean }[];
      }>('truth.json')
      .files.map((file) => [file.path, file]),
  );
  const names = household.people.map((p) => p.id);
  const index = all.map((_, i) => i).filter((i) => !all[i]!.file.startsWith('later/'));
  const pictures = new Map<string, number>();
  const events = new Map<string, number>();
  const truth = index.map((i) => all[i]!);
  const said: Household['said'] = [];
  const faces = index.map((i, k): LibraryFace => {
    const face = all[i]!;
    const { trueLocal, event, dateIsApproximate } = files.get(face.file)!;
    if (!pictures.has(face.file)) pictures.set(face.file, pictures.size + 1);
    if (event && !events.has(event)) events.set(event, events.size + 1);
    const [cx, cy] = [(face.box[0] + face.box[2]) / 2, (face.box[1] + face.box[3]) / 2];
    const told = household.said.names.find(
      (n) =>
        n.file === face.file && cx > n.box[0] && cx < n.box[0] + n.box[2] && cy > n.box[1] && cy < n.box[1] + n.box[3],
    );
    if (told) said.push([k + 1, names.indexOf(told.person) + 1]);
    return {
      id: k + 1,
      picture: pictures.get(face.file)!,
      height: face.height,
      quality: face.quality,
      a: numbersOf(bytes, i, 0, 512),
      b: numbersOf(bytes, i, 512, 192),
      at: trueLocal && !dateIsApproximate ? Date.parse(`${trueLocal.slice(0, 19)}Z`) / 60_000 : null,
      event: event ? events.get(event)! : null,
      clothes: face.clothes ? Uint8Array.from(Buffer.from(face.clothes, 'base64')) : null,
      said: null,
    };
  });
  return {
    truth,
    faces,
    people: household.people.map((p, i) => ({ id: i + 1, born: Date.parse(p.born) / 86_400_000 })),
    names,
    trulyIs: (face) => {
      const { person, passerby } = truth[face - 1]!;
      return person === null || passerby ? 0 : names.indexOf(person) + 1;
    },
    said,
  };
}

/** Clear faces of the household as they look in other light, smaller, tilted, blurred or behind glasses. */
export function readVariations(demo: DemoFiles): {
  file: string;
  variation: string;
  person: string;
  height?: number;
  quality?: number;
  a: Float32Array;
  b: Float32Array;
}[] {
  const bytes = demo.bytes('variations.bin');
  return demo
    .json<{ file: string; variation: string; person: string; height?: number; quality?: number }[]>('variations.json')
    .map((row, i) => ({ ...row, a: numbersOf(bytes, i, 0, 512), b: numbersOf(bytes, i, 512, 192) }));
}

/** The household with some faces named, some left as passers-by, and nothing else said. */
export function worldOf(
  household: Household,
  said: ReadonlyMap<number, LibraryFace['said'] | 'not a face'>,
  more: Partial<FaceWorld> = {},
): FaceWorld {
  return {
    faces: household.faces
      .filter((face) => said.get(face.id) !== 'not a face')
      .map((face) => ({ ...face, said: (said.get(face.id) as LibraryFace['said'] | undefined) ?? null })),
    people: household.people,
    refused: [],
    apart: [],
    sureness: SURENESS,
    ...more,
  };
}

/** The introductions that follow from what was gathered. */
export function introductionsOf(world: FaceWorld, gathered: Gathered): IntroductionGroup[] {
  const faces = new Map(world.faces.map((face) => [face.id, face]));
  const offers = new Map(gathered.offers.map((o) => [o.face, o.offers]));
  return introduce(
    gathered.groups.map(({ face, key }) => ({
      id: face,
      key,
      picture: faces.get(face)!.picture,
      quality: faces.get(face)!.quality,
      offers: offers.get(face) ?? [],
    })),
  );
}

/** Where a keeper who knows everybody stands after some answers. */
export interface Progress {
  answers: number;
  touches: number;
  /** Faces filed by the machine, and how many of those wrongly. */
  filed: number;
  wrong: number;
  /** Part of the faces of the household's people that are named, filed rightly, or offered with the right person among two. */
  reached: number;
  /** Faces filed as the other of the two sisters. */
  sisters: number;
}

/** Touches it takes: a name that is offered, a name typed, a face tapped away. */
export const TOUCHES = { offered: 1, typed: 3, odd: 1 } as const;

/**
 * A keeper who knows everybody goes through the introductions from the first to the last, tapping away whoever is somebody
 * else. Answers with how things stand after each answer.
 */
export function goThrough(household: Household, most = 500): Progress[] {
  const said = new Map<number, LibraryFace['said'] | 'not a face'>();
  const refused: [number, number][] = [];
  const apart: [number, number][] = [];
  const known = new Set<number>();
  const progress: Progress[] = [];
  let touches = 0;
  const sisters = [household.names.indexOf('noor') + 1, household.names.indexOf('samira') + 1];
  const people = household.faces.filter((f) => household.trulyIs(f.id) > 0);
  for (let answers = 0; answers <= most; answers++) {
    const world = worldOf(household, said, { refused, apart });
    const gathered = gatherFaces(world);
    const wrong = gathered.filed.filter((f) => household.trulyIs(f.face) !== f.person);
    if (process.env['SHOW_WRONG'])
      for (const f of wrong) {
        const o = gathered.offers.find((x) => x.face === f.face)!.offers[0]!;
        console.log(
          answers,
          household.truth[f.face - 1]!.file,
          household.truth[f.face - 1]!.person,
          household.names[f.person - 1],
          o,
        );
      }
    const right = new Set(gathered.filed.filter((f) => household.trulyIs(f.face) === f.person).map((f) => f.face));
    for (const { face, offers } of gathered.offers)
      if (offers.slice(0, 2).some((o) => o.person === household.trulyIs(face))) right.add(face);
    progress.push({
      answers,
      touches,
      filed: gathered.filed.length,
      wrong: wrong.length,
      reached: people.filter((f) => right.has(f.id) || said.has(f.id)).length / people.length,
      sisters: wrong.filter((f) => sisters.includes(f.person) && sisters.includes(household.trulyIs(f.face))).length,
    });
    const group = introductionsOf(world, gathered)[0];
    if (!group) break;
    const votes = new Map<number, number>();
    for (const { id } of group.faces) votes.set(household.trulyIs(id), (votes.get(household.trulyIs(id)) ?? 0) + 1);
    const person = [...votes].sort((a, b) => b[1] - a[1] || a[0] - b[0])[0]![0];
    const mine = group.faces.filter((f) => household.trulyIs(f.id) === person);
    const odd = group.faces.filter((f) => household.trulyIs(f.id) !== person);
    touches += odd.length * TOUCHES.odd;
    touches += person === 0 || group.candidates.some((c) => c.person === person) ? TOUCHES.offered : TOUCHES.typed;
    known.add(person);
    for (const { id } of mine) {
      const nobody = household.truth[id - 1]!.person === null ? 'not a face' : 'passer-by';
      said.set(id, person === 0 ? nobody : { person });
    }
    for (const { id } of odd) {
      if (person > 0) refused.push([id, person]);
      for (const other of mine.slice(0, 12)) apart.push([id, other.id]);
    }
  }
  return progress;
}

/** Every face that is truly in the demo's pictures, and whether the engine found it; and how many it found that are none. */
export function readDetection(demo: DemoFiles): {
  faces: { width: number; yaw: number; covered: boolean; blurred: boolean; found: boolean }[];
  pictures: number;
  none: number;
} {
  const written = demo.json<Written[]>('faces.json');
  const files = demo
    .json<{
      files: {
        path: string;
        kind: string;
        blurred: boolean;
        people: { person: string; box: [number, number, number, number]; yaw: number; occluded: boolean }[];
      }[];
    }>('truth.json')
    .files.filter((f) => f.kind === 'photo' && !/^(old-laptop|stick|bad)\//.test(f.path));
  return {
    pictures: files.length,
    none: written.filter((face) => face.person === null).length,
    faces: files.flatMap(({ path: file, people, blurred }) => {
      const found = written.filter((face) => face.file === file).map((face) => face.person);
      return people.map(({ person, box, yaw, occluded }) => {
        const at = found.indexOf(person);
        if (at >= 0) found.splice(at, 1);
        return { width: box[2], yaw: Math.abs(yaw), covered: occluded, blurred, found: at >= 0 };
      });
    }),
  };
}
