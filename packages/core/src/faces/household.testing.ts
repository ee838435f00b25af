import { readFileSync } from 'node:fs';
import path from 'node:path';
import type { LibraryFace } from './gather';
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

const demo = path.join(__dirname, '../../../../demo');

/** The demo household's faces, and which of them its people have named so far. */
export function readHousehold(): { truth: TrueFace[]; faces: LibraryFace[]; people: string[]; named: number } {
  const all = JSON.parse(readFileSync(path.join(demo, 'faces.json'), 'utf8')) as TrueFace[];
  const bytes = readFileSync(path.join(demo, 'faces.bin'));
  const household = JSON.parse(readFileSync(path.join(demo, 'household.json'), 'utf8')) as {
    people: { id: string }[];
    said: { names: { file: string; box: [number, number, number, number]; person: string }[] };
  };
  const people = household.people.map((p) => p.id);
  const index = all.map((_, i) => i).filter((i) => !all[i]!.file.startsWith('later/'));
  const pictures = new Map<string, number>();
  let named = 0;
  const faces = index.map((i, id): LibraryFace => {
    const face = all[i]!;
    const numbers = (from: number, length: number) =>
      unit(Float32Array.from({ length }, (_, k) => bytes.readInt8(i * 704 + from + k)));
    if (!pictures.has(face.file)) pictures.set(face.file, pictures.size + 1);
    const cx = (face.box[0] + face.box[2]) / 2;
    const cy = (face.box[1] + face.box[3]) / 2;
    const said = household.said.names.find(
      (n) =>
        n.file === face.file && cx > n.box[0] && cx < n.box[0] + n.box[2] && cy > n.box[1] && cy < n.box[1] + n.box[3],
    );
    if (said) named++;
    return {
      id: id + 1,
      picture: pictures.get(face.file)!,
      height: face.height,
      quality: face.quality,
      a: numbers(0, 512),
      b: numbers(512, 192),
      person: said ? people.indexOf(said.person) + 1 : null,
      byHand: Boolean(said),
    };
  });
  return { truth: index.map((i) => all[i]!), faces, people, named };
}
