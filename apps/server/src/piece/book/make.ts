import type { PieceSettings } from '@gemmel/contract';
import type { BookPlan, PlacedPicture } from '@gemmel/core';
import path from 'node:path';
import type { App } from '../../context';
import { fileName, type Made, type Making } from '../maker';
import { fileOfPlaced, pixelsFor, printFile, writePlaced } from '../printed';
import { bookContent, type BookContent } from './of';
import { drawCover, drawPage } from './pdf';

type BookMaking = Making<Extract<PieceSettings, { kind: 'book' }>>;

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

/** Every picture of a book where it stands, the cover's last. */
const placedIn = (plan: BookPlan): PlacedPicture[] => [
  ...plan.pages.flatMap(({ pictures }) => pictures),
  ...(plan.cover.picture ? [plan.cover.picture] : []),
];

/** About how many bytes a book will have, from its pictures' pixels. */
export const bytesOf = (plan: BookPlan): number =>
  placedIn(plan).reduce((sum, one) => {
    const { width, height } = pixelsFor(one);
    return sum + width * height * 0.28;
  }, 60_000);

/**
 * Makes a book: its pages and its cover, each a PDF. Pictures are written first; then pages, one after another, so that memory does not grow
 * with them.
 */
export async function makeBook(making: BookMaking): Promise<Made> {
  const { app, library, name, settings, language, to, signal, report } = making;
  const { content, plan } = await laidOut(app, library, making);
  const placed = placedIn(plan);
  const of = placed.length + plan.pages.length;
  const missing = await writePlaced(making, placed, (done) => report(done, of));
  const fileOf = fileOfPlaced(making);
  const about = { title: content.of.title, language, models: app.config.models };
  const base = fileName(name);
  const [pages, cover] = [`${base}.pdf`, `${base} - cover.pdf`];
  let done = placed.length;
  const bytes = await printFile(path.join(to, pages), about, settings.bleed, async (sheets) => {
    for (const page of plan.pages) {
      signal.throwIfAborted();
      const map = page.chapter === null ? undefined : content.maps.get(page.chapter);
      await drawPage(sheets, page, settings.paper, fileOf, map ?? null);
      report(++done, of);
    }
  });
  const covered = await printFile(path.join(to, cover), about, settings.bleed, (sheets) =>
    drawCover(sheets, plan.cover, fileOf),
  );
  return {
    files: [
      { name: pages, bytes, pages: plan.pages.length, seconds: null },
      { name: cover, bytes: covered, pages: 1, seconds: null },
    ],
    missing: [...missing],
  };
}
