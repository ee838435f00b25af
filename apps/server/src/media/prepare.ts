import { measure, noticedIn, perceptualHash, sharpness, toGrey, type Notice, type Pixels } from '@gemmel/core';
import { mkdir } from 'node:fs/promises';
import path from 'node:path';
import { rgbaToThumbHash } from 'thumbhash';
import { facesIn, type PreparedFace } from '../faces/describe';
import { writeWhole } from '../files/whole';
import { sharpOf, SIZES, within } from './pixels';
import { decode, type Decoded } from './decode';
import type { Inside } from './raw';
import type { FileKind } from './sniff';

/** What the thread is asked to do with one file. */
export interface PrepareTask {
  file: string;
  kind: FileKind;
  /** Path of the derived files without `-small.webp` and `-large.jpg`. */
  derived: string;
  models: string;
  faces: boolean;
  /** The picture a camera put inside a negative, and what that says of itself. */
  inside?: Inside | null;
}

/** Everything computed from a file's pixels. */
export interface Prepared {
  width: number;
  height: number;
  orientation: number;
  seconds: number | null;
  codec: string | null;
  /** 64 bits, decimal. */
  likeness: string;
  sharpness: number;
  /** What is noticed of it by measuring; of a clip nothing. */
  noticed: Notice[];
  thumb: Uint8Array;
  faces: PreparedFace[];
}

/** Writes the two derived sizes and works out placeholder, perceptual hash and sharpness, all from one decoding. */
export async function derive(decoded: Decoded, derived: string): Promise<Omit<Prepared, 'faces'> & { large: Pixels }> {
  await mkdir(path.dirname(derived), { recursive: true });
  const large = await within(decoded.pixels, SIZES.large);
  const small = await within(large, SIZES.small);
  const tiny = await sharpOf(small)
    .resize(96, 96, { fit: 'inside' })
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  await Promise.all([
    sharpOf(large)
      .jpeg({ quality: 84, chromaSubsampling: '4:2:0' })
      .toBuffer()
      .then((b) => writeWhole(`${derived}-large.jpg`, b)),
    sharpOf(small)
      .webp({ quality: 78, effort: 2 })
      .toBuffer()
      .then((b) => writeWhole(`${derived}-small.webp`, b)),
  ]);
  const grey = toGrey(large.data, large.width, large.height);
  return {
    width: decoded.width,
    height: decoded.height,
    orientation: decoded.orientation,
    seconds: decoded.seconds,
    codec: decoded.codec,
    likeness: perceptualHash(grey).toString(),
    sharpness: sharpness(grey),
    noticed: decoded.seconds === null ? noticedIn(measure(small), decoded) : [],
    thumb: rgbaToThumbHash(tiny.info.width, tiny.info.height, tiny.data),
    large,
  };
}

/** Decodes a file once and computes everything from its pixels, faces included. Runs in a worker thread. */
export async function prepare(task: PrepareTask): Promise<Prepared> {
  const decoded = await decode(task.file, task.kind, task.inside ?? null);
  const { large, ...rest } = await derive(decoded, task.derived);
  return { ...rest, faces: task.faces ? await facesIn(task.models, large, decoded) : [] };
}
