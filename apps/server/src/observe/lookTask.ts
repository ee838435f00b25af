import { thingsIn, type Pixels } from '@gemmel/core';
import path from 'node:path';
import * as ort from 'onnxruntime-node';
import sharp, { type Sharp } from 'sharp';
import { openNet } from './nets';
import { Reader } from './reader';

/** What a thread is asked: a picture at its large size, and where the nets lie. */
export interface LookTask {
  file: string;
  models: string;
}

/** The side of the square in which things are looked for, in pixels. */
const SIDE = 512;

let things: Promise<ort.InferenceSession> | null = null;
let reader: Promise<Reader> | null = null;

/** The picture's colours row by row; null when its large size is not there or cannot be read. */
async function open(picture: Sharp): Promise<Pixels | null> {
  try {
    const { data, info } = await picture
      .removeAlpha()
      .toColourspace('srgb')
      .raw()
      .toBuffer({ resolveWithObject: true });
    return { width: info.width, height: info.height, data };
  } catch {
    return null;
  }
}

/** The everyday things in a picture; null when it cannot be opened. */
export async function thingsTask({ file, models }: LookTask) {
  const square = await open(sharp(file).resize(SIDE, SIDE, { fit: 'contain', background: '#7f7f7f' }));
  if (!square) return null;
  const n = SIDE * SIDE;
  const planes = new Float32Array(3 * n);
  for (let c = 0; c < 3; c++) for (let i = 0; i < n; i++) planes[c * n + i] = square.data[3 * i + c]!;
  const net = await (things ??= openNet(path.join(models, 'things.onnx')));
  const out = await net.run({ picture: new ort.Tensor('float32', planes, [1, 3, SIDE, SIDE]) });
  return thingsIn(out['things']!.data as Float32Array);
}

/** What can be read in a picture, a line each; empty when there is nothing to read, null when it cannot be opened. */
export async function readTask({ file, models }: LookTask): Promise<string | null> {
  const picture = await open(sharp(file));
  if (!picture) return null;
  return (await (reader ??= Reader.load(models))).read(picture);
}
