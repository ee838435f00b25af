import {
  findPrints,
  moved,
  squareTo,
  quadSize,
  readFrom,
  rollOf,
  straightened,
  turned,
  type Corners,
  type Pixels,
} from '@gemmel/core';
import sharp from 'sharp';
import { FaceEngine } from '../faces/engine';
import { pixelsOf, within } from '../media/pixels';

/** What a thread is asked: the large size of a scan, and the networks that find faces, when prints are to be turned by them. */
export interface GlassTask {
  file: string;
  models: string | null;
  /** Whether somebody says that prints lie there. */
  asked: boolean;
}

let engine: Promise<FaceEngine> | null = null;

/** The long side at which faces on a print are looked for, in pixels. */
const LOOKED_AT = 640;
/** A face that leans further than this, in degrees, does not stand upright. */
const LEANING = 40;
/** So much more must speak for turning a print than for leaving it. */
const SURELY = 1.1;

/**
 * By how many quarters a print is to be turned so that the faces on it stand upright; 0 without faces. They are looked for each of the
 * four ways: which way they are made out best, by how large and how good they are, is up.
 */
async function quartersOf(print: Pixels, models: string): Promise<number> {
  const image = await within(print, LOOKED_AT);
  const faces = await (engine ??= FaceEngine.load(models));
  const votes: number[] = [];
  for (let quarters = 0; quarters < 4; quarters++) {
    const way = quarters ? turned(image, quarters) : image;
    const upright = (await faces.find(way, way)).filter(({ points }) => Math.abs(rollOf(points)) < LEANING);
    votes.push(upright.reduce((sum, { quality, height }) => sum + quality * height, 0));
  }
  const most = Math.max(...votes);
  return most > SURELY * votes[0]! ? votes.indexOf(most) : 0;
}

/** A print a hair within its edges, so that nothing of the glass is seen around it. */
function inside(corners: Corners): Corners {
  const at = (u: number, v: number) => moved(squareTo(corners), u, v);
  const [low, high] = [HAIR, 1 - HAIR];
  return [...at(low, low), ...at(high, low), ...at(high, high), ...at(low, high)];
}
const HAIR = 0.004;

/** Finds the prints on a scan, each beginning at the corner that is its top left when its faces stand upright. Runs in a worker thread. */
export async function glassTask({ file, models, asked }: GlassTask): Promise<Corners[] | null> {
  const image = await pixelsOf(sharp(file)).catch(() => null);
  if (!image) return null;
  const found = findPrints(image, asked).map((print) => inside(print.corners));
  if (models === null) return found;
  const upright: Corners[] = [];
  for (const corners of found) {
    const [width, height] = quadSize(image.width, image.height, corners);
    const print = Math.min(width, height) >= 64 ? straightened(image, corners) : null;
    // Turned to the right once, what stood at the bottom left stands at the top left.
    upright.push(print ? readFrom(corners, -(await quartersOf(print, models))) : corners);
  }
  return upright;
}
