import type { FaceShot, Pixels } from '@gemmel/core';
import sharp from 'sharp';
import { decode, type Decoded } from '../media/decode';
import { pixelsOf, SIZES, within } from '../media/pixels';
import type { Inside } from '../media/raw';
import type { FileKind } from '../media/sniff';
import { FaceEngine, type FoundFace } from './engine';

/** A face as it is stored: box in fractions of the upright picture. */
export interface PreparedFace {
  x: number;
  y: number;
  w: number;
  h: number;
  heightPx: number;
  quality: number;
  eyes: number;
  sharp: number;
  turn: number;
  a: Float32Array;
  b: Float32Array;
  clothes: Uint8Array | null;
}

/** What is known of a face somebody marked. */
export type DescribedFace = Pick<FoundFace, 'quality' | 'eyes' | 'sharp' | 'turn' | 'a' | 'b' | 'clothes'>;

let engine: Promise<FaceEngine> | null = null;
const engineOf = (models: string) => (engine ??= FaceEngine.load(models));

/** All faces of a picture that has been decoded. @param large the same picture at a long side of 1600. */
export async function facesIn(models: string, large: Pixels, decoded: Decoded): Promise<PreparedFace[]> {
  const full = decoded.pixels;
  const kept = (v: number) => Math.max(0, Math.min(1, v));
  return (await (await engineOf(models)).find(large, full)).flatMap((face) => {
    const [x1, y1, x2, y2] = [
      kept(face.box[0] / full.width),
      kept(face.box[1] / full.height),
      kept(face.box[2] / full.width),
      kept(face.box[3] / full.height),
    ];
    if (x2 <= x1 || y2 <= y1) return [];
    const heightPx = Math.min(65_000, Math.round((face.height * decoded.height) / full.height));
    const { quality, eyes, sharp: sharpFace, turn, a, b, clothes } = face;
    return [{ x: x1, y: y1, w: x2 - x1, h: y2 - y1, heightPx, quality, eyes, sharp: sharpFace, turn, a, b, clothes }];
  });
}

/** Looks for the faces of a picture that is here already. Runs in a worker thread. */
export async function seekFaces(task: {
  file: string;
  kind: FileKind;
  models: string;
  inside: Inside | null;
}): Promise<PreparedFace[]> {
  const decoded = await decode(task.file, task.kind, task.inside);
  return facesIn(task.models, await within(decoded.pixels, SIZES.large), decoded);
}

/** What faces in a picture are like, by their boxes (fractions: left, top, width, height); null where none is made out. */
export async function shotsIn(task: {
  file: string;
  boxes: readonly (readonly [number, number, number, number])[];
  models: string;
}): Promise<(FaceShot | null)[]> {
  const image = await pixelsOf(sharp(task.file));
  const { width, height } = image;
  return (await engineOf(task.models)).shotsAt(
    image,
    task.boxes.map(([x, y, w, h]) => [x * width, y * height, (x + w) * width, (y + h) * height]),
  );
}

/** Describes the face in a box (fractions: left, top, width, height) of a picture; null when none is made out. */
export async function describeFace(task: {
  file: string;
  box: readonly [number, number, number, number];
  models: string;
}): Promise<DescribedFace | null> {
  const image = await pixelsOf(sharp(task.file));
  const [x, y, w, h] = task.box;
  const { width, height } = image;
  return (await engineOf(task.models)).describeAt(image, image, [
    x * width,
    y * height,
    (x + w) * width,
    (y + h) * height,
  ]);
}
