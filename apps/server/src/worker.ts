/**
 * What is done in threads and processes of their own, by its name. Each loads what it needs when it is first asked for: most of them do one
 * kind of work all their life, and begin sooner.
 */
import os from 'node:os';
import type { BestWish, ClockShot, Eligible } from '@gemmel/core';
import type { DbAddress } from './db/mariadb';
import type { PrepareTask } from './media/prepare';

// Heavy work yields to people at work: this thread steps back.
try {
  os.setPriority(0, 10);
} catch {
  // not allowed here: then all threads are equal
}

/** A function of a part that is loaded when it is first asked. */
const later =
  <Task, Answer>(load: () => Promise<(task: Task) => Answer>) =>
  async (task: Task): Promise<Awaited<Answer>> =>
    await (
      await load()
    )(task);

/** The same of a part that opens pictures: each call of the picture library keeps to its own thread. */
const withPictures = <Task, Answer>(load: () => Promise<(task: Task) => Answer>) =>
  later(async () => {
    const { default: sharp } = await import('sharp');
    sharp.concurrency(1);
    sharp.cache(false);
    return load();
  });

/** Damage is an answer, not an accident, so it comes back as a value. */
export const prepare = withPictures(async () => {
  const [{ prepare: prepareFile }, { Damaged }] = await Promise.all([
    import('./media/prepare'),
    import('./media/damaged'),
  ]);
  return async (task: PrepareTask) => {
    try {
      return { ok: true as const, prepared: await prepareFile(task) };
    } catch (error) {
      if (error instanceof Damaged) return { ok: false as const, reason: error.saying };
      throw error;
    }
  };
});
/** Null when the picture can no longer be opened. */
export const seek = withPictures(async () => {
  const [{ seekFaces }, { Damaged }] = await Promise.all([import('./faces/describe'), import('./media/damaged')]);
  return async (task: Parameters<typeof seekFaces>[0]) => {
    try {
      return await seekFaces(task);
    } catch (error) {
      if (error instanceof Damaged) return null;
      throw error;
    }
  };
});
export const describe = withPictures(async () => (await import('./faces/describe')).describeFace);
export const faceShots = withPictures(async () => (await import('./faces/describe')).shotsIn);
export const glance = withPictures(async () => {
  const { glance: glanceAt } = await import('./media/glance');
  return ({ file, name }: { file: string; name: string }) => glanceAt(file, name);
});
export const glass = withPictures(async () => (await import('./scan/glassTask')).glassTask);
export const image = withPictures(async () => (await import('./piece/image')).imageTask);
export const observe = withPictures(async () => (await import('./observe/observeTask')).observeTask);
export const read = withPictures(async () => (await import('./observe/lookTask')).readTask);
export const things = withPictures(async () => (await import('./observe/lookTask')).thingsTask);
export const render = withPictures(async () => (await import('./touchup/renderTask')).renderTask);
export const thumbOf = withPictures(async () => (await import('./touchup/renderTask')).thumbTask);

export const refreshFaces = later(async () => (await import('./faces/refreshTask')).refreshTask);
export const forgetDescriptions = later(async () => (await import('./faces/refreshTask')).forgetDescriptions);
export const noticeFaces = later(async () => {
  const [{ noticeFaces: noticeFacesIn }, { connectionTo }] = await Promise.all([
    import('./observe/faceTask'),
    import('./db/threads'),
  ]);
  return ({ library, kinds, address }: { library: number; kinds: string[]; address: DbAddress }) =>
    noticeFacesIn(connectionTo(address), library, kinds);
});
export const alike = later(async () => (await import('./run/alikeTask')).alikeTask);
export const filing = later(async () => (await import('./vault/filingTask')).filingTask);
/** A library's folder against the database: see keep/compare. */
export const compare = later(async () => {
  const [{ compareVault }, { connectionTo }] = await Promise.all([import('./keep/compare'), import('./db/threads')]);
  return ({ root, library, address }: { root: string; library: number; address: DbAddress }) =>
    compareVault(connectionTo(address), root, library);
});
/** A library's book: see keep/book. */
export const book = later(async () => {
  const [{ writeBook }, { connectionTo }] = await Promise.all([import('./keep/book'), import('./db/threads')]);
  return ({ library, file, address }: { library: number; file: string; address: DbAddress }) =>
    writeBook(connectionTo(address), library, file);
});
/** The fingerprint of a file. */
export const hash = later(async () => {
  const { hashFile } = await import('./vault/vault');
  return ({ file }: { file: string }) => hashFile(file);
});
/** What is written beside pictures, by where it lies below a library's folder. */
export const besides = later(async () => {
  const { besidesIn } = await import('./keep/compare');
  return ({ root }: { root: string }) => besidesIn(root);
});

export const layBook = later(async () => (await import('./piece/book/layoutTask')).layoutTask);
export const laySheets = later(async () => (await import('./piece/sheets/layoutTask')).sheetsTask);
/** The best of some pictures: see core's `bestOf`. */
export const bestOf = later(async () => {
  const { bestOf: bestOfSome } = await import('@gemmel/core');
  return ({ pictures, wish }: { pictures: Eligible[]; wish: BestWish }) => bestOfSome(pictures, wish);
});
export const clocks = later(async () => {
  const { findClockShifts } = await import('@gemmel/core');
  return ({ shots, trusted }: { shots: ClockShot[]; trusted: number[] }) => findClockShifts(shots, new Set(trusted));
});

export const readGazetteer = later(async () => (await import('./media/places')).readGazetteer);
export const places = later(async () => {
  const { placeAt } = await import('./media/places');
  return (spots: { lat: number; lon: number }[]) => spots.map(({ lat, lon }) => placeAt(lat, lon));
});
export const townsNamed = later(async () => {
  const { townsNamed: named } = await import('./media/places');
  return ({ typed, near }: { typed: string; near: { lat: number; lon: number } | null }) => named(typed, near);
});
export const townsIn = later(async () => {
  const { townsIn: largestIn } = await import('./media/places');
  return ({ box, most }: { box: [number, number, number, number]; most: number }) => largestIn(box, most);
});
export const zone = later(async () => {
  const { zoneAt } = await import('./media/zones');
  return ({ lat, lon }: { lat: number; lon: number }) => zoneAt(lat, lon);
});

/** Answers as soon as this thread can. */
export const ready = () => true;
