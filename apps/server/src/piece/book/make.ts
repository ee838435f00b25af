import type { PieceSettings } from '@gemmel/contract';
import { type BookPlan, type PlacedPicture } from '@gemmel/core';
import { createHash } from 'node:crypto';
import { rename, stat } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../../context';
import { writeImage } from '../image';
import { fileName, type Made, type Making } from '../maker';
import { bookContent, type BookContent } from './of';
import { drawCover, drawPage, Sheets } from './pdf';

type BookMaking = Making<Extract<PieceSettings, { kind: 'book' }>>;

/** Pixels to an inch, as printing shops wish for. */
const DENSE = 300;
const QUALITY = 90;

/** A book's content and its pages. */
export async function laidOut(
  app: App,
  library: number,
  { of, name, settings, edits, language }: Pick<BookMaking, 'of' | 'name' | 'settings' | 'edits' | 'language'>,
): Promise<{ content: BookContent; plan: BookPlan }> {
  const content = await bookContent(app, library, of, name, settings, edits, language);
  const plan = (await app.lookups.run(
    { of: content.of, settings, edits, models: app.config.models },
    { name: 'layBook' },
  )) as BookPlan;
  return { content, plan };
}

/** How many pixels of a picture are wanted where it stands. */
function pixelsFor({ box, ppi }: PlacedPicture): { width: number; height: number } {
  const dense = Math.min(DENSE, ppi);
  return {
    width: Math.max(1, Math.round((box.w / 25.4) * dense)),
    height: Math.max(1, Math.round((box.h / 25.4) * dense)),
  };
}

/** About how many bytes a book will have, from its pictures' pixels. */
export const bytesOf = (plan: BookPlan): number =>
  [...plan.pages.flatMap(({ pictures }) => pictures), ...(plan.cover.picture ? [plan.cover.picture] : [])].reduce(
    (sum, one) => {
      const { width, height } = pixelsFor(one);
      return sum + width * height * 0.28;
    },
    60_000,
  );

/**
 * Makes a book: its pages and its cover, each a PDF. Pictures are written first, several at once and each into a file of its own, so that
 * what was cut goes on where it was; then pages, one after another, so that memory does not grow with them.
 */
export async function makeBook(making: BookMaking): Promise<Made> {
  const { app, library, name, settings, language, to, parts, signal, report } = making;
  const { content, plan } = await laidOut(app, library, making);
  const looks = new Map(making.of.pictures.map((picture) => [picture.id, picture]));
  const placed = [
    ...plan.pages.flatMap(({ pictures }) => pictures),
    ...(plan.cover.picture ? [plan.cover.picture] : []),
  ];
  const of = placed.length + plan.pages.length;
  const missing = new Set<string>();
  const fileFor = (picture: PlacedPicture): string => {
    const { width, height } = pixelsFor(picture);
    const key = JSON.stringify([picture.id, looks.get(picture.id)?.sha, picture.part, width, height, QUALITY]);
    return path.join(parts, `${createHash('sha256').update(key).digest('hex').slice(0, 32)}.jpg`);
  };
  let done = 0;
  const waiting = placed[Symbol.iterator]();
  const work = async () => {
    for (const picture of waiting) {
      signal.throwIfAborted();
      const size = pixelsFor(picture);
      try {
        await writeImage(app, library, picture.id, { part: picture.part, ...size, quality: QUALITY }, fileFor(picture));
      } catch (error) {
        signal.throwIfAborted();
        // A full disk, or a database that is away, is nothing of this picture.
        if ((error as NodeJS.ErrnoException).code === 'ENOSPC') throw error;
        missing.add(looks.get(picture.id)?.name ?? String(picture.id));
      }
      report(++done, of);
    }
  };
  await Promise.all(Array.from({ length: app.config.threads }, work));
  const fileOf = async (picture: PlacedPicture) => {
    const file = fileFor(picture);
    return (await stat(file).catch(() => null)) ? file : null;
  };
  const about = { title: content.of.title, language, models: app.config.models };
  const write = async (file: string, draw: (sheets: Sheets) => Promise<void>) => {
    const sheets = new Sheets(`${file}.part`, about, settings.bleed);
    try {
      await draw(sheets);
      await sheets.end();
    } catch (error) {
      sheets.drop();
      throw error;
    }
    await rename(`${file}.part`, file);
    return (await stat(file)).size;
  };
  const base = fileName(name);
  const pages = `${base}.pdf`;
  const cover = `${base} - cover.pdf`;
  const bytes = await write(path.join(to, pages), async (sheets) => {
    for (const page of plan.pages) {
      signal.throwIfAborted();
      await drawPage(
        sheets,
        page,
        settings.paper,
        fileOf,
        (page.chapter !== null && content.maps.get(page.chapter)) || null,
      );
      report(++done, of);
    }
  });
  const covered = await write(path.join(to, cover), (sheets) => drawCover(sheets, plan.cover, fileOf));
  return {
    files: [
      { name: pages, bytes, pages: plan.pages.length, seconds: null },
      { name: cover, bytes: covered, pages: 1, seconds: null },
    ],
    missing: [...missing],
  };
}
