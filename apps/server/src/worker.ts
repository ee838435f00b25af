import os from 'node:os';
import sharp from 'sharp';
import { describeFace, seekFaces, shotsIn } from './faces/describe';
import { forgetDescriptions, refreshTask } from './faces/refreshTask';
import { Damaged } from './media/damaged';
import { bestOf as bestOfSome, findClockShifts, type BestWish, type ClockShot, type Eligible } from '@gemmel/core';
import { glance as glanceAt } from './media/glance';
import { alikeTask } from './run/alikeTask';
import { connectionTo } from './db/threads';
import type { DbAddress } from './db/mariadb';
import { noticeFaces as noticeFacesIn } from './observe/faceTask';
import { readTask, thingsTask } from './observe/lookTask';
import { observeTask } from './observe/observeTask';
import { glassTask } from './scan/glassTask';
import { renderTask, thumbTask } from './touchup/renderTask';
import { besidesIn, compareVault } from './keep/compare';
import { filingTask } from './vault/filingTask';
import { placeAt, readGazetteer, townsIn as largestIn, townsNamed as named } from './media/places';
import { zoneAt } from './media/zones';
import { imageTask } from './piece/image';
import { sheetsTask } from './piece/sheets/layoutTask';
import { layoutTask } from './piece/book/layoutTask';
import { prepare as prepareFile, type PrepareTask } from './media/prepare';

// Heavy work yields to people at work: this thread steps back, and each picture library call keeps to it.
try {
  os.setPriority(0, 5);
} catch {
  // not allowed here: then all threads are equal
}
sharp.concurrency(1);
sharp.cache(false);

/** Damage is an answer, not an accident, so it comes back as a value. */
export async function prepare(task: PrepareTask) {
  try {
    return { ok: true as const, prepared: await prepareFile(task) };
  } catch (error) {
    if (error instanceof Damaged) return { ok: false as const, reason: error.saying };
    throw error;
  }
}

export {
  alikeTask as alike,
  describeFace as describe,
  shotsIn as faceShots,
  filingTask as filing,
  forgetDescriptions,
  glassTask as glass,
  imageTask as image,
  layoutTask as layBook,
  sheetsTask as laySheets,
  observeTask as observe,
  readTask as read,
  refreshTask as refreshFaces,
  renderTask as render,
  thumbTask as thumbOf,
  thingsTask as things,
};
/** The best of some pictures: see core's `bestOf`. */
export const bestOf = ({ pictures, wish }: { pictures: Eligible[]; wish: BestWish }) => bestOfSome(pictures, wish);
export const noticeFaces = ({ library, kinds, address }: { library: number; kinds: string[]; address: DbAddress }) =>
  noticeFacesIn(connectionTo(address), library, kinds);
/** A library's folder against the database: see keep/compare. */
export const compare = ({ root, library, address }: { root: string; library: number; address: DbAddress }) =>
  compareVault(connectionTo(address), root, library);
/** What is written beside pictures, by where it lies below a library's folder. */
export const besides = ({ root }: { root: string }) => besidesIn(root);
/** Null when the picture cannot be opened any more. */
export async function seek(task: Parameters<typeof seekFaces>[0]) {
  try {
    return await seekFaces(task);
  } catch (error) {
    if (error instanceof Damaged) return null;
    throw error;
  }
}
export { readGazetteer };
/** Answers as soon as this thread can. */
export const ready = () => true;
export const places = (spots: { lat: number; lon: number }[]) => spots.map(({ lat, lon }) => placeAt(lat, lon));
export const townsNamed = ({ typed, near }: { typed: string; near: { lat: number; lon: number } | null }) =>
  named(typed, near);
export const townsIn = ({ box, most }: { box: [number, number, number, number]; most: number }) => largestIn(box, most);
export const zone = ({ lat, lon }: { lat: number; lon: number }) => zoneAt(lat, lon);
export const glance = ({ file, name }: { file: string; name: string }) => glanceAt(file, name);
export const clocks = ({ shots, trusted }: { shots: ClockShot[]; trusted: number[] }) =>
  findClockShifts(shots, new Set(trusted));
