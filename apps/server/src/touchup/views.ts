import type { Recipe } from '@gemmel/core';
import { mkdir, stat } from 'node:fs/promises';
import path from 'node:path';
import { derivedBase, type App } from '../context';
import { deriveAgain } from '../media/again';
import type { PicturesRow } from '../db/tables';
import { needRoom } from '../intake/space';
import { defineJob, type Job } from '../jobs/kind';
import { pictureInside } from '../media/raw';
import { sniffFile } from '../media/sniff';
import { notFound } from '../problem';
import { discard } from '../vault/vault';
import { recipeIn } from './key';
import { lookReady } from './looks';
import { originalOf, takenSha } from './original';
import type { RenderTask } from './renderTask';

type Shown = Pick<PicturesRow, 'id' | 'library_id' | 'sha256' | 'of_sha' | 'view' | 'recipe'>;
const COLUMNS = ['id', 'library_id', 'sha256', 'of_sha', 'view', 'recipe'] as const;

/** Views that are being made: whoever asks for one meanwhile waits for it. */
const making = new Map<string, Promise<Uint8Array>>();

/** Makes something of a picture in a thread, from its original or its large size. */
async function render(app: App, picture: Shown, recipe: Recipe, to: RenderTask['to']): Promise<Uint8Array> {
  await needRoom(app, 40_000_000);
  const original = await originalOf(app, picture.library_id, picture.id);
  if (!original) throw notFound('picture');
  const { file } = original;
  const kind = await sniffFile(file);
  if (!kind) throw notFound('picture');
  const inside = kind.raw
    ? await pictureInside(
        file,
        path.join(app.paths.incoming, `view-${picture.id}-${Math.random().toString(36).slice(2)}`),
      )
    : null;
  try {
    const large = `${derivedBase(app, takenSha(picture).toString('hex'))}-large.jpg`;
    if (!(await stat(large).catch(() => null))) await deriveAgain(app, picture.library_id, takenSha(picture));
    return (await app.pool.run({ file, kind, inside, large, recipe, to }, { name: 'render' })) as Uint8Array;
  } finally {
    if (inside) await discard(inside.file);
  }
}

/** Waits for something that is made once. */
function once(key: string, make: () => Promise<Uint8Array>): Promise<Uint8Array> {
  const there = making.get(key);
  if (there) return there;
  const mine = make().finally(() => making.delete(key));
  making.set(key, mine);
  return mine;
}

/** Makes the two sizes of a picture's view; answers with its blurred view. */
async function makeView(app: App, picture: Shown): Promise<Uint8Array> {
  const key = picture.view!.toString('hex');
  const derived = derivedBase(app, key);
  return once(key, async () => {
    await mkdir(path.dirname(derived), { recursive: true });
    return render(app, picture, recipeIn(picture.recipe)!, { derived });
  });
}

/** Has the sizes of a view ready: a browser asks for them by its key, and nobody must find it without its file. */
export async function viewReady(app: App, library: number, key: Buffer): Promise<void> {
  const base = derivedBase(app, key.toString('hex'));
  if (await stat(`${base}-small.webp`).catch(() => null)) return;
  const picture = await app
    .db('pictures')
    .where({ library_id: library, view: key })
    .whereNotNull('recipe')
    .first(...COLUMNS);
  if (picture) await makeView(app, picture);
}

/** A picture at full size as it is shown, as a JPEG; null for one that is shown as it was taken. Made once. */
export async function fullView(app: App, picture: Shown): Promise<string | null> {
  if (!picture.view || !picture.recipe) return null;
  const full = `${derivedBase(app, picture.view.toString('hex'))}-full.jpg`;
  if (!(await stat(full).catch(() => null)))
    await once(full, async () => {
      await mkdir(path.dirname(full), { recursive: true });
      return render(app, picture, recipeIn(picture.recipe)!, { full });
    });
  return full;
}

/** Pictures whose blurred view is not yet that of how they are shown. */
const behind = ({ db }: App, library: number) =>
  db('pictures').where('library_id', library).whereRaw('NOT (thumb_view <=> view)');

/** The blurred view of a picture as it was taken. */
const thumbAsTaken = (app: App, picture: Shown): Promise<Uint8Array | null> =>
  app.pool.run(
    { file: `${derivedBase(app, takenSha(picture).toString('hex'))}-small.webp` },
    { name: 'thumbOf' },
  ) as Promise<Uint8Array | null>;

/** Makes the views of what was touched up, behind people's backs; goes on where it was after a crash. */
export async function makeViews(app: App, { library, report, signal }: Job): Promise<void> {
  const { db } = app;
  const [{ n }] = (await behind(app, library).count('* as n')) as unknown as [{ n: number }];
  let done = 0;
  for (let last = 0; !signal.aborted;) {
    const rows = await behind(app, library)
      .where('id', '>', last)
      .orderBy('id')
      .limit(app.config.threads)
      .select(...COLUMNS);
    if (rows.length === 0) break;
    last = rows[rows.length - 1]!.id;
    await Promise.all(
      rows.map(async (row) => {
        if (row.of_sha) await lookReady(app, row);
        const thumb = row.recipe ? await makeView(app, row) : await thumbAsTaken(app, row);
        await db('pictures')
          .where('id', row.id)
          // Whoever touches it up meanwhile has it made once more.
          .whereRaw('view <=> ?', [row.view])
          .update({ thumb_view: row.view, ...(thumb?.length ? { thumb: Buffer.from(thumb) } : {}) });
      }),
    );
    done += rows.length;
    report(done, Math.max(done, Number(n)));
  }
  if (done) app.changed(library, 'pictures');
}

declare module '../jobs/kind' {
  interface JobPayloads {
    views: null;
  }
}

/** Making what touch-ups show. */
export const viewsJob = defineJob({ kind: 'views', priority: 2, run: makeViews });
