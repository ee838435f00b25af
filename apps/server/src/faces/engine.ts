import {
  acceptFace,
  alignFace,
  areOneFace,
  bestOfEach,
  clothesOf,
  dot,
  faceShot,
  faceParts,
  faceQuality,
  MESH,
  meshFace,
  isNoFace,
  mirror,
  overlap,
  planes,
  rollOf,
  unit,
  unmap,
  warp,
  SURE_STRENGTH,
  type Box,
  type FaceShot,
  type FaceParts,
  type Pixels,
  type Point,
  type Similarity,
} from '@gemmel/core';
import path from 'node:path';
import * as ort from 'onnxruntime-node';
import sharp from 'sharp';

/** A face found and described. Box and points in pixels of the picture given. */
export interface FoundFace extends FaceShot {
  box: Box;
  points: Point[];
  height: number;
  quality: number;
  /** 512 numbers, unit length. */
  a: Float32Array;
  /** 192 numbers, unit length. */
  b: Float32Array;
  /** The colours worn below it, where they are in the picture. */
  clothes: Uint8Array | null;
}

interface Candidate {
  box: Box;
  score: number;
  votes: number;
}

/** A square to look at with the checking network: its middle, side, and the roll in degrees to take out. */
interface Look {
  index: number;
  cx: number;
  cy: number;
  side: number;
  roll: number;
}

interface Checked extends Look {
  score: number;
  points: Point[];
  next: { cx: number; cy: number; side: number };
}

const STRIDES = [8, 16, 32, 64] as const;
const SIZES = [
  [10, 16, 24],
  [32, 48],
  [64, 96],
  [128, 192, 256],
] as const;
/** Long sides, in pixels, at which faces are looked for; see docs/faces.md for how others do. */
const SCALES: readonly number[] = [240, 480, 640, 1280];
/** Somebody who marks a face has seen one: the checking network need only not be against it. */
const MARKED_FROM = 0.3;
const ROLLS = [-30, 30, 90, -90, 180] as const;

/** Prior boxes (centre x, centre y, size) of the detector for a padded input. */
function priorsOf(width: number, height: number): Float32Array {
  const all: number[] = [];
  STRIDES.forEach((stride, level) => {
    for (let y = 0; y < Math.ceil(height / stride); y++)
      for (let x = 0; x < Math.ceil(width / stride); x++)
        for (const size of SIZES[level]!) all.push((x + 0.5) * stride, (y + 0.5) * stride, size);
  });
  return Float32Array.from(all);
}

/** A picture scaled to a long side of `long`. */
async function scaled(image: Pixels, long: number): Promise<Pixels> {
  const k = long / Math.max(image.width, image.height);
  const width = Math.max(64, Math.round(image.width * k));
  const height = Math.max(64, Math.round(image.height * k));
  if (width === image.width && height === image.height) return image;
  const { data } = await sharp(image.data, { raw: { width: image.width, height: image.height, channels: 3 } })
    .resize(width, height, { fit: 'fill', kernel: 'linear' })
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width, height, data: new Uint8Array(data.buffer, data.byteOffset, data.byteLength) };
}

/** Grey padding on the right and below up to a multiple of 64, as the feature maps of the detector need it. */
function padded(image: Pixels): Pixels {
  const width = Math.ceil(image.width / 64) * 64;
  const height = Math.ceil(image.height / 64) * 64;
  if (width === image.width && height === image.height) return image;
  const data = new Uint8Array(width * height * 3).fill(127);
  for (let y = 0; y < image.height; y++)
    data.set(image.data.subarray(y * image.width * 3, (y + 1) * image.width * 3), y * width * 3);
  return { width, height, data };
}

/**
 * Finds and describes faces with five small networks (see docs/faces.md): a detector at several scales, a check that also
 * gives five points, two descriptions, and a mesh that tells open eyes from shut ones. One engine belongs to one thread.
 */
export class FaceEngine {
  private readonly priors = new Map<string, Float32Array>();

  private constructor(
    private readonly detector: ort.InferenceSession,
    private readonly checker: ort.InferenceSession,
    private readonly describerA: ort.InferenceSession,
    private readonly describerB: ort.InferenceSession,
    private readonly mesher: ort.InferenceSession,
  ) {}

  /** Loads the weights from a folder. */
  static async load(models: string): Promise<FaceEngine> {
    const open = (file: string, graphOptimizationLevel: 'extended' | 'all' = 'all') =>
      ort.InferenceSession.create(path.join(models, file), {
        intraOpNumThreads: 1,
        interOpNumThreads: 1,
        graphOptimizationLevel,
        logSeverityLevel: 3,
      });
    return new FaceEngine(
      await open('rfb_dyn.onnx'),
      await open('onet.onnx'),
      // Laid out anew for the processor, which makes the others quicker, this one takes three times as long.
      await open('fr_feature.onnx', 'extended'),
      await open('mobilefacenet.onnx'),
      await open('mesh.onnx'),
    );
  }

  /**
   * All faces of a picture.
   * @param image the picture faces are looked for in. @param full the same picture as large as there is; crops come from it.
   * @param scales long sides at which to look.
   */
  async find(image: Pixels, full: Pixels, scales: readonly number[] = SCALES): Promise<FoundFace[]> {
    const found: FoundFace[] = [];
    for (const face of await this.detect(image, scales)) {
      const { strength, mirrored, parts, ...told } = await this.told(image, full, face);
      if (strength < SURE_STRENGTH && isNoFace(parts, told.height, strength, await mirrored())) continue;
      found.push(told);
    }
    return found;
  }

  /** Describes a face somebody marked. Null when there is none to be made out in the box. Box in pixels of `image`. */
  async describeAt(image: Pixels, full: Pixels, box: Box): Promise<FoundFace | null> {
    const [one] = await this.pointsOf(image, [box]);
    if (!one || one.check < MARKED_FROM) return null;
    const { strength: _, mirrored: __, parts: ___, ...told } = await this.told(image, full, { box, ...one });
    return told;
  }

  /** What there is to say of a face: also how strongly it is described, and, when asked, how like its mirror image it is. */
  private async told(
    image: Pixels,
    full: Pixels,
    face: { box: Box; points: Point[]; check: number },
  ): Promise<FoundFace & { strength: number; mirrored: () => Promise<number>; parts: FaceParts }> {
    const k = full.width / image.width;
    const points = face.points.map(([x, y]): Point => [x * k, y * k]);
    const box = face.box.map((v) => v * k) as unknown as Box;
    const crop = alignFace(full, points);
    const height = box[3] - box[1];
    const parts = faceParts(crop, points, height, face.check);
    const describeA = (pixels: Pixels) => this.describe(this.describerA, planes(pixels, 127, 1 / 128, { bgr: true }));
    const first = await describeA(crop);
    const strength = Math.sqrt(dot(first, first));
    const a = unit(first);
    return {
      box,
      points,
      height,
      quality: faceQuality(parts),
      ...(await this.shot(full, points)),
      clothes: clothesOf(full, box),
      a,
      b: unit(await this.describe(this.describerB, planes(crop, 127.5, 1 / 128))),
      strength,
      mirrored: async () => dot(a, unit(await describeA(mirror(crop)))),
      parts,
    };
  }

  /** What faces are like in a shot; null where there is no face to be made out. Boxes in pixels of `image`. */
  async shotsAt(image: Pixels, boxes: readonly Box[]): Promise<(FaceShot | null)[]> {
    const found = await this.pointsOf(image, boxes);
    const all: (FaceShot | null)[] = [];
    for (const { points, check } of found) all.push(check < MARKED_FROM ? null : await this.shot(image, points));
    return all;
  }

  private async shot(image: Pixels, points: readonly Point[]): Promise<FaceShot> {
    const input = planes(meshFace(image, points), 0, 1 / 255);
    const out = await this.mesher.run({ picture: new ort.Tensor('float32', input, [1, 3, MESH, MESH]) });
    return faceShot(image, points, out['mesh']!.data as Float32Array);
  }

  private async describe(session: ort.InferenceSession, input: Float32Array): Promise<Float32Array> {
    const out = await session.run({ [session.inputNames[0]!]: new ort.Tensor('float32', input, [1, 3, 112, 112]) });
    return Float32Array.from(out[session.outputNames[0]!]!.data as Float32Array);
  }

  private async propose(image: Pixels, long: number): Promise<{ box: Box; score: number }[]> {
    const small = await scaled(image, long);
    const input = padded(small);
    const out = await this.detector.run({
      input: new ort.Tensor('float32', planes(input, 127, 1 / 128), [1, 3, input.height, input.width]),
    });
    const key = `${input.width}x${input.height}`;
    let priors = this.priors.get(key);
    if (!priors) this.priors.set(key, (priors = priorsOf(input.width, input.height)));
    const scores = out['scores']!.data as Float32Array;
    const loc = out['loc']!.data as Float32Array;
    const kx = image.width / small.width;
    const ky = image.height / small.height;
    const found: { box: Box; score: number }[] = [];
    for (let i = 0; i < scores.length / 2; i++) {
      const score = scores[2 * i + 1]!;
      if (score <= 0.6) continue;
      const size = priors[3 * i + 2]!;
      const cx = priors[3 * i]! + loc[4 * i]! * 0.1 * size;
      const cy = priors[3 * i + 1]! + loc[4 * i + 1]! * 0.1 * size;
      const w = size * Math.exp(loc[4 * i + 2]! * 0.2);
      const h = size * Math.exp(loc[4 * i + 3]! * 0.2);
      found.push({ box: [(cx - w / 2) * kx, (cy - h / 2) * ky, (cx + w / 2) * kx, (cy + h / 2) * ky], score });
    }
    return bestOfEach(found, 0.35);
  }

  private async check(image: Pixels, looks: readonly Look[]): Promise<Checked[]> {
    const result: Checked[] = [];
    for (let from = 0; from < looks.length; from += 64) {
      const some = looks.slice(from, from + 64);
      const input = new Float32Array(some.length * 6912);
      const maps = some.map((look, i): Similarity => {
        const k = 48 / look.side;
        const a = Math.cos((-look.roll * Math.PI) / 180) * k;
        const b = Math.sin((-look.roll * Math.PI) / 180) * k;
        const map = { a, b, tx: 24 - a * look.cx + b * look.cy - 0.5, ty: 24 - b * look.cx - a * look.cy - 0.5 };
        input.set(planes(warp(image, map, 48, 48), 127.5, 1 / 128, { transposed: true }), i * 6912);
        return map;
      });
      const out = await this.checker.run({ input: new ort.Tensor('float32', input, [some.length, 3, 48, 48]) });
      const score = out['out0']!.data as Float32Array;
      const shift = out['out1']!.data as Float32Array;
      const marks = out['out2']!.data as Float32Array;
      some.forEach((look, i) => {
        const map = maps[i]!;
        const [x1, y1] = [shift[4 * i]! * 48, shift[4 * i + 1]! * 48];
        const [x2, y2] = [48 + shift[4 * i + 2]! * 48, 48 + shift[4 * i + 3]! * 48];
        const [cx, cy] = unmap(map, (x1 + x2) / 2 - 0.5, (y1 + y2) / 2 - 0.5);
        result.push({
          ...look,
          score: score[2 * i + 1]!,
          points: [0, 1, 2, 3, 4].map((j) =>
            unmap(map, marks[10 * i + j]! * 48 - 0.5, marks[10 * i + 5 + j]! * 48 - 0.5),
          ),
          next: { cx, cy, side: (Math.max(x2 - x1, y2 - y1) * look.side) / 48 },
        });
      });
    }
    return result;
  }

  private async detect(image: Pixels, all: readonly number[]): Promise<{ box: Box; points: Point[]; check: number }[]> {
    const long = Math.max(image.width, image.height);
    const scales = all.filter((scale) => scale <= 640 || scale <= long * 1.6);
    const proposed: { box: Box; score: number; scale: number }[] = [];
    for (const scale of scales) for (const one of await this.propose(image, scale)) proposed.push({ ...one, scale });
    const voted: Candidate[] = proposed.map((one) => ({
      box: one.box,
      score: one.score,
      votes: new Set([
        one.scale,
        ...proposed.filter((o) => o.scale !== one.scale && overlap(o.box, one.box) > 0.4).map((o) => o.scale),
      ]).size,
    }));
    const candidates = bestOfEach(voted, 0.4);
    if (candidates.length === 0) return [];
    const found = (
      await this.pointsOf(
        image,
        candidates.map((c) => c.box),
      )
    )
      .flatMap((one, i) => {
        const { box, score, votes } = candidates[i]!;
        if (!acceptFace({ detector: score, check: one.check, votes, height: box[3] - box[1] })) return [];
        return [{ box, score, ...one }];
      })
      .sort((a, b) => b.check + b.score - (a.check + a.score));
    // Two boxes over different parts of one face end at the same points, or the one lies in the other: an eye, a pair of glasses.
    return found.filter(
      (face, i) =>
        !found
          .slice(0, i)
          .some((other) => areOneFace(face.points, other.points) || overlap(face.box, other.box, 'min') > 0.75),
    );
  }

  /** The five points in each box, and how sure the checking network is that it holds a face. */
  private async pointsOf(image: Pixels, boxes: readonly Box[]): Promise<{ points: Point[]; check: number }[]> {
    const looks = boxes.map(([x1, y1, x2, y2], index): Look => ({
      index,
      cx: (x1 + x2) / 2,
      cy: (y1 + y2) / 2,
      side: Math.max(x2 - x1, y2 - y1) * 1.05,
      roll: 0,
    }));
    const best = await this.check(image, looks);
    const weak = looks
      .filter((look) => best[look.index]!.score < 0.9)
      .flatMap((look) => ROLLS.map((roll) => ({ ...look, roll })));
    for (const one of await this.check(image, weak))
      if (one.score > best[one.index]!.score + (Math.abs(one.roll) > 45 ? 0.1 : 0)) best[one.index] = one;
    // A second look at the corrected square with the roll taken out gives better points.
    const again = await this.check(
      image,
      best.map((one) =>
        one.score > 0.5
          ? { index: one.index, ...one.next, roll: rollOf(one.points) }
          : { index: one.index, cx: one.cx, cy: one.cy, side: one.side, roll: one.roll },
      ),
    );
    return again.map((second, i) => {
      const first = best[i]!;
      return {
        check: Math.max(first.score, second.score),
        points: second.score >= first.score - 0.2 ? second.points : first.points,
      };
    });
  }
}
