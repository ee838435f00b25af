import { type PlacedPicture } from '@gemmel/core';
import { createHash } from 'node:crypto';
import { rename, stat } from 'node:fs/promises';
import path from 'node:path';
import { Sheets, type FileOf, type PdfAbout } from './book/pdf';
import { writeImage } from './image';
import type { Making } from './maker';

/** Pixels to an inch, as printing shops wish for. */
const DENSE = 300;
const QUALITY = 90;

/** How many pixels of a picture are wanted where it stands on paper. */
export function pixelsFor({ box, ppi }: PlacedPicture): { width: number; height: number } {
  const dense = Math.min(DENSE, ppi);
  return {
    width: Math.max(1, Math.round((box.w / 25.4) * dense)),
    height: Math.max(1, Math.round((box.h / 25.4) * dense)),
  };
}

/** Where a placed picture lies once it is written. */
function fileFor({ of, parts }: Pick<Making, 'of' | 'parts'>): (picture: PlacedPicture) => string {
  const looks = new Map(of.pictures.map((picture) => [picture.id, picture.sha]));
  return (picture) => {
    const { width, height } = pixelsFor(picture);
    const key = JSON.stringify([picture.id, looks.get(picture.id), picture.part, width, height, QUALITY]);
    return path.join(parts, `${createHash('sha256').update(key).digest('hex').slice(0, 32)}.jpg`);
  };
}

/** Where the file of a placed picture is; null for one that couldn't be had. */
export function fileOfPlaced(making: Pick<Making, 'of' | 'parts'>): FileOf {
  const find = fileFor(making);
  return async (picture) => {
    const file = find(picture);
    return (await stat(file).catch(() => null)) ? file : null;
  };
}

/**
 * Writes pictures as they stand on paper, several at once and each into a file of its own, so that what was cut goes on where it was.
 * @returns the names of those that could not be read.
 */
export async function writePlaced(
  making: Making,
  placed: readonly PlacedPicture[],
  told: (done: number) => void,
): Promise<Set<string>> {
  const { app, library, of, signal } = making;
  const names = new Map(of.pictures.map((picture) => [picture.id, picture.name]));
  const find = fileFor(making);
  const missing = new Set<string>();
  const waiting = placed[Symbol.iterator]();
  let done = 0;
  const work = async () => {
    for (const picture of waiting) {
      signal.throwIfAborted();
      try {
        await writeImage(
          app,
          library,
          picture.id,
          { part: picture.part, ...pixelsFor(picture), quality: QUALITY },
          find(picture),
        );
      } catch (error) {
        signal.throwIfAborted();
        // A full disk is nothing of this picture.
        if ((error as NodeJS.ErrnoException).code === 'ENOSPC') throw error;
        missing.add(names.get(picture.id) ?? String(picture.id));
      }
      told(++done);
    }
  };
  await Promise.all(Array.from({ length: app.config.threads }, work));
  return missing;
}

/** Writes a PDF, whole or not at all. @returns its size in bytes. */
export async function printFile(
  file: string,
  about: PdfAbout,
  bleed: boolean,
  draw: (sheets: Sheets) => Promise<void>,
): Promise<number> {
  const sheets = await Sheets.begin(`${file}.part`, about, bleed);
  try {
    await draw(sheets);
    await sheets.end();
  } catch (error) {
    sheets.drop();
    throw error;
  }
  await rename(`${file}.part`, file);
  return (await stat(file)).size;
}
