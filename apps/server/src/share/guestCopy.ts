import { RAW_EXTENSIONS } from '@gemmel/core';
import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { derivedBase, type App } from '../context';
import { needRoom } from '../intake/space';
import { cleanClip, cleanFormat, cleanPhoto } from '../media/clean';
import { notFound, refused } from '../problem';
import { originalOf, takenSha } from '../touchup/original';
import { fullView, viewReady } from '../touchup/views';
import { isThere, playsAsIs } from '../media/clips';
import { ask } from '../jobs/jobs';
import type { GuestPictureRow as GuestRow } from './guestView';

/** A full-size copy for guests, and what it is. */
export interface GuestCopy {
  file: string;
  format: string;
}

/** Where copies are while they are made. */
const partsFolder = (app: App): string => path.join(app.paths.derived, 'guest-parts');

/** Copies that are being made: whoever asks for one meanwhile waits for it. */
const making = new Map<string, Promise<void>>();

async function make(app: App, picture: GuestRow, target: string, format: string): Promise<void> {
  await needRoom(app, Number(picture.bytes));
  const folder = path.join(partsFolder(app), `${process.pid}-${Math.random().toString(36).slice(2)}`);
  await mkdir(folder, { recursive: true });
  try {
    const part = path.join(folder, `copy.${format}`);
    const original = await originalOf(app, picture.library_id, picture.id);
    if (!original) throw notFound('picture');
    const source = original.file;
    if (picture.kind === 'video') await cleanClip(source, part, picture.format, picture.codec);
    else await cleanPhoto(source, part, picture.format, RAW_EXTENSIONS.has(picture.format));
    await mkdir(path.dirname(target), { recursive: true });
    await rename(part, target);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/**
 * A full-size copy for guests without what a file says on the side (places, names, serial numbers). How it is turned and its
 * colours stay. Made once, kept among the derived files. Throws when a file cannot be cleaned; then nothing is given.
 */
export async function guestCopy(app: App, picture: GuestRow): Promise<GuestCopy> {
  // What is touched up is given as it is shown.
  const shown = await fullView(app, picture);
  if (shown) return { file: shown, format: 'jpg' };
  const format = cleanFormat(picture.format, RAW_EXTENSIONS.has(picture.format));
  const file = `${derivedBase(app, takenSha(picture).toString('hex'))}-guest2.${format}`;
  if (!(await stat(file).catch(() => null))) {
    const mine = making.get(file) ?? make(app, picture, file, format).finally(() => making.delete(file));
    making.set(file, mine);
    await mine;
  }
  return { file, format };
}

/** A copy as large as a screen: of a picture its large size, of a clip the clip. It says nothing on the side. */
export async function screenCopy(app: App, picture: GuestRow): Promise<GuestCopy> {
  if (picture.kind === 'video') return guestPlay(app, picture);
  if (picture.view) await viewReady(app, picture.library_id, picture.view);
  return { file: `${derivedBase(app, picture.shown.toString('hex'))}-large.jpg`, format: 'jpg' };
}

/**
 * A clip as any browser plays it, without what it says on the side. One that has to be converted first is, and is refused until then.
 */
export async function guestPlay(app: App, picture: GuestRow): Promise<GuestCopy> {
  if (picture.kind !== 'video') throw notFound('clip');
  if (playsAsIs(picture.format, picture.codec)) return guestCopy(app, picture);
  const base = derivedBase(app, picture.sha256.toString('hex'));
  const file = `${base}-guest2play.mp4`;
  if (await isThere(file)) return { file, format: 'mp4' };
  if (!(await isThere(`${base}-play.mp4`))) {
    await ask(app.db, picture.library_id, 'transcode', picture.id);
    throw refused('clip-not-ready');
  }
  const mine =
    making.get(file) ??
    (async () => {
      const folder = path.join(partsFolder(app), `${process.pid}-${Math.random().toString(36).slice(2)}`);
      await mkdir(folder, { recursive: true });
      try {
        await cleanClip(`${base}-play.mp4`, path.join(folder, 'clip.mp4'), 'mp4', 'h264');
        await rename(path.join(folder, 'clip.mp4'), file);
      } finally {
        await rm(folder, { recursive: true, force: true });
      }
    })().finally(() => making.delete(file));
  making.set(file, mine);
  await mine;
  return { file, format: 'mp4' };
}

/**
 * Removes copies that a sudden end left half made, and copies that were made in an earlier way, which may still say
 * something.
 */
export async function clearGuestParts(app: App): Promise<void> {
  await rm(partsFolder(app), { recursive: true, force: true });
  const { derived } = app.paths;
  for (const two of await readdir(derived).catch(() => []))
    if (/^[0-9a-f]{2}$/.test(two))
      for (const name of await readdir(path.join(derived, two)))
        if (/^[0-9a-f]{64}-guest[-.]/.test(name)) await rm(path.join(derived, two, name), { force: true });
}
